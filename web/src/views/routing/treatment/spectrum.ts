/** Draws spectra behind the EQ curve: the input filled, the output as a line. */
import { clamp, HEIGHT, POINTS, type Scale, TOP } from './eqScale';
import type { Passing } from './passing';

/** The spectrum's floor and top, in dB full scale. */
const [QUIET_DB, LOUD_DB] = [-100, -10];

export function drawSpectrum(canvas: HTMLCanvasElement | null, passing: Passing, scale: Scale) {
  const { x, width, bottom, hzAt } = scale;
  const context = canvas?.getContext('2d');
  if (!canvas || !context) return;
  const dots = window.devicePixelRatio || 1;
  if (canvas.width !== Math.round(width * dots)) {
    canvas.width = Math.round(width * dots);
    canvas.height = Math.round(HEIGHT * dots);
    canvas.style.width = `${width}px`;
    canvas.style.height = `${HEIGHT}px`;
  }
  const style = getComputedStyle(canvas);
  context.setTransform(dots, 0, 0, dots, 0, 0);
  context.clearRect(0, 0, width, HEIGHT);
  const bin = passing.rate / 2 / passing.entering.length;
  const trace = (levels: Float32Array) => {
    context.beginPath();
    context.moveTo(x(hzAt(0)), bottom);
    for (let point = 0; point <= POINTS; point += 1) {
      const [from, to] = [hzAt(point), hzAt(point + 1)];
      const [first, last] = [Math.round(from / bin), Math.max(Math.round(from / bin) + 1, Math.round(to / bin))];
      let db = QUIET_DB;
      for (let k = first; k < last; k += 1) db = Math.max(db, levels[k] ?? QUIET_DB);
      const share = clamp((db - QUIET_DB) / (LOUD_DB - QUIET_DB), 0, 1);
      context.lineTo(x(from), bottom - share * (bottom - TOP));
    }
  };
  trace(passing.entering);
  context.lineTo(x(hzAt(POINTS)), bottom);
  context.globalAlpha = 0.22;
  context.fillStyle = style.getPropertyValue('--v3');
  context.fill();
  context.globalAlpha = 1;
  trace(passing.leaving);
  context.strokeStyle = style.getPropertyValue('--v3');
  context.lineWidth = 1.2;
  context.stroke();
}
