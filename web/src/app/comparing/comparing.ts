/**
 * A and B: the kit as it is, and as it was at another moment, heard by turns and loudness-matched. It is listening, in this window
 * only; neither is an edit, and whatever is changed is heard at once instead.
 */
import { create } from 'zustand';
import { get, type MomentShown, type PlayHead, type PlayPiece, post } from '../../api/calls';
import { transport, useKit } from '../kit/kitStore';
import { figureOf } from './figures';

/** The moment a kit is compared with: its routing alone, or all of it. */
export interface Other {
  moment: MomentShown;
  routing: boolean;
}

interface Comparing {
  other: Other | null;
  table: { head: PlayHead; pieces: PlayPiece[] } | null;
  /** How much softer B is than A, which is made up for while it is heard; null: not known yet. */
  softer: number | null;
  /** Why it is not known. */
  said: string;
  hearing: 'a' | 'b';
  /** Which is which is not shown; `first` is what is called 1. */
  blind: { first: 'a' | 'b' } | null;
}

const NONE: Comparing = { other: null, table: null, softer: null, said: '', hearing: 'a', blind: null };
export const useComparing = create<Comparing>(() => NONE);

/** Edits follow one another while somebody turns things: what lies between is not compared. */
const SETTLED_MS = 500;

let asked = 0;
let settling: ReturnType<typeof setTimeout> | undefined;

const hear = () => {
  const { table, hearing, softer } = useComparing.getState();
  const { player } = useKit.getState();
  if (hearing === 'b' && table) player?.hearThen(table, 10 ** ((softer ?? 0) / 20));
  else player?.hearThen(null);
};

/** Compare with another moment; nothing is heard of it before it is asked for. */
export async function compareWith(other: Other | null) {
  asked += 1;
  const mine = asked;
  useComparing.setState({ ...NONE, other });
  hear();
  const { kit, player, say } = useKit.getState();
  if (!other || !kit) return;
  try {
    const was = { version: other.moment.version, routing: other.routing };
    const table = (await get('/api/kits/{kit_id}/as-it-was', {
      kit_id: kit.id,
      ...was,
    })) as unknown as Comparing['table'];
    if (mine !== asked || !table) return;
    player?.prepareThen(table.pieces);
    useComparing.setState({ table });
    await level(mine);
  } catch (error) {
    if (mine !== asked) return;
    useComparing.setState(NONE);
    say((error as Error).message);
  }
}

/** Find how much softer B is in the groove at hand. */
async function level(mine: number) {
  const { other } = useComparing.getState();
  const { groove } = transport;
  if (!other) return;
  if (!groove) {
    useComparing.setState({ said: 'Choose a groove under Rehearsal so that their loudness can be matched.' });
    return;
  }
  const of = { kind: 'kit', groove: groove.id } as const;
  try {
    const now = await figureOf(of);
    const then = await figureOf(of, { version: other.moment.version, routing: other.routing });
    if (mine !== asked) return;
    if (now.db === null || then.db === null)
      useComparing.setState({ said: `${groove.name} is too quiet to measure loudness with.` });
    else useComparing.setState({ softer: now.db - then.db });
    hear();
  } catch (error) {
    if (mine === asked) useComparing.setState({ said: (error as Error).message });
  }
}

export function hearSide(hearing: 'a' | 'b') {
  const { table } = useComparing.getState();
  if (hearing === useComparing.getState().hearing || (hearing === 'b' && !table)) return;
  useComparing.setState({ hearing });
  hear();
}

export const changeSides = () => hearSide(useComparing.getState().hearing === 'a' ? 'b' : 'a');

/** Hide which is which: they are called 1 and 2 until it is asked. */
export function hideWhich() {
  const first = Math.random() < 0.5 ? 'a' : 'b';
  useComparing.setState({ blind: { first } });
  hearSide(first);
}

export const showWhich = () => useComparing.setState({ blind: null });

/** What is heard now, as it may be said. */
export function heardNow({ hearing, blind }: Pick<Comparing, 'hearing' | 'blind'>): string {
  if (!blind) return hearing === 'a' ? 'A' : 'B';
  return hearing === blind.first ? '1' : '2';
}

/** Make B what the kit is: one edit. */
export async function goBack() {
  const { other } = useComparing.getState();
  const { kit, take, say } = useKit.getState();
  if (!other || !kit) return;
  try {
    const was = { version: other.moment.version, routing: other.routing };
    const state = await post(
      '/api/kits/{kit_id}/back',
      { kit_id: kit.id },
      { base_version: kit.version, as_it_was: was },
    );
    void compareWith(null);
    take(state, kit.id);
  } catch (error) {
    say((error as Error).message);
  }
}

// What was changed is meant to be heard, and is no longer what was compared; another kit is heard as it is.
useKit.subscribe((now, before) => {
  const { other, hearing } = useComparing.getState();
  if (!other || now.kit === before.kit) return;
  if (now.kit?.id !== before.kit?.id) {
    asked += 1;
    useComparing.setState(NONE);
  } else if (now.kit?.version !== before.kit?.version) {
    if (hearing === 'b') hearSide('a');
    clearTimeout(settling);
    settling = setTimeout(() => void compareWith(useComparing.getState().other), SETTLED_MS);
  }
});
