/**
 * Files dropped on a note become pieces there and on the notes beside it. For an occupied note the user is asked first.
 */
import { create } from 'zustand';
import { filesOfDrop, type IncomingFile, nameOfDrop, useImporting } from '../../app/importing/importing';
import { useSingleSounds } from '../../app/importing/singleSounds';
import { count } from '../../app/kit/format';
import { articulationIn, useKit } from '../../app/kit/kitStore';

type WhenOccupied = 'stack' | 'take_over';

interface SoundsHere {
  /** Files dropped on an occupied note, until the user says what to do. */
  asking: { files: IncomingFile[]; name: string; note: number; sentence: string } | null;
  answer: (answer: WhenOccupied | null) => void;
}

const put = (files: IncomingFile[], name: string, note: number, whenOccupied: WhenOccupied | null) => {
  useSingleSounds.setState({ landed: null });
  void useImporting.getState().bring(files, name, { note, whenOccupied });
};

export const useSoundsHere = create<SoundsHere>((set, read) => ({
  asking: null,
  answer: (answer) => {
    const { asking } = read();
    set({ asking: null });
    if (asking && answer) put(asking.files, asking.name, asking.note, answer);
  },
}));

/** Files were dropped on a note. */
export async function dropSounds(transfer: DataTransfer, note: number) {
  const name = nameOfDrop(transfer);
  const files = await filesOfDrop(transfer);
  const { kit, pieces } = useKit.getState();
  if (!kit || !files.length) return;
  const session = files.length > 1 ? `${name} and ${files.length - 1} more` : name;
  const here = kit.head.placed.filter((placed) => placed.note === note);
  if (!here.length) return put(files, session, note, null);
  const playing = here.map(({ articulation }) => {
    const found = articulationIn(pieces, articulation);
    return found ? `${found.piece.name} ${found.articulation.name}` : articulation;
  });
  const sentence = `${kit.head.note_names[note]} plays ${playing.join(' and ')}. ${count(files.length, 'sound')} would share it${files.length > 1 ? ' and the free notes beside it' : ''}.`;
  useSoundsHere.setState({ asking: { files, name: session, note, sentence } });
}
