/** Touch: bend the velocity that comes in into the velocity that plays. */
import { useState } from 'react';
import type { Curve, KitState, Piece } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { layerColour } from '../../app/format';
import { newGesture, useKit } from '../../app/kitStore';
import { useLookedAt } from '../../app/place';
import { Shelf } from '../../app/Shelf';
import { useStandIns } from '../../app/StrikeBar';
import { useStrikes } from '../../app/strikes';
import { Slider } from '../../ui/Slider';
import { CurveEditor, TablePath } from './CurveEditor';

const STRAIGHT: Curve = {
  nodes: [
    { x: 0, y: 0, bend: 0 },
    { x: 127, y: 127, bend: 0 },
  ],
};

export default function Touch() {
  const kit = useKit((s) => s.kit) as KitState;
  const pieces = useKit((s) => s.pieces);
  const edit = useKit((s) => s.edit);
  const { piece } = useLookedAt();
  const [whose, setWhose] = useState<'all' | 'piece'>('all');
  const [node, setNode] = useState<number | null>(null);
  const { data } = useStandIns();
  const everything = whose === 'all' || !piece;
  const last = useStrikes((s) => (everything ? s.last : (s.lastOf.get(piece.id) ?? (s.last?.ignored ? s.last : null))));
  const curve = everything ? kit.head.curve : (piece.curve ?? STRAIGHT);
  const table = everything ? kit.head.table : piece.table;
  const here = last && !last.ignored ? last : null;
  const comesIn = here ? (everything ? here.velocityIn : (kit.head.table[here.velocityIn] ?? 0)) : null;
  const set = (next: Curve | null, gesture = newGesture('curve')) =>
    edit({ kind: 'set_curve', target: everything ? null : piece.id, curve: next }, gesture);
  const chosen = node === null ? undefined : curve.nodes[node];
  return (
    <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <Shelf
        aside={(id) => {
          const shown = pieces.get(id);
          return (
            <svg
              width={42}
              height={26}
              className="rounded-md bg-sunk"
              role="img"
              aria-label={shown?.curve ? 'has a curve of its own' : 'straight'}
            >
              <TablePath
                table={shown?.table ?? []}
                box={{ x: 3, y: 3, width: 36, height: 20 }}
                colour={shown?.curve ? 'var(--ink)' : 'var(--edge)'}
                width={1.4}
              />
            </svg>
          );
        }}
      />
      <main className="flex min-h-0 flex-col gap-3 overflow-auto px-[18px] py-3.5">
        <div className="flex flex-wrap items-center gap-2.5">
          <h1>{everything ? 'Everything coming in' : piece.name}</h1>
          <button type="button" className="chip" aria-pressed={everything} onClick={() => setWhose('all')}>
            Everything coming in
          </button>
          <button
            type="button"
            className="chip"
            aria-pressed={!everything}
            disabled={!piece}
            onClick={() => setWhose('piece')}
          >
            {piece ? `Only ${piece.name}` : 'One piece'}
          </button>
          <span className="grow" />
          {!everything && (
            <button type="button" className="btn" disabled={!piece.curve} onClick={() => void set(null)}>
              Take its own curve away
            </button>
          )}
        </div>
        <div className="grid min-h-0 grow grid-cols-[minmax(0,1fr)_236px] gap-3">
          <section className="card flex min-h-[420px] flex-col" aria-label="Curve">
            <h2>Curve</h2>
            <p className="text-tiny text-soft">
              Press to add a node, drag a node to move it, drag a line up or down to bend it, Delete takes a node away
            </p>
            <CurveEditor
              curve={curve}
              table={table}
              stroke={everything ? null : (piece.articulations[0] ?? null)}
              spread={everything ? null : (useStrikes.getState().spread.get(piece.id) ?? null)}
              strike={
                here === null || comesIn === null
                  ? null
                  : { comesIn, plays: everything ? (table[comesIn] ?? 0) : here.velocity }
              }
              chosen={node}
              onChoose={setNode}
              onChange={(next, gesture) => void set(next, gesture)}
            />
          </section>
          <div className="grid content-start gap-3">
            <section className="card" aria-label="Shapes to start from">
              <h2 className="mb-2">Shapes to start from</h2>
              <div className="grid grid-cols-3 gap-1.5">
                {data?.shapes.map((shape) => (
                  <button
                    key={shape.id}
                    type="button"
                    aria-pressed={JSON.stringify(shape.curve.nodes) === JSON.stringify(curve.nodes)}
                    onClick={() => {
                      setNode(null);
                      void set(shape.curve);
                    }}
                    className="grid justify-items-center gap-1 rounded-lg border border-line p-1 text-[11.5px] leading-tight text-soft hover:border-edge aria-pressed:border-ink aria-pressed:font-semibold aria-pressed:text-ink"
                  >
                    <ShapeIcon curve={shape.curve} />
                    {shape.name}
                  </button>
                ))}
              </div>
            </section>
            {!everything && <Harder piece={piece} />}
            {!everything && <Reach piece={piece} />}
          </div>
        </div>
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Last strike and node"
      >
        <section className="grid gap-1" data-testid="touch-last">
          <h3>Last strike</h3>
          {here ? (
            <>
              <p className="text-[24px] font-bold tracking-tight tabular-nums">
                {here.velocityIn} → {here.velocity}
              </p>
              <p className="text-small text-soft">
                {here.piece} · {here.articulation}, layer {here.layer + 1}, take {here.take}
              </p>
            </>
          ) : last?.ignored ? (
            <p className="text-[20px] font-bold">{last.velocityIn} → ignored</p>
          ) : (
            <p className="text-small text-soft">Strike something to see it on the curve.</p>
          )}
        </section>
        {chosen && node !== null && (
          <section className="grid gap-1.5">
            <h3>
              Node {node + 1} of {curve.nodes.length}
            </h3>
            <NodeFields curve={curve} node={node} onChange={(next, gesture) => void set(next, gesture)} />
          </section>
        )}
        <FindingsHere
          belongs={(f) => f.where.step === 'touch' && (everything || !f.where.piece || f.where.piece === piece.id)}
        />
      </aside>
    </div>
  );
}

