/** Meters of channels and outputs, with peak hold and clip marks. */
import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { gainToDecibels } from '../../app/kit/format';
import { useKit } from '../../app/kit/kitStore';
import { lookOn } from '../../app/kit/looks';
import { law } from '../../ui/Fader';

const HELD_MS = 1500;
/** The gain reduction that fills its meter. */
const MOST_BACK_DB = 24;

/** The names of meters that clipped, until somebody has seen it. */
export const useClipped = create<{ names: ReadonlySet<string>; seen: (name: string) => void }>((set) => ({
  names: new Set(),
  seen: (name) => set(({ names }) => ({ names: new Set([...names].filter((each) => each !== name)) })),
}));

const clips = (name: string) => {
  const { names } = useClipped.getState();
  if (!names.has(name)) useClipped.setState({ names: new Set([...names, name]) });
};

const written = new WeakMap<HTMLElement, Map<string, number>>();

/** Writes a meter's share if it changed: unchanged values cause no layout. */
export function write(node: HTMLElement, what: string, share: number) {
  const shares = written.get(node) ?? new Map<string, number>();
  if (shares.get(what) === share) return;
  written.set(node, shares.set(what, share));
  node.style.setProperty(what, share.toFixed(3));
}

const place = (peak: number) => Math.max(0, Math.min(1, law.to(gainToDecibels(peak))));

/** Holds the highest recent value of each meter. */
export class Held {
  private peaks = new Map<string, { peak: number; since: number }>();

  after(name: string, peak: number, now: number): number {
    const before = this.peaks.get(name);
    if (before && before.peak > peak && now - before.since < HELD_MS) return before.peak;
    this.peaks.set(name, { peak, since: now });
    return peak;
  }
}

/** Writes meters directly into the page, without rendering. */
export function useMeters() {
  const player = useKit((s) => s.player);
  const nodes = useRef(new Map<string, HTMLElement>());
  const keepers = useRef(new Map<string, (node: HTMLElement | null) => void>());
  useEffect(() => {
    if (!player) return;
    const held = new Held();
    const shares = (name: string, now: number): Record<string, number> => {
      const [kind, id, side] = name.split(' ') as [string, string, string | undefined];
      const isOutput = kind === 'out';
      const peak = isOutput ? (player.outputPeaks(Number(id))[Number(side)] ?? 0) : player.channelPeak(id);
      if (peak > 1) clips(isOutput ? `out ${id}` : name);
      const passing = { '--passes': place(peak), '--held': place(held.after(name, peak, now)) };
      if (isOutput) return passing;
      const back = Math.min(1, player.reduction(id) / MOST_BACK_DB);
      return { ...passing, '--enters': place(player.enteringPeak(id)), '--back': back };
    };
    return lookOn((now) => {
      let moves = false;
      for (const [name, node] of nodes.current) {
        for (const [what, share] of Object.entries(shares(name, now))) {
          write(node, what, share);
          if (share > 0) moves = true;
        }
      }
      return moves;
    });
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
