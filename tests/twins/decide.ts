/** The browser's striker, asked from outside: a table and messages a line in, what it decides a line out. */
import { createInterface } from 'node:readline';
import { Striker } from '../../web/src/player/striker';
import { tableOf } from '../../web/src/player/table';

for await (const line of createInterface({ input: process.stdin })) {
  const { head, pieces, messages } = JSON.parse(line);
  const striker = new Striker(tableOf(head, pieces));
  const decided = messages.map(([kind, source, note, value, time]: [string, string, number, number, number]) => {
    if (kind === 'pressure') return { stopped: striker.press(note, value) };
    const { stopped, found } =
      kind === 'note'
        ? { stopped: [], found: striker.strike(note, value, time, source) }
        : striker.pedal(value, time, source);
    return {
      why: kind === 'note' ? striker.why : '',
      stopped,
      found: found.map((s) => [s.articulation.id, s.velocity, s.layer, s.take.id, s.gain, s.tuning, s.cutoff, s.attack]),
    };
  });
  console.log(JSON.stringify(decided));
}
