/** The dialog that brings in a piece of another kit: choose it, preview it, read what will change. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useKit } from '../kit/kitStore';
import { PlayGroove } from '../playing/PlayGroove';
import { bringIt, closeBringPiece, hearIt, strikeIt, useBringPiece } from './bringing';
import { Offered } from './Offered';
import { ComeTogether, WhereTheyGo } from './Severally';
import { WhatComes } from './WhatComes';
import { AsLoud, So, Where } from './WhatItDoes';

export function BringPiece() {
  const open = useBringPiece((s) => s.open);
  return (
    <Dialog open={open} onClose={closeBringPiece} className="relative z-40">
      <div className="fixed inset-0 grid place-items-center bg-black/40 p-4">
        <DialogPanel className="card flex h-full max-h-[760px] w-full max-w-[1180px] flex-col gap-3 overflow-hidden">
          {open && <Whole />}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function Whole() {
  const { how, beside, shown, several, severally, looking, refused, hearing } = useBringPiece();
  const name = useKit((s) => s.pieces.get(beside)?.name);
  const then = severally ?? shown;
  return (
    <>
      <div className="flex flex-wrap items-center gap-2.5">
        <DialogTitle as="h1">
          {several.length > 1 ? 'Add pieces from another kit' : 'Add a piece from another kit'}
        </DialogTitle>
        <span className="text-soft">{how !== 'own' && name && several.length < 2 ? `for ${name}` : ''}</span>
        <span className="grow" />
        <PlayGroove />
        {!severally && (
          <button type="button" className="btn" disabled={!shown} onClick={() => strikeIt()}>
            Strike it
          </button>
        )}
        <button
          type="button"
          className="chip"
          aria-pressed={hearing}
          disabled={!then}
          title="Play the kit with this change; press again to hear the kit as it is"
          onClick={() => hearIt(!hearing)}
        >
          {hearing ? 'Previewing result' : 'Preview result'}
        </button>
        <button type="button" className="btn" onClick={closeBringPiece}>
          Cancel
        </button>
        <button
          type="button"
          className="btn btn-go"
          disabled={!then || looking || refused !== null}
          onClick={() => void bringIt()}
        >
          {severally ? `Add ${severally.taken.length} pieces` : 'Add piece'}
        </button>
      </div>
      {refused && (
        <p role="alert" className="rounded-xl border border-amber-line bg-amber-wash px-3 py-2">
          {refused}
        </p>
      )}
      <div className="grid min-h-0 grow grid-cols-[230px_minmax(0,1fr)_minmax(0,1.1fr)] gap-3 max-[900px]:grid-cols-1 max-[900px]:overflow-y-auto">
        <Offered />
        {severally ? (
          <ComeTogether shown={severally} />
        ) : shown ? (
          <WhatComes shown={shown} />
        ) : (
          <p className="grid place-content-center px-6 text-center text-soft" role="status">
            {looking
              ? 'Loading…'
              : 'Choose a piece on the left: of another kit, of a session, or kept in the library. Tick several to add them together.'}
          </p>
        )}
        <section
          aria-label="How it is added"
          className="min-h-0 overflow-y-auto rounded-[14px] border border-line p-3.5"
        >
          {severally ? (
            <WhereTheyGo shown={severally} looking={looking} />
          ) : (
            <>
              <Where />
              {shown && <AsLoud shown={shown} />}
              {shown && <So shown={shown} looking={looking} />}
            </>
          )}
        </section>
      </div>
    </>
  );
}
