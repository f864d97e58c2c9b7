/** The glossary: words and meanings from the table in docs/words.md. */
import text from '../../../../docs/words.md?raw';

const plain = (cell: string) => cell.replace(/`/g, '').trim();

export const GLOSSARY: [word: string, meaning: string][] = text
  .split('\n')
  .filter((line) => line.startsWith('| ') && !line.startsWith('| word'))
  .map((line) => line.split('|').map(plain))
  .map(([, word = '', , meaning = '']) => [word, meaning]);
