/** The simulated kits' pads, asked from outside: a kit, a pad, a blow and chance's numbers a line in, what is sent a line out. */
import { createInterface } from 'node:readline';
import { padSends } from '../../web/src/app/playing/padSends';

for await (const line of createInterface({ input: process.stdin })) {
  const { kit, pad, blow, chance } = JSON.parse(line);
  const drawn = chance[Symbol.iterator]();
  console.log(JSON.stringify(padSends(kit, pad, blow, () => drawn.next().value as number)));
}
