/**
 * A piece of another kit: what is chosen, what taking it would do, and hearing the kit as it would be. It is listening until
 * it is taken, which is one edit.
 */
import { create } from 'zustand';
import {
  type OfferedPiece,
  type PlayHead,
  type PlayPiece,
  post,
  type TakingAsked,
  type TakingShown,
} from '../../api/calls';
import { useKit } from '../kitStore';

export type How = 'place' | 'together' | 'own';

interface Taking {
  open: boolean;
  /** The piece of this kit that it is about. */
  beside: string;
  how: How;
  asked: TakingAsked | null;
  shown: TakingShown | null;
  /** Whether the studio is still at it. */
  looking: boolean;
  refused: string | null;
  /** Heard as it will be, or as the kit is. */
  hearing: boolean;
}

const NONE: Taking = {
  open: false,
  beside: '',
  how: 'own',
  asked: null,
  shown: null,
  looking: false,
  refused: null,
  hearing: true,
};
export const useTaking = create<Taking>(() => NONE);

let looks = 0;

function hear() {
  const { shown, hearing, open } = useTaking.getState();
  const { player } = useKit.getState();
  if (open && shown && hearing) player?.hearThen(tableOf(shown));
  else player?.hearThen(null);
}

const tableOf = ({ head, pieces }: TakingShown) =>
  ({ head, pieces }) as unknown as { head: PlayHead; pieces: PlayPiece[] };

export function openTaking(how: How = 'own', beside = '') {
  useTaking.setState({ ...NONE, open: true, how, beside });
}

export function closeTaking() {
  looks += 1;
  useTaking.setState(NONE);
  useKit.getState().player?.hearThen(null);
}

/** Where it goes, as the studio is asked: by itself, on notes that are free unless somebody says others. */
const placed = (how: How, beside: string): Pick<TakingAsked, 'instead_of' | 'together_with' | 'notes'> => ({
  instead_of: how === 'place' ? beside : '',
  together_with: how === 'together' ? beside : '',
  notes: null,
});

/** Look at another piece: all of it, as such a piece usually comes. */
export async function lookAtPiece({ source }: OfferedPiece) {
  const { how, beside } = useTaking.getState();
  const along = { treatment: true, touch: true, balance: false, rest_to_main: false, as_loud: true };
  useTaking.setState({ shown: null });
  await ask({ source, strokes: null, mics: [], ...along, ...placed(how, beside) });
}

export async function setHow(how: How, beside = useTaking.getState().beside) {
  const then = how === 'own' ? beside : beside || (useKit.getState().kit?.order[0] ?? '');
  useTaking.setState({ how, beside: then });
  if (useTaking.getState().asked) await ask(placed(how, then));
}

/** Ask what it would do as it is chosen now; the last asked is what is shown. */
export async function ask(change: Partial<TakingAsked>) {
  const { kit, player } = useKit.getState();
  const asked = { ...useTaking.getState().asked, ...change } as TakingAsked;
  if (!kit) return;
  looks += 1;
  const mine = looks;
  useTaking.setState({ asked, looking: true });
  try {
    const shown = await post('/api/kits/{kit_id}/taking', { kit_id: kit.id }, asked);
    if (mine !== looks) return;
    player?.prepareThen(tableOf(shown).pieces);
    useTaking.setState({ shown, refused: null, looking: false });
  } catch (error) {
    if (mine !== looks) return;
    useTaking.setState({ refused: (error as Error).message, looking: false });
  }
  hear();
}

export function hearIt(hearing: boolean) {
  useTaking.setState({ hearing });
  hear();
}

/** Strike the newcomer as it would stand here. */
export function strikeIt(velocity = 100) {
  const { shown } = useTaking.getState();
  const piece = shown?.pieces.find((each) => each.id === shown.piece);
  const stroke = piece?.articulations[0];
  if (stroke) useKit.getState().player?.strikeArticulation('pointer', stroke.id, velocity);
}

/** Take it: one edit, and the kit goes on from there. */
export async function takeIt() {
  const { kit, take } = useKit.getState();
  const { asked } = useTaking.getState();
  if (!kit || !asked) return;
  try {
    const state = await post('/api/kits/{kit_id}/take', { kit_id: kit.id }, { base_version: kit.version, asked });
    closeTaking();
    take(state, kit.id);
  } catch (error) {
    useTaking.setState({ refused: (error as Error).message });
  }
}

// Another kit, and it is over; this one changed elsewhere is asked anew.
useKit.subscribe((now, before) => {
  const { open, asked } = useTaking.getState();
  if (!open || now.kit === before.kit) return;
  if (now.kit?.id !== before.kit?.id) closeTaking();
  else if (asked && now.kit?.version !== before.kit?.version) void ask({});
});
