// @vitest-environment happy-dom
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, test } from 'vitest';
import { type Answers, Refusal, screenOf } from '../../testing/screen';
import { Storage } from './Storage';

const LIBRARY = { kinds: [], put_away: 0 };
const ROOM = { recordings: 3_000_000, prepared: 0, made: 0, uploads: 0, records: 1_000_000, free: 5e9 };
const JOB = {
  id: 'j1',
  kind: 'backup',
  state: 'running',
  done: 2,
  total: 8,
  message: '',
  title: 'Backing up',
  away: false,
};

function storage(over: Answers = {}) {
  const answers: Answers = {
    'GET /api/library': LIBRARY,
    'GET /api/library/room': ROOM,
    'GET /api/library/unneeded': { files: 0, bytes: 0 },
    'GET /api/maintenance': { backup: null, check: null, going: [] },
    ...over,
  };
  return { answers, ...screenOf(<Storage />, answers) };
}
const region = (name: string) => within(screen.getByRole('region', { name }));

afterEach(cleanup);

describe('the storage page', () => {
  test('says what is used, and nothing of what it does not know yet', async () => {
    storage();
    expect(region('Backup').getByText('Checking…')).toBeTruthy();
    expect(region('On this disk').getByText('Checking for unused files…')).toBeTruthy();
    await region('On this disk').findByText('4.0 MB');
    await region('On this disk').findByText('Every file is used by a kit, a piece or a session.');
    await region('Backup').findByText('Never backed up.');
    expect(region('Check').getByText('Never checked.')).toBeTruthy();
  });

  test('a folder that cannot be used is refused in words; one that can is backed up to, with progress and a way to stop', async () => {
    const { answers, asked, user } = storage({
      'POST /api/maintenance/backup': ({ folder }: { folder: string }) =>
        folder.startsWith('/data') ? new Refusal('A backup belongs outside the data folder.') : JOB,
      'GET /api/jobs/j1': JOB,
      'POST /api/jobs/j1/cancel': JOB,
    });
    const backup = region('Backup');
    const now = backup.getByRole('button', { name: 'Back up now' }) as HTMLButtonElement;
    expect(now.disabled).toBe(true);
    const folder = backup.getByLabelText('Folder on this machine');
    await user.type(folder, '/data/inside{Enter}');
    expect((await backup.findByRole('alert')).textContent).toBe('A backup belongs outside the data folder.');
    await user.clear(folder);
    await user.type(folder, '/media/disk{Enter}');
    await backup.findByText('2 of 8');
    expect(now.disabled).toBe(true);
    expect(backup.queryByRole('alert')).toBeNull();
    await user.click(backup.getByRole('button', { name: 'Cancel' }));
    expect(asked.filter(({ call }) => call.startsWith('POST')).map(({ call, body }) => [call, body])).toEqual([
      ['POST /api/maintenance/backup', { folder: '/data/inside' }],
      ['POST /api/maintenance/backup', { folder: '/media/disk' }],
      ['POST /api/jobs/j1/cancel', {}],
    ]);
    const ended = new Date().toISOString();
    answers['GET /api/maintenance'] = {
      backup: { folder: '/media/disk', ended, recordings: 57, bytes: 9_000_000, problems: ['kick.wav is missing.'] },
      check: null,
      going: [],
    };
    answers['GET /api/jobs/j1'] = { ...JOB, state: 'done', done: 8 };
    await waitFor(() => expect(backup.getByText(/Last backup:/).textContent).toContain('57 recordings (9.0 MB)'));
    expect(backup.getByText('kick.wav is missing.')).toBeTruthy();
  });

  test('what a check found is named, and repaired from there', async () => {
    const ended = new Date().toISOString();
    const trouble = { kind: 'damaged', said: 'snare.wav is damaged.', repaired: false };
    const check = { ended, sound: false, said: 'Read 57 recordings', troubles: [trouble], all: 1 };
    const { answers, asked, user } = storage({
      'GET /api/maintenance': { backup: null, check, going: [] },
      'POST /api/maintenance/check': { ...JOB, id: 'j2', kind: 'check' },
      'GET /api/jobs/j2': { ...JOB, id: 'j2', kind: 'check', state: 'done' },
    });
    expect((await region('Check').findByRole('alert')).textContent).toBe('1 thing found that should be repaired:');
    expect(region('Check').getByText('snare.wav is damaged.')).toBeTruthy();
    const sound = { ...check, sound: true, troubles: [{ ...trouble, repaired: true }] };
    answers['GET /api/maintenance'] = { backup: null, check: sound, going: [] };
    await user.click(region('Check').getByRole('button', { name: 'Repair' }));
    await region('Check').findByText('1 thing repaired; everything is intact now.');
    expect(asked.find(({ call }) => call === 'POST /api/maintenance/check')?.body).toEqual({ repair: true });
    expect(region('Check').queryByRole('button', { name: 'Repair' })).toBeNull();
  });

  test('what nothing needs is deleted when somebody says so', async () => {
    const { answers, user } = storage({
      'GET /api/library/unneeded': { files: 3, bytes: 2_000_000 },
      'POST /api/library/clear': () => {
        answers['GET /api/library/unneeded'] = { files: 0, bytes: 0 };
        return { files: 3, bytes: 2_000_000 };
      },
    });
    const disk = region('On this disk');
    await disk.findByText('3 files (2.0 MB) are used by no kit, piece or session.');
    await user.click(disk.getByRole('button', { name: 'Delete unused files' }));
    await disk.findByText('3 files deleted, 2.0 MB free.');
    await waitFor(() => expect(disk.queryByRole('button')).toBeNull());
  });
});
