/** What the product noticed, beside what it is about, with the buttons that mend it. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { type Edit, type Finding, get } from '../../api/calls';
import { Panel } from '../../ui/Panel';
import { count } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { useFindings } from '../kit/noticed';
import { usePlace } from '../kit/place';
import { NextStep } from '../shell/NextStep';
import { STEPS, type StepId, standsOpen } from '../shell/steps';
import { openTaking } from '../taking/taking';

/** What each mend of a finding would bring, by its label: asked for once somebody comes near, because it is tried. */
function useBrings(finding: Finding, near: boolean): Map<string, string[]> {
  const kit_id = useKit((s) => s.kit?.id);
  const { data = [] } = useQuery({
    queryKey: ['findings', kit_id, 'foreseen', finding.key],
    queryFn: () => get('/api/kits/{kit_id}/foreseen', { kit_id: kit_id as string, finding: finding.key }),
    enabled: near && kit_id !== undefined && !finding.settled && finding.mends.length > 0,
    retry: false,
  });
  return new Map(data.map((mend) => [mend.label, mend.brings]));
}

const LEVELS = { wrong: 'Wrong', worth_a_look: 'Worth a look', information: 'Good to know' };

export function FindingCard({
  finding,
  mendable = true,
  foretold = true,
  onShow,
}: {
  finding: Finding;
  mendable?: boolean;
  /** It is among what is noticed in the kit, so that it can be told what its mends would bring. */
  foretold?: boolean;
  onShow?: () => void;
}) {
  const edit = useKit((s) => s.edit);
  const [near, setNear] = useState(false);
  const brings = useBrings(finding, near && mendable && foretold);
  const information = finding.level === 'information';
  return (
    <section
      className={`rounded-[10px] px-3 py-2.5 text-small ${information ? 'bg-plum-wash' : 'bg-amber-wash'} ${
        finding.level === 'wrong' ? 'border-l-[3px] border-zest' : ''
      }`}
    >
      <b className="block leading-snug">{finding.title}</b>
      <span className="[overflow-wrap:anywhere]">{finding.sentence}</span>
      <span className="mt-1 flex flex-wrap gap-x-3 gap-y-0.5">
        {mendable &&
          finding.mends?.map((mend) => (
            <span key={mend.label}>
              <button
                type="button"
                className="link"
                onPointerEnter={() => setNear(true)}
                onFocus={() => setNear(true)}
                onClick={() => void edit(mend.edit)}
              >
                {mend.label}
              </button>
              {brings.get(mend.label)?.length ? (
                <span className="text-tiny text-soft" role="status">
                  {' '}
                  brings “{brings.get(mend.label)?.join('”, “')}”
                </span>
              ) : null}
            </span>
          ))}
        {mendable && finding.another && finding.where.piece && (
          <button type="button" className="link" onClick={() => openTaking('place', finding.where.piece as string)}>
            Put another in its place…
          </button>
        )}
        {onShow && (
          <button type="button" className="link" onClick={onShow}>
            Show it
          </button>
        )}
      </span>
    </section>
  );
}

export function FindingsButton() {
  const { data = [] } = useFindings();
  const navigate = useNavigate();
  const { kitId } = useParams();
  const lookAt = usePlace((s) => s.lookAt);
  const open = data.filter((f) => !f.settled);
  const notable = open.filter(standsOpen).length;
  return (
    <Panel
      label="Findings"
      buttonClass={`rounded-full px-2.5 py-1 text-small font-semibold whitespace-nowrap ${
        notable ? 'bg-amber-wash text-amber' : 'bg-leaf-wash text-leaf'
      }`}
      button={notable ? count(notable, 'finding') : open.length ? `${open.length} good to know` : 'Nothing wrong'}
      className="grid w-[360px] gap-2 p-3"
    >
      {(close) => (
        <>
          {data.length === 0 && <p className="p-2 text-soft">Nothing to mend in this kit.</p>}
          {(Object.keys(LEVELS) as (keyof typeof LEVELS)[]).map((level) => {
            const found = data.filter((f) => f.level === level && !f.settled);
            if (!found.length) return null;
            return (
              <div key={level} className="grid gap-2">
                <h2 className="head">
                  {LEVELS[level]} · {found.length}
                </h2>
                <FindingList
                  findings={found}
                  onShow={(finding) => {
                    const { step, piece, articulation, take } = finding.where;
                    lookAt({ piece: piece ?? null, articulation: articulation ?? null, take: take ?? null });
                    const name = STEPS.some((s) => s.id === step) ? step : 'layers';
                    navigate(`/kits/${kitId}/${name === 'recordings' && take ? 'layers' : name}`);
                    close();
                  }}
                />
              </div>
            );
          })}
          <FindingList findings={data.filter((f) => f.settled)} />
        </>
      )}
    </Panel>
  );
}

