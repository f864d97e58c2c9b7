/** Bringing a session in: files sent in small batches under their paths, then read in a job. */
import {
  type FilesKept,
  get,
  type Job,
  type KitCard,
  post,
  postForm,
  Refused,
  type SessionShown,
} from '../../api/calls';

export interface Incoming {
  path: string;
  file: File;
}

const BATCH_FILES = 24;
const BATCH_BYTES = 48 * 2 ** 20;

/** The files of a drop, folders walked; a path starts under the dropped folder. */
export async function filesOfDrop(transfer: DataTransfer): Promise<Incoming[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const found: Incoming[] = [];
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

export const filesOfInput = (files: FileList): Incoming[] =>
  withoutRoot([...files].map((file) => ({ path: file.webkitRelativePath || file.name, file })));

/** Paths without the one folder they all lie in, whose name is the session's. */
function withoutRoot(files: Incoming[]): Incoming[] {
  const root = files[0]?.path.split('/')[0];
  const shared = root && files.every((f) => f.path.startsWith(`${root}/`));
  return shared ? files.map((f) => ({ ...f, path: f.path.slice(root.length + 1) })) : files;
}

export function sessionName(files: FileList | Incoming[], fallback: string): string {
  const first = files[0];
  if (!first) return fallback;
  const path = 'path' in first ? first.path : first.webkitRelativePath;
  return path?.includes('/') ? (path.split('/')[0] as string) : fallback;
}

export interface Progress {
  sent: number;
  total: number;
}

/** Send every file, then start reading. What was answered as kept stays kept, also when this is cancelled. */
export async function bringIn(
  kitId: string,
  name: string,
  files: Incoming[],
  signal: AbortSignal,
  onProgress: (progress: Progress) => void,
): Promise<{ session: SessionShown; job: Job; refused: FilesKept['refused'] }> {
  const session = await post<SessionShown>(`/kits/${kitId}/sessions`, { name });
  const refused: FilesKept['refused'] = [];
  let at = 0;
  let kept = 0;
  while (at < files.length) {
    if (signal.aborted) throw new Refused(`Stopped. ${kept} files of ${files.length} were kept.`, 0, null, false, kept);
    const form = new FormData();
    let bytes = 0;
    const from = at;
    while (at < files.length && at - from < BATCH_FILES && (at === from || bytes < BATCH_BYTES)) {
      const { path, file } = files[at] as Incoming;
      form.append('files', file, file.name);
      form.append('paths', path);
      bytes += file.size;
      at += 1;
    }
    const answer = await postForm<FilesKept>(`/sessions/${session.id}/files`, form);
    kept += answer.kept;
    refused.push(...answer.refused);
    onProgress({ sent: at, total: files.length });
  }
  if (!kept) {
    throw new Refused(refused[0]?.why ?? 'There are no files in that folder; choose one with recordings.', 0);
  }
  const job = await post<Job>(`/sessions/${session.id}/read`);
  return { session, job, refused };
}

export const newKit = (name: string) => post<KitCard>('/kits', { name });
export const sessionsOf = (kitId: string) => get<SessionShown[]>(`/kits/${kitId}/sessions`);
