/** The glossary: the table of docs/words.md, word and meaning. */
import text from '../../../../docs/words.md?raw';

const plain = (cell: string) => cell.replace(/`/g, '').trim();

export const GLOSSARY: [word: string, meaning: string][] = text
  .split('\n')
  .filter((line) => line.startsWith('| ') && !line.startsWith('| word'))
  .map((line) => line.split('|').map(plain))
  .map(([, word = '', , meaning = '']) => [word, meaning]);
