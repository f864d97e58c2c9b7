/** Single sounds: put on the notes they were dropped on, or made into a kit with suggested notes. */
import { create } from 'zustand';
import { get, type Job, type Proposed, post } from '../../api/calls';
import { useKit } from '../kit/kitStore';
import { queries } from '../kit/queries';
import { untilEnded } from '../shell/jobEnds';

interface SingleSounds {
  /** The suggestions and their reasons, shown until they are kept, changed or undone. */
  proposed: readonly Proposed[];
  /** What was last put on notes, as a sentence, and what could not be. */
  landed: { said: string; left: readonly string[] } | null;
}

export const useSingleSounds = create<SingleSounds>(() => ({ proposed: [], landed: null }));

interface OnNotes {
  kit: string;
  session: number;
  /** In the order they were dropped; by default all of the session. */
  paths: string[];
  note: number;
  whenOccupied: 'stack' | 'take_over' | null;
}

/** Puts dropped sounds on a note and the free notes beside it once they are read, as one edit. */
export async function putOnNotes({ kit: id, session, paths, note, whenOccupied }: OnNotes, read: Job) {
  const { kit, say, take } = useKit.getState();
  if (read.state !== 'done') return say(read.message);
  if (kit?.id !== id) return;
  const asked = { base_version: kit.version, kit: id, paths, note, when_occupied: whenOccupied };
  const state = await post('/api/sessions/{session_id}/sounds', { session_id: session }, asked);
  const { unread } = await get('/api/sessions/{session_id}', { session_id: session });
  take(state, id);
  useSingleSounds.setState({ landed: { said: state.undo ?? '', left: unread.map(({ why }) => why) } });
}

/** A folder of single hits in an empty kit becomes its pieces without asking. */
export async function madeByItself(id: string, session: number, reading: Promise<Job>) {
  const read = await reading;
  if (read.state !== 'done') return;
  try {
    const stands = await hitsOf(session, id);
    if (stands.by_itself) await makeOfHits(id, session, stands.nameless > 0);
  } catch (error) {
    useKit.getState().say((error as Error).message);
  }
}

const hitsOf = (session: number, kit: string) =>
  get('/api/sessions/{session_id}/single-hits', { session_id: session, kit });

/**
 * Build pieces of a session, files with unreadable names included, and place those without a drum's name by how they
 * sound.
 */
export async function makeOfHits(id: string, session: number, nameless: boolean) {
  if (nameless) {
    const job = await post('/api/sessions/{session_id}/each-alone', { session_id: session });
    await queries.invalidateQueries({ queryKey: ['jobs'] });
    const read = await untilEnded(job.id);
    if (read.state !== 'done') return useKit.getState().say(read.message);
  }
  const { proposed } = await hitsOf(session, id);
  const { kit, take } = useKit.getState();
  if (kit?.id !== id) return;
  const asked = { base_version: kit.version, kit: id, by_sound: true };
  take(await post('/api/sessions/{session_id}/pieces', { session_id: session }, asked), id);
  useSingleSounds.setState({ proposed });
  await queries.invalidateQueries({ queryKey: ['reading'] });
}

// These messages belong to one kit.
useKit.subscribe((now, before) => {
  if (now.kit?.id !== before.kit?.id) useSingleSounds.setState({ proposed: [], landed: null });
});
