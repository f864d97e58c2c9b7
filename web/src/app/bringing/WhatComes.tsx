/** What comes with the piece: its articulations, its microphones and where each goes, its settings. */
import type { BringAsked, BringShown, MicComing } from '../../api/calls';
import { Pick } from '../../ui/Pick';
import { SkinIcon } from '../../ui/Skin';
import { count } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { ask, useBringPiece } from './bringing';

export function WhatComes({ shown }: { shown: BringShown }) {
  const asked = useBringPiece((s) => s.asked) as BringAsked;
  const chosen = (id: string) => !asked.articulations || asked.articulations.includes(id);
  const turn = (id: string) => {
    const all = shown.articulations.map((articulation) => articulation.id);
    const next = all.filter((each) => (each === id ? !chosen(id) : chosen(each)));
    void ask({ articulations: next.length === all.length ? null : next });
  };
  const along: ['treatment' | 'touch' | 'balance', string, string][] = [
    ['treatment', 'its treatment', shown.treated.length ? shown.treated.join(', ') : 'it has none'],
    ['touch', 'its velocity curves and tracking', ''],
    ['balance', 'its level, pan and sends', asked.balance ? '' : 'ours stay'],
  ];
  return (
    <section
      aria-label="What comes with it"
      className="grid min-h-0 content-start gap-3.5 overflow-y-auto rounded-[14px] border border-line p-3.5"
    >
      <div className="flex items-center gap-3">
        <SkinIcon
          layers={shown.articulations[0]?.layers ?? 0}
          takes={Math.max(1, Math.round((shown.articulations[0]?.takes ?? 0) / (shown.articulations[0]?.layers || 1)))}
          size={46}
        />
        <div>
          <h2 className="text-[16px]">{shown.name}</h2>
          <p className="num text-soft">{shown.of || 'from the library'}</p>
        </div>
      </div>
      <div className="grid gap-0.5">
        <h3 className="head">Articulations</h3>
        {shown.articulations.map((articulation) => (
          <label key={articulation.id} className="flex items-center gap-2.5 py-0.5">
            <input type="checkbox" checked={chosen(articulation.id)} onChange={() => turn(articulation.id)} />
            <span className="grow">
              {articulation.name}
              {articulation.stands_for && <span className="text-faint"> for {articulation.stands_for}</span>}
            </span>
            <span className="num text-faint">{count(articulation.takes, 'take')}</span>
          </label>
        ))}
      </div>
      <div className="grid gap-0.5">
        <h3 className="head">Microphones and their channels here</h3>
        {shown.mics.map((mic) => (
          <MicLine key={mic.id} mic={mic} asked={asked} />
        ))}
      </div>
      <div className="grid gap-0.5">
        <h3 className="head">Also bring</h3>
        {along.map(([field, says, aside]) => (
          <label key={field} className="flex items-center gap-2.5 py-0.5">
            <input
              type="checkbox"
              checked={asked[field] === true}
              onChange={(event) => void ask({ [field]: event.target.checked })}
            />
            <span className="grow">{says}</span>
            <span className="num text-faint">{aside}</span>
          </label>
        ))}
      </div>
    </section>
  );
}

const LEFT = '-';
const AS_USUAL = '';
const OWN = 'own';
const ITS_OWN = 'its own channel';

function MicLine({ mic, asked }: { mic: MicComing; asked: BringAsked }) {
  const channels = useKit((s) => s.kit?.head.channels) ?? [];
  const mics = useKit((s) => s.kit?.head.mics) ?? [];
  const how = useBringPiece((s) => s.how);
  const said = asked.mics?.find((each) => each.mic === mic.id);
  const value =
    said?.taken === false ? LEFT : said?.joins ? `joins ${said.joins}` : said?.own ? OWN : (said?.channel ?? AS_USUAL);
  const usual = mic.channel ? (channels.find((c) => c.id === mic.channel)?.name ?? ITS_OWN) : 'nowhere';
  const options = [
    { value: AS_USUAL, name: said && value !== AS_USUAL ? 'as usual' : usual },
    ...(how === 'place' || usual === ITS_OWN ? [] : [{ value: OWN, name: ITS_OWN }]),
    ...channels.map((channel) => ({ value: channel.id, name: channel.name })),
    ...mic.may_join.map((id) => ({
      value: `joins ${id}`,
      name: `joins ${mics.find((each) => each.id === id)?.name ?? id}`,
    })),
    { value: LEFT, name: 'leave out' },
  ];
  const choose = (next: string) => {
    const others = (asked.mics ?? []).filter((each) => each.mic !== mic.id);
    const mine = next.startsWith('joins ')
      ? { mic: mic.id, joins: next.slice(6) }
      : next === LEFT
        ? { mic: mic.id, taken: false }
        : next === OWN
          ? { mic: mic.id, own: true }
          : next
            ? { mic: mic.id, channel: next }
            : null;
    void ask({ mics: mine ? [...others, mine] : others });
  };
  return (
    <div className={`flex items-center gap-2 border-b border-line py-1 ${value === LEFT ? 'text-faint' : ''}`}>
      <span className="min-w-0 grow truncate">{mic.name}</span>
      <span className="num text-faint">{mic.width === 'stereo' ? 'stereo' : ''}</span>
      <span aria-hidden="true">→</span>
      <Pick
        label={`Where ${mic.name} goes`}
        value={value}
        options={options}
        onChange={choose}
        className="max-w-[150px]"
      />
    </div>
  );
}
