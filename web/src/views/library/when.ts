/** A date as shown: today, yesterday, or the day. */
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });
const YEAR = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
const DAY_MS = 86_400_000;

const midnight = (at: Date) => new Date(at.getFullYear(), at.getMonth(), at.getDate()).getTime();

export function dayOf(at: Date, now = new Date()): string {
  const days = Math.round((midnight(now) - midnight(at)) / DAY_MS);
  if (days === 0) return 'today';
  if (days === 1) return 'yesterday';
  return (at.getFullYear() === now.getFullYear() ? DAY : YEAR).format(at);
}

export const timeOf = (at: string) => TIME.format(new Date(at));

export function whenShort(at: string, now = new Date()): string {
  const day = dayOf(new Date(at), now);
  return day === 'today' ? `today ${timeOf(at)}` : day;
}
