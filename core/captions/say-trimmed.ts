import { fieldLabel } from '../items/field-label.ts';
import type { Trimmed } from './trimming.ts';

/**
 * What was given up so that words fit, in a few words: "Description shortened, 2 hashtags left out". Empty when nothing
 * was.
 *
 * @param where where that was, with a space before it: " in the title"
 */
export function sayTrimmed({ hashtags, fields, optional }: Trimmed, where = ''): string {
  const left = [
    ...(hashtags > 0 ? [counted(hashtags, 'hashtag')] : []),
    ...(optional > 0 ? [counted(optional, 'optional part')] : []),
  ];
  return [
    ...(fields.length > 0 ? [`${fields.map(nameOf).join(' and ')} shortened${where}`] : []),
    ...(left.length > 0 ? [`${left.join(' and ')} left out${where}`] : []),
  ].join(', ');
}

/** The same for the words of a post and for its title. */
export function sayTrimmedParts(cuts: { text?: Trimmed | undefined; title?: Trimmed | undefined } | undefined): string {
  if (!cuts) return '';
  return [cuts.text && sayTrimmed(cuts.text), cuts.title && sayTrimmed(cuts.title, ' in the title')]
    .filter(Boolean)
    .join('; ');
}

const nameOf = (field: string) => (field === '' ? 'the words' : fieldLabel(field));
const counted = (number: number, what: string) => `${number} ${what}${number === 1 ? '' : 's'}`;
