// Whether something starts a workflow: pure, so that the live driver and a test say the same.
import { testsIn } from '../conditions/condition.ts';
import { evaluate } from '../conditions/evaluate.ts';
import { momentOf, OPERATORS } from '../conditions/operators.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, isEmpty, readField } from '../items/read-field.ts';
import type { Written } from '../text/local-moment.ts';
import type { Trigger } from './trigger.ts';
import { nextTurn } from './turning.ts';

/** What is remembered of one thing for a trigger that waits for a condition. */
export interface Readiness {
  /** Whether the condition held when it was last looked at. */
  holds: boolean;
  /** When it turns by itself, as the fields are: milliseconds since 1970 UTC; null for never. */
  turnsAt: number | null;
}

export interface Turned extends Readiness {
  /** It holds, and did not before. */
  turned: boolean;
}

/**
 * What becomes of a condition that a trigger waits for.
 *
 * @param before null for something not seen before: if its condition holds, it has just turned
 */
export function becoming(
  { when }: Extract<Trigger, { on: 'becomes' }>,
  before: Pick<Readiness, 'holds'> | null,
  fields: Fields,
  now: number,
  written?: Written,
): Turned {
  const { holds } = evaluate(when, fields, now, written);
  return { holds, turned: holds && !before?.holds, turnsAt: nextTurn(when, fields, now, written) };
}

/**
 * Fields that say something which cannot be read as a date, where that alone keeps a condition from ever holding: somebody
 * has to be told, or they would wait for ever.
 */
export function undated(
  { when }: Extract<Trigger, { on: 'becomes' }>,
  fields: Fields,
  now: number,
  written?: Written,
): { field: string; says: string }[] {
  const unread = testsIn(when).flatMap(({ field, op }) => {
    const value = readField(fields, field);
    if (!OPERATORS[op].turns || isEmpty(value) || momentOf(value, written) !== null) return [];
    return [{ field, says: fieldText(value) }];
  });
  const different = [...new Map(unread.map((each) => [each.field, each])).values()];
  if (different.length === 0) return [];
  // With some date in its place it would hold, now or later.
  const wouldHold = [now - 1000, now + 1000].some((moment) => {
    const dated = { ...fields };
    for (const { field } of different) setPath(dated, field, new Date(moment).toISOString());
    return evaluate(when, dated, now, written).holds || nextTurn(when, dated, now, written) !== null;
  });
  return wouldHold ? different : [];
}

/** Puts a value where a path leads; records on the way are copied. */
function setPath(fields: Fields, path: string, value: string): void {
  if (Object.hasOwn(fields, path)) return void (fields[path] = value);
  const [name, ...rest] = path.split('.');
  const inner = fields[name!];
  if (rest.length === 0 || inner === null || typeof inner !== 'object' || Array.isArray(inner)) return;
  const copy = { ...inner };
  setPath(copy, rest.join('.'), value);
  fields[name!] = copy;
}

/** Whether one of these fields says something else than before. */
export function differsIn(paths: readonly string[], before: Fields, after: Fields): boolean {
  return paths.some(
    (path) => JSON.stringify(readField(before, path) ?? null) !== JSON.stringify(readField(after, path) ?? null),
  );
}
