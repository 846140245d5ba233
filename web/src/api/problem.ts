/** One thing that is wrong: where, what, and what to do. */
export interface ProblemItem {
  code: string;
  field: string;
  message: string;
  remedy: string;
  /** Where in a text the word that stopped it begins and ends. */
  at?: [number, number] | null;
  /** Texts that may have been meant. */
  choices?: string[];
}

/** Every failure of a call becomes one of these, a lost network included. */
export class ApiProblem extends Error {
  readonly status: number;
  readonly items: ProblemItem[];
  /** What it is now, where somebody else changed it first. */
  readonly theirs: unknown;

  constructor(status: number, items: ProblemItem[], theirs?: unknown) {
    super(items.map((item) => `${item.message} ${item.remedy}`).join(' '));
    this.name = 'ApiProblem';
    this.status = status;
    this.items = items;
    this.theirs = theirs;
  }

  /** The sentence for a field, or undefined. */
  textFor(field: string): string | undefined {
    const item = this.itemFor(field);
    return item && sentence(item);
  }

  /** What is wrong at a field or below it, or undefined. */
  itemFor(field: string): ProblemItem | undefined {
    return this.items.find((each) => each.field === field || each.field.startsWith(`${field}.`));
  }
}

export function sentence(item: ProblemItem): string {
  return `${item.message} ${item.remedy}`.trim();
}

/** Reads a refusal's body, whatever it is. */
export function problemFrom(status: number, body: unknown): ApiProblem {
  if (typeof body === 'object' && body !== null && Array.isArray((body as { problems?: unknown }).problems)) {
    const known = body as { problems: ProblemItem[]; theirs?: unknown };
    return new ApiProblem(status, known.problems, known.theirs);
  }
  return new ApiProblem(status, [
    { code: 'unreadable', field: '', message: 'The answer could not be read.', remedy: 'Try again in a moment.' },
  ]);
}

export function networkProblem(): ApiProblem {
  return new ApiProblem(0, [
    {
      code: 'offline',
      field: '',
      message: 'The app cannot be reached.',
      remedy: 'What you typed stays here; it goes on as soon as the connection is back.',
    },
  ]);
}
