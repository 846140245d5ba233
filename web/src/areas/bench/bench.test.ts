import { act, renderHook } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import { ApiProblem, problemFrom } from '../../api/problem';
import { benchPath, keptDraft, keptDrafts } from '../../lib/keptDrafts';
import { useDraft } from '../../lib/useDraft';
import type { MethodDocument, StarterStage, WalkReport } from '../../api/types';
import { complaintAt, generalComplaints } from './complaints';
import { addLine, insertStage, moveStage, newId, removeLine, setAmount, setField } from './edits';

const start: MethodDocument = {
  format: 'oakenjug.method/2',
  name: 'Test',
  family: '',
  school: '',
  notes: '',
  substances: {},
  vessels: [{ id: 'pot', name: 'Pot' }],
  stages: [
    { id: 'a', kind: 'add', vessel: 'pot', note: '', lines: [{ id: 'w', substance: 'water', amount: '500 g' }] },
    { id: 'b', kind: 'boil', vessel: 'pot', note: '', until: { brix: 64 }, vigour: 'simmer' },
  ],
};
const starter = (kind: string, more: Partial<StarterStage> = {}) =>
  ({ kind, title: kind, words: '', document: {}, ...more }) as StarterStage;

describe('edits', () => {
  it('change one thing and leave the old document as it was', () => {
    const before = JSON.stringify(start);
    expect(setAmount('w', '1 kg')(start).stages[0]).toMatchObject({ lines: [{ id: 'w', amount: '1 kg' }] });
    expect(removeLine('w')(start).stages[0]).toMatchObject({ lines: [] });
    expect(moveStage('b', -1)(start).stages.map((s) => s.id)).toEqual(['b', 'a']);
    expect(moveStage('a', -1)(start)).toBe(start);
    expect(JSON.stringify(start)).toBe(before);
  });
  it('give ids nobody has', () => {
    const more = addLine('a', { id: newId(start, 'line'), substance: 'water', amount: '' })(start);
    expect(newId(more, 'line')).toBe('line-2');
  });
  it('put a stage on the vessel that the one before wrote', () => {
    const strained = insertStage(starter('strain', { into: 'Jug', document: { pressed: false } }), null)(start);
    const jug = strained.vessels.find((v) => v.name === 'Jug')!;
    expect(strained.stages[2]).toMatchObject({ kind: 'strain', vessel: 'pot', into: jug.id });
    const filled = insertStage(starter('fill', { into: 'Jug', document: { size_ml: 500 } }), null)(strained);
    expect(filled.stages[3]).toMatchObject({ vessel: jug.id });
    expect(filled.vessels.map((v) => v.name)).toEqual(['Pot', 'Jug', 'Jug 2']);
    const blended = insertStage(starter('blend', { new_vessel: 'Blend', document: { lines: [] } }), 'a')(start);
    expect(blended.stages.map((s) => s.kind)).toEqual(['add', 'blend', 'boil']);
    expect(blended.stages[1]!.vessel).not.toBe('pot');
  });
});

describe('useDraft', () => {
  beforeEach(() => window.localStorage.clear());
  it('undoes typing in one field as one, and another field apart', () => {
    const { result } = renderHook(() => useDraft('formula', 'ines', 'x', start, start, 1));
    act(() => result.current.edit('name', setField('name', 'A')));
    act(() => result.current.edit('name', setField('name', 'AB')));
    act(() => result.current.edit('school', setField('school', 'clear')));
    expect([result.current.undos, result.current.changed]).toEqual([2, true]);
    act(() => result.current.undo());
    expect([result.current.document.name, result.current.document.school]).toEqual(['AB', '']);
    act(() => result.current.undo());
    expect(result.current.document.name).toBe('Test');
    act(() => result.current.redo());
    expect(result.current.document.name).toBe('AB');
  });
  it('keeps a copy until it is saved, and what is typed during a save', () => {
    const { result } = renderHook(() => useDraft('formula', 'ines', 'x', start, start, 1));
    act(() => result.current.edit('name', setField('name', 'Mine')));
    const sent = result.current.document;
    expect(keptDraft('ines', 'x')).toMatchObject({ base: 1, document: { name: 'Mine' } });
    act(() => result.current.edit('school', setField('school', 'later')));
    act(() => result.current.markSaved({ ...sent }, 2, sent));
    expect([result.current.document.school, result.current.base, result.current.changed]).toEqual(['later', 2, true]);
  });
});

describe('kept drafts', () => {
  beforeEach(() => window.localStorage.clear());
  it('are kept apart for each person, with the bench they are on', () => {
    const { result } = renderHook(() => useDraft('formula', 'ines', 'new-blank', start, null, 0));
    act(() => result.current.edit('name', setField('name', 'Mine')));
    expect(keptDrafts('ines').map((draft) => [draft.id, draft.document.name])).toEqual([['new-blank', 'Mine']]);
    expect(keptDrafts('mina')).toEqual([]);
    expect(keptDraft('mina', 'new-blank')).toBeNull();
    expect(['new-blank', 'copy-7f', '7f-2'].map(benchPath)).toEqual([
      '/formulas/new/blank',
      '/formulas/copy/7f',
      '/formulas/7f-2',
    ]);
  });
  it('that cannot be read are not there', () => {
    window.localStorage.setItem('oakenjug.draft.ines.x', '{half');
    expect(keptDrafts('ines')).toEqual([]);
  });
});

describe('complaints', () => {
  const item = (field: string) => ({ code: 'x', field, message: 'Wrong.', remedy: 'Do this.' });
  it('stand at their field, or above all', () => {
    const problem = new ApiProblem(422, [item('lines.w.amount'), item('finished')]);
    expect(complaintAt('lines.w', problem, null)).toBe('Wrong. Do this.');
    expect(complaintAt('lines.z', problem, null)).toBeUndefined();
    expect(generalComplaints(problem)).toEqual(['Wrong. Do this.']);
  });
  it('come from the walk where nothing was refused', () => {
    const report = { faults: [item('stages.b.brix')] } as unknown as WalkReport;
    expect(complaintAt('stages.b.brix', null, report)).toBe('Wrong. Do this.');
  });
  it('are made of any answer', () => {
    expect(problemFrom(502, '<html>').items[0]!.message).toContain('could not be read');
    expect(problemFrom(409, { problems: [item('draft')], theirs: { draft: 2 } }).theirs).toEqual({ draft: 2 });
  });
});
