import { type ApiProblem, sentence } from '../../api/problem';
import type { WalkReport } from '../../api/types';

/** What is wrong at a field or below it: the newest refusal, else a fault of the walk. */
export function complaintAt(field: string, problem: ApiProblem | null, report: WalkReport | null): string | undefined {
  const refused = problem?.textFor(field);
  if (refused) return refused;
  if (problem) return undefined;
  const fault = report?.faults.find((each) => each.field === field || each.field.startsWith(`${field}.`));
  return fault && sentence({ ...fault });
}

const OWN_FIELDS = /^(lines|stages)\./;

/** Refusals that belong to no line and no stage. */
export function generalComplaints(problem: ApiProblem | null): string[] {
  return (problem?.items ?? []).filter((item) => !OWN_FIELDS.test(item.field)).map(sentence);
}
