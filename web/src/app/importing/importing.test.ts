/** Adding recordings: batches under their paths, what is here already not sent again, stopped and gone on with, refusals kept. */
import { beforeEach, expect, it, vi } from 'vitest';
import { takeRules } from '../kit/rules';
import { type IncomingFile, useImporting } from './importing';

const said: string[] = [];
const movedTo: string[] = [];
let openKit = 'k';
vi.mock('../kit/kitStore', () => ({
  useKit: {
    subscribe: () => undefined,
    getState: () => ({
      kit: { id: openKit, version: 7 },
      say: (text: string) => said.push(text),
      take: () => undefined,
      moveTo: async (id: string) => {
        openKit = id;
        movedTo.push(id);
      },
    }),
  },
}));
takeRules({ archive_suffix: '.zip' } as Parameters<typeof takeRules>[0]);

interface Sent {
  address: string;
  paths: string[];
  body: unknown;
}

let sent: Sent[] = [];
let sessions: object[] = [];
let known: Set<string> = new Set();
let problems: string[] = [];
let answerFiles: () => Response | Promise<Response>;

async function studio(address: string, init?: RequestInit): Promise<Response> {
  const form = init?.body instanceof FormData ? init.body : null;
  const body = typeof init?.body === 'string' ? JSON.parse(init.body) : null;
  sent.push({ address, paths: form ? (form.getAll('paths') as string[]) : [], body });
  if (address.endsWith('/files')) return answerFiles();
  if (address.endsWith('/known')) {
    const asked = JSON.parse(String(init?.body)) as { path: string }[];
    return Response.json({ paths: asked.map(({ path }) => path).filter((path) => !known.has(path)) });
  }
  if (/^\/api\/kits\/\w+\/sessions$/.test(address))
    return Response.json(init?.method === 'POST' ? { id: 3, kit: 'copy' } : sessions);
  if (address === '/api/sessions/3') return Response.json({ unread: [] });
  return Response.json({ id: 'job', state: 'done', problems });
}

const file = (path: string, bytes = 10): IncomingFile => ({ path, file: new File([new Uint8Array(bytes)], path) });
const many = (count: number) => Array.from({ length: count }, (_, k) => file(`kick/${k}.wav`));
const batches = () => sent.filter(({ address }) => address.endsWith('/files')).map(({ paths }) => paths.length);
const bodyOf = (ending: string) => sent.filter(({ address, body }) => body && address.endsWith(ending)).pop()?.body;
const asked = (ending: string) => sent.filter(({ address }) => address.endsWith(ending)).length;

beforeEach(() => {
  [sent, sessions, known] = [[], [], new Set()];
  [openKit, movedTo.length] = ['k', 0];
  said.length = 0;
  problems = [];
  useImporting.setState({ going: null, came: null, session: null });
  answerFiles = () => Response.json({ kept: sent[sent.length - 1]?.paths.length ?? 0, refused: [] });
  vi.stubGlobal('fetch', studio);
});

it('sends files in batches, keeps their paths, and asks for them to be read once', async () => {
  await useImporting.getState().bring(many(50), 'Drums');
  expect(batches()).toEqual([24, 24, 2]);
  expect(sent.find(({ paths }) => paths.length === 2)?.paths).toEqual(['kick/48.wav', 'kick/49.wav']);
  expect(asked('/read')).toBe(1);
  expect(useImporting.getState().came).toMatchObject({ kept: 50, known: 0, total: 50, stopped: false });
  expect(useImporting.getState().going).toBeNull();
  // Into a copy, where the studio made one of a kit that ships.
  expect(movedTo).toEqual(['copy']);
});

it('does not send what is already here, and reads all the same', async () => {
  known = new Set(many(23).map(({ path }) => path));
  await useImporting.getState().bring(many(24), 'Drums');
  expect(sent.filter(({ address }) => address.endsWith('/files')).map(({ paths }) => paths)).toEqual([['kick/23.wav']]);
  expect(useImporting.getState().came).toMatchObject({ kept: 1, known: 23 });
  expect(asked('/read')).toBe(1);
});

it('stops between batches and says how far it came; the same name goes on in the same session', async () => {
  answerFiles = () => {
    useImporting.getState().stop();
    return Response.json({ kept: 24, refused: [] });
  };
  await useImporting.getState().bring(many(60), 'Long night');
  expect(batches()).toEqual([24]);
  expect(asked('/read')).toBe(0);
  expect(useImporting.getState().came).toMatchObject({ kept: 24, stopped: true });
  sessions = [{ id: 9, name: 'Long night', read: false, adds_to: '' }];
  answerFiles = () => Response.json({ kept: 1, refused: [] });
  await useImporting.getState().bring(many(1), 'Long night');
  expect(useImporting.getState().session).toBe(9);
});

it('keeps what came in when a batch is refused, and says why', async () => {
  let first = true;
  answerFiles = () => {
    if (!first) return Response.json({ detail: 'The disk is full.' }, { status: 507 });
    first = false;
    return Response.json({ kept: 23, refused: [{ path: 'kick/4.wav', why: 'silent' }] });
  };
  await useImporting.getState().bring(many(48), 'Drums');
  expect(said).toEqual(['The disk is full.']);
  expect(useImporting.getState().came).toMatchObject({ kept: 23, stopped: true, refused: [{ path: 'kick/4.wav' }] });
});

it('lists what was refused of an archive, once it was read', async () => {
  problems = ['“../../out.wav” in Night.zip would lie outside its folder; it was not added.'];
  await useImporting.getState().bring([file('Night.zip')], 'Night');
  await vi.waitFor(() => expect(useImporting.getState().came?.refused.map(({ why }) => why)).toEqual(problems));
  expect(useImporting.getState().came?.kept).toBe(1);
});

it('says that an empty folder is one, and begins nothing', async () => {
  await useImporting.getState().bring([], 'Empty');
  expect(said[0]).toMatch(/holds no files/);
  expect(sent).toEqual([]);
});

it('puts files that were dropped on a note there in their order, as pieces by themselves; a zip entirely', async () => {
  const note = { note: 40, whenOccupied: null };
  await useImporting.getState().bring([file('b.wav'), file('a.wav')], 'b and 1 more', note);
  expect(bodyOf('/api/kits/k/sessions')).toEqual({ name: 'b and 1 more', each_alone: true });
  expect(bodyOf('/sounds')).toMatchObject({ kit: 'copy', note: 40, paths: ['b.wav', 'a.wav'], when_occupied: null });
  expect(said).toEqual([]);
  await useImporting.getState().bring([file('all.zip')], 'all', note);
  expect(bodyOf('/sounds')).toMatchObject({ paths: [] });
});
