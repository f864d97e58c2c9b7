/** Numbers as shown: true minus signs, units, fixed decimals. */
export const minus = (text: string) => text.replace('-', '−');

export const decibels = (value: number, places = 1) =>
  value <= -119 ? '−∞' : minus((Math.abs(value) < 0.05 ? 0 : value).toFixed(places));

export const signed = (value: number, places = 1) => {
  const rounded = Number(value.toFixed(places));
  return `${rounded < 0 ? '−' : rounded > 0 ? '+' : ''}${Math.abs(rounded).toFixed(places)}`;
};

export const gainToDecibels = (gain: number) => (gain > 1e-6 ? 20 * Math.log10(gain) : -120);

/** A share from 0 to 1. */
export const percent = (share: number) => `${Math.round(share * 100)} %`;

export const panName = (pan: number) => {
  const whole = Math.round(pan * 100);
  return whole === 0 ? 'C' : whole < 0 ? `L${-whole}` : `R${whole}`;
};

export const count = (value: number, one: string, many = `${one}s`) =>
  `${value.toLocaleString('en')} ${value === 1 ? one : many}`;

/** A name with soft hyphens between syllables, for narrow places. */
export const hyphenable = (name: string) =>
  name.replace(/\p{L}{9,}/gu, (word) => word.replace(/(?<=..[aeiouy][^aeiouy]?)(?=[^aeiouy][aeiouy].)/giu, '\u00ad'));
