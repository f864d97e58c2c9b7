/** Findings, shown beside what they are about, with the buttons that fix them. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { type Edit, type Finding, get } from '../../api/calls';
import { Panel } from '../../ui/Panel';
import { openBringPiece } from '../bringing/bringing';
import { count } from '../kit/format';
import { useKit } from '../kit/kitStore';
import { useFindings } from '../kit/noticed';
import { usePlace } from '../kit/place';
import { useInputs } from '../playing/inputs';
import { NextStep } from '../shell/NextStep';
import { STEPS, type StepId, standsOpen } from '../shell/steps';

/** The side effects of each fix, by its label. Computed on approach, because each fix has to be tried. */
function useBrings(finding: Finding, near: boolean): Map<string, string[]> {
  const kit_id = useKit((s) => s.kit?.id);
  const version = useKit((s) => s.kit?.version);
  const { data = [] } = useQuery({
    queryKey: ['foreseen', kit_id, version, finding.key],
    queryFn: () => {
      const { chosen: input, sent } = useInputs.getState();
      return get('/api/kits/{kit_id}/foreseen', {
        kit_id: kit_id as string,
        finding: finding.key,
        input,
        sent: sent[input] ?? [],
      });
    },
    enabled: near && kit_id !== undefined && !finding.ignored && finding.fixes.length > 0,
    retry: false,
  });
  return new Map(data.map((fix) => [fix.label, fix.brings]));
}

const LEVELS = { wrong: 'Wrong', worth_a_look: 'Check this', information: 'Good to know' };

export function FindingCard({
  finding,
  fixable = true,
  onShow,
}: {
  finding: Finding;
  fixable?: boolean;
  onShow?: () => void;
}) {
  const edit = useKit((s) => s.edit);
  const [near, setNear] = useState(false);
  const brings = useBrings(finding, near && fixable);
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
        {fixable &&
          finding.fixes?.map((fix) => (
            <span key={fix.label}>
              <button
                type="button"
                className="link"
                onPointerEnter={() => setNear(true)}
                onFocus={() => setNear(true)}
                onClick={() => void edit(fix.edit)}
              >
                {fix.label}
              </button>
              {brings.get(fix.label)?.length ? (
                <span className="text-tiny text-soft" role="status">
                  {' '}
                  brings “{brings.get(fix.label)?.join('”, “')}”
                </span>
              ) : null}
            </span>
          ))}
        {fixable && finding.another && finding.where.piece && (
          <button type="button" className="link" onClick={() => openBringPiece('place', finding.where.piece as string)}>
            Replace piece…
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

const nothingOpen = (informative: number) => (informative ? `${informative} good to know` : 'Nothing wrong');

export function FindingsButton() {
  const { findings: data, checking, failed } = useFindings();
  const navigate = useNavigate();
  const { kitId } = useParams();
  const lookAt = usePlace((s) => s.lookAt);
  const open = data.filter((f) => !f.ignored);
  const notable = open.filter(standsOpen).length;
  const right = !checking && !failed;
  return (
    <Panel
      label="Findings"
      buttonClass={`rounded-full px-2.5 py-1 text-small font-semibold whitespace-nowrap ${
        notable ? 'bg-amber-wash text-amber' : right ? 'bg-leaf-wash text-leaf' : 'bg-sunk text-soft'
      }`}
      button={
        notable ? count(notable, 'finding') : right ? nothingOpen(open.length) : failed ? 'Not checked' : 'Checking…'
      }
      className="grid w-[360px] gap-2 p-3"
    >
      {(close) => (
        <>
          {!right && <p className="p-2 text-soft">{failed || 'Checking the kit as it is now…'}</p>}
          {right && data.length === 0 && <p className="p-2 text-soft">Nothing to fix in this kit.</p>}
          {(Object.keys(LEVELS) as (keyof typeof LEVELS)[]).map((level) => {
            const found = data.filter((f) => f.level === level && !f.ignored);
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
          <FindingList findings={data.filter((f) => f.ignored)} />
        </>
      )}
    </Panel>
  );
}

/** Findings in order; those of one kind with the same fix can be fixed together; ignored ones are folded away. */
export function FindingList({
  findings,
  fixable = true,
  onShow,
}: {
  findings: Finding[];
  fixable?: boolean;
  onShow?: (finding: Finding) => void;
}) {
  const edit = useKit((s) => s.edit);
  const [open, setOpen] = useState(false);
  const standing = findings.filter((f) => !f.ignored);
  const ignored = findings.filter((f) => f.ignored);
  const kinds = new Map<string, Finding[]>();
  for (const finding of standing) kinds.set(finding.rule, [...(kinds.get(finding.rule) ?? []), finding]);
  return (
    <>
      {[...kinds].map(([rule, found]) => (
        <div key={rule} className="grid grid-cols-[minmax(0,1fr)] gap-2">
          {fixable && found.length > 1 && <FixAll found={found} onFix={(every) => void edit(every)} />}
          <Cards found={found} fixable={fixable} onShow={onShow} />
        </div>
      ))}
      {ignored.length > 0 && (
        <>
          <button
            type="button"
            className="link text-left text-small"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {ignored.length} ignored
          </button>
          {open && ignored.map((finding) => <FindingCard key={finding.key} finding={finding} fixable={fixable} />)}
        </>
      )}
    </>
  );
}

const AT_FIRST = 8;

interface CardsProps {
  found: Finding[];
  fixable: boolean;
  onShow: ((finding: Finding) => void) | undefined;
}

/** The findings of one kind, the first few until more are requested. */
function Cards({ found, fixable, onShow }: CardsProps) {
  const [all, setAll] = useState(false);
  return (
    <>
      {(all ? found : found.slice(0, AT_FIRST)).map((finding) => (
        <FindingCard
          key={finding.key}
          finding={finding}
          fixable={fixable}
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

/** Applies the first fix of every finding of a kind, as one edit. */
function FixAll({ found, onFix }: { found: Finding[]; onFix: (edit: Edit) => void }) {
  const label = sharedLabel(found);
  if (!label) return null;
  const fixes = found.flatMap((finding) => finding.fixes.filter((fix) => fix.label === label));
  const edits = fixes.flatMap(({ edit }) => (edit.kind === 'several' ? edit.edits : [edit]));
  return (
    <button
      type="button"
      className="btn justify-self-start px-2 py-0.5"
      onClick={() => onFix({ kind: 'several', said: `${label}, ${found.length} times`, edits })}
    >
      All {found.length}: {label.charAt(0).toLowerCase() + label.slice(1)}
    </button>
  );
}

const sharedLabel = (found: Finding[]) =>
  found[0]?.fixes.map((m) => m.label).find((label) => found.every((f) => f.fixes.some((m) => m.label === label)));

/** The findings of what is shown; if the step has none left, a link to the next step. */
export function FindingsHere({ step, belongs }: { step: StepId; belongs: (finding: Finding) => boolean }) {
  const { findings: data, checking, failed } = useFindings();
  const lookAt = usePlace((s) => s.lookAt);
  const here = data.filter(belongs);
  const elsewhere = data.filter((f) => f.where.step === step && f.where.piece && standsOpen(f) && !belongs(f));
  const next = elsewhere[0];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-2">
      <h2 className="head">Findings here</h2>
      {here.length === 0 && (
        <p className="text-small text-soft">{failed || (checking ? 'Checking…' : 'Nothing to fix here.')}</p>
      )}
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
