/**
 * Recordings decoded and cut as takes play them, fetched as needed under a memory budget: what is on screen first.
 */
import { type PlayPiece, type PlaySound, soundAddress } from '../api/calls';

const AT_ONCE = 6;
/** While somebody plays or drags: the time belongs to the hand. */
const AT_ONCE_EASED = 1;
const EASED_MS = 400;
/** Silence behind every sound, in which a filter rings out: a filter whose source has ended is cut off early. */
const RINGS = 256;
const BUDGET_BYTES = 700 * 2 ** 20;

interface Held {
  buffer: AudioBuffer;
  used: number;
}

const keyOf = (sound: PlaySound) =>
  [
    sound.content,
    sound.width,
    sound.start_frame,
    sound.cents || 0,
    sound.centred || false,
    sound.frames || 0,
    sound.fade_in || 0,
    sound.fade_out || 0,
    sound.pan || '',
  ].join(' ');

const bytesOf = (buffer: AudioBuffer) => buffer.length * buffer.numberOfChannels * 4;

/** A prepared recording as a take plays it: cut, faded, panned. The twin of `cut` in drumcore/playing/sounds.py. */
export function cut(prepared: AudioBuffer, sound: PlaySound): AudioBuffer {
  const start = Math.min(sound.start_frame, prepared.length - 1);
  const length = Math.min(prepared.length - start, sound.frames || prepared.length);
  const parts = Array.from({ length: prepared.numberOfChannels }, (_, side) =>
    prepared.getChannelData(side).slice(start, start + length),
  );
  const fadeIn = Math.min(sound.fade_in ?? 0, length);
  const fadeOut = Math.min(sound.fade_out ?? 0, length);
  for (const part of parts) {
    for (let i = 0; i < fadeIn; i += 1) part[i] = (part[i] as number) * Math.fround(i / fadeIn);
    for (let i = 0; i < fadeOut; i += 1) {
      const at = length - 1 - i;
      part[at] = (part[at] as number) * Math.fround(i / fadeOut);
    }
  }
  const sides = sound.pan ? sound.pan.map((gains) => mixed(parts, gains)) : parts;
  const { sampleRate } = prepared;
  const buffer = new AudioBuffer({ numberOfChannels: sides.length, length: length + RINGS, sampleRate });
  sides.forEach((side, number) => {
    buffer.copyToChannel(side, number);
  });
  return buffer;
}

function mixed(parts: Float32Array<ArrayBuffer>[], gains: readonly number[]): Float32Array<ArrayBuffer> {
  const sum = new Float32Array(parts[0]?.length ?? 0);
  parts.forEach((part, number) => {
    const gain = Math.fround(gains[number] ?? 0);
    for (let i = 0; i < sum.length; i += 1) sum[i] = (sum[i] as number) + Math.fround(gain * (part[i] as number));
  });
  return sum;
}

const soundsOf = (pieces: PlayPiece[]): PlaySound[] =>
  pieces.flatMap((piece) =>
    piece.articulations.flatMap((articulation) =>
      articulation.takes.flatMap((take) => take.voices.flatMap((voice) => [voice.sound, ...(voice.tuned ?? [])])),
    ),
  );

export class Sounds {
  private held = new Map<string, Held>();
  private waiting = new Map<string, PlaySound>();
  private loading = new Set<string>();
  private failed = new Set<string>();
  private bytes = 0;
  private clock = 0;
  private listeners = new Set<() => void>();
  /** What is on screen: it may push out what was played longest ago. */
  private first = new Set<string>();
  private easedUntil = 0;

  constructor(
    private context: BaseAudioContext,
    private budget = BUDGET_BYTES,
  ) {}

  /** The sound if it can be played now. */
  ready(sound: PlaySound): AudioBuffer | undefined {
    const held = this.held.get(keyOf(sound));
    if (!held) return undefined;
    this.clock += 1;
    held.used = this.clock;
    return held.buffer;
  }

