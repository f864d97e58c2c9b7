import { describe, expect, it } from 'vitest';
import { dayOf, whenShort } from './when';

describe('when something was', () => {
  const now = new Date(2031, 4, 3, 0, 30);
  it('is said by the day’s name where that is near, and with its year where it is far', () => {
    expect(whenShort(new Date(2031, 4, 3, 0, 10).toISOString(), now)).toBe('today 00:10');
    expect(dayOf(new Date(2031, 4, 2, 23, 59), now)).toBe('yesterday');
    expect(dayOf(new Date(2031, 4, 1, 23, 59), now)).toBe('1 May');
    expect(dayOf(new Date(2030, 4, 3), now)).toBe('3 May 2030');
  });
});