/** A shape's icon: its nodes joined, bends as they lean. */
function ShapeIcon({ curve }: { curve: Curve }) {
  const x = (v: number) => 3 + (v / 127) * 46;
  const y = (v: number) => 29 - (v / 127) * 26;
  let d = '';
  curve.nodes.forEach((node, k) => {
    const before = curve.nodes[k - 1];
    if (!before) d += `M${x(node.x)} ${y(node.y)}`;
    else if (!before.bend) d += `L${x(node.x)} ${y(node.y)}`;
    else if (before.bend > 0) d += `Q${x(before.x)} ${y(node.y)} ${x(node.x)} ${y(node.y)}`;
    else d += `Q${x(node.x)} ${y(before.y)} ${x(node.x)} ${y(node.y)}`;
  });
  return (
    <svg width={52} height={32} aria-hidden="true">
      <path d={d} fill="none" stroke="var(--v5)" strokeWidth={1.8} />
    </svg>
  );
}

function NodeFields(props: { curve: Curve; node: number; onChange: (curve: Curve, gesture?: string) => void }) {
  const { curve, node, onChange } = props;
  const chosen = curve.nodes[node];
  if (!chosen) return null;
  const before = curve.nodes[node - 1];
  const after = curve.nodes[node + 1];
  const change = (part: Partial<typeof chosen>, gesture: string) =>
    onChange({ nodes: curve.nodes.map((n, k) => (k === node ? { ...n, ...part } : n)) }, gesture);
  return (
    <div className="grid grid-cols-[76px_1fr] items-center gap-y-1.5 text-small">
      <span>Comes in</span>
      <Slider
        label="Node comes in at"
        value={chosen.x}
        min={before ? before.x + 1 : 0}
        max={after && before ? after.x - 1 : chosen.x}
        step={1}
        reset={chosen.x}
        show={String}
        onChange={(x, gesture) => before && after && change({ x }, gesture)}
      />
      <span>Plays</span>
      <Slider
        label="Node plays"
        value={chosen.y}
        min={0}
        max={127}
        step={1}
        reset={chosen.x}
        show={String}
        onChange={(y, gesture) => change({ y }, gesture)}
      />
      {after && (
        <>
          <span>Bend after</span>
          <Slider
            label="Bend after the node"
            value={chosen.bend ?? 0}
            min={-1}
            max={1}
            step={0.01}
            page={0.1}
            reset={0}
            tone="pan"
            show={(v) => v.toFixed(2).replace('-', '−')}
            onChange={(bend, gesture) => change({ bend }, gesture)}
          />
        </>
      )}
    </div>
  );
}

function Harder({ piece }: { piece: Piece }) {
  const edit = useKit((s) => s.edit);
  return (
    <section className="card grid gap-1" aria-label="Harder is also">
      <h2>Harder is also</h2>
      <p className="text-tiny text-soft">How this piece answers strength inside a layer</p>
      <span className="text-small">louder</span>
      <Slider
        label="Louder inside layers"
        value={Math.round((piece.tracking.level ?? 1) * 100)}
        min={0}
        max={150}
        step={1}
        reset={100}
        show={(v) => `${v} %`}
        onChange={(percent, gesture) =>
          void edit({ kind: 'set_tracking', piece: piece.id, level: percent / 100 }, gesture)
        }
      />
    </section>
  );
}

/** How many of this sitting's strikes reached each layer of the piece's first articulation. */
function Reach({ piece }: { piece: Piece }) {
  const kit = useKit((s) => s.kit) as KitState;
  const counts = useStrikes((s) => s.spread.get(piece.id));
  const layers = piece.articulations[0]?.layers ?? [];
  const total = counts?.reduce((sum, n) => sum + n, 0) ?? 0;
  const reached = layers.map(() => 0);
  counts?.forEach((n, velocity) => {
    const plays = piece.table[kit.head.table[velocity] ?? 0] ?? 0;
    const number = layers.findIndex((l) => l.low <= plays && plays <= l.high);
    if (number >= 0) reached[number] = (reached[number] ?? 0) + n;
  });
  const most = Math.max(1, ...reached);
  return (
    <section className="card grid gap-1" aria-label="What your strikes reach">
      <h2>What your strikes reach</h2>
      <p className="text-tiny text-soft">
        {total ? `Last ${total} strikes of ${piece.name}` : 'Play it to see which layers you reach'}
      </p>
      {[...reached.keys()].reverse().map((number) => (
        <span key={number} className="grid grid-cols-[16px_1fr_34px] items-center gap-2">
          <span className="num text-faint">{number + 1}</span>
          <span className="h-3 rounded-sm bg-sunk">
            <span
              className="block h-full rounded-sm"
              style={{
                width: `${((reached[number] ?? 0) / most) * 100}%`,
                background: layerColour(number, layers.length),
              }}
            />
          </span>
          <span className="num text-right">{reached[number]}</span>
        </span>
      ))}
    </section>
  );
}
