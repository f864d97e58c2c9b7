/**
 * Recordings decoded and cut at their starts, fetched as needed under a memory budget: what is on screen first.
 */
import { type PlayPiece, type PlaySound, soundAddress } from '../api/calls';

const AT_ONCE = 6;
const BUDGET_BYTES = 700 * 2 ** 20;

interface Held {
  buffer: AudioBuffer;
  used: number;
}

const keyOf = (sound: PlaySound) => `${sound.content} ${sound.width} ${sound.start_frame}`;

export class Sounds {
  private held = new Map<string, Held>();
  private waiting = new Map<string, PlaySound>();
  private loading = new Set<string>();
  private failed = new Set<string>();
  private bytes = 0;
  private clock = 0;
  private listeners = new Set<() => void>();

  constructor(private context: BaseAudioContext) {}

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

  /** Ask for every sound of some pieces, in order, before what was asked for earlier. */
  want(pieces: PlayPiece[]) {
    const first = new Map<string, PlaySound>();
    for (const piece of pieces) {
      for (const articulation of piece.articulations) {
        for (const take of articulation.takes) {
          for (const voice of take.voices) {
            const key = keyOf(voice.sound);
            if (!this.held.has(key) && !this.loading.has(key) && !this.failed.has(key)) first.set(key, voice.sound);
          }
        }
      }
    }
    for (const [key, sound] of this.waiting) if (!first.has(key)) first.set(key, sound);
    this.waiting = first;
    this.fill();
  }

  /** How many are still to come, and how many could not be had. */
  get toCome() {
    return this.waiting.size + this.loading.size;
  }

  get lost() {
    return this.failed.size;
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
    while (this.loading.size < AT_ONCE && this.waiting.size && this.bytes < BUDGET_BYTES) {
      const [key, sound] = this.waiting.entries().next().value as [string, PlaySound];
      this.waiting.delete(key);
      this.loading.add(key);
      this.load(key, sound).finally(() => {
        this.loading.delete(key);
        for (const listener of this.listeners) listener();
        this.fill();
      });
    }
    if (this.bytes >= BUDGET_BYTES) this.waiting.clear();
  }

  private async load(key: string, sound: PlaySound) {
    try {
      const response = await fetch(soundAddress(sound, this.context.sampleRate));
      if (!response.ok) throw new Error(`${response.status}`);
      const whole = await this.context.decodeAudioData(await response.arrayBuffer());
      const length = Math.max(1, whole.length - sound.start_frame);
      const sides = whole.numberOfChannels;
      const buffer = new AudioBuffer({ numberOfChannels: sides, length, sampleRate: whole.sampleRate });
      for (let side = 0; side < sides; side += 1) {
        buffer.copyToChannel(whole.getChannelData(side).subarray(sound.start_frame), side);
      }
      this.clock += 1;
      this.held.set(key, { buffer, used: this.clock });
      this.bytes += length * sides * 4;
      this.makeRoom();
    } catch {
      this.failed.add(key);
    }
  }

  /** Let go of what was played longest ago. */
  private makeRoom() {
    if (this.bytes <= BUDGET_BYTES) return;
    const oldest = [...this.held].sort((a, b) => a[1].used - b[1].used);
    for (const [key, held] of oldest) {
      if (this.bytes <= BUDGET_BYTES * 0.9) break;
      this.held.delete(key);
      this.bytes -= held.buffer.length * held.buffer.numberOfChannels * 4;
    }
  }
}
