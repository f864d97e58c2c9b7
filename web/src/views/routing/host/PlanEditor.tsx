/** The rules of a plan in order of importance: name, order, what each takes; then saved as one. */
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useState } from 'react';
import { type CardOf, put } from '../../../api/calls';
import { rules as coreRules } from '../../../app/kit/rules';
import type { Shelf } from '../../../app/shelf/shelf';
import { Panel } from '../../../ui/Panel';
import { Pick } from '../../../ui/Pick';
import { movedTo, type Plan, type Rule, takesSaid, usePlanShown } from './plans';

const done = () => usePlanShown.setState({ edited: null });

export function PlanEditor({ card, shelf }: { card: CardOf<'plans'>; shelf: Shelf<'plans'> }) {
  const [plan, setPlan] = useState(card.value as Plan);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { rules } = plan;
  const setRules = (next: Rule[]) => setPlan({ ...plan, rules: next });
  const change = (place: number, part: Partial<Rule>) =>
    setRules(rules.map((rule, each) => (each === place ? { ...rule, ...part } : rule)));
  const keep = async () => {
    const refused = await shelf.doing(() => put('/api/shelves/plans/{kept_id}', { kept_id: card.id }, plan));
    setTrouble(refused);
    if (!refused) done();
  };
  return (
    <section className="grid min-h-0 gap-2" aria-label={`Rules of ${card.name}`}>
      <h2 className="text-[15px]">Rules of {card.name}</h2>
      <p className="text-small text-soft">
        Rules get outputs from the top down. When the host has none left, a rule joins the nearest one above it in the
        same group.
      </p>
      <ol className="grid gap-1">
        {rules.map((rule, place) => (
          <li
            key={place}
            className="grid grid-cols-[minmax(90px,1fr)_88px_minmax(0,1.4fr)_minmax(70px,0.8fr)_auto] items-center gap-2 rounded-[9px] border border-line bg-card px-2 py-1 text-small"
          >
            <Text label={`Rule ${place + 1}: track`} value={rule.track} onText={(track) => change(place, { track })} />
            <Pick
              label={`Rule ${place + 1}: width`}
              value={rule.width ?? 'stereo'}
              options={[
                { value: 'stereo' as const, name: 'stereo' },
                { value: 'mono' as const, name: 'mono' },
              ]}
              onChange={(width) => change(place, { width })}
            />
            <Panel
              label={`What ${rule.track} matches`}
              title={takesSaid(rule)}
              buttonClass="link block w-full min-w-0 truncate text-left"
              button={takesSaid(rule) || 'matches nothing yet'}
              className="grid w-[330px] gap-2 p-3 text-small"
            >
              {() => <Takes rule={rule} onChange={(part) => change(place, part)} />}
            </Panel>
            <Text
              label={`Rule ${place + 1}: group`}
              value={rule.group ?? ''}
              placeholder="no group"
              onText={(group) => change(place, { group })}
            />
            <span className="flex">
              <Small
                label={`Move ${rule.track} up`}
                disabled={place === 0}
                onPress={() => setRules(movedTo(rules, place, place - 1))}
              >
                <ArrowUp size={13} aria-hidden="true" />
              </Small>
              <Small
                label={`Move ${rule.track} down`}
                disabled={place === rules.length - 1}
                onPress={() => setRules(movedTo(rules, place, place + 1))}
              >
                <ArrowDown size={13} aria-hidden="true" />
              </Small>
              <Small
                label={`Remove ${rule.track}`}
                disabled={rules.length < 2}
                onPress={() => setRules(rules.filter((_, each) => each !== place))}
              >
                <X size={13} aria-hidden="true" />
              </Small>
            </span>
          </li>
        ))}
      </ol>
      <span className="flex flex-wrap gap-4 text-small">
        <Check
          label="Reserve output 1 for main and reverbs"
          on={plan.keeps_main ?? true}
          onChange={(keeps_main) => setPlan({ ...plan, keeps_main })}
        />
        <Check
          label="Mono tracks share stereo outputs, left and right"
          on={plan.pairs ?? false}
          onChange={(pairs) => setPlan({ ...plan, pairs })}
        />
      </span>
      {trouble && (
        <p role="alert" className="rounded-lg bg-amber-wash px-2.5 py-1.5 text-small">
          {trouble}
        </p>
      )}
      <span className="flex gap-2">
        <button type="button" className="btn btn-go" onClick={() => void keep()}>
          Save rules
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => setRules([...rules, { track: freeTrack(rules), width: 'stereo', families: ['other'] }])}
        >
          Add a rule
        </button>
        <button type="button" className="btn" onClick={done}>
          Cancel
        </button>
      </span>
    </section>
  );
}

