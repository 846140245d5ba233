import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, expect, it, vi } from 'vitest';
import { client } from '../api/client';
import { FindBox } from './FindBox';

const card = (id: string, name: string) => ({ id, name, family: '', school: '' });
const batch = {
  id: 'b1',
  name: 'Weir Simple',
  number: 7,
  started_by: 'Rafe',
  started_at: '2026-03-02T06:00:00Z',
  words: 'a hint of marmalade',
};
/** Of formulas the answer comes when the test says so, but for the list before anything is typed. */
let answerFormulas = () => {};
let asked: string[] = [];

function Where() {
  return <p>at {useLocation().pathname}</p>;
}

function Box() {
  const [opened, setOpened] = useState(true);
  return <FindBox opened={opened} onClose={() => setOpened(false)} />;
}

function found() {
  asked = [];
  vi.spyOn(client, 'GET').mockImplementation((async (path: string, given: { params: { query: { q?: string } } }) => {
    const { q } = given.params.query;
    if (path === '/api/v1/formulas' && q) asked.push(q);
    if (path === '/api/v1/formulas' && q) await new Promise<void>((go) => (answerFormulas = go));
    const data =
      path === '/api/v1/formulas'
        ? { items: q ? [] : [card('f1', 'Pear Drizzle')] }
        : path === '/api/v1/batches'
          ? { items: [batch] }
          : { hits: [] };
    return { data, response: new Response() };
  }) as never);
  render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <MemoryRouter>
          <Box />
          <Where />
        </MemoryRouter>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

async function typed(words: string) {
  found();
  const box = screen.getByLabelText('Find a formula, an ingredient or a batch');
  await screen.findByText('Pear Drizzle');
  fireEvent.change(box, { target: { value: words } });
  return box;
}

it('Find takes nothing of other words on Enter, and waits for what was typed', async () => {
  const box = await typed('marmalade');
  await screen.findByText(/batch 0007/);
  screen.getByText('Pear Drizzle'); // the formulas of before still stand first
  fireEvent.keyDown(box, { key: 'Enter' });
  await new Promise((go) => setTimeout(go, 20));
  screen.getByText('at /');
  answerFormulas();
  await waitFor(() => screen.getByText('at /batches/b1'));
});

it('Find goes nowhere where something else was typed while it waited', async () => {
  const box = await typed('marmalade');
  fireEvent.keyDown(box, { key: 'Enter' });
  await waitFor(() => expect(asked).toContain('marmalade'));
  fireEvent.change(box, { target: { value: 'marm' } });
  answerFormulas();
  await new Promise((go) => setTimeout(go, 20));
  screen.getByText('at /');
});

it('Find goes nowhere once it was closed while it waited', async () => {
  const box = await typed('marmalade');
  fireEvent.keyDown(box, { key: 'Enter' });
  await waitFor(() => expect(asked).toContain('marmalade'));
  fireEvent.keyDown(box, { key: 'Escape' });
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  answerFormulas();
  await new Promise((go) => setTimeout(go, 20));
  screen.getByText('at /');
});

it('Find says why where nothing could be looked up, and not that there is nothing', async () => {
  found();
  await screen.findByText('Pear Drizzle');
  vi.mocked(client.GET).mockImplementation((() =>
    Promise.resolve({
      error: { problems: [{ code: 'database', field: '', message: 'The database does not answer.', remedy: 'Wait.' }] },
      response: new Response('', { status: 503 }),
    })) as never);
  fireEvent.change(screen.getByLabelText('Find a formula, an ingredient or a batch'), {
    target: { value: 'marmalade' },
  });
  await screen.findByText(/The database does not answer/);
  expect(screen.queryByText(/Nothing by that name/)).toBeNull();
});
