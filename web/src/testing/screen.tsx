/** Screens without sound, tried without a browser: drawn into a DOM, over a studio that answers what a test says. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { vi } from 'vitest';
import { queries } from '../app/kit/queries';

/** What was asked of the studio: how, where, and with what. */
export interface Asked {
  call: string;
  body: unknown;
}

export class Refusal {
  constructor(
    readonly detail: string,
    readonly status = 422,
  ) {}
}

/** By “GET /api/kits”, without what comes after “?”: what is answered, or what works it out from the body. */
export type Answers = Record<string, unknown | ((body: never) => unknown)>;

/** Draw a screen. `answers` may be changed while it stands; what is not among them is answered as not there. */
export function screenOf(element: ReactNode, answers: Answers, at = '/') {
  const asked: Asked[] = [];
  vi.stubGlobal('fetch', async (address: string | URL, how: RequestInit = {}) => {
    const call = `${(how.method ?? 'GET').toUpperCase()} ${String(address).split('?')[0]}`;
    const body = typeof how.body === 'string' ? JSON.parse(how.body) : how.body;
    asked.push({ call, body });
    const answer = answers[call];
    const value =
      typeof answer === 'function' ? answer(body) : (answer ?? new Refusal(`Nothing answers ${call}.`, 404));
    const [status, json] = value instanceof Refusal ? [value.status, { detail: value.detail }] : [200, value];
    return new Response(JSON.stringify(json), { status, headers: { 'Content-Type': 'application/json' } });
  });
  // What one test was answered is nothing to the next.
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
