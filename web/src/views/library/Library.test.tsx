// @vitest-environment happy-dom
import { cleanup, screen, within } from '@testing-library/react';
import type { UserEvent } from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { Entry, Rules } from '../../api/calls';
import { takeRules } from '../../app/kit/rules';
import { type Answers, Refusal, screenOf } from '../../testing/screen';
import { useChosen } from './chosen';
import { Library } from './Library';

// A DOM without a layout sees nothing, so a list that draws what is seen draws all.
vi.mock('@tanstack/react-virtual', () => ({
  useVirtualizer: ({ count, estimateSize }: { count: number; estimateSize: () => number }) => ({
    getVirtualItems: () =>
      Array.from({ length: count }, (_, index) => ({ index, key: index, start: index * estimateSize() })),
    getTotalSize: () => count * estimateSize(),
    measure: () => undefined,
    scrollToIndex: () => undefined,
  }),
}));

interface Thing {
  kind: string;
  id: string;
}

const entry = (name: string): Entry => ({
  kind: 'kits',
  id: name.toLowerCase(),
  name,
  description: '',
  tags: [],
  words: [],
  figures: '3 pieces, 12 takes, 2 microphones',
  pieces: [],
  ships: false,
  built_in: false,
  carried: true,
  put_away: false,
  changed: '2026-11-30T10:00:00Z',
  trouble: '',
});

/** A library that does what it is asked. */
function library(names: string[], at = '/', over: Answers = {}) {
  const entries = names.map(entry);
  const of = (things: Thing[]) => entries.filter((one) => things.some((thing) => thing.id === one.id));
  const found = (away: boolean) => () => {
    const shown = entries.filter((one) => one.put_away === away);
    return { entries: shown, total: shown.length, tags: [] };
  };
  const answers: Answers = {
    'GET /api/library': () => ({
      kinds: [{ kind: 'kits', noun: 'kit', count: entries.filter((one) => !one.put_away).length, file: '.zestykit' }],
      put_away: entries.filter((one) => one.put_away).length,
    }),
    'GET /api/library/room': { recordings: 0, prepared: 0, made: 0, uploads: 0, records: 0, free: 1 },
    'GET /api/library/kits': found(false),
    'GET /api/library/away': found(true),
    'POST /api/library/previews': ({ items }: { items: Thing[] }) =>
      items.map((item) => ({ item, state: 'none', key: '', seconds: 0, outline: [], said: '', away: false })),
    'POST /api/library/tags': ({ things, add }: { things: Thing[]; add: string[] }) => {
      for (const one of of(things)) one.tags = add.map((tag) => tag.toLowerCase());
      return { said: `${things.length} things were tagged.`, refused: [] };
    },
    'POST /api/library/put-away': ({ things, put_away }: { things: Thing[]; put_away: boolean }) => {
      for (const one of of(things)) one.put_away = put_away;
      return { said: `${of(things)[0]?.name} was ${put_away ? 'moved to the bin' : 'restored'}.`, refused: [] };
    },
    ...over,
  };
  for (const one of entries) answers[`GET /api/library/kits/${one.id}`] = () => ({ entry: one, related: [] });
  const routes = (
    <Routes>
      <Route path="/" element={<Library />} />
      <Route path="/library/:kind" element={<Library />} />
    </Routes>
  );
  return { entries, ...screenOf(routes, answers, at) };
}

const card = (name: string) => screen.findByRole('article', { name });
/** Look at a card and press keys on it. */
async function press(user: UserEvent, name: string, keys: string) {
  await user.click(await card(name));
  within(await card(name))
    .getByRole('link')
    .focus();
  await user.keyboard(keys);
}
const noCard = (name: string) => expect(screen.queryByRole('article', { name })).toBeNull();

takeRules({ recording_suffixes: ['.wav'], archive_suffix: '.zip', kit_suffix: '.zestykit' } as unknown as Rules);
afterEach(() => {
  cleanup();
  useChosen.setState(useChosen.getInitialState());
});

describe('the library', () => {
  test('several are chosen and tagged by keyboard', async () => {
    const { user, asked, entries } = library(['Aft', 'Bow', 'Cabin']);
    await press(user, 'Aft', '{Shift>}{ArrowRight}{ArrowRight}{/Shift}');
    const chosen = within(screen.getByRole('complementary', { name: 'Selection' }));
    chosen.getByText(/3 selected/);
    await user.type(chosen.getByRole('combobox', { name: 'Tag for all selected' }), 'Evening{Enter}');
    await screen.findByText('3 things were tagged.');
    await within(await card('Bow')).findByText('evening');
    expect(entries.every(({ tags }) => tags[0] === 'evening')).toBe(true);
    const tagged = asked.find(({ call }) => call === 'POST /api/library/tags')?.body as { things: Thing[] };
    expect(tagged.things.map(({ id }) => id)).toEqual(['aft', 'bow', 'cabin']);
  });

  test('one is moved to the bin by a key and comes back by undo, or from where it was put', async () => {
    const { user, entries } = library(['Aft', 'Bow']);
    await press(user, 'Bow', '{Delete}');
    await screen.findByText('Bow was moved to the bin.');
    noCard('Bow');
    await user.click(screen.getByRole('button', { name: 'Undo' }));
    await press(user, 'Bow', '{Delete}');
    await screen.findByText('Bow was moved to the bin.');
    await user.click(screen.getByRole('link', { name: /^Bin/ }));
    await user.click(await card('Bow'));
    noCard('Aft');
    const looked = within(await screen.findByRole('complementary', { name: 'Details' }));
    await user.click(await looked.findByRole('button', { name: 'Restore' }));
    await screen.findByText('Bow was restored.');
    noCard('Bow');
    expect(entries.some(({ put_away }) => put_away)).toBe(false);
  });

  test('what is refused is said, and nothing is hidden', async () => {
    const refused = new Refusal('A job is still running on Bow; wait for it to finish or cancel it.');
    const { user } = library(['Aft', 'Bow'], '/', { 'POST /api/library/put-away': refused });
    await press(user, 'Bow', '{Delete}');
    await screen.findByText(/A job is still running on Bow/);
    await card('Bow');
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
  });
});
