import type { BoilEnd, Line, MethodDocument, Stage, StarterStage, Vessel } from '../../api/types';

/** Edits of a document. Each gives a new one; none knows a rule of the job. */
export type Edit = (document: MethodDocument) => MethodDocument;

function ids(document: MethodDocument): Set<string> {
  const found = new Set<string>(document.vessels.map((vessel) => vessel.id));
  for (const stage of document.stages) {
    found.add(stage.id);
    for (const line of linesOf(stage)) found.add(line.id);
  }
  return found;
}

/** An id of this document that nothing has yet. */
export function newId(document: MethodDocument, beginning: string): string {
  const taken = ids(document);
  let n = 1;
  while (taken.has(`${beginning}-${n}`)) n += 1;
  return `${beginning}-${n}`;
}

export function linesOf(stage: Stage): Line[] {
  return 'lines' in stage ? stage.lines : [];
}

/** The vessel that holds what a stage made. */
export function writtenBy(stage: Stage): string {
  return 'into' in stage ? stage.into : stage.vessel;
}

function onStage(id: string, change: (stage: Stage) => Stage): Edit {
  return (document) => ({
    ...document,
    stages: document.stages.map((stage) => (stage.id === id ? change(stage) : stage)),
  });
}

export function setField<K extends 'name' | 'family' | 'school' | 'notes' | 'measures'>(
  field: K,
  value: MethodDocument[K],
): Edit {
  return (document) => ({ ...document, [field]: value });
}

/** A line's amount (or a join's), as typed. */
export function setAmount(id: string, text: string): Edit {
  return (document) => ({
    ...document,
    stages: document.stages.map((stage) => {
      if (stage.kind === 'join' && stage.id === id) return { ...stage, amount: text };
      if (!('lines' in stage)) return stage;
      return { ...stage, lines: stage.lines.map((line) => (line.id === id ? { ...line, amount: text } : line)) };
    }),
  });
}

export function addLine(stageId: string, line: Line): Edit {
  return onStage(stageId, (stage) => ('lines' in stage ? { ...stage, lines: [...stage.lines, line] } : stage));
}

/** One ingredient in place of another, at every line that has it. */
export const replaceSubstance =
  (before: string, after: string): Edit =>
  (document) => ({
    ...document,
    stages: document.stages.map((stage) =>
      'lines' in stage
        ? {
            ...stage,
            lines: stage.lines.map((line) => (line.substance === before ? { ...line, substance: after } : line)),
          }
        : stage,
    ),
  });

export function removeLine(id: string): Edit {
  return onLines((lines) => lines.filter((line) => line.id !== id));
}

function onLines(change: (lines: Line[]) => Line[]): Edit {
  return (document) => ({
    ...document,
    stages: document.stages.map((stage) => ('lines' in stage ? { ...stage, lines: change(stage.lines) } : stage)),
  });
}

/** Replaces fields of a line. */
export function patchLine(id: string, patch: Partial<Line>): Edit {
  return onLines((lines) => lines.map((line) => (line.id === id ? { ...line, ...patch } : line)));
}

/** Moves a line one place within its stage; -1 is earlier. */
export function moveLine(id: string, by: -1 | 1): Edit {
  return onLines((lines) =>
    swapped(
      lines,
      lines.findIndex((line) => line.id === id),
      by,
    ),
  );
}

/** The list with the item at `at` moved by one place; itself where there is no such place. */
function swapped<T>(list: T[], at: number, by: -1 | 1): T[] {
  const to = at + by;
  if (at < 0 || to < 0 || to >= list.length) return list;
  const moved = [...list];
  moved.splice(to, 0, ...moved.splice(at, 1));
  return moved;
}

/** Replaces fields of a stage; the caller keeps to the fields of its kind. */
export function patchStage(id: string, patch: Record<string, unknown>): Edit {
  return onStage(id, (stage) => ({ ...stage, ...patch }) as Stage);
}

export function setBoilEnd(id: string, end: BoilEnd): Edit {
  return patchStage(id, { until: end });
}

export function removeStage(id: string): Edit {
  return (document) => ({ ...document, stages: document.stages.filter((stage) => stage.id !== id) });
}

/** Moves a stage one place; -1 is earlier. */
export function moveStage(id: string, by: -1 | 1): Edit {
  return (document) => {
    const stages = swapped(
      document.stages,
      document.stages.findIndex((stage) => stage.id === id),
      by,
    );
    return stages === document.stages ? document : { ...document, stages };
  };
}

export function setVessel(id: string, patch: Partial<Vessel>): Edit {
  return (document) => ({
    ...document,
    vessels: document.vessels.map((vessel) => (vessel.id === id ? { ...vessel, ...patch } : vessel)),
  });
}

const KEPT_BACK: Partial<Record<Stage['kind'], string>> = {
  strain: 'the cake of',
  press: 'the cake of',
  trim: 'the trimmings of',
};

/** What the sieves, knives and presses before a stage kept back, as vessels. */
export function cakesBefore(document: MethodDocument, stageId: string): { id: string; name: string }[] {
  const at = document.stages.findIndex((stage) => stage.id === stageId);
  return document.stages
    .slice(0, at)
    .filter((stage) => KEPT_BACK[stage.kind])
    .map((stage) => ({ id: `cake:${stage.id}`, name: `${KEPT_BACK[stage.kind]} ${stage.name ?? stage.kind}` }));
}

/** Has a stage work on, pour into or take from a vessel that was not there before. */
export function intoNewVessel(id: string, parameter: 'vessel' | 'into' | 'source'): Edit {
  return (document) => {
    const vessel = madeVessel(document, parameter === 'into' ? 'Jug' : 'Bowl');
    return patchStage(id, { [parameter]: vessel.id })({ ...document, vessels: [...document.vessels, vessel] });
  };
}

/** A vessel not yet there, called `name`, with a number after it if the name is taken. */
function madeVessel(document: MethodDocument, name: string): Vessel {
  const taken = new Set(document.vessels.map((vessel) => vessel.name));
  let called = name;
  for (let n = 2; taken.has(called); n += 1) called = `${name} ${n}`;
  return { id: newId(document, 'vessel'), name: called };
}

/**
 * Puts a new stage behind another (or last). It works on the vessel the stage before it
 * wrote; a kind that needs a vessel of its own, or one below it, gets a new one.
 */
export function insertStage(starter: StarterStage, after: string | null): Edit {
  return (document) => {
    const at = after === null ? document.stages.length - 1 : document.stages.findIndex((stage) => stage.id === after);
    const before = document.stages[at];
    let vessels = document.vessels;
    const add = (name: string) => {
      const vessel = madeVessel({ ...document, vessels }, name);
      vessels = [...vessels, vessel];
      return vessel.id;
    };
    const here = before ? writtenBy(before) : (vessels[0]?.id ?? add('Pot'));
    const vessel = starter.new_vessel ? add(starter.new_vessel) : here;
    const stage: Record<string, unknown> = {
      ...starter.document,
      id: newId(document, starter.kind),
      kind: starter.kind,
      vessel,
    };
    if (starter.into) stage.into = add(starter.into);
    if (starter.kind === 'join') stage.source = vessels.find((each) => each.id !== vessel)?.id ?? add('Bowl');
    const stages = [...document.stages];
    stages.splice(at + 1, 0, stage as Stage);
    return { ...document, vessels, stages };
  };
}
