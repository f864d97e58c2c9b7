/** Recordings decoded and cut as takes play them, loaded under a memory budget, visible pieces first. */
import { type PlayPiece, type PlaySound, soundsAddress, soundsIn } from '../api/calls';

/** Parallel requests, and the number of sounds in each. */
const AT_ONCE = 3;
const TOGETHER = 6;
/** While somebody plays or drags, loading makes way. */
const AT_ONCE_EASED = 1;
const TOGETHER_EASED = 2;
const EASED_MS = 400;
/** Silence after every sound for a filter to ring out: a browser cuts a filter off when its source ends. */
const RINGS = 256;
const AGAIN_MS = 1000;
const AGAIN_MOST_MS = 30_000;
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
    sound.flipped || '',
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
  private failed = new Map<string, PlaySound>();
  private requests = 0;
  private tries = 0;
  private closed = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private bytes = 0;
  private clock = 0;
  private listeners = new Set<() => void>();
  /** Visible pieces: they may displace the least recently played sounds. */
  private first = new Set<string>();
  private easedUntil = 0;

  constructor(
    private context: BaseAudioContext,
    private budget = BUDGET_BYTES,
  ) {}

  /** The sound, if it is loaded. */
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

  /** Load every sound of some pieces, in order, before earlier requests. `now` marks visible ones. */
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

  /** Load what some pieces need before everything else; resolves when each is loaded or has failed. */
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

  /** Somebody plays or drags: load slowly for a moment. */
  ease() {
    this.easedUntil = performance.now() + EASED_MS;
  }

  /** How many sounds are still to load, and how many failed. */
  get toCome() {
    return this.waiting.size + this.loading.size;
  }

  get lost() {
    return this.failed.size;
  }

  /** The bytes of sound in memory. */
  get size() {
    return this.bytes;
  }

  onChange(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Resolves when nothing is left to load. */
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
    // Each finished request comes back here, so slow loading ends by itself.
    const eased = performance.now() < this.easedUntil;
    while (this.requests < (eased ? AT_ONCE_EASED : AT_ONCE) && this.waiting.size) {
      const asked = this.next(eased ? TOGETHER_EASED : TOGETHER);
      if (!asked.length) break;
      for (const [key] of asked) {
        this.waiting.delete(key);
        this.loading.add(key);
      }
      this.requests += 1;
      this.fetchSome(asked).finally(() => {
        this.requests -= 1;
        for (const [key] of asked) this.loading.delete(key);
        this.fill();
        for (const listener of this.listeners) listener();
      });
    }
  }

  /**
   * The next sounds to load. Over the budget only visible ones are loaded; the others are dropped until requested
   * again.
   */
  private next(most: number): [string, PlaySound][] {
    if (this.bytes >= this.budget) {
      for (const key of this.waiting.keys()) if (!this.first.has(key)) this.waiting.delete(key);
      if (!this.makeRoom()) return [];
    }
    // Near the budget only a few at a time, so that requests in progress do not exceed it.
    const near = this.bytes >= 0.9 * this.budget;
    const first: [string, PlaySound][] = [];
    for (const entry of this.waiting) {
      if (first.length === (near ? 1 : most)) break;
      first.push(entry);
    }
    return first;
  }

  /** Stop loading. */
  close() {
    clearTimeout(this.timer);
    this.waiting.clear();
    this.closed = true;
  }

  /** Retry everything that failed. */
  again() {
    clearTimeout(this.timer);
    this.timer = undefined;
    for (const [key, sound] of this.failed) this.waiting.set(key, sound);
    this.failed.clear();
    this.fill();
  }

  /** With growing delays, so that a studio coming back is not flooded. */
  private askLater() {
    if (this.timer !== undefined || this.closed) return;
    this.tries += 1;
    this.timer = setTimeout(() => this.again(), Math.min(AGAIN_MOST_MS, AGAIN_MS * 2 ** (this.tries - 1)));
  }

  private async fetchSome(asked: [string, PlaySound][]) {
    let files: (ArrayBuffer | null)[] = [];
    try {
      const sounds = asked.map(([, sound]) => sound);
      const response = await fetch(soundsAddress(sounds, this.context.sampleRate));
      if (!response.ok) throw new Error(`${response.status}`);
      files = soundsIn(await response.arrayBuffer());
      if (!files.length) throw new Error('nothing came');
      if (files.every((file) => file !== null)) this.tries = 0;
    } catch {
      for (const [key, sound] of asked) this.miss(key, sound);
      return;
    }
    await Promise.all(
      asked.slice(0, files.length).map(async ([key, sound], number) => {
        const file = files[number];
        try {
          if (!file) throw new Error('not there');
          const buffer = cut(await this.context.decodeAudioData(file), sound);
          this.clock += 1;
          this.held.set(key, { buffer, used: this.clock });
          this.bytes += bytesOf(buffer);
        } catch {
          this.miss(key, sound);
        }
      }),
    );
    // What did not fit into this response is next, after anything that became visible meanwhile.
    const rest = asked.slice(files.length);
    if (!rest.length) return;
    const next = [...rest, ...this.waiting];
    const onScreen = ([sound]: [string, PlaySound]) => this.first.has(sound);
    this.waiting = new Map([...next.filter(onScreen), ...next.filter((each) => !onScreen(each))]);
  }

  private miss(key: string, sound: PlaySound) {
    this.failed.set(key, sound);
    this.askLater();
  }

  /** Drop the least recently played sounds that are not visible. False if none could be dropped. */
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
