/** The open channel's loudness: the last three seconds live, and what its treatment changes in a groove. */
import { type ReactNode, useEffect, useRef } from 'react';
import type { Channel } from '../../api/calls';
import { decibels, gainToDecibels } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { rules } from '../../app/kit/rules';
import { ShortLoudness } from '../../player/loudness';
import { BeforeAfter, louderSaid, whyNot } from './treatment/BeforeAfter';
import { type Compared, useCompared, useKeepEqual, useKitCompared } from './treatment/equally';

const SHOWN_EVERY_MS = 100;
const HELD_LOOKS = 30;
const NONE = '–';

export function Loudness({ channel }: { channel: Channel }) {
  const compared = useCompared(channel);
  const { figure } = compared;
  const { done, keep } = useKeepEqual(channel, figure);
  const louder = figure?.louder_db ?? null;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1.5" aria-label={`Loudness of ${channel.name}`}>
      <LastThree channel={channel.id} />
      {compared.treats && (
        <Difference compared={compared}>
          {louder !== null &&
            (done ? (
              <span className="text-small text-soft">The channel’s level compensates for it.</span>
            ) : (
              Math.abs(louder) >= 0.05 && (
                <button
                  type="button"
                  className="link justify-self-start text-small"
                  title="Set the channel’s level so that it is as loud as without treatment"
                  disabled={compared.measuring}
                  onClick={keep}
                >
                  Match loudness by level
                </button>
              )
            ))}
        </Difference>
      )}
    </section>
  );
}

/** The whole kit's loudness, and what all treatments change. */
export function KitLoudness() {
  const compared = useKitCompared();
  const { figure, treats } = compared;
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-1.5" aria-label="Loudness of the kit">
      <h2 className="head">The whole kit in {compared.groove}</h2>
      <Rows
        rows={[
          ['With treatment', figure ? shown(figure.db) : '…'],
          ['Without treatment', figure ? shown(figure.plain_db) : '…'],
        ]}
      />
      {treats && (
        <Difference compared={compared}>
          <span>
            <BeforeAfter compared={compared} of="the whole kit" />
          </span>
        </Difference>
      )}
    </section>
  );
}

function Difference({ compared, children }: { compared: Compared; children: ReactNode }) {
  const { figure, measuring, groove } = compared;
  const louder = figure?.louder_db ?? null;
  return (
    <div className="grid gap-0.5" aria-live="polite">
      <p className={`text-small ${measuring ? 'text-faint' : ''}`} data-testid="louder" data-measuring={measuring}>
        {louder === null ? whyNot(compared) : `${louderSaid(louder)} in ${groove}${measuring ? ', measuring…' : '.'}`}
      </p>
      {children}
    </div>
  );
}

const shown = (db: number | null) => (db === null ? '−∞' : `${decibels(db)} LUFS`);

function Rows({ rows }: { rows: [string, ReactNode][] }) {
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-x-2 gap-y-0.5 text-small">
      {rows.map(([what, value]) => (
        <div key={what} className="contents">
          <dt>{what}</dt>
          <dd className="num text-right">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

const lufs = (db: number | null) => (db === null ? NONE : decibels(db));

const PASSING = ['Input', 'Output', 'Peak', 'Gain reduction, peak'] as const;

function LastThree({ channel }: { channel: string }) {
  const player = useKit((s) => s.player);
  const cells = useRef<(HTMLElement | null)[]>([]);
  useEffect(() => {
    const sections = player && rules().k_weighting[player.context.sampleRate];
    if (!player || !sections) return;
    const ear = new ShortLoudness(player.context, sections);
    let held: { peak: number; reduction: number }[] = [];
    const timer = setInterval(() => {
      ear.follow(player.entering(channel), player.leaving(channel));
      held = [
        ...held.slice(1 - HELD_LOOKS),
        { peak: player.channelPeak(channel), reduction: player.reduction(channel) },
      ];
      const peak = Math.max(...held.map((h) => h.peak));
      const reduction = Math.max(...held.map((h) => h.reduction));
      [
        lufs(ear.entering),
        lufs(ear.leaving),
        peak > 1e-4 ? `${decibels(gainToDecibels(peak))} dBFS` : NONE,
        reduction > 0.05 ? `${decibels(-reduction)} dB` : NONE,
      ].forEach((text, place) => {
        const cell = cells.current[place];
        if (cell && cell.textContent !== text) cell.textContent = text;
      });
    }, SHOWN_EVERY_MS);
    return () => {
      clearInterval(timer);
      ear.end();
    };
  }, [player, channel]);
  return (
    <>
      <h2 className="head" title="LUFS by ITU-R BS.1770-5; the output is after treatment, level and pan">
        Loudness, last 3 s
      </h2>
      <Rows
        rows={PASSING.map((what, place) => [
          what,
          <span
            key={what}
            ref={(node) => {
              cells.current[place] = node;
            }}
          />,
        ])}
      />
    </>
  );
}
