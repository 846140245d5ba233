import { MantineProvider } from '@mantine/core';
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Person, SheetReport } from '../../api/types';
import { PersonProvider } from '../../app/person';
import { strikeBell } from '../../lib/bell';
import { device } from '../../outbox/device';
import { Bell } from './Bell';
import type { Ask } from './ask';
import { EntryDialog } from './EntryDialog';
import { LastPress } from './LastPress';
import { NoteDialog } from './NoteDialog';
import { StepButton } from './StepButton';

vi.mock('../../lib/bell', async (original) => ({ ...(await original<object>()), strikeBell: vi.fn() }));

const person = { username: 'rafe', name: 'Rafe', may: ['cook'] } as unknown as Person;
const signedIn = (node: React.ReactNode) => (
  <MantineProvider env="test">
    <PersonProvider person={person}>{node}</PersonProvider>
  </MantineProvider>
);
const shown = (node: React.ReactNode) => render(signedIn(node));
const water = (onKeep: Ask['onKeep']): Ask => ({
  title: 'Weigh water',
  label: 'The scale shows',
  unit: 'g',
  keep: (value) => `Save ${value} g`,
  onKeep,
});
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));

describe('what the scale shows', () => {
  const kept = vi.fn();
  const closed = vi.fn();
  const ask: Ask = {
    title: 'Weigh pear juice',
    label: 'The scale shows',
    unit: 'g',
    keep: (value, tare) => `Save ${value - tare} g`,
    onKeep: kept,
    tares: [
      { title: 'Nothing', grams: 0 },
      { title: 'Wide pot and what is in it', grams: 1243 },
    ],
    asked: { words: 'As asked, 430 g', value: 430 },
  };
  beforeEach(() => {
    kept.mockClear();
    closed.mockClear();
    window.localStorage.clear();
    shown(<EntryDialog ask={ask} batch="b1" onClose={closed} />);
  });
  const field = () => screen.getByRole('textbox');

  it('is entered key by key, taken back, and kept less its tare', () => {
    for (const key of ['9', '0', '0', 'Take the last figure back', '5', 'point', '5']) press(key);
    expect(field()).toHaveProperty('value', '905.5');
    press('Save 905.5 g');
    expect(kept).toHaveBeenCalledWith(905.5, 0, 0);
    expect(closed).toHaveBeenCalledOnce();
  });
  it('cannot be less than what stands on the scale besides, and says so', () => {
    fireEvent.click(screen.getByText('Wide pot and what is in it, 1,243 g'));
    for (const key of '900') press(key);
    expect(screen.getByRole('alert').textContent).toContain('less than what stands on the scale besides');
    expect(screen.getByRole('button', { name: 'Save' })).toHaveProperty('disabled', true);
    fireEvent.keyDown(field(), { key: 'Enter' });
    expect(kept).not.toHaveBeenCalled();
    fireEvent.change(field(), { target: { value: '1673' } });
    expect(screen.queryByRole('alert')).toBeNull();
    press('Save 430 g');
    expect(kept).toHaveBeenCalledWith(1673, 1243, 0);
  });
  it('is as asked at one press, with the tare on it', () => {
    fireEvent.click(screen.getByText('Wide pot and what is in it, 1,243 g'));
    press('As asked, 430 g');
    expect(kept).toHaveBeenCalledWith(1673, 1243, 0);
  });
  it('is no more than any scale shows, nor nonsense', () => {
    fireEvent.change(field(), { target: { value: '1000001' } });
    expect(screen.getByRole('alert').textContent).toContain('more than 1,000,000 g');
    expect(within(screen.getByRole('dialog')).getByRole('button', { name: 'Save' })).toHaveProperty('disabled', true);
  });
});

