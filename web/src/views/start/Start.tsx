/** Where it begins: the kits there are, a new kit from recordings, a kit from a file. */

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { get, type KitCard, post, postForm, remove } from '../../api/calls';
import { Away } from '../../app/Away';
import { Brand, ThemeSwitch } from '../../app/Brand';
import { type Incoming, useBringing } from '../../app/bringing';
import { DropZone } from '../../app/DropZone';
import { count } from '../../app/format';
import { isGoing, progressText, useJob } from '../../app/Jobs';
import { rules } from '../../app/rules';
import { SkinIcon } from '../../ui/Skin';

export function Start() {
  const { data: kits, error } = useQuery({ queryKey: ['kits'], queryFn: () => get('/api/kits', {}) });
  const [trouble, setTrouble] = useState<string | null>(null);
  const [removing, setRemoving] = useState<KitCard | null>(null);
  const queries = useQueryClient();
  return (
    <div className="grid h-full grid-rows-[auto_minmax(0,1fr)]">
      <div>
        <header className="flex h-[52px] items-center justify-between border-b border-line bg-card px-4">
          <Brand />
          <ThemeSwitch />
        </header>
        <Away />
      </div>
      <main className="overflow-y-auto">
        <div className="mx-auto grid max-w-[1120px] gap-6 px-6 py-8">
          <div>
            <h1 className="text-[30px]">Kits that play like a drummer</h1>
            <p className="mt-1 max-w-[640px] text-[15px] text-soft">
              Bring in a folder of drum recordings, lay them out by strength and repeat, put them on notes and outputs,
              and play.
            </p>
          </div>
          {(trouble || error) && (
            <p role="alert" className="rounded-xl border border-amber-line bg-amber-wash px-4 py-2.5">
              {trouble ?? (error as Error).message}
            </p>
          )}
          <section className="grid gap-3" aria-label="Your kits">
            <h2 className="text-[15px]">Your kits</h2>
            {kits?.length === 0 && (
              <p className="text-soft">
                No kits yet. Bring recordings in below, or run “make demo” for two kits to try.
              </p>
            )}
            <div className="grid grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-4">
              {kits?.map((kit) => (
                <KitTile key={kit.id} kit={kit} onRemove={() => setRemoving(kit)} />
              ))}
            </div>
          </section>
          <section className="grid grid-cols-2 gap-4">
            <NewKit onTrouble={setTrouble} />
            <OpenKitFile onTrouble={setTrouble} />
          </section>
        </div>
      </main>
      <Dialog open={removing !== null} onClose={() => setRemoving(null)} className="relative z-50">
        <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
          <DialogPanel className="card grid max-w-[420px] gap-3">
            <DialogTitle as="h2">Remove “{removing?.name}”?</DialogTitle>
            <p className="text-soft">Its recordings stay in the studio; the kit is no longer shown.</p>
            <span className="flex justify-end gap-2">
              <button type="button" className="btn" onClick={() => setRemoving(null)}>
                Keep it
              </button>
              <button
                type="button"
                className="btn btn-go"
                onClick={() => {
                  const kit = removing;
                  setRemoving(null);
                  if (kit)
                    remove('/api/kits/{kit_id}', { kit_id: kit.id })
                      .then(() => queries.invalidateQueries({ queryKey: ['kits'] }))
                      .catch((problem: Error) => setTrouble(problem.message));
                }}
              >
                Remove it
              </button>
            </span>
          </DialogPanel>
        </div>
      </Dialog>
    </div>
  );
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
/** When a kit was changed last: two of one name are told apart by it. */
const whenChanged = (at: string) => DAY.format(new Date(at));

function KitTile({ kit, onRemove }: { kit: KitCard; onRemove: () => void }) {
  const { pieces, takes } = kit;
  return (
    <article className="card group relative grid content-start gap-3 p-4 hover:border-edge">
      <div className="grid gap-0.5">
        <Link to={`/kits/${kit.id}`} className="text-[17px] font-bold tracking-tight after:absolute after:inset-0">
          {kit.name}
        </Link>
        <span className="num text-faint">
          {count(pieces.length, 'piece')} · {count(takes, 'take')} · {whenChanged(kit.changed)}
        </span>
      </div>
      <div className="flex min-h-[38px] flex-wrap gap-1.5">
        {pieces.map((piece) => (
          <span key={piece.name} title={piece.name}>
            <SkinIcon layers={piece.layers} takes={piece.takes} size={38} />
          </span>
        ))}
        {kit.trouble ? (
          <span className="text-small text-ink" role="alert">
            {kit.trouble}
          </span>
        ) : (
          pieces.length === 0 && <span className="text-small text-soft">Empty: bring recordings in</span>
        )}
      </div>
      <button
        type="button"
        className="absolute right-3 bottom-3 z-10 rounded-md p-1.5 text-faint opacity-0 group-hover:opacity-100 hover:bg-sunk focus-visible:opacity-100"
        aria-label={`Remove ${kit.name}`}
        onClick={onRemove}
      >
        <Trash2 size={14} />
      </button>
    </article>
  );
}

function NewKit({ onTrouble }: { onTrouble: (text: string | null) => void }) {
  const navigate = useNavigate();
  const [busy, setBusy] = useState(false);
  const start = async (files: Incoming[], name: string) => {
    onTrouble(null);
    if (!files.length) return onTrouble('That folder holds no files; choose one with WAV, AIFF or FLAC recordings.');
    setBusy(true);
    try {
      const made = await post('/api/kits', {}, { name });
      useBringing.setState({ waiting: { kit: made.id, files, name } });
      navigate(`/kits/${made.id}/recordings`);
    } catch (error) {
      onTrouble((error as Error).message);
    }
    setBusy(false);
  };
  return (
    <DropZone onFiles={(files, name) => void start(files, name)} busy={busy}>
      <h2 className="text-[15px]">A new kit from recordings</h2>
      <p className="text-soft">
        Drop a folder or a zip of WAV, AIFF or FLAC files here. Names are read, nothing is renamed.
      </p>
    </DropZone>
  );
}

function OpenKitFile({ onTrouble }: { onTrouble: (text: string | null) => void }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [jobId, setJobId] = useState<string | null>(null);
  const { data: job } = useJob(jobId);
  useEffect(() => {
    if (!job || isGoing(job)) return;
    setJobId(null);
    if (job.state !== 'done') return onTrouble(job.message);
    void queries.invalidateQueries({ queryKey: ['kits'] });
    if (job.problems.length) onTrouble(job.problems.join(' '));
    else if (job.kit) navigate(`/kits/${job.kit}`);
  }, [job, navigate, onTrouble, queries]);
  const upload = async (file: File) => {
    onTrouble(null);
    const form = new FormData();
    form.append('file', file);
    try {
      setJobId((await postForm('/api/kit-files', {}, form)).id);
    } catch (error) {
      onTrouble((error as Error).message);
    }
  };
  return (
    <section className="card grid content-start justify-items-start gap-2.5">
      <h2 className="text-[15px]">A kit from a kit file</h2>
      <p className="text-soft">A .zestykit file carries a kit and all its recordings from another machine.</p>
      <button type="button" className="btn" disabled={jobId !== null} onClick={() => input.current?.click()}>
        Open a kit file
      </button>
      {job && isGoing(job) && (
        <p className="num text-soft" role="status">
          {progressText(job)}
        </p>
      )}
      <input
        ref={input}
        type="file"
        hidden
        accept={rules().kit_suffix}
        data-testid="kit-file-input"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void upload(file);
        }}
      />
    </section>
  );
}
