/** The host's outputs: what goes to each directly, and which are free. */
import type { KitState } from '../../api/calls';
import { channelsOf } from '../../app/kit/channels';

export type Output = KitState['head']['outputs'][number];

/** What goes directly to each output, by number. */
export function sentTo(kit: KitState): Map<number, string[]> {
  const found = new Map<number, string[]>();
  for (const channel of channelsOf(kit)) {
    if (channel.bus) continue;
    const number = channel.output || 1;
    const side = channel.side === 'both' ? '' : channel.side === 'left' ? ' (left)' : ' (right)';
    found.set(number, [...(found.get(number) ?? []), `${channel.name}${side}`]);
  }
  return found;
}

/** The free outputs as ranges: 5 to 8. */
export function freeRuns(outputs: readonly Output[], used: ReadonlyMap<number, unknown>): Output[][] {
  const runs: Output[][] = [];
  for (const output of outputs) {
    if (output.number === 1 || used.has(output.number)) continue;
    const last = runs.at(-1);
    if (last && last.at(-1)?.number === output.number - 1 && last[0]?.width === output.width) last.push(output);
    else runs.push([output]);
  }
  return runs;
}
