/** A piece from another kit: chosen, heard as it will be, and its consequences said before it is taken. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { Check, TriangleAlert } from 'lucide-react';
import { useState } from 'react';
import { get, type MicComing, type OfferedPiece, type TakingAsked, type TakingShown } from '../../api/calls';
import { Pick } from '../../ui/Pick';
import { SkinIcon } from '../../ui/Skin';
import { Typed } from '../../ui/Typed';
import { count, decibels } from '../format';
import { useTransport } from '../grooves';
import { transport, useKit } from '../kitStore';
import { ask, closeTaking, type How, hearIt, lookAtPiece, setHow, strikeIt, takeIt, useTaking } from './taking';

export function TakingPiece() {
  const open = useTaking((s) => s.open);
  return (
    <Dialog open={open} onClose={closeTaking} className="relative z-40">
      <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
        <DialogPanel className="card flex h-full max-h-[760px] w-full max-w-[1180px] flex-col gap-3 overflow-hidden">
          {open && <Whole />}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function Whole() {
  const { how, beside, shown, looking, refused, hearing } = useTaking();
  const name = useKit((s) => s.pieces.get(beside)?.name);
  return (
    <>
      <div className="flex flex-wrap items-center gap-2.5">
        <DialogTitle as="h1">A piece from another kit</DialogTitle>
        <span className="text-soft">{how !== 'own' && name ? `for ${name}` : ''}</span>
        <span className="grow" />
        <PlayGroove />
        <button type="button" className="btn" disabled={!shown} onClick={() => strikeIt()}>
          Strike it
        </button>
        <button
          type="button"
          className="chip"
          aria-pressed={hearing}
          disabled={!shown}
          title="Everything is heard as it will be; pressed again, as the kit is"
          onClick={() => hearIt(!hearing)}
        >
          {hearing ? 'Heard as it will be' : 'Heard as the kit is'}
        </button>
        <button type="button" className="btn" onClick={closeTaking}>
          Cancel
        </button>
        <button
          type="button"
          className="btn btn-go"
          disabled={!shown || looking || refused !== null}
          onClick={() => void takeIt()}
        >
          Take it
        </button>
      </div>
      {refused && (
        <p role="alert" className="rounded-xl border border-amber-line bg-amber-wash px-3 py-2">
          {refused}
        </p>
      )}
      <div className="grid min-h-0 grow grid-cols-[230px_minmax(0,1fr)_minmax(0,1.1fr)] gap-3 max-[900px]:grid-cols-1 max-[900px]:overflow-y-auto">
        <Offered />
        {shown ? (
          <Chosen shown={shown} />
        ) : (
          <p className="grid place-content-center px-6 text-center text-soft" role="status">
            {looking
              ? 'Looking at it…'
              : 'Choose a piece on the left: of another kit, of a session, or kept in the library.'}
          </p>
        )}
        <section
          aria-label="What it does here"
          className="min-h-0 overflow-y-auto rounded-[14px] border border-line p-3.5"
        >
          <Where />
          {shown && <AsLoud shown={shown} />}
          {shown && <So shown={shown} looking={looking} />}
        </section>
      </div>
    </>
  );
}

function PlayGroove() {
  const running = useTransport(() => transport.running);
  const name = useTransport(() => transport.groove?.name ?? '');
  if (!name) return null;
  return (
    <button type="button" className="btn" onClick={() => transport.toggle()}>
      {running ? 'Stop' : 'Play'} {name}
    </button>
  );
}

/** Where pieces may come from, by places. */
function Offered() {
  const kit = useKit((s) => s.kit?.id) as string;
  const [find, setFind] = useState('');
  const source = useTaking((s) => s.asked?.source);
  const { data, error } = useQuery({
    queryKey: ['taking', kit, find],
    queryFn: () => get('/api/kits/{kit_id}/taking', { kit_id: kit, find }),
    placeholderData: (before) => before,
  });
  const isChosen = (piece: OfferedPiece) =>
    source !== undefined &&
    piece.source.kind === source.kind &&
    piece.source.id === source.id &&
    piece.source.piece === (source.piece ?? '');
  return (
    <section aria-label="Pieces to take" className="flex min-h-0 flex-col gap-2 rounded-[14px] border border-line p-3">
      <input
        type="search"
        aria-label="Find a piece"
        placeholder="Kick, splash, a kit’s name"
        value={find}
        onChange={(event) => setFind(event.target.value)}
        className="h-8 w-full shrink-0 rounded-lg border border-line bg-card px-2.5"
      />
      <div className="min-h-0 grow overflow-y-auto">
        {error && <p className="text-small">{error.message}</p>}
        {data?.length === 0 && <p className="text-small text-soft">Nothing is found by that.</p>}
        {data?.map((group) => (
          <div key={`${group.kind} ${group.name} ${group.pieces[0]?.source.id}`} className="grid gap-px pb-2.5">
            <h2 className="head px-1 pb-0.5">{group.name}</h2>
            {group.pieces.map((piece) => (
              <button
                key={`${piece.source.id} ${piece.source.piece}`}
                type="button"
                aria-pressed={isChosen(piece)}
                onClick={() => void lookAtPiece(piece)}
                className={`grid grid-cols-[30px_1fr] items-center gap-2 rounded-lg px-1.5 py-1 text-left ${isChosen(piece) ? 'bg-sunk' : 'hover:bg-sunk'}`}
              >
                <SkinIcon layers={piece.summary.layers} takes={piece.summary.takes} size={28} />
                <span className="min-w-0">
                  <span className="block truncate leading-tight font-semibold">{piece.name}</span>
                  <span className="num text-faint">
                    {piece.summary.layers} × {piece.summary.takes}
                  </span>
                </span>
              </button>
            ))}
          </div>
        ))}
      </div>
    </section>
  );
}

