import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { ReadingReport, StageReport, SuggestionReport } from '../api/types';
import { AmountField } from './AmountField';
import { Jug, jugText } from './Jug';
import { ReadingRow } from './ReadingRow';
import { ribbonText, StageRibbon } from './StageRibbon';
import { sweetLineText } from './SweetLine';
import { WayCard } from './WayCard';

const bands = [
  { band: 'sugars', title: 'sugars', share: 0.5, mass_g: 879 },
  { band: 'fat', title: 'fat', share: 0 },
  { band: 'water', title: 'water', share: 0.5, mass_g: 505 },
];

function stage(id: string, mass_g: number, more: Partial<StageReport> = {}): StageReport {
  const none = { low_s: 0, typical_s: 0, high_s: 0 };
  return {
    id,
    kind: 'add',
    name: id,
    summary: 'water',
    trunk: true,
    flows: [],
    duration: none,
    hands: none,
    cautions: [],
    faults: [],
    after: {
      vessel: 'pot',
      name: 'Pot',
      mass_g,
      temperature_c: 20,
      brix: 10,
      volume_ml: mass_g,
      bands: [{ band: 'water', title: 'water', mass_g }],
    },
    ...more,
  } as StageReport;
}

describe('Jug', () => {
  it('quarters of a litre are not rounded on its scale', () => {
    const { container } = render(<Jug bands={bands} volume_ml={740} mass_g={790} />);
    expect([...container.querySelectorAll('text')].map((each) => each.textContent)).toEqual(
      expect.arrayContaining(['0.25 l', '0.5 l', '0.75 l']),
    );
  });

  it('says in words what it draws', () => {
    render(<Jug bands={bands} volume_ml={1065} mass_g={1405} />);
    expect(screen.getByRole('img', { name: 'A jug with 1.07 l, 1,405 g: 879 g sugars, 505 g water.' })).toBeTruthy();
  });
  it('draws partial volumes to one scale: equal shares are equally tall and reach the fill', () => {
    const { container } = render(<Jug bands={bands} volume_ml={1000} mass_g={1300} />);
    const heights = [...container.querySelectorAll('rect')].map((rect) => Number(rect.getAttribute('height')));
    expect(heights).toHaveLength(2);
    expect(heights[0]).toBeCloseTo(heights[1]!, 6);
    // 1,000 ml on a scale that ends at 1,500: the 1 l tick is the top of the fill.
    const top = Math.min(...[...container.querySelectorAll('rect')].map((rect) => Number(rect.getAttribute('y'))));
    const ticks = [...container.querySelectorAll('line')].map((line) => Number(line.getAttribute('y1')));
    expect(ticks.some((y) => Math.abs(y - top) < 0.01)).toBe(true);
  });
  it('keeps the words of a band off the ticks', () => {
    // 1,350 ml on a scale of 2,000: the middle of the water, 1,000 ml, is a tick.
    const { container } = render(
      <Jug
        bands={[
          { ...bands[0]!, share: 0.4815 },
          { ...bands[2]!, share: 0.5185 },
        ]}
        volume_ml={1350}
        mass_g={1700}
      />,
    );
    const ticks = [...container.querySelectorAll('line')].map((line) => Number(line.getAttribute('y1')));
    const words = [...container.querySelectorAll('text')]
      .filter((text) => /sugars|water/.test(text.textContent))
      .map((text) => Number(text.getAttribute('y')) - 5);
    expect(words).toHaveLength(2);
    for (const at of words) for (const tick of ticks) expect(Math.abs(at - tick)).toBeGreaterThanOrEqual(12);
  });
  it('is empty in words too', () => expect(jugText({ bands: [], volume_ml: null, mass_g: 0 })).toBe('An empty jug.'));
});

describe('StageRibbon', () => {
  const stages = [
    stage('Start', 1000),
    stage('Boil', 800, {
      kind: 'boil',
      flows: [{ source: 'vessel:pot', target: 'away:steam', mass_g: 200, bands: [] }],
    }),
    stage('Blend', 40, { trunk: false }),
  ];
  it('has a button for every stage, branches apart', () => {
    const select = vi.fn();
    render(
      <MantineProvider>
        <StageRibbon stages={stages} selected="Start" onSelect={select} />
      </MantineProvider>,
    );
    expect(screen.getByRole('button', { name: /Start/ }).getAttribute('aria-pressed')).toBe('true');
    fireEvent.click(screen.getByRole('button', { name: /Boil/ }));
    expect(select).toHaveBeenCalledWith('Boil', true);
    fireEvent.click(screen.getByRole('button', { name: /Start/ }), { detail: 1 });
    expect(select).toHaveBeenCalledWith('Start', false);
    expect(screen.getByRole('list', { name: 'Prepared apart' }).textContent).toContain('Blend');
  });
  it('tells what leaves', () =>
    expect(ribbonText(stages)).toContain('Stage 2, Boil: water; 800 g, 20 °C; 200 g leave.'));
});

describe('SweetLine', () => {
  const line = {
    path_brix: [6, 53, 64],
    starts_brix: 53,
    landmarks: [{ id: 'equal', title: 'equal parts', brix: 50 }],
  };
  it('says the path and the landmarks', () =>
    expect(sweetLineText(line, 64)).toBe('Starts at 53.0 and ends at 64.0 °Brix. Landmarks: equal parts 50.0.'));
  it('says so where it is dry', () => expect(sweetLineText(line, null)).toContain('no °Brix'));
});

