/** What the browser makes of a channel as it is set, asked from outside: a line in, the compiled channel out. */
import { createInterface } from 'node:readline';
import { compileChannel } from '../../web/src/player/compiling';

for await (const line of createInterface({ input: process.stdin })) {
  const { channel, outputs, channels, treated, rate } = JSON.parse(line);
  const places = new Map<string, number>(channels.map((id: string, place: number) => [id, place]));
  console.log(JSON.stringify(compileChannel(channel, { outputs, places, treated, rate })));
}
