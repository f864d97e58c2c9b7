import { describe, expect, test } from 'vitest';
import { clearOf, within } from './floating';

const ROOM = { left: 12, top: 64, width: 1256, height: 660 };
const PANEL = { width: 360, height: 430 };

describe('a panel that can be moved', () => {
  test('stays where it is put and never leaves the room', () => {
    expect(within({ left: 400, top: 200 }, PANEL, ROOM)).toEqual({ left: 400, top: 200 });
    expect(within({ left: -90, top: 9000 }, PANEL, ROOM)).toEqual({ left: 12, top: 294 });
    // Larger than the room: its upper left corner, where the handle is, is kept.
    expect(within({ left: 300, top: 300 }, { width: 360, height: 900 }, ROOM)).toEqual({ left: 300, top: 64 });
  });

  test('leaves its place only where it hides what must be seen, for the corner that hides least', () => {
    const corner = { left: 12, top: 294 };
    expect(clearOf(corner, PANEL, ROOM, null)).toEqual(corner);
    expect(clearOf(corner, PANEL, ROOM, { left: 960, top: 64, width: 300, height: 600 })).toEqual(corner);
    expect(clearOf(corner, PANEL, ROOM, { left: 12, top: 64, width: 300, height: 600 })).toEqual({
      left: 908,
      top: 294,
    });
    // In a small window it lies over the lower part of the lesson rather than over its first lines.
    const small = { left: 12, top: 64, width: 616, height: 260 };
    expect(
      clearOf({ left: 12, top: 64 }, { width: 360, height: 160 }, small, { left: 12, top: 64, width: 616, height: 80 }),
    ).toEqual({ left: 12, top: 164 });
  });
});
