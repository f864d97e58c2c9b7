/** The glossary shows every word of the documentation, each with a meaning. */
import { expect, it } from 'vitest';
import { GLOSSARY } from './words';

it('has every word of docs/words.md with its meaning', () => {
  expect(GLOSSARY.length).toBeGreaterThan(40);
  expect(GLOSSARY.every(([word, meaning]) => word.length > 2 && meaning.length > 10)).toBe(true);
  expect(GLOSSARY).toContainEqual(['take', 'one recorded strike: one recording per microphone, aligned to the sample']);
});
