/** The transport: a looping groove, scheduled slightly ahead on the audio clock, unaffected by edits. */
import type { Groove } from '../api/calls';
import type { Player } from './player';
import { GROOVE } from './striker';

const AHEAD_S = 0.15;
const TICK_MS = 30;

export class Transport {
  groove: Groove | null = null;
  looping = true;
  private timer: ReturnType<typeof setInterval> | null = null;
  private bpm = 120;
  /** The groove's time at `anchorClock` on the audio clock; both change with the tempo. */
  private anchorTime = 0;
  private anchorClock = 0;
  private next = 0;
  private listeners = new Set<() => void>();

  constructor(private player: () => Player | null) {}

  get running() {
    return this.timer !== null;
  }

  get tempo() {
    return this.bpm;
  }

  choose(groove: Groove) {
    const wasRunning = this.running;
    this.stop();
    this.groove = groove;
    this.bpm = groove.bpm;
    if (wasRunning) this.start();
    this.say();
  }

  /** Change the tempo without changing the position. */
  setTempo(bpm: number) {
    if (this.running) {
      this.anchorTime = this.elapsed();
      this.anchorClock = this.now();
    }
    this.bpm = bpm;
    this.say();
  }

  setLooping(looping: boolean) {
    this.looping = looping;
    this.say();
  }

  start() {
    const player = this.player();
    if (!player || !this.groove || this.running) return;
    player.wake();
    this.anchorTime = 0;
    this.anchorClock = this.now() + 0.06;
    this.next = 0;
    this.timer = setInterval(() => this.tick(), TICK_MS);
    this.say();
  }

  stop() {
    if (this.timer !== null) clearInterval(this.timer);
    this.timer = null;
    this.say();
  }

  toggle() {
    if (this.running) this.stop();
    else this.start();
  }

  private now() {
    return this.player()?.context.currentTime ?? 0;
  }

  private get speed() {
    return this.groove ? this.bpm / this.groove.bpm : 1;
  }

  /** The position in the groove, in its own seconds. */
  position(): number {
    if (!this.running || !this.groove) return 0;
    const at = this.elapsed();
    return at < 0 && this.anchorTime < 0 ? at + this.groove.length_s : Math.max(0, at);
  }

  /** Negative before the first beat, and while the end of the last loop, scheduled ahead, still sounds. */
  private elapsed() {
    return this.anchorTime + (this.now() - this.anchorClock) * this.speed;
  }

  private tick(): void {
    const player = this.player();
    const groove = this.groove;
    if (!player || !groove) {
      this.stop();
      return;
    }
    const until = this.elapsed() + AHEAD_S * this.speed;
    for (;;) {
      const event = groove.events[this.next];
      if (event && event.time_s > until) break;
      if (event) {
        const when = this.clockOf(event.time_s);
        const at = { source: GROOVE, time: when };
        if (event.kind === 'pedal') {
          player.take({ ...at, kind: 'controller', number: player.controllerOf(GROOVE), value: event.openness }, when);
        } else if (event.kind === 'press') {
          player.take({ ...at, kind: 'pressure', number: event.note, value: event.pressure }, when);
        } else {
          player.take({ ...at, kind: 'note', number: event.note, value: event.velocity }, when);
        }
        this.next += 1;
        continue;
      }
      if (groove.length_s > until) break;
      if (!this.looping) {
        if (this.elapsed() >= groove.length_s) this.stop();
        break;
      }
      this.anchorTime -= groove.length_s;
      this.next = 0;
      this.tick();
      return;
    }
  }

  private clockOf(time: number) {
    return Math.max(this.anchorClock + (time - this.anchorTime) / this.speed, this.now() + 0.001);
  }

  onChange(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  private say() {
    for (const listener of this.listeners) listener();
  }
}
