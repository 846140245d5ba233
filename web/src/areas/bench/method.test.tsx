import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, fireEvent, render, renderHook, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { networkProblem, problemFrom } from '../../api/problem';
import type { MethodDocument, StageReport, Substance, WalkReport } from '../../api/types';
import { AddLine } from './AddLine';
import { cakesBefore, type Edit, intoNewVessel, moveLine, patchLine } from './edits';
import { LineRow } from './LineRow';
import { StageFields } from './StageFields';
import { useWalk } from './useWalk';
import { VesselPick } from './VesselPick';

const calls = vi.hoisted(
  () => [] as { document: MethodDocument; settle: (answer: unknown) => void; fail: (error: unknown) => void }[],
);
vi.mock('../../api/client', () => ({
  client: {
    GET: (path: string, { params }: { params?: { query?: { text?: string } } } = {}) =>
      Promise.resolve(pantry(path, params?.query)),
    POST: (_path: string, { body }: { body: MethodDocument }) =>
      new Promise((settle, fail) => calls.push({ document: body, settle, fail })),
  },
  answer: (call: Promise<unknown>) => call,
}));

const document: MethodDocument = {
  format: 'oakenjug.method/2',
  name: 'Test',
  family: '',
  school: '',
  notes: '',
  substances: {},
  vessels: [
    { id: 'pot', name: 'Pot' },
    { id: 'jug', name: 'Jug' },
  ],
  stages: [
    {
      id: 'a',
      kind: 'add',
      vessel: 'pot',
      note: '',
      lines: [
        { id: 'w', substance: 'water', amount: '500 g' },
        { id: 's', substance: 'sugar', amount: 'as water' },
      ],
    },
    { id: 'st', kind: 'strain', name: 'Through muslin', vessel: 'pot', into: 'jug', note: '', pressed: false },
    { id: 'p', kind: 'press', vessel: 'cake:st', into: 'jug', note: '', yield_fraction: 0.1 },
  ],
};

function substance(id: string, title: string, more: Partial<Substance['document']> = {}): Substance {
  const document = {
    title,
    kind: 'other',
    basis: 'estimate' as const,
    source: '',
    note: '',
    storage: 'ambient' as const,
    density_g_ml: 1,
    density_spread: 0.02,
    allergens: [],
    check_pack_for: [],
    also_called: [],
    is_ground: false,
    pieces: {},
    composition_g_per_100g: { water: 100 },
    ...more,
  };
  return {
    id,
    number: 0,
    own: false,
    in_library: true,
    put_away: false,
    document,
    brix: null,
    sugars_g_per_100g: 0,
    fat_g_per_100g: 0,
    hazards: [],
    allergens_by_list: {},
    packs: [],
    lots: [],
  };
}
const sugar = substance('sugar', 'White sugar', { allergens: ['milk'], note: 'A note.' });
const hit = {
  id: 'blossom',
  title: 'Blossom water',
  kind: 'extract',
  basis: 'estimate',
  character: '',
  allergens: [],
  other_form: null,
  is_ground: false,
  own: false,
  price_per_kg: null,
};
/** What the pantry answers: a typed line with “blossom” in it is one of blossom water. */
function pantry(path: string, query: { text?: string } | undefined): unknown {
  if (path.endsWith('/typed'))
    return query?.text?.includes('blossom')
      ? { hits: [hit], amount: query.text.replace(/ ?blossom.*/, '') }
      : { hits: [], amount: '' };
  return path.endsWith('{key}') ? sugar : { hits: [hit], more: false };
}
const shown = (node: React.ReactNode) =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MantineProvider>{node}</MantineProvider>
    </QueryClientProvider>,
  );