function Chosen({ shown }: { shown: TakingShown }) {
  const asked = useTaking((s) => s.asked) as TakingAsked;
  const chosen = (id: string) => !asked.strokes || asked.strokes.includes(id);
  const turn = (id: string) => {
    const all = shown.strokes.map((stroke) => stroke.id);
    const next = all.filter((each) => (each === id ? !chosen(id) : chosen(each)));
    void ask({ strokes: next.length === all.length ? null : next });
  };
  const along: ['treatment' | 'touch' | 'balance', string, string][] = [
    ['treatment', 'its treatment', shown.treated.length ? shown.treated.join(', ') : 'it has none'],
    ['touch', 'its curves and what harder does', ''],
    ['balance', 'its level, pan and sends', asked.balance ? '' : 'ours stay'],
  ];
  return (
    <section
      aria-label="What comes along"
      className="grid min-h-0 content-start gap-3.5 overflow-y-auto rounded-[14px] border border-line p-3.5"
    >
      <div className="flex items-center gap-3">
        <SkinIcon
          layers={shown.strokes[0]?.layers ?? 0}
          takes={Math.max(1, Math.round((shown.strokes[0]?.takes ?? 0) / (shown.strokes[0]?.layers || 1)))}
          size={46}
        />
        <div>
          <h2 className="text-[16px]">{shown.name}</h2>
          <p className="num text-soft">{shown.of || 'kept in the library'}</p>
        </div>
      </div>
      <div className="grid gap-0.5">
        <h3 className="head">Strokes</h3>
        {shown.strokes.map((stroke) => (
          <label key={stroke.id} className="flex items-center gap-2.5 py-0.5">
            <input type="checkbox" checked={chosen(stroke.id)} onChange={() => turn(stroke.id)} />
            <span className="grow">
              {stroke.name}
              {stroke.stands_for && <span className="text-faint"> for {stroke.stands_for}</span>}
            </span>
            <span className="num text-faint">{count(stroke.takes, 'take')}</span>
          </label>
        ))}
      </div>
      <div className="grid gap-0.5">
        <h3 className="head">Microphones, and where each goes here</h3>
        {shown.mics.map((mic) => (
          <MicLine key={mic.id} mic={mic} asked={asked} />
        ))}
      </div>
      <div className="grid gap-0.5">
        <h3 className="head">Comes along</h3>
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

function MicLine({ mic, asked }: { mic: MicComing; asked: TakingAsked }) {
  const channels = useKit((s) => s.kit?.head.channels) ?? [];
  const mics = useKit((s) => s.kit?.head.mics) ?? [];
  const said = asked.mics?.find((each) => each.mic === mic.id);
  const value = said?.taken === false ? LEFT : said?.joins ? `joins ${said.joins}` : (said?.channel ?? AS_USUAL);
  const usual = mic.channel ? (channels.find((c) => c.id === mic.channel)?.name ?? 'a channel of its own') : 'nowhere';
  const options = [
    { value: AS_USUAL, name: said && value !== AS_USUAL ? 'as usual' : usual },
    ...channels.map((channel) => ({ value: channel.id, name: channel.name })),
    ...mic.may_join.map((id) => ({
      value: `joins ${id}`,
      name: `joins ${mics.find((each) => each.id === id)?.name ?? id}`,
    })),
    { value: LEFT, name: 'not taken' },
  ];
  const choose = (next: string) => {
    const others = (asked.mics ?? []).filter((each) => each.mic !== mic.id);
    const mine = next.startsWith('joins ')
      ? { mic: mic.id, joins: next.slice(6) }
      : next === LEFT
        ? { mic: mic.id, taken: false }
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

const WAYS: [How, (name: string) => string, string][] = [
  ['place', (name) => `Takes ${name}’s place`, 'Our level, pan, sends, output, notes and chokes stay.'],
  ['together', (name) => `Sounds together with ${name}`, 'On every note it has: two pieces, one strike.'],
  ['own', () => 'Becomes a piece of its own', 'On notes that are free.'],
];

function Where() {
  const { how, beside, shown, asked } = useTaking();
  const order = useKit((s) => s.kit?.order) ?? [];
  const pieces = useKit((s) => s.pieces);
  const name = pieces.get(beside)?.name ?? pieces.get(order[0] ?? '')?.name ?? '';
  const ways = order.length ? WAYS : WAYS.slice(2);
  return (
    <div className="grid gap-2" role="radiogroup" aria-label="What it does here">
      <h2 className="head">What it does here</h2>
      {ways.map(([way, says, aside]) => (
        <button
          key={way}
          type="button"
          role="radio"
          aria-checked={how === way}
          onClick={() => void setHow(way)}
          className={`grid rounded-xl border px-3 py-2 text-left ${how === way ? 'border-ink ring-1 ring-ink' : 'border-line hover:border-edge'}`}
        >
          <span className="font-semibold">{says(name)}</span>
          <span className="text-small text-soft">{aside}</span>
        </button>
      ))}
      {how !== 'own' && (
        <Pick
          label="The piece it is about"
          value={beside || (order[0] ?? '')}
          options={order.map((id) => ({ value: id, name: pieces.get(id)?.name ?? id }))}
          onChange={(id) => void setHow(how, id)}
          className="justify-self-start"
        />
      )}
      {how === 'own' && shown && <Notes shown={shown} />}
      {shown !== null && shown.lost.length > 0 && (
        <label className="flex items-center gap-2.5 text-small">
          <input
            type="checkbox"
            checked={asked?.rest_to_main === true}
            onChange={(event) => void ask({ rest_to_main: event.target.checked })}
          />
          Notes of strokes it has not play its main stroke
        </label>
      )}
    </div>
  );
}

/** The notes of a piece of its own, stroke by stroke: those that are free, until somebody types others. */
function Notes({ shown }: { shown: TakingShown }) {
  const asked = useTaking((s) => s.asked);
  const noteNames = useKit((s) => s.kit?.head.note_names) ?? [];
  const coming = shown.strokes.filter((stroke) => !asked?.strokes || asked.strokes.includes(stroke.id));
  const notes = asked?.notes ?? Object.entries(shown.free_notes).map(([stroke, note]) => ({ stroke, note }));
  const put = (stroke: string, note: number) =>
    void ask({
      notes: [
        ...notes.filter((each) => each.stroke !== stroke),
        { stroke, note: Math.max(0, Math.min(127, Math.round(note))) },
      ],
    });
  return coming.map((stroke) => {
    const note = notes.find((each) => each.stroke === stroke.id)?.note;
    return (
      <div key={stroke.id} className="flex items-center gap-2 text-small">
        <span className="grow truncate">{stroke.name} on</span>
        <span className="num text-faint">{note === undefined ? '' : noteNames[note]}</span>
        <Typed label={`Note of ${stroke.name}`} value={note ?? 0} onType={(value) => put(stroke.id, value)} />
      </div>
    );
  });
}

function AsLoud({ shown }: { shown: TakingShown }) {
  const { how, asked, beside } = useTaking();
  const name = useKit((s) => s.pieces.get(beside)?.name) ?? '';
  if (how === 'own') return null;
  const known = shown.theirs_db !== null && shown.its_db !== null;
  return (
    <label className="mt-4 flex items-start gap-2.5">
      <input
        type="checkbox"
        className="mt-1"
        checked={asked?.as_loud !== false}
        disabled={!known}
        onChange={(event) => void ask({ as_loud: event.target.checked })}
      />
      <span className="grid">
        <span className="font-semibold">Equally loud</span>
        <span className="text-small text-soft">
          {known
            ? `${name} ${decibels(shown.theirs_db as number)} dB, ${shown.name} ${decibels(shown.its_db as number)} dB at velocity 100`
            : 'One of them makes no sound at velocity 100.'}
        </span>
      </span>
      {known && (
        <span className="num ml-auto font-semibold">{`${shown.gain_db > 0 ? '+' : ''}${decibels(shown.gain_db)} dB`}</span>
      )}
    </label>
  );
}

function So({ shown, looking }: { shown: TakingShown; looking: boolean }) {
  return (
    <div className={`mt-4 grid gap-1.5 ${looking ? 'opacity-60' : ''}`} aria-live="polite">
      <h2 className="head">So</h2>
      <ul aria-label="What will happen" className="grid gap-1.5">
        {shown.consequences.map(({ said, warns }) => (
          <li key={said} className="flex gap-2">
            {warns ? (
              <TriangleAlert size={14} className="mt-0.5 shrink-0 text-amber" aria-label="Worth a thought" />
            ) : (
              <Check size={14} className="mt-0.5 shrink-0 text-leaf" aria-hidden="true" />
            )}
            {said}
          </li>
        ))}
      </ul>
    </div>
  );
}