describe('a figure that may be a slip', () => {
  const kept = vi.fn();
  const ask: Ask = {
    ...water(kept),
    slip: (value) => (value >= 2250 ? `That is ${value / 750} times as much as asked.` : null),
  };
  beforeEach(() => {
    kept.mockClear();
    window.localStorage.clear();
    shown(<EntryDialog ask={ask} batch="b1" onClose={vi.fn()} />);
  });
  const type = (value: string) => fireEvent.change(screen.getByRole('textbox'), { target: { value } });

  it('is asked about once, and saved with the second press', () => {
    type('7500');
    expect(screen.queryByRole('alert')).toBeNull();
    press('Save 7500 g');
    expect(screen.getByRole('alert').textContent).toBe('That is 10 times as much as asked.');
    expect(kept).not.toHaveBeenCalled();
    press('Save 7500 g');
    expect(kept).toHaveBeenCalledWith(7500, 0, 0);
  });
  it('is asked about again where another was typed meanwhile', () => {
    type('7500');
    press('Save 7500 g');
    type('9000');
    expect(screen.queryByRole('alert')).toBeNull();
    press('Save 9000 g');
    expect(kept).not.toHaveBeenCalled();
    type('760');
    press('Save 760 g');
    expect(kept).toHaveBeenCalledWith(760, 0, 0);
  });
});

describe('what the scale shows at the stop', () => {
  it('is taken with the pot it was worked out for, and with no other', () => {
    const kept = vi.fn();
    const then = vi.fn();
    window.localStorage.clear();
    const ask: Ask = {
      title: 'Wide pot on the scale',
      label: 'The scale shows',
      unit: 'g',
      keep: (value) => `Save ${value} g`,
      onKeep: kept,
      tares: [
        { title: 'Wide pot', grams: 1243 },
        { title: 'Nothing: tared with another like it', grams: 0 },
      ],
      asked: { words: 'It shows 2,705 g: off the heat', value: 2705, onlyWith: 1243, then },
    };
    shown(<EntryDialog ask={ask} batch="b1" onClose={vi.fn()} />);
    fireEvent.click(screen.getByText('Nothing: tared with another like it'));
    expect(screen.queryByRole('button', { name: 'It shows 2,705 g: off the heat' })).toBeNull();
    fireEvent.click(screen.getByText('Wide pot, 1,243 g'));
    press('It shows 2,705 g: off the heat');
    expect(kept).toHaveBeenCalledWith(2705, 1243, 0);
    expect(then).toHaveBeenCalledOnce();
  });
});

describe('what was typed and not kept', () => {
  beforeEach(() => window.localStorage.clear());

  it('a figure outlives a touch beside the dialog, and is gone once it was kept', () => {
    const kept = vi.fn();
    const ask = water(kept);
    const first = shown(<EntryDialog ask={ask} batch="b1" onClose={vi.fn()} />);
    for (const key of '905') press(key);
    first.unmount();
    shown(<EntryDialog ask={ask} batch="b1" onClose={vi.fn()} />);
    expect(screen.getByRole('textbox')).toHaveProperty('value', '905');
    expect(screen.getByText('905 was typed here and not saved.')).toBeTruthy();
    press('Save 905 g');
    expect(kept).toHaveBeenCalledWith(905, 0, 0);
    expect(screen.getByRole('textbox')).toHaveProperty('value', '');
  });
  it('a note outlives it too, of its own batch only', () => {
    const enter = vi.fn();
    const note = (batch: string) => (
      <NoteDialog
        opened
        batch={batch}
        there={{ grams: 1000, most: 1070 }}
        stage={null}
        enter={enter}
        onClose={vi.fn()}
      />
    );
    const first = shown(note('b1'));
    fireEvent.change(screen.getByLabelText('What is worth remembering'), {
      target: { value: 'Foams more than usual.' },
    });
    first.unmount();
    const other = shown(note('b2'));
    expect(screen.getByLabelText('What is worth remembering')).toHaveProperty('value', '');
    other.unmount();
    shown(note('b1'));
    expect(screen.getByLabelText('What is worth remembering')).toHaveProperty('value', 'Foams more than usual.');
    press('Save');
    expect(enter).toHaveBeenCalledWith({ kind: 'noted', text: 'Foams more than usual.', stage: null });
  });
  it('grams are read as people write them, and nothing is clipped in silence', () => {
    const enter = vi.fn();
    shown(
      <NoteDialog
        opened
        batch="b1"
        there={{ grams: 1000, most: 1070 }}
        begin="wasted"
        stage={null}
        enter={enter}
        onClose={vi.fn()}
      />,
    );
    fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'Spilt.' } });
    const keep = () => screen.getByRole('button', { name: 'Save' });
    for (const [typed, words] of [
      ['-5', 'Write more than 0 g.'],
      ['99999', 'There are only 1,000 g of it by what was entered. Weigh it again.'],
      ['much', '“much” is not a number in g. Write, for example, 1.5, 1/2 or 1,250.'],
      ['500 ml', '“ml” is a volume, and this is in g. Write it in g.'],
    ] as const) {
      fireEvent.change(screen.getByLabelText('How much'), { target: { value: typed } });
      expect(screen.getByText(words)).toBeTruthy();
      expect(keep()).toHaveProperty('disabled', true);
    }
    fireEvent.change(screen.getByLabelText('How much'), { target: { value: '12,5 g' } });
    fireEvent.click(keep());
    expect(enter).toHaveBeenCalledWith({ kind: 'wasted', mass_g: 12.5, reason: 'Spilt.', stage: null });
  });
});

