/** Levels moved together, asked from outside: a line in (levels by name, by how much, the ends), a line of levels out. */
import { createInterface } from 'node:readline';
import { moved } from '../../web/src/player/together';

for await (const line of createInterface({ input: process.stdin })) {
  const { levels, by, ends } = JSON.parse(line);
  console.log(JSON.stringify(moved(levels, by, ends)));
}
