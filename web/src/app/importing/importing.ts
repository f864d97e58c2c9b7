/**
 * Importing recordings from any screen: files are sent in batches under their paths; files the studio has are skipped.
 */

import { create } from 'zustand';
import { type FilesKept, get, type Job, post, postForm, type SessionShown } from '../../api/calls';
import { count } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { queries } from '../kit/queries';
import { rules } from '../kit/rules';
import { untilEnded } from '../shell/jobEnds';
import { madeByItself, putOnNotes } from './singleSounds';

export interface IncomingFile {
  path: string;
  file: File;
}

export interface Came {
  name: string;
  kept: number;
  known: number;
  total: number;
  refused: FilesKept['refused'];
  stopped: boolean;
}

/** What files are for, if they were dropped on something. */
export type Meant = { piece: string } | { note: number; whenOccupied: 'stack' | 'take_over' | null } | null;

interface Bringing {
  /** What is being sent now. */
  going: { name: string; done: number; total: number; known: number } | null;
  /** How the last import ended. */
  came: Came | null;
  session: number | null;
  /** Files chosen before their kit was open. */
  waiting: { kit: string; files: IncomingFile[]; name: string } | null;
  bring: (files: IncomingFile[], name: string, meant?: Meant) => Promise<void>;
  stop: () => void;
  forget: () => void;
}

const BATCH_FILES = 24;
const BATCH_BYTES = 48 * 2 ** 20;
let stopping = new AbortController();

const hex = (bytes: ArrayBuffer) => [...new Uint8Array(bytes)].map((b) => b.toString(16).padStart(2, '0')).join('');

/** Browsers compute hashes only for local or secure addresses; otherwise everything is sent. */
async function wantedOf(sessionId: number, batch: IncomingFile[]): Promise<IncomingFile[]> {
  const archive = rules().archive_suffix;
  const offered = batch.filter(({ path }) => !path.toLowerCase().endsWith(archive));
  if (!globalThis.crypto?.subtle || !offered.length) return batch;
  const hashes = await Promise.all(
    offered.map(async ({ path, file }) => ({
      path,
      sha256: hex(await crypto.subtle.digest('SHA-256', await file.arrayBuffer())),
    })),
  );
  const { paths } = await post('/api/sessions/{session_id}/known', { session_id: sessionId }, hashes);
  const wanted = new Set(paths);
  return batch.filter(({ path }) => wanted.has(path) || path.toLowerCase().endsWith(archive));
}

function* batchesOf(files: IncomingFile[]): Generator<IncomingFile[]> {
  let batch: IncomingFile[] = [];
  let bytes = 0;
  for (const one of files) {
    if (batch.length && (batch.length >= BATCH_FILES || bytes + one.file.size > BATCH_BYTES)) {
      yield batch;
      batch = [];
      bytes = 0;
    }
    batch.push(one);
    bytes += one.file.size;
  }
  if (batch.length) yield batch;
}

/** Resumes a session of this name that was interrupted before it was read; otherwise a new one begins. */
async function sessionFor(kitId: string, name: string, meant: Meant): Promise<SessionShown> {
  if (meant && 'note' in meant)
    return post('/api/kits/{kit_id}/sessions', { kit_id: kitId }, { name, each_alone: true });
  const addsTo = meant?.piece ?? '';
  const there = await get('/api/kits/{kit_id}/sessions', { kit_id: kitId });
  const stopped = there.find((s) => s.name === name && !s.read && s.adds_to === addsTo);
  return stopped ?? post('/api/kits/{kit_id}/sessions', { kit_id: kitId }, { name, adds_to: addsTo });
}

async function send(sessionId: number, batch: IncomingFile[]): Promise<FilesKept> {
  const form = new FormData();
  for (const { path, file } of batch) {
    form.append('files', file, file.name);
    form.append('paths', path);
  }
  return postForm('/api/sessions/{session_id}/files', { session_id: sessionId }, form);
}

