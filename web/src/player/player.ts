/** The live player: strikes in, sound and reports out. No request is made between a strike and its sound. */
import type { PlayChannel, PlayChoke, PlayHead, PlayPiece, PlayTake } from '../api/calls';
import { Graph, glideTo } from './graph';
import { Leaving } from './leaving';
import { Listened } from './listened';
import { Meter } from './meter';
import { Meters } from './meters';
import { Sounds } from './sounds';
import { type Sounding, Striker, type Why } from './striker';
import { loadStrips } from './strip';
import { type Table, tableOf } from './table';
import { middleOf, nearestLoaded, takeOf } from './takes';
import { Voices } from './voices';

/** What a strike did. `when` is on the audio clock, in seconds. */
export interface Report {
  source: string;
  note: number | null;
  velocityIn: number;
  soundings: Sounding[];
  substituted: boolean;
  /** How many older sounds were stopped, because too many would sound at once. */
  letGo: number;
  /** False if no struck take is loaded, so nothing sounds. */
  loaded: boolean;
  when: number;
  why: Why;
  /** The articulation it was meant for, by id, whether it sounded or not. */
  aimed: string | null;
}

/** A received message: a note struck, a controller moved, or pressure on a note's pad. `time` is in seconds. */
export interface PlayerMessage {
  source: string;
  kind: 'note' | 'controller' | 'pressure';
  number: number;
  value: number;
  time: number;
}

export interface Listening {
  /** Round robin on; off, the same take sounds again and again. */
  repeats: boolean;
  /** Only these takes, in turn; empty means all. */
  only: string[];
  /** One soloed microphone, past the mix; null means all, through the mix. */
  mic: string | null;
}

/** The most sounds at once: as many as two cores play beside sixteen treated channels. Exports have no such limit. */
export const MOST_SOUNDS = 160;
/** The most sound card channels used. */
const MOST_CHANNELS = 32;

export class Player {
  readonly context: AudioContext;
  readonly sounds: Sounds;
  private graph: Graph;
  /** The kit as it is, whatever is previewed. */
  private own: Table;
  private voices: Voices;
  private striker: Striker;
  private listeners = new Set<(report: Report) => void>();
  /** Where all outputs leave: mixed to stereo by the simulated host, or by channels of their own. */
  private leaves: Leaving;
  /** The level of the first two output channels. */
  heard: Meter;
  private meters: Meters;
  /** Differences between the kit and what is heard while somebody listens. */
  private listened: Listened;
  /** How a piece is auditioned while it is built; notes and grooves play the kit as it is. */
  readonly listening: Listening = { repeats: true, only: [], mic: null };
  private nextOnly = 0;
  /** Resolves when treatments can run; rejects if their code could not be fetched. */
  readonly strips: Promise<void>;

  /** `micsOf` lists a piece's microphones in the order of its play table. */
  constructor(
    head: PlayHead,
    pieces: PlayPiece[],
    private micsOf: (pieceId: string) => string[] = () => [],
  ) {
    this.context = new AudioContext({ sampleRate: head.rate_hz, latencyHint: 'interactive' });
    this.sounds = new Sounds(this.context);
    this.graph = new Graph(this.context, head);
    this.voices = new Voices(this.context, this.graph, this.sounds, head, MOST_SOUNDS);
    this.own = tableOf(head, pieces);
    this.striker = new Striker(this.own);
    this.leaves = new Leaving(this.context, 2);
    this.heard = new Meter(this.context, this.leaves.heard, 2);
    this.meters = new Meters(this.context);
    this.listened = new Listened(this.micsOf);
    this.listen();
    this.sounds.want(pieces);
    this.strips = loadStrips(this.context).then(() => {
      this.graph.update(this.striker.table.head);
      this.graph.rest();
    });
  }

  get table(): Table {
    return this.striker.table;
  }

  /** The number of channels of the sound card. */
  get channelsThere(): number {
    return Math.max(2, Math.min(MOST_CHANNELS, this.context.destination.maxChannelCount));
  }

  /** Let outputs leave by this many sound card channels: separately as far as they suffice; with two, all mixed. */
  leaveBy(channels: number) {
    if (channels === this.leaves.channels) return;
    const { destination } = this.context;
    destination.channelCount = channels;
    destination.channelInterpretation = channels > 2 ? 'discrete' : 'speakers';
    this.leaves.dispose();
    this.leaves = new Leaving(this.context, channels);
    this.leaves.heard.gain.value = this.monitorGain();
    this.heard = new Meter(this.context, this.leaves.heard, 2);
    this.told = '';
    this.listen();
  }

  /** The outputs connected last, to detect changes. */
  private told = '';

