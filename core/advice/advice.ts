import type { Problem } from '../model/problems.ts';
import type { Lint } from '../rehearsal/lints.ts';
import type { Definition } from '../workflow/definition.ts';

/** Something seen in real items, with a remedy where there is a safe one. */
export interface Advice extends Problem {
  /** What to filter the sheet by to see the items meant. */
  show?: 'too-long' | 'empty' | Lint | undefined;
  remedy?: { says: string; apply: (definition: Definition) => void } | undefined;
}
