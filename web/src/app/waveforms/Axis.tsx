/** The time axis above the microphones, with the take's start. */
import { NAME } from './Waveform';
import type { View } from './wave';

export function Axis({ view, cut }: { view: View; cut: number }) {
  const width = view.to - view.from;
  const every = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000].find((s) => width / s <= 9) ?? 5000;
  const marks = [];
  for (let t = Math.ceil(view.from / every) * every; t <= view.to; t += every) marks.push(t);
  return (
    <div className="relative h-5 shrink-0" style={{ marginLeft: NAME }}>
      {marks.map((t) => (
        <span
          key={t}
          className="num absolute top-0 -translate-x-1/2 text-faint"
          style={{ left: `${((t - view.from) / width) * 100}%` }}
        >
          {every < 1 ? t.toFixed(1) : t.toFixed(0)}
        </span>
      ))}
      {cut >= view.from && cut <= view.to && (
        <b
          className="num absolute -bottom-0.5 -translate-x-1/2 text-[11.5px] text-plum"
          style={{ left: `${((cut - view.from) / width) * 100}%` }}
        >
          ▾
        </b>
      )}
    </div>
  );
}
