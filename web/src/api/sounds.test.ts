/** Several sounds asked for at once, and taken out of the one answer again. */
import { expect, it } from 'vitest';
import { type PlaySound, soundsAddress, soundsIn } from './calls';

const sound = (content: string, more: Partial<PlaySound> = {}) =>
  ({ content, width: 'mono', start_frame: 0, ...more }) as PlaySound;

it('is asked for by content, width and what is done to it, and nothing a cut decides', () => {
  const asked = soundsAddress(
    [
      sound('aa', { start_frame: 99, fade_in: 5 }),
      sound('bb', { width: 'stereo', cents: -12.5, centred: true, flipped: 'left' }),
    ],
    44_100,
  );
  expect(asked).toBe('/api/sounds/together/44100?of=aa,mono,,,&of=bb,stereo,-12.5,1,left');
});

it('comes file by file, none where a sound cannot be had', () => {
  const bytes = Uint8Array.from([
    0,
    0,
    0,
    3,
    7,
    8,
    9,
    0,
    0,
    0,
    0,
    0,
    0,
    1,
    1,
    ...Array.from({ length: 257 }, (_, k) => k % 256),
  ]);
  const files = soundsIn(bytes.buffer);
  expect(files).toHaveLength(3);
  expect([...new Uint8Array(files[0] as ArrayBuffer)]).toEqual([7, 8, 9]);
  expect(files[1]).toBeNull();
  expect(files[2]?.byteLength).toBe(257);
  expect(new Uint8Array(files[2] as ArrayBuffer)[256]).toBe(0);
  expect(soundsIn(new ArrayBuffer(0))).toEqual([]);
});
