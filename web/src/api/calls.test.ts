/** Calls are what the studio's description says: tsc refuses anything else, and fails where it would not. */
import { describe, expect, it, vi } from 'vitest';
import { addressOf, get, post, type Refused } from './calls';

describe('a call', () => {
  it('compiles for addresses, names and bodies that the studio has, and for no others', () => {
    const tried = [
      // @ts-expect-error there is no such address
      () => get('/api/kit/{kit_id}', { kit_id: 'x' }),
      // @ts-expect-error a name is missing
      () => get('/api/kits/{kit_id}', {}),
      // @ts-expect-error a kit is not called so
      () => get('/api/kits/{kit_id}', { kit: 'x' }),
      // @ts-expect-error the body is missing
      () => post('/api/kits', {}),
      // @ts-expect-error a kit's name is text
      () => post('/api/kits', {}, { name: 3 }),
      // @ts-expect-error this address takes no body
      () => post('/api/kits/{kit_id}/told', { kit_id: 'x' }, {}),
      // @ts-expect-error there is no such edit
      () => post('/api/kits/{kit_id}/edits', { kit_id: 'x' }, { base_version: 1, edit: { kind: 'paint' } }),
    ];
    expect(tried).toHaveLength(7);
  });

  it('fills in the address and asks for the rest behind it', () => {
    expect(addressOf('/api/kits/{kit_id}/fits', { kit_id: 'a b', articulation: 'snare/rim & shell' })).toBe(
      '/api/kits/a%20b/fits?articulation=snare%2Frim+%26+shell',
    );
    expect(addressOf('/api/kits', {})).toBe('/api/kits');
  });

  it('that fails says why in a sentence: the studio’s own, or that it is away', async () => {
    const said = async (answer: () => Response) => {
      vi.stubGlobal('fetch', async () => answer());
      return get('/api/kits', {}).catch((error: Refused) => [error.message, error.status]);
    };
    expect(await said(() => Response.json({ detail: 'That kit was deleted.' }, { status: 404 }))).toEqual([
      'That kit was deleted.',
      404,
    ]);
    expect(await said(() => new Response('<html>', { status: 502 }))).toEqual([
      'The studio could not do that; try again.',
      502,
    ]);
    const away = await said(() => {
      throw new TypeError('Failed to fetch');
    });
    expect(away).toEqual([expect.stringMatching(/does not answer.*kept/), 0]);
    // Killed in the middle of an answer: what came of it is no answer.
    expect(await said(() => new Response('[{"id": "wharf", "na', { status: 200 }))).toEqual(away);
  });
});
