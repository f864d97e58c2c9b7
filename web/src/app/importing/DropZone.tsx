/** A place to drop or choose recordings: a folder, files, or a zip. */
import { FolderOpen } from 'lucide-react';
import { type ReactNode, useRef, useState } from 'react';
import { rules } from '../kit/rules';
import { filesOfDrop, filesOfInput, type IncomingFile, nameOfDrop } from './importing';

/** Hidden file inputs for a folder, files or a zip, opened by buttons. */
export function useChoosers(onFiles: (files: IncomingFile[], name: string) => void) {
  const folder = useRef<HTMLInputElement>(null);
  const files = useRef<HTMLInputElement>(null);
  const take = (list: FileList | null) => {
    if (!list?.length) return;
    const root = list[0]?.webkitRelativePath.split('/')[0] || list[0]?.name.replace(/\.[^.]+$/, '');
    onFiles(filesOfInput(list), root || 'Session');
  };
  const choosers = (
    <>
      <input
        ref={folder}
        type="file"
        hidden
        multiple
        data-testid="folder-input"
        // @ts-expect-error: every browser has a folder picker, its type is missing
        webkitdirectory=""
        onChange={(event) => {
          take(event.target.files);
          event.target.value = '';
        }}
      />
      <input
        ref={files}
        type="file"
        hidden
        multiple
        accept={[...rules().recording_suffixes, rules().archive_suffix].join()}
        data-testid="files-input"
        onChange={(event) => {
          take(event.target.files);
          event.target.value = '';
        }}
      />
    </>
  );
  return { choosers, chooseFolder: () => folder.current?.click(), chooseFiles: () => files.current?.click() };
}

export function DropZone({
  onFiles,
  children,
  after,
  busy,
}: {
  onFiles: (files: IncomingFile[], name: string) => void;
  children: ReactNode;
  after?: ReactNode;
  busy: boolean;
}) {
  const [over, setOver] = useState(false);
  const { choosers, chooseFolder, chooseFiles } = useChoosers(onFiles);
  return (
    <section
      aria-label="Drop recordings here"
      className={`card grid justify-items-start gap-2.5 border-dashed ${over ? 'border-zest bg-zest-wash' : 'border-edge'}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        event.stopPropagation();
        const name = nameOfDrop(event.dataTransfer);
        void filesOfDrop(event.dataTransfer).then((found) => onFiles(found, name));
      }}
    >
      {children}
      <span className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-go" disabled={busy} onClick={chooseFolder}>
          <FolderOpen size={14} aria-hidden="true" /> Choose a folder
        </button>
        <button type="button" className="btn" disabled={busy} onClick={chooseFiles}>
          Choose files or a zip
        </button>
      </span>
      {after}
      {choosers}
    </section>
  );
}