  has(sound: PlaySound) {
    return this.held.has(keyOf(sound));
  }

  /** Ask for every sound of some pieces, in order, before what was asked for earlier. `now` names what is on screen. */
  want(pieces: PlayPiece[], now = false) {
    const asked = new Map(soundsOf(pieces).map((sound) => [keyOf(sound), sound]));
    if (now) this.first = new Set(asked.keys());
    for (const key of asked.keys()) {
      if (this.held.has(key) || this.loading.has(key) || this.failed.has(key)) asked.delete(key);
    }
    for (const [key, sound] of this.waiting) if (!asked.has(key)) asked.set(key, sound);
    this.waiting = asked;
    this.fill();
  }

  /** Load what some pieces need, before everything else; resolves when it is there or could not be had. */
  load(pieces: PlayPiece[]): Promise<void> {
    this.want(pieces);
    const keys = soundsOf(pieces).map(keyOf);
    const there = () => keys.every((key) => !this.waiting.has(key) && !this.loading.has(key));
    return new Promise((resolve) => {
      if (there()) return resolve();
      const stop = this.onChange(() => {
        if (!there()) return;
        stop();
        resolve();
      });
    });
  }

  /** Somebody is playing or dragging: load gently for a moment. */
  ease() {
    this.easedUntil = performance.now() + EASED_MS;
  }

  /** How many are still to come, and how many could not be had. */
  get toCome() {
    return this.waiting.size + this.loading.size;
  }

  get lost() {
    return this.failed.size;
  }

  /** Bytes of sound held. */
  get size() {
    return this.bytes;
  }

  onChange(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Resolves when nothing is left to come. */
  settled(): Promise<void> {
    return new Promise((resolve) => {
      if (!this.toCome) return resolve();
      const stop = this.onChange(() => {
        if (!this.toCome) {
          stop();
          resolve();
        }
      });
    });
  }

  private fill() {
    while (this.loading.size < AT_ONCE && this.waiting.size) {
      const next = this.next();
      if (!next) break;
      const [key, sound] = next;
      // What is loading comes back here when it is there, so easing ends by itself.
      if (performance.now() < this.easedUntil && this.loading.size >= AT_ONCE_EASED) break;
      this.waiting.delete(key);
      this.loading.add(key);
      this.fetchOne(key, sound).finally(() => {
        this.loading.delete(key);
        this.fill();
        for (const listener of this.listeners) listener();
      });
    }
  }

  /** The next to load. Over the budget only what is on screen is loaded, and the rest is given up until it is wanted. */
  private next(): [string, PlaySound] | undefined {
    if (this.bytes < this.budget) return this.waiting.entries().next().value;
    for (const key of this.waiting.keys()) if (!this.first.has(key)) this.waiting.delete(key);
    return this.makeRoom() ? this.waiting.entries().next().value : undefined;
  }

  private async fetchOne(key: string, sound: PlaySound) {
    try {
      const response = await fetch(soundAddress(sound, this.context.sampleRate));
      if (!response.ok) throw new Error(`${response.status}`);
      const buffer = cut(await this.context.decodeAudioData(await response.arrayBuffer()), sound);
      this.clock += 1;
      this.held.set(key, { buffer, used: this.clock });
      this.bytes += bytesOf(buffer);
    } catch {
      this.failed.add(key);
    }
  }

  /** Let go of what was played longest ago and is not on screen. False where nothing could be let go of. */
  private makeRoom(): boolean {
    const oldest = [...this.held].filter(([key]) => !this.first.has(key)).sort((a, b) => a[1].used - b[1].used);
    for (const [key, held] of oldest) {
      if (this.bytes <= this.budget * 0.9) break;
      this.held.delete(key);
      this.bytes -= bytesOf(held.buffer);
    }
    if (this.bytes < this.budget) return true;
    this.waiting.clear();
    return false;
  }
}
