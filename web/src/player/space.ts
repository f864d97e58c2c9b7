/**
 * A bus's reverb or echo: convolution with its impulse response. A new response fades in while the old one rings out;
 * swapping it in place would click.
 */

import { lieDormant } from './dormant';
import type { ImpulseResponse, ImpulseResponses, PlaySpace } from './impulseResponses';
import { unplug } from './unplug';

const FADE_S = 0.12;
const AGAIN_MS = 1000;

/**
 * One impulse response in use. It fades in at its input: fading at its output would let the middle of a wave splash
 * through every reflection (−26 dBFS above 4 kHz under a full-scale 220 Hz tone; −89 with the fade at the input). It
 * fades out at its output, so that it need not ring out.
 */
class Branch {
  private entering: GainNode;
  private convolver: ConvolverNode;
  private heard: GainNode;

  constructor(
    private context: BaseAudioContext,
    private from: AudioNode,
    { buffer, middle }: ImpulseResponse,
    target: AudioNode,
    faded: boolean,
  ) {
    this.entering = new GainNode(context, {
      gain: faded ? 0 : 1,
      channelCount: middle ? 1 : 2,
      channelCountMode: 'explicit',
      channelInterpretation: 'speakers',
    });
    // The core normalised it; this has to be set before the buffer.
    this.convolver = new ConvolverNode(context, { disableNormalization: true, buffer });
    this.heard = new GainNode(context, { channelCount: 2, channelCountMode: 'explicit' });
    from.connect(this.entering).connect(this.convolver).connect(this.heard).connect(target);
    if (faded) this.fade(this.entering.gain, 1);
  }

  private fade(gain: AudioParam, to: number) {
    const now = this.context.currentTime;
    gain.setValueAtTime(1 - to, now);
    gain.linearRampToValueAtTime(to, now + FADE_S);
  }

  /** Fade out and disconnect. */
  leave() {
    this.fade(this.heard.gain, 0);
    setTimeout(() => this.dispose(), 3000 * FADE_S);
  }

  dispose() {
    unplug(this.from, this.entering);
    this.convolver.disconnect();
    this.heard.disconnect();
  }
}

export class Space {
  readonly input: GainNode;
  readonly output: GainNode;
  /** The direct path while there is no reverb. */
  private past: GainNode;
  private now: Branch | null = null;
  private wanted: PlaySpace | null = null;
  private told = '';
  /** Whose impulse response is heard now. */
  private heardOf: PlaySpace | null = null;
  private loading = false;
  private gone = false;

  constructor(
    private context: BaseAudioContext,
    private impulseResponses: ImpulseResponses,
  ) {
    const both = { channelCount: 2, channelCountMode: 'explicit', channelInterpretation: 'speakers' } as const;
    this.input = new GainNode(context, both);
    this.output = new GainNode(context, both);
    this.past = new GainNode(context, both);
    this.input.connect(this.past).connect(this.output);
  }

  /**
   * Set the reverb or echo; null passes sound through. With `beginning`, nothing sounds yet and nothing has to fade.
   */
  set(space: PlaySpace | null, beginning: boolean) {
    const told = JSON.stringify(space);
    if (told === this.told) return;
    this.told = told;
    this.wanted = space;
    if (beginning) this.past.gain.value = space ? 0 : 1;
    else this.past.gain.setTargetAtTime(space ? 0 : 1, this.context.currentTime, FADE_S / 4);
    const known = space && this.impulseResponses.known(space);
    if (!space || known) this.hear(space, known ?? null, beginning);
    else void this.load();
  }

  private hear(space: PlaySpace | null, answer: ImpulseResponse | null, beginning: boolean) {
    if (space && space === this.heardOf) return;
    this.heardOf = space;
    this.now?.leave();
    this.now = answer && new Branch(this.context, this.input, answer, this.output, !beginning);
    lieDormant(this.context, this.input);
  }

  /** One request at a time; the latest setting is loaded next. */
  private async load() {
    if (this.loading) return;
    this.loading = true;
    while (this.wanted && !this.gone) {
      const asked = this.wanted;
      const answer = await this.impulseResponses.load(asked).catch(() => null);
      if (this.gone) break;
      if (answer && (this.wanted === asked || !this.now)) this.hear(asked, answer, false);
      if (answer && this.wanted === asked) break;
      // The studio may come back.
      if (!answer) await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
    this.loading = false;
  }

  dispose() {
    this.gone = true;
    this.now?.dispose();
    this.input.disconnect();
    this.past.disconnect();
    this.output.disconnect();
  }
}