describe('edits of lines and vessels', () => {
  it('move a line within its stage and no further', () => {
    const moved = moveLine('s', -1)(document);
    expect(moved.stages[0]).toMatchObject({ lines: [{ id: 's' }, { id: 'w' }] });
    expect(moveLine('w', -1)(document).stages[0]).toEqual(document.stages[0]);
    expect(patchLine('w', { substance: 'blossom', name: 'Rose' })(document).stages[0]).toMatchObject({
      lines: [{ substance: 'blossom', name: 'Rose', amount: '500 g' }, { id: 's' }],
    });
  });
  it('know what sieves and presses kept back, of those before a stage only', () => {
    expect(cakesBefore(document, 'p')).toEqual([{ id: 'cake:st', name: 'the cake of Through muslin' }]);
    expect(cakesBefore(document, 'st')).toEqual([]);
  });
  it('pour into a vessel that was not there before', () => {
    const poured = intoNewVessel('st', 'into')(document);
    const made = poured.vessels[2]!;
    expect(made.name).toBe('Jug 2');
    expect(poured.stages[1]).toMatchObject({ into: made.id, vessel: 'pot' });
  });
});

describe('LineRow', () => {
  const row = {
    id: 's',
    name: 'White sugar',
    amount: 'as water',
    line: { id: 's', substance: 'sugar', amount: 'as water' },
    readOnly: false,
    fresh: false,
  };
  const walked = {
    id: 's',
    stage: 'a',
    title: 'White sugar',
    kind: 'sugar',
    mass_g: 500,
    low_g: 500,
    high_g: 500,
    share_started: 0.5,
    share: 0.5,
    text: 'as water',
    understood: '',
    tied: true,
    amount: { kind: 'all' as const },
  };
  const report = { lines: [walked], made_here: [] } as unknown as WalkReport;
  it('shows grams, share and what is wrong, tied to its field', () => {
    const done = vi.fn();
    const edits: [string, Edit][] = [];
    shown(
      <LineRow
        {...row}
        report={report}
        error="Nobody is called that. Name a line."
        onFocus={() => undefined}
        onDone={done}
        onEdit={(of, edit) => edits.push([of, edit])}
      />,
    );
    const field = screen.getByLabelText('Amount of White sugar');
    expect(screen.getByText('50.0 %')).toBeTruthy();
    expect(screen.getByRole('alert').id).toBe(field.getAttribute('aria-describedby'));
    fireEvent.change(field, { target: { value: '300 g' } });
    expect(edits[0]![0]).toBe('amount.s');
    expect(edits[0]![1](document).stages[0]).toMatchObject({ lines: [{ id: 'w' }, { id: 's', amount: '300 g' }] });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(done).toHaveBeenCalled();
  });
  it('opens to what is known of the ingredient', async () => {
    shown(
      <LineRow
        {...row}
        readOnly
        report={report}
        error={undefined}
        onFocus={() => undefined}
        onDone={() => undefined}
        onEdit={() => undefined}
      />,
    );
    fireEvent.click(screen.getByRole('button', { name: 'About White sugar' }));
    const about = await screen.findByRole('dialog', { name: 'White sugar' });
    await screen.findByText(/Estimated/);
    expect(about.textContent).toContain('Contains milk.');
    expect(about.textContent).toContain('A note.');
    expect(screen.queryByRole('button', { name: 'Remove White sugar' })).toBeNull();
  });
});

describe('VesselPick', () => {
  it('offers the vessels, what was kept back, and another', () => {
    const edits: Edit[] = [];
    shown(
      <VesselPick
        word=""
        label="Vessel of Press"
        stage="p"
        parameter="vessel"
        value="cake:st"
        document={document}
        cakes
        readOnly={false}
        onEdit={(_, edit) => edits.push(edit)}
      />,
    );
    const field = screen.getByLabelText('Vessel of Press') as HTMLSelectElement;
    expect([...field.options].map((option) => option.text)).toEqual([
      'Pot',
      'Jug',
      'the cake of Through muslin',
      'another vessel',
    ]);
    fireEvent.change(field, { target: { value: 'jug' } });
    expect(edits[0]!(document).stages[2]).toMatchObject({ vessel: 'jug' });
    fireEvent.change(field, { target: { value: field.options[3]!.value } });
    expect(edits[1]!(document).vessels).toHaveLength(3);
  });
});

