/** Voices: takes sounding in a graph, started and stopped at exact frames. */
import type { PlayChoke, PlayHead } from '../api/calls';
import type { Graph } from './graph';
import { Onset } from './onset';
import type { Sounds } from './sounds';
import type { Sounding } from './striker';

const FADE_LENGTHS = 16;
/** A sound due later than this is started ahead of time. */
const SOON_S = 0.05;
/** The time constant with which a sound is faded out to make room for newer ones. */
const LET_GO_S = 0.005;
/** A Q of 1/√2, which the API takes in dB. */
const HALF_POWER = 20 * Math.log10(Math.SQRT1_2);

/** Where a voice goes, at what gain. */
interface Feed {
  node: AudioNode;
  gain: number;
}

/** A connected source that waits to be started. */
interface Due {
  source: AudioBufferSourceNode;
  when: number;
  offset: number;
}

interface Voice {
  articulation: string;
  source: AudioBufferSourceNode;
  /** The fade-in of a softer attack, played before `source` takes over. */
  lead: AudioBufferSourceNode | null;
  attack: number;
  buffer: AudioBuffer;
  first: number;
  feeds: Feed[];
  faded: boolean;
}

/** The frame of a time, rounded half up as in the Python renderer. */
export const frameOf = (seconds: number, rate: number) => Math.floor(seconds * rate + 0.5);

export class Voices {
  private sounding = new Set<Voice>();
  private feeds = new Map<string, PlayHead['feeds'][number]['mics']>();

  constructor(
    private context: BaseAudioContext,
    private graph: Graph,
    private sounds: Sounds,
    head: PlayHead,
    /** The most sounds at once; the oldest are stopped for newer ones. */
    private most = Number.POSITIVE_INFINITY,
  ) {
    this.follow(head);
  }

  follow(head: PlayHead) {
    this.feeds = new Map(head.feeds.map((feeds) => [feeds.piece, feeds.mics]));
  }

  /**
   * Start and stop everything a strike asks for at a frame of the context. What it stops is stopped first. Returns how
   * many older sounds were stopped to make room.
   */
  strike(soundings: Sounding[], frame: number, alone: number | null = null, stopped: PlayChoke[] = []): number {
    for (const choke of stopped) this.fadeOut(choke.articulation, frame, choke.fade_s);
    for (const { articulation } of soundings) {
      for (const choke of articulation.chokes) this.fadeOut(choke.articulation, frame, choke.fade_s);
    }
    const due: Due[] = [];
    const { sampleRate, currentTime } = this.context;
    const onset = new Onset(this.context, frame < (currentTime + SOON_S) * sampleRate);
    for (const sounding of soundings) this.prepare(sounding, frame, alone, due, onset);
    onset.begin(() => {
      for (const { source, when, offset } of due) source.start(when, offset);
    });
    return soundings.length ? this.makeRoom(frame) : 0;
  }

  /** Sounds are kept in the order they were started. */
  private makeRoom(frame: number): number {
    let over = -this.most;
    for (const voice of this.sounding) if (!voice.faded) over += 1;
    const letGo = Math.max(0, over);
    for (const voice of this.sounding) {
      if (over <= 0) break;
      if (voice.faded) continue;
      this.fade(voice, Math.max(frame, voice.first), LET_GO_S);
      over -= 1;
    }
    return letGo;
  }

