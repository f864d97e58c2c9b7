/** Meters of channels and outputs, drawn as they are played. */
import { useEffect, useRef } from 'react';
import { gainToDecibels } from '../../app/format';
import { useKit } from '../../app/kitStore';
import { law } from '../../ui/Fader';

/** Meters written straight into the page, once a frame, without rendering anything again. */
export function useMeters() {
  const player = useKit((s) => s.player);
  const nodes = useRef(new Map<string, HTMLElement>());
  const keepers = useRef(new Map<string, (node: HTMLElement | null) => void>());
  useEffect(() => {
    if (!player) return;
    let frame = 0;
    const place = (peak: number) => Math.max(0, Math.min(1, law.to(gainToDecibels(peak))));
    const draw = () => {
      for (const [name, node] of nodes.current) {
        const [kind, id, side] = name.split(' ') as [string, string, string | undefined];
        if (kind === 'out') {
          const peak = player.outputPeaks(Number(id))[Number(side)] ?? 0;
          node.style.scale = `1 ${place(peak)}`;
          node.style.background = peak > 1 ? 'var(--v6)' : '';
        } else {
          const peak = kind === 'main' ? Math.max(0, ...player.outputPeaks(1)) : player.channelPeak(id);
          node.style.scale = `${place(peak)} 1`;
        }
      }
      frame = requestAnimationFrame(draw);
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