describe('a double tap', () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  it('never does two steps: what a press has just come to mean it does not do yet', () => {
    const did = vi.fn();
    const button = (means: string) =>
      signedIn(
        <StepButton means={means} onPress={() => did(means)}>
          On
        </StepButton>,
      );
    const { rerender } = render(button('end a'));
    act(() => vi.advanceTimersByTime(500));
    press('On');
    rerender(button('end b'));
    press('On');
    act(() => vi.advanceTimersByTime(250));
    press('On');
    expect(did.mock.calls).toEqual([['end a']]);
    act(() => vi.advanceTimersByTime(250));
    press('On');
    expect(did.mock.calls).toEqual([['end a'], ['end b']]);
  });
  it('is one press while what was pressed is still being kept', () => {
    const did = vi.fn();
    shown(
      <StepButton means="end a" onPress={did}>
        On
      </StepButton>,
    );
    act(() => vi.advanceTimersByTime(500));
    press('On');
    press('On');
    expect(did).toHaveBeenCalledTimes(1);
  });
});

describe('times at the hob', () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  it('a press is taken back by holding it a second, and not by a touch or a finger that slides off', () => {
    const enter = vi.fn();
    const line = { entry: 'e1', device: device(), undone: false, kind: 'weighed', words: '430 g of pear juice' };
    shown(<LastPress sheet={{ status: 'running', log: [line] } as unknown as SheetReport} enter={enter} />);
    const undo = screen.getByRole('button', { name: /^Undo: 430 g of pear juice/ });
    for (const end of [fireEvent.pointerUp, fireEvent.pointerLeave]) {
      fireEvent.pointerDown(undo);
      act(() => vi.advanceTimersByTime(900));
      end(undo);
      act(() => vi.advanceTimersByTime(2000));
      expect(enter).not.toHaveBeenCalled();
    }
    fireEvent.pointerDown(undo);
    act(() => vi.advanceTimersByTime(1001));
    expect(enter).toHaveBeenCalledExactlyOnceWith({ kind: 'undone', entry: 'e1' });
    fireEvent.keyDown(undo, { key: 'Enter' });
    expect(enter).toHaveBeenCalledTimes(2);
  });
  it('a bell rings until what is due is turned off, for three minutes at most, and not where ringing is off', () => {
    const rings = vi.mocked(strikeBell).mockClear();
    const { rerender } = shown(<Bell due={[]} look={[]} />);
    const due = (...what: string[]) => rerender(signedIn(<Bell due={what} look={[]} />));
    expect(rings).not.toHaveBeenCalled();
    due('steep');
    expect(rings).toHaveBeenCalledTimes(1);
    act(() => vi.advanceTimersByTime(12_500));
    expect(rings).toHaveBeenCalledTimes(3);
    due();
    act(() => vi.advanceTimersByTime(60_000));
    expect(rings).toHaveBeenCalledTimes(3);
    due('cool');
    act(() => vi.advanceTimersByTime(600_000));
    expect(rings.mock.calls.length).toBeGreaterThan(20);
    expect(rings.mock.calls.length).toBeLessThan(36);
    rings.mockClear();
    press('Ring when a timer runs out');
    due('cool', 'steep');
    act(() => vi.advanceTimersByTime(60_000));
    expect(rings).not.toHaveBeenCalled();
    press('Ring when a timer runs out');
    expect(rings).toHaveBeenCalledTimes(1);
  });
});
