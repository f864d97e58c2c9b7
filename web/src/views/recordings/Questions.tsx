/** What names and sound could not decide: asked before pieces are built, with the guess and its reason. */
import { useState } from 'react';
import type { Reading } from '../../api/calls';
import { guide } from './Columns';
import { type Meaning, ruled } from './ruled';

const ANSWERS: { meaning: Meaning; name: string }[] = [
  { meaning: 'repeat', name: 'Round robins' },
  { meaning: 'mic', name: 'Microphones' },
  { meaning: 'strength', name: 'Velocity layers' },
  { meaning: 'articulation', name: 'Articulations' },
  { meaning: 'piece', name: 'Different pieces' },
  { meaning: 'ignored', name: 'Nothing' },
];

/** The column asked about, and those of other kinds of names that the same answer settles. */
const placesOf = (question: Reading['questions'][number]): [string, number][] => [
  [question.group, question.column],
  ...(question.elsewhere as [string, number][]),
];

export function Questions({ data }: { data: Reading }) {
  const [sent, setSent] = useState(false);
  if (!data.questions.length) return null;
  return (
    <section className="card grid shrink-0 gap-2 border-zest bg-zest-wash px-3 py-2.5" aria-label="Questions">
      {data.questions.map((question) => (
        <div key={`${question.group} ${question.column}`} className="grid gap-1.5">
          <p>{question.sentence} What are they?</p>
          <span className="flex flex-wrap gap-1.5">
            {ANSWERS.map(({ meaning, name }) => (
              <button
                key={meaning}
                type="button"
                className={`btn ${meaning === question.guess ? 'btn-go' : ''}`}
                disabled={sent}
                onClick={() => {
                  setSent(true);
                  void guide(data.id, ruled(data.guidance, placesOf(question), meaning)).then(() => setSent(false));
                }}
              >
                {name}
              </button>
            ))}
          </span>
        </div>
      ))}
    </section>
  );
}
