import { MantineProvider } from '@mantine/core';
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SheetReport } from '../../api/types';
import { strikeBell } from '../../lib/bell';
import { device } from '../../outbox/device';
import { Bell } from './Bell';
import { type Ask, EntryDialog } from './EntryDialog';
import { LastPress } from './LastPress';

vi.mock('../../lib/bell', async (original) => ({ ...(await original<object>()), strikeBell: vi.fn() }));

const shown = (node: React.ReactNode) => render(<MantineProvider env="test">{node}</MantineProvider>);
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));

describe('what the scale shows', () => {
  const kept = vi.fn();
  const closed = vi.fn();
  const ask: Ask = {
    title: 'Weigh pear juice', label: 'The scale shows', unit: 'g', keep: (value, tare) => `Keep ${value - tare} g`, onKeep: kept,
    tares: [{ title: 'Nothing', grams: 0 }, { title: 'Wide pot and what is in it', grams: 1243 }], asked: { words: 'As asked, 430 g', value: 430 },
  };
  beforeEach(() => {
    kept.mockClear();
    closed.mockClear();
    shown(<EntryDialog ask={ask} onClose={closed} />);
  });
  const field = () => screen.getByRole('textbox');

  it('is entered key by key, taken back, and kept less its tare', () => {
    for (const key of ['9', '0', '0', 'Take the last figure back', '5', 'point', '5']) press(key);
    expect(field()).toHaveProperty('value', '905.5');
    press('Keep 905.5 g');
    expect(kept).toHaveBeenCalledWith(905.5, 0, 0);
    expect(closed).toHaveBeenCalledOnce();
  });
  it('cannot be less than what stands on the scale besides, and says so', () => {
    fireEvent.click(screen.getByText('Wide pot and what is in it, 1,243 g'));
    for (const key of '900') press(key);
    expect(screen.getByRole('alert').textContent).toContain('less than what stands on the scale besides');
    expect(screen.getByRole('button', { name: 'Keep it' })).toHaveProperty('disabled', true);
    fireEvent.keyDown(field(), { key: 'Enter' });
    expect(kept).not.toHaveBeenCalled();
    fireEvent.change(field(), { target: { value: '1673' } });
    expect(screen.queryByRole('alert')).toBeNull();
    press('Keep 430 g');
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
    expect(within(screen.getByRole('dialog')).getByRole('button', { name: 'Keep it' })).toHaveProperty('disabled', true);
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
    const due = (...what: string[]) => rerender(<MantineProvider env="test"><Bell due={what} look={[]} /></MantineProvider>);
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