function freeTrack(rules: readonly Rule[]): string {
  const taken = new Set(rules.map((rule) => rule.track));
  let number = rules.length + 1;
  while (taken.has(`Track ${number}`)) number += 1;
  return `Track ${number}`;
}

function Takes({ rule, onChange }: { rule: Rule; onChange: (part: Partial<Rule>) => void }) {
  const { families, mic_kinds: kinds } = coreRules();
  const several = <T extends string>(label: string, all: readonly T[], on: readonly T[], put: (next: T[]) => void) => (
    <fieldset className="grid gap-0.5">
      <legend className="head">{label}</legend>
      <span className="flex flex-wrap gap-x-3 gap-y-0.5">
        {all.map((each) => (
          <Check
            key={each}
            label={each}
            on={on.includes(each)}
            onChange={(ticked) => put(ticked ? [...on, each] : on.filter((one) => one !== each))}
          />
        ))}
      </span>
    </fieldset>
  );
  const names = (text: string) =>
    text
      .split(',')
      .map((name) => name.trim())
      .filter(Boolean);
  return (
    <>
      {several('Pieces of a family', families, rule.families ?? [], (next) => onChange({ families: next }))}
      <label className="flex items-center gap-2">
        Only the
        <input
          type="number"
          min={1}
          max={64}
          className="num w-[52px] rounded border border-edge bg-card px-1"
          value={rule.number ?? ''}
          placeholder="all"
          onChange={(event) =>
            onChange({ number: event.target.value ? Math.max(1, Math.min(64, event.target.valueAsNumber)) : null })
          }
        />
        of its family in the kit
      </label>
      <Lasting
        label="Pieces by name, with commas between"
        value={(rule.pieces ?? []).join(', ')}
        onText={(text) => onChange({ pieces: names(text) })}
      />
      {several('Only these microphones', kinds, rule.mics ?? [], (mics) => onChange({ mics }))}
      {several(
        'Shared channels',
        kinds.filter((kind) => kind !== 'close'),
        rule.gathers ?? [],
        (gathers) => onChange({ gathers }),
      )}
      <Lasting
        label="Buses by name"
        value={(rule.buses ?? []).join(', ')}
        onText={(text) => onChange({ buses: names(text) })}
      />
    </>
  );
}

interface TextProps {
  label: string;
  value: string;
  placeholder?: string;
  onText: (text: string) => void;
}

function Text({ label, value, placeholder, onText }: TextProps) {
  return (
    <input
      aria-label={label}
      className="min-w-0 rounded border border-edge bg-card px-1.5 py-0.5 text-ink"
      maxLength={120}
      value={value}
      placeholder={placeholder}
      onChange={(event) => onText(event.target.value)}
    />
  );
}

/** A list of names that is read when the field is left, so that a comma can be typed. */
function Lasting({ label, value, onText }: TextProps) {
  const [text, setText] = useState(value);
  return (
    <label className="grid gap-0.5">
      {label}
      <input
        className="rounded border border-edge bg-card px-1.5 py-0.5 text-ink"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => onText(text)}
      />
    </label>
  );
}

function Check({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex min-h-6 items-center gap-1.5">
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

interface SmallProps {
  label: string;
  disabled: boolean;
  onPress: () => void;
  children: React.ReactNode;
}

function Small({ label, disabled, onPress, children }: SmallProps) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={disabled}
      className="grid size-6 place-items-center rounded hover:bg-sunk disabled:opacity-35"
      onClick={onPress}
    >
      {children}
    </button>
  );
}