  private listen() {
    const { outputs } = this.striker.table.head;
    const now = JSON.stringify(outputs.map(({ number, width }) => [number, width]));
    if (now !== this.told) this.leaves.follow(outputs, this.graph.outputs);
    this.told = now;
    this.meters.follow(this.graph, this.striker.table.head);
    this.graph.rest();
  }

  /** Apply an edit: sounding voices go on, the next strike uses the new table. */
  update(head: PlayHead, pieces: Iterable<PlayPiece>, changed: PlayPiece[]) {
    this.own = tableOf(head, pieces);
    this.follow(this.other ? this.other.table : this.own);
    this.sounds.want(changed);
  }

  /** Use a table from the next strike on; sounding voices go on. */
  private follow(table: Table) {
    this.striker.table = table;
    this.graph.update(this.listened.head(table.head));
    this.voices.follow(this.listened.feeds(table.head));
    this.listen();
  }

  /** The kit at another version, and the gain that matches its loudness to the present one. */
  private other: { table: Table; gain: number } | null = null;

  /** Load the sounds another version needs before it is heard. */
  prepareThen(pieces: PlayPiece[]) {
    this.sounds.want(pieces);
  }

  /** Hear the kit as it was, by its head and the pieces that differ; null: as it is. */
  hearThen(then: { head: PlayHead; pieces: PlayPiece[] } | null, gain = 1) {
    if (!then && !this.other) return;
    if (then) {
      const pieces = new Map([...this.own.pieces].filter(([id]) => then.head.feeds.some((f) => f.piece === id)));
      for (const piece of then.pieces) pieces.set(piece.id, piece);
      this.other = { table: tableOf(then.head, pieces.values()), gain };
    } else this.other = null;
    glideTo(this.leaves.heard.gain, this.monitorGain(), this.context.currentTime);
    this.follow(this.other?.table ?? this.own);
  }

  private monitorGain() {
    return this.listened.gain * (this.other?.gain ?? 1);
  }

  /** Hear the input of a channel's treatments, or of `WHOLE_KIT`, at a gain; null: as it is. */
  hearBefore(of: string | null, gain = 1) {
    this.listened.before = { of, gain };
    glideTo(this.leaves.heard.gain, this.monitorGain(), this.context.currentTime);
    this.graph.update(this.listened.head(this.striker.table.head));
  }

  /** A channel's turned settings. */
  turnedOf(id: string): PlayChannel | undefined {
    return this.listened.turned.get(id);
  }

  /** Hear a channel with turned settings; null: with its saved settings. */
  turn(channel: PlayChannel | null, id = channel?.id ?? '') {
    if (channel) {
      this.listened.turned.set(id, channel);
      this.graph.turn(this.listened.channel(channel));
    } else if (this.listened.turned.delete(id)) this.graph.update(this.listened.head(this.striker.table.head));
  }

  /** Solo some channels, or none. */
  solo(channels: ReadonlySet<string>) {
    this.graph.solo(channels);
  }

  /** Solo these microphones from the next strike on, or none. This affects listening only, not the kit. */
  soloMics(mics: ReadonlySet<string>) {
    this.listened.mics = mics;
    this.voices.follow(this.listened.feeds(this.striker.table.head));
  }

  /** Load these pieces before the others. */
  showing(pieceId: string | null) {
    const piece = pieceId ? this.striker.table.pieces.get(pieceId) : undefined;
    if (piece) this.sounds.want([piece], true);
  }

  wake() {
    if (this.context.state !== 'running') void this.context.resume();
  }

  /** Every message from outside enters here, now or at a time of the audio clock. */
  take({ source, kind, number, value, time }: PlayerMessage, when = 0) {
    this.sounds.ease();
    if (kind === 'note') {
      if (value) this.sound(source, number, value, this.striker.strike(number, value, time, source), when);
    } else if (kind === 'pressure') {
      this.stop(this.striker.press(number, value), when);
    } else if (number === this.striker.controllerOf(source)) {
      const { stopped, found } = this.striker.pedal(value, time, source);
      if (found.length) this.sound(source, null, found[0]?.velocity ?? 0, found, when, null, stopped);
      else this.stop(stopped, when);
    }
  }

  /** The openness of an input's hats now, 0 to 127. */
  opennessOf(source: string) {
    return this.striker.opennessOf(source);
  }

  controllerOf(source: string) {
    return this.striker.controllerOf(source);
  }

  private stop(stopped: PlayChoke[], when: number) {
    if (stopped.length) this.voices.strike([], this.frameAt(when), null, stopped);
  }

