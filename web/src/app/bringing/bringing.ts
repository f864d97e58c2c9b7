/**
 * Bringing in a piece of another kit: the choices, their preview in sentences, and the preview by ear. Nothing changes
 * until it is brought in, as one edit.
 */
import { create } from 'zustand';
import {
  type BringAsked,
  type BringShown,
  type OfferedPiece,
  type PlayHead,
  type PlayPiece,
  post,
  type SeveralAsked,
  type SeveralShown,
} from '../../api/calls';
import { useKit } from '../kit/kitStore';
import { usePlace } from '../kit/place';

export type How = 'place' | 'together' | 'own';

/** The settings of several pieces: added, or in place of ours. */
export type Together = Omit<SeveralAsked, 'sources'>;

interface Bringing {
  open: boolean;
  /** The search text to open with. */
  find: string;
  /** The note it was opened for; the piece's main articulation goes there. */
  note: number | null;
  /** The chosen pieces, if there are several. */
  several: readonly OfferedPiece[];
  together: Together;
  severally: SeveralShown | null;
  /** The piece of this kit to replace or layer with. */
  beside: string;
  how: How;
  asked: BringAsked | null;
  shown: BringShown | null;
  /** Whether a request is in progress. */
  looking: boolean;
  refused: string | null;
  /** Whether the preview is heard, or the kit as it is. */
  hearing: boolean;
}

const NONE: Bringing = {
  open: false,
  find: '',
  note: null,
  several: [],
  together: { in_places: false, treatment: true, touch: true, balance: false, as_loud: true },
  severally: null,
  beside: '',
  how: 'own',
  asked: null,
  shown: null,
  looking: false,
  refused: null,
  hearing: true,
};
export const useBringPiece = create<Bringing>(() => NONE);

export const MOST_AT_ONCE = 64;

let looks = 0;

function hear() {
  const { shown, severally, hearing, open } = useBringPiece.getState();
  const { player } = useKit.getState();
  const then = severally ?? shown;
  if (open && then && hearing) player?.hearThen(tableOf(then));
  else player?.hearThen(null);
}

const tableOf = ({ head, pieces }: Pick<BringShown, 'head' | 'pieces'>) =>
  ({ head, pieces }) as unknown as { head: PlayHead; pieces: PlayPiece[] };

export function openBringPiece(how: How = 'own', beside = '', opened: { find?: string; note?: number | null } = {}) {
  useBringPiece.setState({ ...NONE, ...opened, open: true, how, beside });
}

export function closeBringPiece() {
  looks += 1;
  useBringPiece.setState(NONE);
  useKit.getState().player?.hearThen(null);
}

/** Where the piece goes, as the studio expects it: added on free notes unless notes were chosen. */
const placed = (how: How, beside: string): Pick<BringAsked, 'instead_of' | 'together_with' | 'notes'> => ({
  instead_of: how === 'place' ? beside : '',
  together_with: how === 'together' ? beside : '',
  notes: null,
});

/** Look at another piece, with default choices. */
export async function lookAtPiece({ source }: Pick<OfferedPiece, 'source'>) {
  const { how, beside, note } = useBringPiece.getState();
  const along = { treatment: true, touch: true, balance: false, rest_to_main: true, as_loud: true };
  useBringPiece.setState({ shown: null, several: [], severally: null });
  await ask({ source, articulations: null, mics: [], ...along, ...placed(how, beside) });
  const { shown, asked } = useBringPiece.getState();
  const main = shown?.articulations[0];
  if (note === null || how !== 'own' || !main || asked?.source !== source) return;
  const others = Object.entries(shown.free_notes).filter(
    ([articulation, on]) => articulation !== main.id && on !== note,
  );
  await ask({
    notes: [{ articulation: main.id, note }, ...others.map(([articulation, on]) => ({ articulation, note: on }))],
  });
}

const same = (a: OfferedPiece['source'], b: OfferedPiece['source']) =>
  a.kind === b.kind && a.id === b.id && a.piece === b.piece;

export const isAmong = (piece: OfferedPiece, several: readonly OfferedPiece[]) =>
  several.some((each) => same(each.source, piece.source));

/** Add a piece to the choice, or remove it; a piece that was looked at alone stays chosen. */
export async function chooseAlso(piece: OfferedPiece, looked: OfferedPiece | undefined) {
  const { several } = useBringPiece.getState();
  const before = several.length || !looked ? several : [looked];
  const next = isAmong(piece, before) ? before.filter((each) => !same(each.source, piece.source)) : [...before, piece];
  await chooseSeveral(next);
}

