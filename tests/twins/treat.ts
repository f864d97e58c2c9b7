/** The browser's treatments, asked from outside: a line in (rate, treatments, sides of samples), the treated sides out. */
import { createInterface } from 'node:readline';
import { Chain } from '../../web/src/player/treatments/kinds';

for await (const line of createInterface({ input: process.stdin })) {
  const { rate, treatments, then, sides } = JSON.parse(line);
  const arrays: Float64Array[] = sides.map((side: number[]) => Float64Array.from(side));
  const chain = new Chain(rate, arrays.length, treatments);
  const frames = arrays[0]?.length ?? 0;
  for (let at = 0; at < frames; at += 128) {
    if (then && at === then.at) chain.update(then.treatments);
    chain.process(
      arrays.map((side) => side.subarray(at, at + 128)),
      Math.min(128, frames - at),
    );
  }
  console.log(JSON.stringify({ sides: arrays.map((side) => [...side]), silent: chain.silent }));
}
