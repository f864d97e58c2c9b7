/** Meters of channels and outputs, drawn as they are played, with what they reached and whether it was too much. */
import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { gainToDecibels } from '../../app/format';
import { useKit } from '../../app/kitStore';
import { law } from '../../ui/Fader';

/** As fast as a level is read; the rest of the time belongs to strikes. */
const PERIOD_MS = 33;
const HELD_MS = 1500;
/** A compressor that holds back so much fills its line. */
const MOST_BACK_DB = 24;

/** What went over full scale, by the names of meters, until somebody has seen it. */
export const useClipped = create<{ names: ReadonlySet<string>; seen: (name: string) => void }>((set) => ({
  names: new Set(),
  seen: (name) => set(({ names }) => ({ names: new Set([...names].filter((each) => each !== name)) })),
}));

const clips = (name: string) => {
  const { names } = useClipped.getState();
  if (!names.has(name)) useClipped.setState({ names: new Set([...names, name]) });
};

const write = (node: HTMLElement, what: string, share: number) => node.style.setProperty(what, share.toFixed(3));

const place = (peak: number) => Math.max(0, Math.min(1, law.to(gainToDecibels(peak))));

/** The highest of the last moments of each meter. */
export class Held {
  private peaks = new Map<string, { peak: number; since: number }>();

  after(name: string, peak: number, now: number): number {
    const before = this.peaks.get(name);
    if (before && before.peak > peak && now - before.since < HELD_MS) return before.peak;
    this.peaks.set(name, { peak, since: now });
    return peak;
  }
}

/** Meters written straight into the page, thirty times a second, without rendering anything again. */
export function useMeters() {
  const player = useKit((s) => s.player);
  const nodes = useRef(new Map<string, HTMLElement>());
  const keepers = useRef(new Map<string, (node: HTMLElement | null) => void>());
  useEffect(() => {
    if (!player) return;
    const held = new Held();
    let frame = 0;
    let last = 0;
    const draw = (now: number) => {
      frame = requestAnimationFrame(draw);
      if (now - last < PERIOD_MS - 4) return;
      last = now;
      for (const [name, node] of nodes.current) {
        const [kind, id, side] = name.split(' ') as [string, string, string | undefined];
        if (kind === 'out') {
          const peak = player.outputPeaks(Number(id))[Number(side)] ?? 0;
          write(node, '--passes', place(peak));
          write(node, '--held', place(held.after(name, peak, now)));
          if (peak > 1) clips(`out ${id}`);
        } else {
          const peak = player.channelPeak(id);
          if (peak > 1) clips(name);
          write(node, '--passes', place(peak));
          write(node, '--enters', place(player.enteringPeak(id)));
          write(node, '--held', place(held.after(name, peak, now)));
          write(node, '--back', Math.min(1, player.reduction(id) / MOST_BACK_DB));
        }
      }
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [player]);
  const keep = (name: string) => {
    const known = keepers.current.get(name);
    if (known) return known;
    const made = (node: HTMLElement | null) => {
      if (node) nodes.current.set(name, node);
      else nodes.current.delete(name);
    };
    keepers.current.set(name, made);
    return made;
  };
  return { keep };
}
