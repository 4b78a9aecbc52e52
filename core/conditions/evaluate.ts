import { fieldInfo } from '../shapes/catalogue.ts';
import type { FieldValue, Fields } from '../items/item.ts';
import { LANGUAGES } from '../said/language.ts';
import { fieldText, isEmpty, readField } from '../items/read-field.ts';
import { clockLength, spokenLength } from '../text/durations.ts';
import type { Written } from '../text/local-moment.ts';
import type { Condition, Test } from './condition.ts';
import { numberOf, OPERATORS } from './operators.ts';

/** Whether a condition holds for an item, and the few words that say why. */
export interface Verdict {
  holds: boolean;
  why: string;
}

/**
 * @param now milliseconds since 1970 UTC, for questions about the last days
 * @param written where dates without a zone were written
 */
export function evaluate(condition: Condition, fields: Fields, now: number, written?: Written): Verdict {
  if (condition.type === 'test') return evaluateTest(condition, fields, now, written);
  const { items, match } = condition;
  if (items.length === 0) return { holds: true, why: '' };
  let reasons = '';
  for (const item of items) {
    const verdict = evaluate(item, fields, now, written);
    // One reason is enough to stop, and one is enough to pass; the rest would only be noise in a cell.
    if (verdict.holds === (match === 'any')) return verdict;
    if (verdict.why) reasons += reasons ? `, ${verdict.why}` : verdict.why;
  }
  return { holds: match === 'all', why: reasons };
}

function evaluateTest(test: Test, fields: Fields, now: number, written?: Written): Verdict {
  const rule = OPERATORS[test.op];
  const field = readField(fields, test.field);
  const holds = rule.holds(field, test.value ?? '', now, written);
  return { holds, why: explain(test, field, holds) };
}

function explain(test: Test, field: FieldValue | undefined, holds: boolean): string {
  const rule = OPERATORS[test.op];
  // Asked for where it is said: most reasons do not name the field, and there is one for every item.
  const label = () => fieldInfo(test.field).label;
  if (rule.explains) return isEmpty(field) ? `${label()} is empty` : rule.explains(field, test.value ?? '', holds);
  if (rule.asks === 'nothing') return `${label()} ${holds ? rule.says : rule.saysNot}`;
  if (isEmpty(field) && rule.asks !== 'text') return `${label()} is empty`;
  if (rule.asks === 'length') {
    const seconds = numberOf(field);
    if (seconds === undefined) return [`${label()} is no length`, fieldText(field)].filter(Boolean).join(': ');
    const said = clockLength(seconds);
    return holds ? said : `${said} ${rule.saysNot} ${spokenLength(Number(test.value))}`;
  }
  if (test.op === 'within') {
    return holds ? `${label()} within ${test.value} days` : `${label()} more than ${test.value} days ago`;
  }
  if (rule.asks === 'number' && test.op !== 'longerText' && test.op !== 'shorterText') {
    return holds ? fieldText(field) : `${fieldText(field)} ${rule.saysNot} ${test.value}`;
  }
  // That something unwanted is absent goes without saying.
  if (holds && (test.op === 'lacks' || test.op === 'isNot')) return '';
  return `${label()} ${holds ? rule.says : rule.saysNot} ${rule.asks === 'text' ? `“${test.value ?? ''}”` : (test.value ?? '')}`;
}

/** The condition as part of a sentence: "Length is over 2 min and Title does not contain “rerun”". */
export function sayCondition(condition: Condition): string {
  if (condition.type === 'test') return sayTest(condition);
  const joined = condition.match === 'all' ? ' and ' : ' or ';
  return condition.items
    .map((item) => (item.type === 'group' && item.items.length > 1 ? `(${sayCondition(item)})` : sayCondition(item)))
    .filter(Boolean)
    .join(joined);
}

function sayTest(test: Test): string {
  const rule = OPERATORS[test.op];
  const label = fieldInfo(test.field).label.toLowerCase();
  if (test.field === '') return '';
  if (rule.asks === 'nothing') return `${label} ${rule.says}`;
  if (rule.asks === 'length') return `${label} ${rule.says} ${spokenLength(Number(test.value ?? 0))}`;
  if (rule.asks === 'language') return `${label} ${rule.says} ${LANGUAGES[String(test.value)] ?? '…'}`;
  if (test.op === 'within') return `${label} is within the last ${test.value ?? 0} days`;
  return `${label} ${rule.says} ${rule.asks === 'text' ? `“${test.value ?? ''}”` : (test.value ?? '')}`;
}