/** Choose several pieces; a single one gets the full dialog. */
export async function chooseSeveral(several: readonly OfferedPiece[]) {
  const [only] = several;
  if (several.length === 1 && only) return lookAtPiece(only);
  useBringPiece.setState({ several, asked: null, shown: null, severally: null, refused: null });
  if (several.length) await askTogether({});
  else hear();
}

const of = (several: readonly OfferedPiece[], together: Together): SeveralAsked => ({
  sources: several.map(({ source }) => source),
  ...together,
});

/** Ask what bringing in several pieces would do; only the last request is shown. */
export async function askTogether(change: Partial<Together>) {
  const { together: before, several } = useBringPiece.getState();
  const together = { ...before, ...change };
  useBringPiece.setState({ together });
  if (!several.length) return;
  await look(async (kit_id) => ({
    severally: await post('/api/kits/{kit_id}/bring-several', { kit_id }, of(several, together)),
  }));
}

export async function setHow(how: How, beside = useBringPiece.getState().beside) {
  const then = how === 'own' ? beside : beside || (useKit.getState().kit?.order[0] ?? '');
  useBringPiece.setState({ how, beside: then });
  if (useBringPiece.getState().asked) await ask(placed(how, then));
}

/** Ask what the present choices would do; only the last request is shown. */
export async function ask(change: Partial<BringAsked>) {
  const asked = { ...useBringPiece.getState().asked, ...change } as BringAsked;
  useBringPiece.setState({ asked });
  await look(async (kit_id) => ({ shown: await post('/api/kits/{kit_id}/bring', { kit_id }, asked) }));
}

/** Ask the studio and show the last request's response; a refusal is shown beside the previous one. */
async function look(asking: (kit: string) => Promise<Partial<Pick<Bringing, 'shown' | 'severally'>>>) {
  const { kit, player } = useKit.getState();
  if (!kit) return;
  looks += 1;
  const mine = looks;
  useBringPiece.setState({ looking: true });
  try {
    const then = await asking(kit.id);
    if (mine !== looks) return;
    const table = then.severally ?? then.shown;
    if (table) player?.prepareThen(tableOf(table).pieces);
    useBringPiece.setState({ ...then, refused: null, looking: false });
  } catch (error) {
    if (mine !== looks) return;
    useBringPiece.setState({ refused: (error as Error).message, looking: false });
  }
  hear();
}

export function hearIt(hearing: boolean) {
  useBringPiece.setState({ hearing });
  hear();
}

/** Strike an incoming piece in the preview: the one that is looked at, or one of several. */
export function strikeIt(id = useBringPiece.getState().shown?.piece, velocity = 100) {
  const { shown, severally } = useBringPiece.getState();
  const piece = (severally ?? shown)?.pieces.find((each) => each.id === id);
  const articulation = piece?.articulations[0];
  if (articulation) useKit.getState().player?.strikeArticulation('pointer', articulation.id, velocity);
}

/** Bring it in, as one edit. */
export async function bringIt() {
  const { kit, take } = useKit.getState();
  const { asked, several, together } = useBringPiece.getState();
  const base_version = kit?.version ?? 0;
  if (!kit || !(asked || several.length)) return;
  try {
    const state = asked
      ? await post('/api/kits/{kit_id}/bring-piece', { kit_id: kit.id }, { base_version, asked })
      : await post(
          '/api/kits/{kit_id}/bring-pieces',
          { kit_id: kit.id },
          { base_version, asked: of(several, together) },
        );
    closeBringPiece();
    const before = new Set(kit.order);
    take(state, kit.id);
    // What came is looked at: a new piece, or the one whose place it took.
    const { kit: now } = useKit.getState();
    const came = now?.order.find((id) => !before.has(id)) ?? asked?.instead_of ?? '';
    if (came) usePlace.getState().lookAt({ piece: came, take: null });
  } catch (error) {
    useBringPiece.setState({ refused: (error as Error).message });
  }
}

// Another kit ends it; a change of this kit made elsewhere asks again.
useKit.subscribe((now, before) => {
  const { open, asked, several } = useBringPiece.getState();
  if (!open || now.kit === before.kit) return;
  if (now.kit?.id !== before.kit?.id) closeBringPiece();
  else if (now.kit?.version !== before.kit?.version) {
    if (asked) void ask({});
    else if (several.length) void askTogether({});
  }
});
