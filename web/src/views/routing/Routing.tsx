/** Routing: put every piece on its own output. One lane a channel, read from left to right as the sound flows. */
import { useState } from 'react';
import type { KitState } from '../../api/calls';
import { FindingsHere } from '../../app/Findings';
import { decibels } from '../../app/format';
import { useKit } from '../../app/kitStore';
import { usePlace } from '../../app/place';
import { useStandIns } from '../../app/StrikeBar';
import { Fader } from '../../ui/Fader';
import { ChannelDetail } from './ChannelDetail';
import { LANE, Lane } from './Lane';
import { useMeters } from './meters';

export default function Routing() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const [chosen, setChosen] = useState<string | null>(null);
  const { data } = useStandIns();
  const meters = useMeters();
  const lookAt = usePlace((s) => s.lookAt);
  const { channels, outputs } = kit.head;
  const used = new Set(channels.map((c) => c.output || 1));
  const selected = channels.find((c) => c.id === chosen) ?? null;
  return (
    <div className="grid min-h-0 grid-cols-[208px_minmax(0,1fr)_264px] max-[1180px]:grid-cols-[180px_minmax(0,1fr)_212px]">
      <aside className="overflow-y-auto border-r border-line px-2.5 py-3" aria-label="Outputs of the host">
        <h3 className="mx-1.5 mb-2 flex justify-between">
          <span>Outputs of {kit.head.host}</span>
          <span>
            {used.size} of {outputs.length}
          </span>
        </h3>
        <ul>
          {outputs.map((output) => {
            const into = channels.filter((c) => (c.output || 1) === output.number);
            return (
              <li key={output.number} className="grid grid-cols-[26px_1fr_auto] items-center gap-2 px-1.5 py-[4px]">
                <span className="tag justify-self-start">{output.number}</span>
                <span className="min-w-0">
                  <span className={`block truncate leading-tight ${into.length ? 'font-semibold' : 'text-faint'}`}>
                    {into.length ? output.name : 'free'}
                  </span>
                  <span className="num text-[11.5px] text-faint">
                    {output.width} ·{' '}
                    {output.width === 'stereo' ? `${output.number * 2 - 1}/${output.number * 2}` : output.number}
                  </span>
                </span>
                <span className="flex h-7 gap-[3px]" aria-hidden="true">
                  {(output.width === 'stereo' ? [0, 1] : [0]).map((side) => (
                    <span key={side} className="relative w-1.5 overflow-hidden rounded-full bg-sunk">
                      <span
                        ref={meters.keep(`out ${output.number} ${side}`)}
                        className="absolute inset-0 origin-bottom scale-y-0 rounded-full bg-[var(--v3)]"
                      />
                    </span>
                  ))}
                </span>
              </li>
            );
          })}
        </ul>
      </aside>
      <main className="flex min-h-0 flex-col gap-2.5 overflow-hidden px-[18px] py-3.5">
        <div className="flex flex-wrap items-center gap-2.5">
          <h1>Routing</h1>
          <span className="text-soft max-[1180px]:hidden">
            {kit.head.host}: {outputs.length} outputs, simulated
          </span>
          <span className="grow" />
          {data?.plans.map((plan, place) => (
            <button
              key={plan.id}
              type="button"
              className={`btn ${place === 0 ? 'btn-go' : ''}`}
              disabled={!channels.length}
              onClick={() => void edit({ kind: 'apply_plan', plan: plan.id })}
              title={
                place === 0
                  ? 'Kick, snare, hats, toms, cymbals, percussion, overheads and room on outputs 2 to 9'
                  : undefined
              }
            >
              {plan.name}
            </button>
          ))}
        </div>
        <div className={`${LANE} px-3 text-tiny font-semibold text-faint`}>
          <span>Channel</span>
          <span>Level and what passes</span>
          <span>Pan</span>
          <span>Hear</span>
          <span>Goes to</span>
        </div>
        <div className="grid min-h-0 content-start gap-1 overflow-y-auto pb-2">
          {channels.length === 0 && (
            <p className="text-soft">No channels yet. They come with the pieces: make some under Recordings.</p>
          )}
          {channels.map((channel) => (
            <Lane
              key={channel.id}
              channel={channel}
              selected={chosen === channel.id}
              onSelect={() => {
                setChosen(channel.id);
                if (kit.order.includes(channel.id)) lookAt({ piece: channel.id });
              }}
              meter={meters.keep(`channel ${channel.id}`)}
            />
          ))}
          <div className={`${LANE} mt-1.5 min-h-[38px] rounded-[9px] bg-foot px-3 text-foot-ink`}>
            <span className="font-semibold">
              Main <span className="num ml-1 font-normal text-foot-soft">what is left</span>
            </span>
            <Fader
              label="Level of main"
              value={kit.head.main_level_db}
              tone="foot"
              meter={meters.keep('main')}
              show={(v) => `${decibels(v)} dB`}
              onChange={(level_db, gesture) => void edit({ kind: 'set_main_level', level_db }, gesture)}
            />
            <span />
            <span />
            <span className="num rounded-md border border-foot-line px-2 py-0.5">→ 1 · stereo</span>
          </div>
        </div>
      </main>
      <aside
        className="grid grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto border-l border-line bg-side p-3.5"
        aria-label="Channel"
      >
        {selected ? (
          <ChannelDetail channel={selected} />
        ) : (
          <section>
            <h3>Channel</h3>
            <p className="text-small text-soft">Press a lane to see which microphones feed it, and to add bleed.</p>
          </section>
        )}
        <FindingsHere belongs={(f) => f.where.step === 'routing'} />
      </aside>
    </div>
  );
}