describe('AddLine', () => {
  const added = () => {
    const choose = vi.fn();
    shown(<AddLine title="Add" id="add" onChoose={choose} />);
    return { choose, field: screen.getByRole<HTMLInputElement>('combobox', { name: 'Add an ingredient to Add' }) };
  };
  const type = (field: HTMLInputElement, value: string) => {
    act(() => field.focus());
    fireEvent.change(field, { target: { value } });
  };
  it('takes a line pasted whole at once', async () => {
    const { choose, field } = added();
    type(field, '2 tsp blossom');
    fireEvent.keyDown(field, { key: 'Enter' });
    await waitFor(() => expect(choose.mock.calls).toEqual([['blossom', '2 tsp']]));
    expect(field.value).toBe('');
  });
  it('keeps what nothing is called, on Enter and when it is left', async () => {
    const { choose, field } = added();
    type(field, 'pinch of moonlight');
    fireEvent.keyDown(field, { key: 'Enter' });
    await screen.findByText('Nothing in the pantry by that name.');
    act(() => field.blur());
    expect([choose.mock.calls.length, field.value]).toEqual([0, 'pinch of moonlight']);
  });
});

describe('what a stage gave', () => {
  it('sets its yield by the grams that went in, and takes the range away', () => {
    const edits: Edit[] = [];
    const press = document.stages.find((stage) => stage.id === 'p')!;
    const report = {
      id: 'p',
      name: 'Press',
      gives: { of_g: 500, gives_g: 250, low_g: 225, high_g: 250 },
    } as unknown as StageReport;
    shown(
      <StageFields
        stage={press}
        report={report}
        kitchen={undefined}
        readOnly={false}
        complaint={() => undefined}
        onEdit={(_, edit) => edits.push(edit)}
      />,
    );
    fireEvent.change(screen.getByLabelText('What Press gave'), { target: { value: '215' } });
    const after = edits[0]!(document).stages.find((stage) => stage.id === 'p');
    expect(after).toMatchObject({ yield_fraction: 0.43, yield_low: null, yield_high: null });
  });
});

describe('useWalk', () => {
  const report = (name: string) => ({ core_version: name }) as unknown as WalkReport;
  const named = (name: string): MethodDocument => ({ ...document, name });
  const pass = (ms: number) => act(async () => vi.advanceTimersByTimeAsync(ms));
  beforeEach(() => {
    vi.useFakeTimers();
    calls.length = 0;
  });
  afterEach(() => vi.useRealTimers());

  it('asks once for what was typed in one go', async () => {
    const { rerender } = renderHook(({ d }) => useWalk(d), { initialProps: { d: named('a') } });
    for (const name of ['ab', 'abc', 'abcd']) rerender({ d: named(name) });
    await pass(200);
    expect(calls.map((call) => call.document.name)).toEqual(['abcd']);
  });
  it('never lets an older answer replace a newer one', async () => {
    const { result, rerender } = renderHook(({ d }) => useWalk(d), { initialProps: { d: named('old') } });
    await pass(200);
    rerender({ d: named('new') });
    await pass(200);
    await act(async () => calls[1]!.settle(report('new')));
    await act(async () => calls[0]!.settle(report('old')));
    expect(result.current).toMatchObject({ report: { core_version: 'new' }, stale: false, problem: null });
  });
  it('keeps the last good answer beside a refusal', async () => {
    const { result, rerender } = renderHook(({ d }) => useWalk(d), { initialProps: { d: named('good') } });
    await pass(200);
    await act(async () => calls[0]!.settle(report('good')));
    rerender({ d: named('bad') });
    await pass(200);
    await act(async () =>
      calls[1]!.fail(
        problemFrom(422, { problems: [{ code: 'x', field: 'stages', message: 'Wrong.', remedy: 'Mend it.' }] }),
      ),
    );
    expect(result.current).toMatchObject({ report: { core_version: 'good' }, stale: true, problem: { status: 422 } });
  });
  it('asks again when the network is lost, until it is back', async () => {
    const { result } = renderHook(() => useWalk(document));
    await pass(200);
    await act(async () => calls[0]!.fail(networkProblem()));
    expect(result.current.problem?.status).toBe(0);
    await pass(3100);
    await act(async () => calls[1]!.settle(report('back')));
    expect(result.current).toMatchObject({ report: { core_version: 'back' }, problem: null });
  });
});
