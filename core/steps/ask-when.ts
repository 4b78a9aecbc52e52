import { fieldLabel } from '../items/field-label.ts';
import { cutGraphemes } from '../text/graphemes.ts';
import type { Plan } from './verb.ts';

/** Without a moment nobody can say how long: a person is asked, and what they write is read. */
export function askWhen(said: string, field: string): Plan {
  const label = fieldLabel(field);
  const says =
    said === ''
      ? `${label} is empty. When should this go on? Write a date and a time.`
      : `“${cutGraphemes(said, 60)}” in ${label} cannot be read as a date, or can be read in two ways. Write it like 2026-11-25 18:30.`;
  const blocked = { trouble: 'date' as const, says };
  return { go: 'perform', effects: [{ action: 'hold', outlet: null, input: { text: said }, blocked }] };
}
