/** The glossary, in two columns. */
import { GLOSSARY } from './words';

export default function Glossary() {
  return (
    <dl className="gap-6 text-small sm:columns-2">
      {GLOSSARY.map(([word, meaning]) => (
        <div key={word} className="mb-2 break-inside-avoid">
          <dt className="font-semibold">{word}</dt>
          <dd className="text-soft">{meaning}</dd>
        </div>
      ))}
    </dl>
  );
}
