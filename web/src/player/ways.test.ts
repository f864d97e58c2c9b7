/** Solo along buses: what is soloed, what it flows into, and for a bus what flows into it, along those ways alone. */
import { expect, it } from 'vitest';
import type { PlayChannel } from '../api/calls';
import { openWays } from './ways';

const SENT = [[1], [1]];
const channel = (id: string, into: number | null, ...sends: number[]) =>
  ({ id, into, output: 0, sends: sends.map((place) => ({ into: place, matrix: SENT })) }) as unknown as PlayChannel;
/** Kick goes to main and is sent to Crush; snare goes into Crush and is sent to Air; Crush is sent to Air. */
const CHANNELS = [
  channel('kick', null, 3),
  channel('snare', 3, 4),
  channel('hats', null),
  channel('crush', null, 4),
  channel('air', null),
];
const WAYS: [string, string | null][] = [
  ['kick', null],
  ['kick', 'crush'],
  ['snare', 'crush'],
  ['snare', 'air'],
  ['hats', null],
  ['crush', null],
  ['crush', 'air'],
  ['air', null],
];
const open = (...soloed: string[]) => {
  const ways = openWays(CHANNELS, new Set(soloed));
  return WAYS.filter(([from, to]) => ways(from, to)).map(([from, to]) => `${from} ${to ?? 'main'}`);
};

it.each<[string[], string[]]>([
  [[], WAYS.map(([from, to]) => `${from} ${to ?? 'main'}`)],
  [['hats'], ['hats main']],
  [['kick'], ['kick main', 'kick crush', 'crush main', 'crush air', 'air main']],
  [['snare'], ['snare crush', 'snare air', 'crush main', 'crush air', 'air main']],
  [['crush'], ['kick crush', 'snare crush', 'crush main', 'crush air', 'air main']],
  [['air'], ['kick crush', 'snare crush', 'snare air', 'crush air', 'air main']],
  [
    ['hats', 'air'],
    ['kick crush', 'snare crush', 'snare air', 'hats main', 'crush air', 'air main'],
  ],
  [['gone'], []],
])('soloing %j opens %j', (soloed, opened) => {
  expect(open(...soloed)).toEqual(opened);
});
