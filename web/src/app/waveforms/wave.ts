/** Draws a recording: its waveform down to single samples, the parts that do not play, its fades. */
import type { Take } from '../../api/calls';

const FAINTEST = 0.001;

/** The visible time range, in ms from the start of the recordings. */
export interface View {
  from: number;
  to: number;
}

interface Marks {
  view: View;
  cut: number;
  end: number | null;
  take: Take;
  inverted: boolean;
  /** The start of the data and the length of each point, in ms. */
  time: { first: number; each: number };
  height: number;
}

export function draw(node: HTMLCanvasElement, data: { low: number[]; high: number[] }, marks: Marks) {
  const pen = node.getContext('2d');
  if (!pen) return;
  const CHANNEL = marks.height;
  const ratio = window.devicePixelRatio || 1;
  const width = node.clientWidth;
  node.width = width * ratio;
  node.height = CHANNEL * ratio;
  pen.scale(ratio, ratio);
  const style = getComputedStyle(node);
  const ink = (name: string) => style.getPropertyValue(name);
  const x = (ms: number) => ((ms - marks.view.from) / (marks.view.to - marks.view.from)) * width;
  const loudest = Math.max(FAINTEST, ...data.high.map(Math.abs), ...data.low.map(Math.abs));
  const y = (v: number) => CHANNEL / 2 - ((marks.inverted ? -v : v) / loudest) * (CHANNEL / 2 - 4);
  // Parts that do not play are pale.
  const start = x(marks.cut);
  const end = marks.end === null ? width + 1 : x(marks.end);
  pen.fillStyle = ink('--sunk');
  pen.fillRect(0, 0, Math.max(0, start), CHANNEL);
  if (end < width) pen.fillRect(end, 0, width - end, CHANNEL);
  pen.strokeStyle = ink('--line');
  pen.beginPath();
  pen.moveTo(0, CHANNEL / 2);
  pen.lineTo(width, CHANNEL / 2);
  pen.stroke();
  const count = data.low.length;
  const single = count < width * 0.75;
  pen.strokeStyle = ink('--v5');
  pen.fillStyle = ink('--v5');
  pen.beginPath();
  for (let i = 0; i < count; i += 1) {
    const at = x(marks.time.first + i * marks.time.each);
    if (single) {
      if (i) pen.lineTo(at, y(data.high[i] as number));
      else pen.moveTo(at, y(data.high[i] as number));
    } else {
      // One line through all points, so that the waveform stays connected where a point is about one sample.
      pen.lineTo(at, y(data.high[i] as number) - 0.4);
      pen.lineTo(at, y(data.low[i] as number) + 0.4);
    }
  }
  pen.stroke();
  if (single && count < width / 4) {
    for (let i = 0; i < count; i += 1) {
      pen.beginPath();
      pen.arc(x(marks.time.first + i * marks.time.each), y(data.high[i] as number), 2, 0, 7);
      pen.fill();
    }
  }
  pen.strokeStyle = ink('--leaf');
  pen.lineWidth = 1.5;
  pen.beginPath();
  if (marks.take.fade_in_ms) {
    pen.moveTo(start, CHANNEL - 3);
    pen.lineTo(x(marks.cut + marks.take.fade_in_ms), 3);
  }
  if (marks.take.fade_out_ms && marks.end !== null) {
    pen.moveTo(x(marks.end - marks.take.fade_out_ms), 3);
    pen.lineTo(end, CHANNEL - 3);
  }
  pen.stroke();
  pen.fillStyle = ink('--plum');
  pen.fillRect(start - 0.75, 0, 1.5, CHANNEL);
  if (end < width) pen.fillRect(end - 0.75, 0, 1.5, CHANNEL);
}