  /**
   * With `alone`, an index into the piece's microphones, only that one is heard, past the routing, because some feed no
   * channel.
   */
  private prepare(sounding: Sounding, frame: number, alone: number | null, due: Due[], onset: Onset) {
    const mics = this.feeds.get(sounding.piece.id);
    if (!mics) return;
    for (const voice of sounding.take.voices) {
      if (alone !== null && voice.mic !== alone) continue;
      const tuned = sounding.tuning ? voice.tuned?.[sounding.tuning - 1] : undefined;
      const buffer = (tuned && this.sounds.ready(tuned)) || this.sounds.ready(voice.sound);
      const routes = mics[voice.mic];
      if (!buffer || (alone === null && !routes?.length)) continue;
      const feeds: Voice['feeds'] =
        alone === null ? [] : [{ node: this.graph.mainInput, gain: voice.gain * sounding.gain }];
      for (const feed of alone === null && routes ? routes : []) {
        const node = this.graph.entrance(feed.channel);
        if (node) feeds.push({ node, gain: voice.gain * sounding.gain * feed.gain });
      }
      if (sounding.cutoff !== null) {
        const filter = new BiquadFilterNode(this.context, {
          type: 'lowpass',
          frequency: sounding.cutoff,
          Q: HALF_POWER,
        });
        for (const feed of feeds) this.connect(filter, feed);
        feeds.splice(0, feeds.length, { node: filter, gain: 1 });
      }
      const attack = Math.min(sounding.attack, buffer.length);
      const lead = attack ? new AudioBufferSourceNode(this.context, { buffer: risen(buffer, attack) }) : null;
      const source = new AudioBufferSourceNode(this.context, { buffer });
      onset.add(lead ? [lead, source] : [source], buffer.numberOfChannels, (from, output) => {
        for (const feed of feeds) this.connect(from, feed, output);
      });
      if (lead) due.push(this.due(lead, frame));
      due.push(this.due(source, frame + attack, attack));
      const playing: Voice = {
        articulation: sounding.articulation.id,
        source,
        lead,
        attack,
        buffer,
        first: frame,
        feeds,
        faded: false,
      };
      this.sounding.add(playing);
      source.onended = () => this.sounding.delete(playing);
    }
  }

  private made(buffer: AudioBuffer, feeds: Voice['feeds']): AudioBufferSourceNode {
    const source = new AudioBufferSourceNode(this.context, { buffer });
    for (const feed of feeds) this.connect(source, feed);
    return source;
  }

  private due(source: AudioBufferSourceNode, frame: number, from = 0): Due {
    return { source, when: frame / this.context.sampleRate, offset: from / this.context.sampleRate };
  }

  private connect(from: AudioNode, feed: Feed, output = 0) {
    if (feed.gain === 1) {
      from.connect(feed.node, output);
      return;
    }
    const gain = new GainNode(this.context, { gain: feed.gain });
    from.connect(gain, output);
    gain.connect(feed.node);
  }

  /**
   * Fade an articulation's voices from a frame on by exp(-frames / (rate * time constant)). The voice is stopped at
   * that frame and continues as a short faded copy: gain automation may begin a frame early or late, which the
   * comparison with the Python renderer would show.
   */
  fadeOut(articulation: string, frame: number, fadeS: number) {
    for (const voice of this.sounding) {
      if (voice.articulation === articulation && !voice.faded && voice.first <= frame) this.fade(voice, frame, fadeS);
    }
  }

  private fade(voice: Voice, frame: number, fadeS: number) {
    voice.faded = true;
    const rate = this.context.sampleRate;
    const at = Math.max(0, frame - voice.first);
    const left = Math.min(voice.buffer.length - at, Math.ceil(fadeS * rate * FADE_LENGTHS));
    if (left <= 0) return;
    const tail = new AudioBuffer({ numberOfChannels: voice.buffer.numberOfChannels, length: left, sampleRate: rate });
    const step = 1 / (fadeS * rate);
    for (let side = 0; side < tail.numberOfChannels; side += 1) {
      const from = voice.buffer.getChannelData(side);
      const to = tail.getChannelData(side);
      for (let i = 0; i < left; i += 1) to[i] = (from[at + i] as number) * Math.fround(Math.exp(-i * step));
      for (let i = 0; i < Math.min(left, voice.attack - at); i += 1) {
        to[i] = (to[i] as number) * Math.fround((at + i) / voice.attack);
      }
    }
    const { source, when } = this.due(this.made(tail, voice.feeds), frame);
    voice.lead?.stop(when);
    voice.source.stop(when);
    source.start(when);
  }

  /** Fade everything now. */
  fadeOutAll(frame: number, fadeS = 0.02) {
    for (const voice of this.sounding) if (!voice.faded) this.fade(voice, frame, fadeS);
  }

  get count() {
    return this.sounding.size;
  }
}

/** The first frames of a sound, with a linear fade-in up to where the original continues. */
function risen(buffer: AudioBuffer, frames: number): AudioBuffer {
  const lead = new AudioBuffer({
    numberOfChannels: buffer.numberOfChannels,
    length: frames,
    sampleRate: buffer.sampleRate,
  });
  for (let side = 0; side < lead.numberOfChannels; side += 1) {
    const from = buffer.getChannelData(side);
    const to = lead.getChannelData(side);
    for (let i = 0; i < frames; i += 1) to[i] = (from[i] as number) * Math.fround(i / frames);
  }
  return lead;
}
