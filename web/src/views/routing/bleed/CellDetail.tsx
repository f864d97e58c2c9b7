/** The selected cell: its level, where its sound goes, and hearing it alone. */
import { Play } from 'lucide-react';
import { decibels, signed } from '../../../app/kit/format';
import { useKit } from '../../../app/kit/kitStore';
import { Fader } from '../../../ui/Fader';
import { Pick } from '../../../ui/Pick';
import { useCell, useCells } from './Bleed';

const STRUCK_AT = 100;

export function CellDetail() {
  const { kit, pieces, mics, cells } = useCells();
  const edit = useKit((s) => s.edit);
  const chosen = useCell();
  const cell = cells.get(chosen.piece)?.get(chosen.mic);
  const piece = pieces.find((each) => each.id === chosen.piece);
  const mic = mics.find((each) => each.id === chosen.mic);
  if (!cell || !piece || !mic) {
    return (
      <section>
        <h2 className="head">Cell</h2>
        <p className="text-small text-soft">Press a cell to see where its sound goes and to hear it alone.</p>
      </section>
    );
  }
  const named = (id: string) => kit.head.channels.find((channel) => channel.id === id)?.name ?? id;
  const articulation = piece.articulations[0];
  const alone = () => {
    const player = useKit.getState().player;
    if (!player || !articulation) return;
    player.wake();
    player.strikeThrough('cell', articulation.id, STRUCK_AT, mic.id);
  };
  const into = cell.channels.length > 1 ? '' : (cell.channels[0] ?? '');
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2" aria-label={`${piece.name} in ${mic.name}`}>
      <h2 className="head">{cell.own ? 'Its own microphone' : 'Bleed'}</h2>
      <h2 className="text-[15px]">
        {piece.name} <span className="font-normal text-faint">in {mic.name}</span>
      </h2>
      <label className="flex items-center gap-1.5 text-small">
        <input
          type="checkbox"
          checked={cell.on}
          onChange={(event) => void edit({ kind: 'let_in', piece: piece.id, mic: mic.id, on: event.target.checked })}
        />
        on
        {mic.muted && <span className="text-amber">the microphone is muted</span>}
      </label>
      <Fader
        label={`Level of ${piece.name} in ${mic.name}`}
        value={cell.level_db}
        show={(v) => `${signed(v)} dB`}
        onChange={(level_db, gesture) =>
          void edit({ kind: 'let_in', piece: piece.id, mic: mic.id, level_db, on: true }, gesture)
        }
      />
      <p className="num text-tiny text-soft">
        with the piece at {signed(piece.level_db)} and the microphone at {signed(mic.gain_db)}:{' '}
        {decibels(cell.level_db + piece.level_db + mic.gain_db)} dB
      </p>
      <Pick
        label="Goes to"
        value={into}
        options={[
          ...(into ? [] : [{ value: '', name: cell.channels.map(named).join(' and ') || 'no channel yet' }]),
          ...kit.head.channels.map((channel) => ({ value: channel.id, name: `into ${channel.name}` })),
        ]}
        onChange={(channel) => {
          if (channel) void edit({ kind: 'let_into', piece: piece.id, mic: mic.id, channel });
        }}
      />
      <button type="button" className="btn justify-self-start" disabled={!articulation} onClick={alone}>
        <Play size={13} aria-hidden="true" /> Hear it alone
      </button>
    </section>
  );
}