describe('AmountField', () => {
  const shown = (text: string, type: (text: string) => void) => (
    <MantineProvider>
      <AmountField of="pear juice" text={text} mass_g={392.6} low_g={376} high_g={409} onType={type} />
    </MantineProvider>
  );
  const field = () => screen.getByLabelText<HTMLInputElement>('Amount of pear juice');
  it('hands on what is typed and shows grams with their band', () => {
    const type = vi.fn();
    render(shown('430 g', type));
    fireEvent.change(field(), { target: { value: '1 1/2 cups' } });
    expect(type).toHaveBeenCalledWith('1 1/2 cups');
    expect(screen.getByText('± 16.5')).toBeTruthy();
  });
  it('keeps a text that changes under the hands selected, to be typed over', () => {
    const { rerender } = render(shown('', vi.fn()));
    field().focus();
    rerender(shown('as water', vi.fn()));
    expect([field().selectionStart, field().selectionEnd]).toEqual([0, 8]);
  });
  it('leaves the caret alone while somebody types', () => {
    const { rerender } = render(shown('as water', vi.fn()));
    field().focus();
    fireEvent.change(field(), { target: { value: '4' } });
    rerender(shown('4', vi.fn()));
    expect(field().selectionStart).toBe(field().selectionEnd);
  });
});

describe('ReadingRow', () => {
  const reading: ReadingReport = {
    id: 'aw',
    group: 'Water',
    title: 'Water activity',
    unit: '',
    digits: 3,
    value: 0.868,
    low: 0.863,
    high: 0.873,
    why_not: '',
    formula: 'product of the solutes',
    inputs: [{ name: 'water', value: 505, unit: 'g' }],
    source: 'a table',
    valid: '0 to 95 °Bx',
    error: '0.002',
    band: '90 % interval',
  };
  it('opens to its working', () => {
    const toggle = vi.fn();
    const { rerender } = render(<ReadingRow reading={reading} open={false} onToggle={toggle} />);
    expect(screen.getByText('± 0.005')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Water activity' }));
    expect(toggle).toHaveBeenCalled();
    rerender(<ReadingRow reading={reading} open onToggle={toggle} />);
    expect(screen.getByText(/Source: a table. Holds for 0 to 95 °Bx/)).toBeTruthy();
  });
  it('says why there is no number', () => {
    render(
      <ReadingRow
        reading={{ ...reading, value: null, low: null, high: null, why_not: 'It is dry.' }}
        open
        onToggle={() => undefined}
      />,
    );
    expect(screen.getByText('It is dry.')).toBeTruthy();
    expect(screen.getByText('—')).toBeTruthy();
    expect(screen.queryByRole('textbox')).toBeNull();
  });
  it('asks for ways once a number is typed over it, and not for anything else', () => {
    const ask = vi.fn();
    render(
      <MantineProvider>
        <ReadingRow reading={reading} open={false} onToggle={vi.fn()} onAsk={ask} />
      </MantineProvider>,
    );
    const field = screen.getByLabelText<HTMLInputElement>('Water activity: type what you want');
    fireEvent.change(field, { target: { value: 'less' } });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect([ask.mock.calls.length, field.getAttribute('aria-invalid')]).toEqual([0, 'true']);
    fireEvent.change(field, { target: { value: '0,85' } });
    fireEvent.click(screen.getByRole('button', { name: 'Ways' }));
    expect(ask).toHaveBeenCalledWith(0.85);
    expect(field.value).toBe('0.868');
  });
  it('can be held, and what has no value only let go', () => {
    const hold = vi.fn();
    const shown = (held: boolean, value: number | null) => (
      <MantineProvider>
        <ReadingRow reading={{ ...reading, value }} open={false} onToggle={vi.fn()} held={held} onHold={hold} />
      </MantineProvider>
    );
    const { rerender } = render(shown(false, 0.868));
    const lock = screen.getByRole('button', { name: 'Hold Water activity' });
    expect(lock.getAttribute('aria-pressed')).toBe('false');
    fireEvent.click(lock);
    expect(hold).toHaveBeenCalledOnce();
    rerender(shown(true, null));
    expect(screen.getByRole('button', { name: 'Hold Water activity' }).getAttribute('aria-pressed')).toBe('true');
    rerender(shown(false, null));
    expect(screen.queryByRole('button', { name: 'Hold Water activity' })).toBeNull();
  });
});

describe('WayCard', () => {
  const move = (id: string, before: number | null) => ({
    reading: id,
    title: id,
    unit: 'g',
    digits: 1,
    before,
    after: 2,
  });
  const way = {
    id: 'untie-1',
    kind: 'untie',
    title: 'More sugar: 90 g',
    todo: ['Sugar: 90 g instead of 80 g'],
    ties_kept: [],
    ties_broken: ['sugar as water'],
    value: 60,
    tolerance: 0.05,
    notes: ['It may form crystals.'],
    moves: [move('a', 1), move('b', null), ...['c', 'd', 'e', 'f', 'g'].map((id) => move(id, 1))],
    document: { stages: [] },
  } as unknown as SuggestionReport;
  it('says what to do, what it breaks and what moves, and is taken', () => {
    const take = vi.fn();
    render(
      <MantineProvider>
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { enabled: false } } })}>
          <WayCard way={way} onTake={take} />
        </QueryClientProvider>
      </MantineProvider>,
    );
    for (const text of [
      'Sugar: 90 g instead of 80 g',
      'No longer follows: sugar as water.',
      '1.0 → 2.0',
      '— → 2.0',
      'and 1 more',
    ])
      expect(screen.getAllByText(text, { exact: false }).length).toBeGreaterThan(0);
    fireEvent.click(screen.getByRole('button', { name: 'Apply: More sugar: 90 g' }));
    expect(take).toHaveBeenCalled();
  });
});