  /** An immediate strike starts at the next block the audio thread has not begun. */
  private frameAt(when: number) {
    const rate = this.context.sampleRate;
    return when ? Math.floor(when * rate + 0.5) : Math.ceil((this.context.currentTime + 0.002) * rate);
  }

  /** Strike an articulation directly, as a press on its drawing does, with the `listening` settings. */
  strikeArticulation(source: string, articulation: string, velocity: number, when = 0) {
    this.striker.repeating = !this.listening.repeats;
    const found = this.listening.only.length
      ? this.amongOnly(articulation, velocity)
      : this.striker.strikeArticulation(articulation, velocity);
    this.striker.repeating = false;
    this.sound(source, null, velocity, found, when, this.micAlone(articulation));
  }

  /** Strike an articulation directly, heard in one microphone only. */
  strikeThrough(source: string, articulation: string, velocity: number, mic: string) {
    const found = this.striker.strikeArticulation(articulation, velocity);
    this.sound(source, null, velocity, found, 0, this.micAlone(articulation, mic));
  }

  /** Play one take at a velocity of its layer, ignoring the round robin; in one microphone or all. */
  audition(articulation: string, takeId: string, mic = this.listening.mic) {
    const found = takeOf(this.table, articulation, takeId);
    if (!found) return;
    const velocity = middleOf(found);
    this.sound('take', null, velocity, [{ ...found, velocity }], 0, this.micAlone(articulation, mic));
  }

  /** Play a take compiled separately, for example without its trims. */
  async auditionApart(articulation: string, take: PlayTake) {
    this.wake();
    const found = takeOf(this.table, articulation, take.id);
    if (!found) return;
    await this.sounds.load([{ ...found.piece, articulations: [{ ...found.articulation, takes: [take] }] }]);
    this.sound('take', null, found.velocity, [{ ...found, take }], 0, this.micAlone(articulation));
  }

  /** The next of the takes chosen for listening, whatever its layer. */
  private amongOnly(articulation: string, velocity: number): Sounding[] {
    const { only } = this.listening;
    const found = takeOf(this.table, articulation, only[this.nextOnly % only.length] as string);
    if (this.listening.repeats) this.nextOnly += 1;
    return found ? [{ ...found, velocity }] : [];
  }

  private micAlone(articulation: string, mic = this.listening.mic): number | null {
    if (mic === null) return null;
    const piece = this.striker.table.articulations.get(articulation)?.piece.id ?? '';
    const place = this.micsOf(piece).indexOf(mic);
    return place < 0 ? null : place;
  }

  private sound(
    source: string,
    note: number | null,
    velocityIn: number,
    asked: Sounding[],
    when: number,
    alone: number | null = null,
    stopped: PlayChoke[] = [],
  ) {
    this.wake();
    const frame = this.frameAt(when);
    let substituted = false;
    const playing: Sounding[] = [];
    const soundings: Sounding[] = [];
    for (const sounding of asked) {
      const playable = this.loaded(sounding) ? sounding : nearestLoaded(sounding, this.loaded);
      if (playable && playable !== sounding) substituted = true;
      if (playable) playing.push(playable);
      soundings.push(playable ?? sounding);
    }
    const letGo = this.voices.strike(playing, frame, alone, stopped);
    const why = asked.length ? '' : this.striker.why;
    const aimed = this.striker.aimed?.id ?? null;
    const at = frame / this.context.sampleRate;
    const loaded = playing.length > 0;
    const report = { source, note, velocityIn, soundings, substituted, letGo, loaded, when: at, why, aimed };
    for (const listener of this.listeners) listener(report);
  }

  private loaded = (sounding: Sounding) => sounding.take.voices.every((voice) => this.sounds.has(voice.sound));

  /** Whether any strike still sounds; tails of effects do not count. */
  get sounding() {
    return this.voices.count > 0;
  }

  stopAll() {
    this.voices.fadeOutAll(Math.ceil((this.context.currentTime + 0.002) * this.context.sampleRate));
  }

  onStrike(listener: (report: Report) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  channelPeak(id: string): number {
    return this.meters.leaving(id);
  }

  /** The highest recent sample at a channel's input. */
  enteringPeak(id: string): number {
    return this.meters.entering(id);
  }

  /** A channel's input and output nodes, for charts. */
  entering(id: string): AudioNode | undefined {
    return this.graph.entering(id);
  }

  leaving(id: string): AudioNode | undefined {
    return this.graph.leaving(id);
  }

  reduction(id: string): number {
    return this.graph.reduction(id);
  }

  outputPeaks(number: number): number[] {
    return this.meters.output(number);
  }

  close() {
    this.sounds.close();
    void this.context.close();
  }
}
