/** Takes chosen as files are anywhere: alone, joined, in a range, and only as long as they are there. */
import { beforeEach, expect, it } from 'vitest';
import type { Articulation } from '../../api/calls';
import { pressTake, selectedOf, tabStop, takesInOrder, useSelection } from './selection';

const articulation = (id: string, layers: string[][], aside: string[] = []) =>
  ({
    id,
    layers: layers.map((takes) => ({ takes })),
    takes: [...aside, ...layers.flat()].map((take) => ({ id: take })),
  }) as unknown as Articulation;

const snare = articulation('snare', [['a', 'b'], ['c'], ['d']], ['x']);
const press = (id: string, keys: { join?: boolean; range?: boolean } = {}) =>
  pressTake(snare, id, { join: false, range: false, ...keys });

beforeEach(() => useSelection.setState({ articulation: '', takes: [], anchor: null, layer: null, stop: null }));

it('has one stop for Tab: what had the focus last, else the first that is drawn', () => {
  expect(tabStop(snare, 'b')).toBe('b');
  expect(tabStop(snare, 'gone')).toBe('d');
  expect(tabStop(articulation('hats', [[]], ['x']), null)).toBe('x');
  expect(tabStop(articulation('empty', []), null)).toBeNull();
});

it('lies softest layer first, what was put aside last', () => {
  expect(takesInOrder(snare)).toEqual(['a', 'b', 'c', 'd', 'x']);
});

it('takes one alone, joins and leaves, and spans a range from the one pressed before', () => {
  press('b');
  press('d', { join: true });
  expect(selectedOf(snare).takes).toEqual(['b', 'd']);
  press('b', { join: true });
  expect(selectedOf(snare).takes).toEqual(['d']);
  press('c');
  press('x', { range: true });
  expect(selectedOf(snare).takes).toEqual(['c', 'd', 'x']);
  press('a', { range: true });
  expect(selectedOf(snare).takes).toEqual(['a', 'b', 'c']);
});

it('is another articulation’s business no longer, and forgets takes and layers that went', () => {
  press('b');
  press('c', { join: true });
  expect(selectedOf(articulation('kick', [['b']])).takes).toEqual([]);
  expect(selectedOf(articulation('snare', [['a'], ['c']])).takes).toEqual(['c']);
  useSelection.getState().chooseLayer('snare', 2);
  expect(selectedOf(snare)).toEqual({ takes: [], layer: 2 });
  expect(selectedOf(articulation('snare', [['a']])).layer).toBeNull();
});
