/**
 * Tests screens without sound and without a browser: rendered into a DOM, with a studio whose responses the test gives.
 */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { vi } from 'vitest';
import { queries } from '../app/kit/queries';

/** A request to the studio: method, path, body. */
export interface SentRequest {
  call: string;
  body: unknown;
}

export class Refusal {
  constructor(
    readonly detail: string,
    readonly status = 422,
  ) {}
}

/** Responses by “GET /api/kits”, without the query; a function computes one from the body. */
export type Answers = Record<string, unknown | ((body: never) => unknown)>;

/** Render a screen. `answers` may be changed while it is shown; other requests get a 404. */
export function screenOf(element: ReactNode, answers: Answers, at = '/') {
  const asked: SentRequest[] = [];
  vi.stubGlobal('fetch', async (address: string | URL, how: RequestInit = {}) => {
    const call = `${(how.method ?? 'GET').toUpperCase()} ${String(address).split('?')[0]}`;
    const body = typeof how.body === 'string' ? JSON.parse(how.body) : how.body;
    asked.push({ call, body });
    const answer = answers[call];
    const value =
      typeof answer === 'function' ? await answer(body) : (answer ?? new Refusal(`Nothing answers ${call}.`, 404));
    const [status, json] = value instanceof Refusal ? [value.status, { detail: value.detail }] : [200, value];
    return new Response(JSON.stringify(json), { status, headers: { 'Content-Type': 'application/json' } });
  });
  // Tests must not share cached responses.
  queries.clear();
  const client = new QueryClient({
    defaultOptions: { queries: { retry: false }, mutations: { networkMode: 'always' } },
  });
  const drawn = render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[at]}>{element}</MemoryRouter>
    </QueryClientProvider>,
  );
  return { ...drawn, asked, user: userEvent.setup() };
}
