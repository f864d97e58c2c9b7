/** Every recording as a row: searched, filtered, sorted, heard and selected; smooth with 40,000 rows. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp, Search } from 'lucide-react';
import { type KeyboardEvent, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import type { Finding, KitState, Reading, Rows } from '../../api/calls';
import { count } from '../../app/kit/format';
import { articulationIn, useKit } from '../../app/kit/kitStore';
import { openWaveforms } from '../../app/waveforms/opened';
import { Pick } from '../../ui/Pick';
import { GRID, ROW, Row } from './RecordingRow';
import { type Act, HEADS, type Measure, noticedByTake, useRows } from './rows';

interface ListProps {
  data: Reading;
  articulation: string | null;
  findings: Finding[];
}

/** Tom 2 before Tom 10. */
const byName = new Intl.Collator('en', { numeric: true });

export function RecordingList({ data, articulation, findings }: ListProps) {
  const { data: rows } = useRows(data.id);
  const [text, setText] = useState('');
  const [mic, setMic] = useState('own');
  const [noticed, setNoticed] = useState('');
  const [sort, setSort] = useState<{ by: Measure; down: boolean } | null>(null);
  const sought = useDeferredValue(text.trim().toLowerCase());
  const byTake = useMemo(() => noticedByTake(findings), [findings]);
  const byPath = useMemo(() => new Map(findings.map((f) => [f.place, f])), [findings]);
  // A finding about one microphone's recording is shown on its row; for a take with one recording, also the take's
  // findings.
  const ofFiles = useMemo(() => {
    const paths = new Set(rows?.path);
    return new Set(findings.filter((f) => paths.has(f.place)));
  }, [rows, findings]);
  const titleOf = (row: number) => {
    if (!rows) return undefined;
    const exact = byPath.get(rows.path[row] ?? '');
    if (exact || !rows.own[row]) return exact;
    const found = byTake.get(`${data.articulations[rows.articulation[row] ?? 0]?.articulation_id} ${rows.take[row]}`);
    return found && (mic === 'own' || !ofFiles.has(found)) ? found : undefined;
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: titleOf is made of the two maps
  const shown = useMemo(() => {
    if (!rows) return [];
    const wanted: number[] = [];
    const words = sought ? sought.split(/\s+/) : [];
    const micAt = data.mics.findIndex((m) => m.id === mic);
    for (let i = 0; i < rows.path.length; i += 1) {
      const grid = data.articulations[rows.articulation[i] as number];
      if (articulation && grid?.articulation_id !== articulation) continue;
      if (mic === 'own' ? !rows.own[i] : mic !== 'all' && rows.mic[i] !== micAt) continue;
      if (words.length) {
        const name = `${rows.path[i]} ${grid?.piece} ${grid?.articulation} ${rows.label[i]}`.toLowerCase();
        if (!words.every((word) => name.includes(word))) continue;
      }
      if (noticed) {
        const finding = titleOf(i);
        if (!finding || (noticed !== 'any' && finding.rule !== noticed)) continue;
      }
      wanted.push(i);
    }
    if (sort) {
      const values = rows[sort.by];
      const sign = sort.down ? -1 : 1;
      wanted.sort((a, b) => {
        const [x, y] = [values[a] as number | string, values[b] as number | string];
        if (typeof x === 'string' && typeof y === 'string') return sign * byName.compare(x, y) || a - b;
        return x < y ? -sign : x > y ? sign : a - b;
      });
    }
    return wanted;
  }, [rows, sought, mic, articulation, noticed, sort, data, byTake, byPath, ofFiles]);

  const rules = [...new Map(findings.map((f) => [f.rule, f])).keys()].filter((r) => r !== 'unread');
  return (
    <section className="flex min-h-[150px] grow flex-col" aria-label="Recordings">
      <div className="mb-1.5 flex flex-wrap items-center gap-1.5">
        <label className="relative grow">
          <Search size={13} className="absolute top-2 left-2 text-faint" aria-hidden="true" />
          <input
            type="search"
            aria-label="Search recordings"
            placeholder="Search names, pieces, takes"
            className="w-full rounded-lg border border-line bg-card py-1 pr-2 pl-7 text-small"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <Pick
          label="Microphone"
          value={mic}
          options={[
            { value: 'own', name: 'One row a take' },
            { value: 'all', name: 'Every microphone' },
            ...data.mics.map((m) => ({ value: m.id, name: m.name })),
          ]}
          onChange={setMic}
          className="max-w-[150px]"
        />
        <Pick
          label="Findings"
          value={noticed}
          options={[
            { value: '', name: 'With or without findings' },
            { value: 'any', name: 'With findings' },
            ...rules.map((rule) => ({ value: rule, name: rule.replace(/_/g, ' ') })),
          ]}
          onChange={setNoticed}
          className="max-w-[150px]"
        />
        <span className="num text-faint" data-testid="row-count">
          {shown.length.toLocaleString('en')} of {(rows?.path.length ?? 0).toLocaleString('en')}
        </span>
      </div>
      {rows && <List data={data} rows={rows} shown={shown} titleOf={titleOf} sort={sort} onSort={setSort} />}
    </section>
  );
}

interface InnerProps {
  data: Reading;
  rows: Rows;
  shown: number[];
  titleOf: (row: number) => Finding | undefined;
  sort: { by: Measure; down: boolean } | null;
  onSort: (sort: { by: Measure; down: boolean } | null) => void;
}

function List({ data, rows, shown, titleOf, sort, onSort }: InnerProps) {
  const box = useRef<HTMLDivElement>(null);
  const kit = useKit((s) => s.kit) as KitState;
  const player = useKit((s) => s.player);
  const pieces = useKit((s) => s.pieces);
  const [active, setActive] = useState(0);
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const [everyMic, setEveryMic] = useState(true);
  const anchor = useRef(0);
  const sound = useRef<HTMLAudioElement | null>(null);
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 3,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: another list begins at its top
  useEffect(() => {
    setActive(0);
    anchor.current = 0;
  }, [shown]);
  const articulationOf = (row: number) => data.articulations[rows.articulation[row] ?? 0];
  /** The kit's take that has a row's recording, if pieces were built. */
  const inKit = (row: number) => {
    const id = articulationOf(row)?.articulation_id ?? '';
    const take = articulationIn(pieces, id)?.articulation.takes.find((t) => t.id === rows.take[row]);
    return take ? { articulation: id, take } : null;
  };
  const hear = (row: number) => {
    sound.current?.pause();
    player?.wake();
    const there = inKit(row);
    if (there && player) {
      return player.audition(
        there.articulation,
        there.take.id,
        everyMic ? null : (data.mics[rows.mic[row] ?? 0]?.id ?? null),
      );
    }
    const width = data.mics[rows.mic[row] ?? 0]?.width ?? 'mono';
    sound.current = new Audio(`/api/sounds/${rows.content[row]}/${kit.head.rate_hz}/${width}`);
    void sound.current.play().catch(() => undefined);
  };
  const choose = (place: number, keys: { range: boolean; join: boolean }) => {
    const row = shown[place];
    if (row === undefined) return;
    setActive(place);
    if (keys.range) {
      const [from, to] = [anchor.current, place].sort((a, b) => a - b) as [number, number];
      setChosen(new Set(shown.slice(from, to + 1)));
      return;
    }
    anchor.current = place;
    if (!keys.join) return setChosen(new Set([row]));
    const next = new Set(chosen);
    if (!next.delete(row)) next.add(row);
    setChosen(next);
  };
  const key = (event: KeyboardEvent) => {
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 200) / ROW) - 1);
    const by = { ArrowUp: -1, ArrowDown: 1, PageUp: -page, PageDown: page, Home: -shown.length, End: shown.length }[
      event.key
    ];
    if (by !== undefined) {
      event.preventDefault();
      const place = Math.max(0, Math.min(shown.length - 1, active + by));
      choose(place, { range: event.shiftKey, join: false });
      virtual.scrollToIndex(place);
      if (Math.abs(by) === 1 && shown[place] !== undefined) hear(shown[place] as number);
    } else if (event.key === ' ') {
      event.preventDefault();
      event.stopPropagation();
      if (shown[active] !== undefined) hear(shown[active] as number);
    } else if (event.key === 'Enter') {
      showWaveforms(active);
    } else if ((event.ctrlKey || event.metaKey) && event.code === 'KeyA') {
      event.preventDefault();
      setChosen(new Set(shown));
    } else if (event.key === 'Delete') {
      leaveOut(false);
    }
  };
  const showWaveforms = (place: number) => {
    const there = inKit(shown[place] ?? -1);
    if (there) openWaveforms(there.articulation, there.take.id);
    else useKit.getState().say('Make pieces first to open waveforms.');
  };
  const leaveOut = (enabled: boolean) => {
    const takes = new Map<string, Set<string>>();
    for (const row of chosen) {
      const there = inKit(row);
      if (there) takes.set(there.articulation, (takes.get(there.articulation) ?? new Set()).add(there.take.id));
    }
    const edits = [...takes].map(([articulation, ids]) => ({
      kind: 'trim_takes' as const,
      articulation,
      takes: [...ids],
      enabled,
    }));
    const said = enabled ? 'Enable takes' : 'Disable takes';
    if (edits.length) void useKit.getState().edit({ kind: 'several', said, edits });
    else useKit.getState().say('Make pieces first to disable takes.');
  };
  const act = useRef<Act>({ choose, showWaveforms, hear });
  Object.assign(act.current, { choose, showWaveforms, hear });
  return (
    <>
      <div className={`${GRID} pb-1 text-tiny font-semibold text-faint`}>
        {HEADS.map(({ key: by, name, right, title }) =>
          by ? (
            <button
              key={name}
              type="button"
              title={title ?? `Sort by ${name.toLowerCase()}`}
              className={`flex items-center gap-0.5 overflow-hidden font-semibold hover:text-ink ${right ? 'justify-end' : ''}`}
              onClick={() =>
                onSort(
                  sort?.by !== by
                    ? { by, down: by !== 'path' }
                    : sort.down === (by !== 'path')
                      ? { by, down: !sort.down }
                      : null,
                )
              }
            >
              {name}
              {sort?.by === by && (sort.down ? <ArrowDown size={11} /> : <ArrowUp size={11} />)}
            </button>
          ) : (
            <span key={name}>{name}</span>
          ),
        )}
        <span />
      </div>
      <div
        ref={box}
        role="listbox"
        aria-label="Recordings"
        aria-multiselectable="true"
        aria-activedescendant={shown[active] === undefined ? undefined : `row-${shown[active]}`}
        tabIndex={0}
        onKeyDown={key}
        className="min-h-0 grow overflow-y-auto rounded-xl border border-line bg-card"
        data-testid="recording-list"
      >
        {shown.length === 0 && (
          <p className="p-4 text-soft">No recording matches. Clear the search or choose another filter.</p>
        )}
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((item) => {
            const row = shown[item.index] as number;
            const there = inKit(row);
            return (
              <Row
                key={row}
                rows={rows}
                row={row}
                place={item.index}
                top={item.start}
                height={item.size}
                grid={articulationOf(row)}
                finding={titleOf(row)}
                chosen={chosen.has(row)}
                active={item.index === active}
                out={there ? !there.take.enabled : false}
                act={act.current}
              />
            );
          })}
        </div>
      </div>
      <div className="mt-1 flex min-h-[26px] flex-wrap items-center gap-1.5 text-tiny text-soft">
        {chosen.size > 1 ? (
          <>
            <b className="text-small text-ink">{count(chosen.size, 'recording')} selected</b>
            <button type="button" className="btn px-2 py-0.5" onClick={() => leaveOut(false)}>
              Disable their takes
            </button>
            <button type="button" className="btn px-2 py-0.5" onClick={() => leaveOut(true)}>
              Enable their takes
            </button>
          </>
        ) : (
          <span className="max-[1180px]:hidden">
            Arrows and space to listen, Enter to open waveforms, Shift or Ctrl to choose several, Delete to disable
          </span>
        )}
        <span className="grow" />
        <label className="flex items-center gap-1.5">
          <input type="checkbox" checked={everyMic} onChange={(event) => setEveryMic(event.target.checked)} />
          in every microphone
        </label>
      </div>
    </>
  );
}
