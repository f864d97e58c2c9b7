/** Cells of bleed: every pair that was recorded, its feeds together, and where the keys go among them. */
import { expect, it } from 'vitest';
import type { Channel, KitState, Mic, Piece } from '../../../api/calls';
import { channelOf, deskKit } from '../../../app/kit/desk.fixture';
import { besides, cellsOf, micsHeard, shadeOf } from './cells';

const feed = (piece: string, mic: string, level_db: number, on = true): Channel['feeds'][number] => ({
  piece,
  mic,
  channel: '-',
  level_db,
  on,
});
const mic = (id: string, kind: Mic['kind']) => ({ id, name: id, kind }) as Mic;
const piece = (id: string, own_mics: string[], heard_by: string[], heard_db: number[]) =>
  ({ id, own_mics, heard_by, heard_db }) as unknown as Piece;

const kit: KitState = deskKit(
  'a',
  channelOf('snare', { feeds: [feed('snare', 'top', -3), feed('tom', 'top', -11, false)] }),
  channelOf('tom', { feeds: [feed('tom', 'rack', 0)] }),
  channelOf('room', { feeds: [feed('snare', 'room', -6), feed('snare', 'top', -20)] }),
);
kit.head.mics = ['air', 'rack', 'room', 'top', 'nobody'].map((id) =>
  mic(id, id === 'room' ? 'room' : id === 'air' ? 'overhead' : 'close'),
);
const pieces = [
  piece('snare', ['top'], ['air', 'top', 'room'], [-6, 0, -13]),
  piece('tom', ['rack'], ['rack', 'top', 'air'], [0, -29, -9]),
];
const cells = cellsOf(kit, pieces);

it('are there for what was recorded, with all feeds of a pair as one', () => {
  expect([...(cells.get('snare')?.keys() ?? [])]).toEqual(['air', 'top', 'room']);
  expect(cells.get('snare')?.get('top')).toEqual({
    piece: 'snare',
    mic: 'top',
    own: true,
    level_db: -3,
    on: true,
    recorded_db: 0,
    channels: ['snare', 'room'],
  });
  expect(cells.get('tom')?.get('top')).toMatchObject({ own: false, on: false, level_db: -11, channels: ['snare'] });
  // Recorded, and let in nowhere.
  expect(cells.get('tom')?.get('air')).toMatchObject({ on: false, level_db: 0, channels: [] });
  expect(cells.get('tom')?.has('room')).toBe(false);
});

it('stand under the microphones of the pieces in their order, then under those that all share', () => {
  expect(micsHeard(kit, pieces).map(({ id }) => id)).toEqual(['top', 'rack', 'air', 'room']);
});

it('are walked along a row past what was not recorded, as far as it goes', () => {
  const ids = ['top', 'rack', 'air', 'room'];
  const row = cells.get('snare') as NonNullable<ReturnType<typeof cells.get>>;
  expect(besides(row, ids, 'top', 1)).toBe('air');
  expect(besides(row, ids, 'air', -1)).toBe('top');
  expect(besides(row, ids, 'room', 1)).toBeNull();
});

it('are shaded by how loud the piece was recorded there, whatever the setting', () => {
  const shade = (of: string, in_: string) => shadeOf(cells.get(of)?.get(in_)?.recorded_db ?? 0);
  expect(shade('snare', 'top')).toBe(5);
  expect(shade('snare', 'air')).toBe(4);
  expect(shade('snare', 'room')).toBe(3);
  expect(shade('tom', 'top')).toBe(1);
  expect([shadeOf(-90), shadeOf(6)]).toEqual([0, 5]);
});
