/** A new kit from recordings: a folder, files or a zip, chosen or dropped anywhere on the page. */

import { FolderOpen } from 'lucide-react';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { post } from '../../api/calls';
import { useChoosers } from '../../app/importing/DropZone';
import { type IncomingFile, useImporting } from '../../app/importing/importing';
import { useWrite } from '../../app/kit/writes';
import { Panel } from '../../ui/Panel';
import { tell } from './doing';

interface NewKitFrom {
  busy: boolean;
  start: (files: IncomingFile[], name: string) => Promise<void>;
  choosers: ReactNode;
  chooseFolder: () => void;
  chooseFiles: () => void;
}

export function useNewKit(): NewKitFrom {
  const navigate = useNavigate();
  const starting = async (files: IncomingFile[], name: string) => {
    tell(null);
    if (!files.length) return tell('That folder holds no files; choose one with WAV, AIFF or FLAC recordings.', true);
    const made = await post('/api/kits', {}, { name });
    useImporting.setState({ waiting: { kit: made.id, files, name } });
    navigate(`/kits/${made.id}/recordings`);
  };
  const { busy, send: start } = useWrite(starting, { refused: (sentence) => tell(sentence, true) });
  return { busy, start, ...useChoosers((files, name) => void start(files, name)) };
}

export function NewKit({ kit }: { kit: NewKitFrom }) {
  return (
    <Panel
      label="A new kit from recordings"
      buttonClass="btn btn-go"
      button="New from recordings"
      className="grid w-[320px] gap-2.5 p-4"
    >
      {(close) => (
        <>
          <h2>A new kit from recordings</h2>
          <p className="text-small text-soft">
            A folder or a zip of WAV, AIFF or FLAC files. File names are read; files are never changed. You can also
            drop them anywhere on this page.
          </p>
          <span className="flex flex-wrap gap-2">
            <button
              type="button"
              className="btn btn-go"
              disabled={kit.busy}
              onClick={() => {
                kit.chooseFolder();
                close();
              }}
            >
              <FolderOpen size={14} aria-hidden="true" /> Choose a folder
            </button>
            <button
              type="button"
              className="btn"
              disabled={kit.busy}
              onClick={() => {
                kit.chooseFiles();
                close();
              }}
            >
              Choose files or a zip
            </button>
          </span>
        </>
      )}
    </Panel>
  );
}
