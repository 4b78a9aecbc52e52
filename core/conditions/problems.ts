import type { Problem } from '../model/problems.ts';
import { testsIn, type Group } from './condition.ts';
import { OPERATORS } from './operators.ts';

/** What is wrong with a condition as it stands. @param what how the thing that asks is called: "This check" */
export function conditionProblems(step: string, condition: Group, what: string): Problem[] {
  const tests = testsIn(condition);
  if (tests.length === 0) return [{ level: 'advice', step, says: `${what} asks nothing, so everything passes.` }];
  const unfinished = tests.some(
    (test) =>
      test.field === '' || (OPERATORS[test.op].asks !== 'nothing' && (test.value === undefined || test.value === '')),
  );
  const name = what.charAt(0).toLowerCase() + what.slice(1);
  return unfinished ? [{ level: 'harm', step, says: `A question of ${name} is not finished.` }] : [];
}
