/**
 * A/B: the kit as it is and as it was, heard in turn at matched loudness. It affects listening in this window only;
 * after any edit, A is heard.
 */
import { create } from 'zustand';
import { get, type MomentShown, type PlayHead, type PlayPiece, post } from '../../api/calls';
import { transport, useKit } from '../kit/kitStore';
import { figureOf } from './figures';

/** The version compared with: its routing only, or all of it. */
export interface Other {
  moment: MomentShown;
  routing: boolean;
}

interface Comparing {
  other: Other | null;
  table: { head: PlayHead; pieces: PlayPiece[] } | null;
  /** How much softer B is than A; the difference is made up while B is heard. Null: not known yet. */
  softer: number | null;
  /** Why it is not known. */
  said: string;
  hearing: 'a' | 'b';
  /** In a blind test, whether A or B is called 1. */
  blind: { first: 'a' | 'b' } | null;
}

const NONE: Comparing = { other: null, table: null, softer: null, said: '', hearing: 'a', blind: null };
export const useComparing = create<Comparing>(() => NONE);

/** Edits come in quick succession while a control is turned; only the last state is compared. */
const SETTLED_MS = 500;

let asked = 0;
let settling: ReturnType<typeof setTimeout> | undefined;

const hear = () => {
  const { table, hearing, softer } = useComparing.getState();
  const { player } = useKit.getState();
  if (hearing === 'b' && table) player?.hearThen(table, 10 ** ((softer ?? 0) / 20));
  else player?.hearThen(null);
};

/** Compare with another version; it is heard only when asked for. */
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

/** Measure how much softer B is in the current groove. */
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

/** Start a blind test: A and B are called 1 and 2. */
export function hideWhich() {
  const first = Math.random() < 0.5 ? 'a' : 'b';
  useComparing.setState({ blind: { first } });
  hearSide(first);
}

export const showWhich = () => useComparing.setState({ blind: null });

/** The name of what is heard now. */
export function heardNow({ hearing, blind }: Pick<Comparing, 'hearing' | 'blind'>): string {
  if (!blind) return hearing === 'a' ? 'A' : 'B';
  return hearing === blind.first ? '1' : '2';
}

/** Restore B: one edit. */
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

// An edit is meant to be heard, and ends the comparison with the former state; another kit starts without one.
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