export const useImporting = create<Bringing>((set, read) => ({
  going: null,
  came: null,
  session: null,
  waiting: null,
  forget: () => set({ came: null }),
  stop: () => stopping.abort(),
  bring: async (files, name, meant = null) => {
    const { kit, say } = useKit.getState();
    if (!kit || read().going) return;
    if (!files.length) return say('That folder holds no files; choose one with WAV, AIFF or FLAC recordings.');
    stopping = new AbortController();
    const { signal } = stopping;
    const came: Came = { name, kept: 0, known: 0, total: files.length, refused: [], stopped: false };
    set({ going: { name, done: 0, total: files.length, known: 0 }, came: null });
    try {
      const session = await sessionFor(kit.id, name, meant);
      // A shipped kit is not changed: the recordings go to a copy.
      await useKit.getState().moveTo(session.kit);
      set({ session: session.id });
      let done = 0;
      for (const batch of batchesOf(files)) {
        if (signal.aborted) break;
        const wanted = await wantedOf(session.id, batch);
        came.known += batch.length - wanted.length;
        if (wanted.length) {
          const answer = await send(session.id, wanted);
          came.kept += answer.kept;
          came.refused = [...came.refused, ...answer.refused];
        }
        done += batch.length;
        set({ going: { name, done, total: files.length, known: came.known } });
      }
      came.stopped = signal.aborted;
      if (!came.stopped && came.kept + came.known > 0) {
        const job = await post('/api/sessions/{session_id}/read', { session_id: session.id });
        await queries.invalidateQueries({ queryKey: ['jobs'] });
        const ended = untilEnded(job.id);
        // The content of an archive is known once it is read; entries refused then join those refused earlier.
        void ended.then(
          ({ problems }) => {
            if (!problems.length || read().session !== session.id) return;
            came.refused = [...came.refused, ...problems.map((why) => ({ path: why, why, content: '' }))];
            if (read().came) set({ came: { ...came } });
          },
          (error: Error) => say(error.message),
        );
        if (!meant) void madeByItself(session.kit, session.id, ended);
        else if ('piece' in meant) await addTo(session.kit, session.id, await ended);
        else {
          // The files in a zip are known once it is read: all of them are meant.
          const packed = files.some(({ path }) => path.toLowerCase().endsWith(rules().archive_suffix));
          const paths = packed ? [] : files.map(({ path }) => path);
          await putOnNotes({ kit: session.kit, session: session.id, paths, ...meant }, await ended);
        }
      }
    } catch (error) {
      say((error as Error).message);
      came.stopped = true;
    }
    set({ going: null, came });
    await queries.invalidateQueries({ queryKey: ['sessions'] });
    await queries.invalidateQueries({ queryKey: ['jobs'] });
  },
}));

/** Recordings dropped on a piece join it once they are read, as one edit. */
async function addTo(kitId: string, sessionId: number, job: Job) {
  const { kit, say, take } = useKit.getState();
  if (job.state !== 'done') return say(job.message);
  if (kit?.id !== kitId) return;
  take(
    await post(
      '/api/sessions/{session_id}/pieces',
      { session_id: sessionId },
      { base_version: kit.version, kit: kitId },
    ),
    kitId,
  );
}

export const cameText = (came: Came) => {
  const parts = [`${count(came.kept, 'file')} of “${came.name}” added`];
  if (came.known) parts.push(`${came.known.toLocaleString('en')} were already here`);
  if (came.stopped)
    parts.push(`stopped at ${came.kept + came.known} of ${came.total}: choose the folder again to continue`);
  return `${parts.join(', ')}.`;
};

/** The files of a drop, including folders; paths start below the dropped folder. */
export async function filesOfDrop(transfer: DataTransfer): Promise<IncomingFile[]> {
  // Both must be read at once: a drop's items are gone after the first wait.
  const items = [...transfer.items].map((item) => ({ entry: item.webkitGetAsEntry(), file: item.getAsFile() }));
  const entries = items.map(({ entry }) => entry).filter((entry) => entry !== null);
  const found: IncomingFile[] = items.flatMap(({ entry, file }) => (entry || !file ? [] : [{ path: file.name, file }]));
  const walk = async (entry: FileSystemEntry, prefix: string): Promise<void> => {
    if (entry.isFile) {
      const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
      found.push({ path: prefix + entry.name, file });
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      const batch = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
      if (!batch.length) return;
      for (const child of batch) await walk(child, `${prefix}${entry.name}/`);
    }
  };
  for (const entry of entries) await walk(entry, '');
  return withoutRoot(found);
}

export const nameOfDrop = (transfer: DataTransfer) =>
  transfer.items[0]?.webkitGetAsEntry()?.name.replace(/\.[^.]+$/, '') ?? 'Session';

export const filesOfInput = (files: FileList): IncomingFile[] =>
  withoutRoot([...files].map((file) => ({ path: file.webkitRelativePath || file.name, file })));

/** Paths without the one folder that contains them all; the session is named after it. */
function withoutRoot(files: IncomingFile[]): IncomingFile[] {
  const root = files[0]?.path.split('/')[0];
  const shared = root && files.every((f) => f.path.startsWith(`${root}/`));
  return shared ? files.map((f) => ({ ...f, path: f.path.slice(root.length + 1) })) : files;
}