/** Findings in their order; of a kind with the same mend, all at once too; those meant to be so folded away. */
export function FindingList({
  findings,
  mendable = true,
  foretold = true,
  onShow,
}: {
  findings: Finding[];
  mendable?: boolean;
  foretold?: boolean;
  onShow?: (finding: Finding) => void;
}) {
  const edit = useKit((s) => s.edit);
  const [open, setOpen] = useState(false);
  const standing = findings.filter((f) => !f.settled);
  const settled = findings.filter((f) => f.settled);
  const kinds = new Map<string, Finding[]>();
  for (const finding of standing) kinds.set(finding.rule, [...(kinds.get(finding.rule) ?? []), finding]);
  return (
    <>
      {[...kinds].map(([rule, found]) => (
        <div key={rule} className="grid grid-cols-[minmax(0,1fr)] gap-2">
          {mendable && found.length > 1 && <MendAll found={found} onMend={(every) => void edit(every)} />}
          <Cards found={found} mendable={mendable} foretold={foretold} onShow={onShow} />
        </div>
      ))}
      {settled.length > 0 && (
        <>
          <button
            type="button"
            className="link text-left text-small"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {settled.length} meant to be so
          </button>
          {open && settled.map((finding) => <FindingCard key={finding.key} finding={finding} mendable={mendable} />)}
        </>
      )}
    </>
  );
}

const AT_FIRST = 8;

interface CardsProps {
  found: Finding[];
  mendable: boolean;
  foretold: boolean;
  onShow: ((finding: Finding) => void) | undefined;
}

/** The findings of one kind, the first few until more are asked for. */
function Cards({ found, mendable, foretold, onShow }: CardsProps) {
  const [all, setAll] = useState(false);
  return (
    <>
      {(all ? found : found.slice(0, AT_FIRST)).map((finding) => (
        <FindingCard
          key={finding.key}
          finding={finding}
          mendable={mendable}
          foretold={foretold}
          {...(onShow ? { onShow: () => onShow(finding) } : {})}
        />
      ))}
      {!all && found.length > AT_FIRST && (
        <button type="button" className="link text-left text-small" onClick={() => setAll(true)}>
          Show {found.length - AT_FIRST} more like these
        </button>
      )}
    </>
  );
}

/** The first mend of every finding of a kind, as one edit. */
function MendAll({ found, onMend }: { found: Finding[]; onMend: (edit: Edit) => void }) {
  const label = sharedLabel(found);
  if (!label) return null;
  const mends = found.flatMap((finding) => finding.mends.filter((mend) => mend.label === label));
  const edits = mends.flatMap(({ edit }) => (edit.kind === 'several' ? edit.edits : [edit]));
  return (
    <button
      type="button"
      className="btn justify-self-start px-2 py-0.5"
      onClick={() => onMend({ kind: 'several', said: `${label}, ${found.length} times`, edits })}
    >
      All {found.length}: {label.charAt(0).toLowerCase() + label.slice(1)}
    </button>
  );
}

const sharedLabel = (found: Finding[]) =>
  found[0]?.mends.map((m) => m.label).find((label) => found.every((f) => f.mends.some((m) => m.label === label)));

/** The findings that belong to what is looked at; with nothing left of the step, the way on. */
export function FindingsHere({ step, belongs }: { step: StepId; belongs: (finding: Finding) => boolean }) {
  const { data = [] } = useFindings();
  const lookAt = usePlace((s) => s.lookAt);
  const here = data.filter(belongs);
  const elsewhere = data.filter((f) => f.where.step === step && f.where.piece && standsOpen(f) && !belongs(f));
  const next = elsewhere[0];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-2">
      <h2 className="head">Findings here</h2>
      {here.length === 0 && <p className="text-small text-soft">Nothing to mend here.</p>}
      <FindingList findings={here} />
      {!here.some(standsOpen) && next && (
        <button
          type="button"
          className="link min-h-6 text-left text-small"
          onClick={() => {
            const { piece, articulation, take } = next.where;
            lookAt({ piece: piece ?? null, articulation: articulation ?? null, take: take ?? null });
          }}
        >
          {count(elsewhere.length, 'finding')} elsewhere: show {elsewhere.length > 1 ? 'the next' : 'it'}
        </button>
      )}
      {!here.some(standsOpen) && <NextStep step={step} />}
    </div>
  );
}
