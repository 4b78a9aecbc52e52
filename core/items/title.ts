import { fieldLabel } from './field-label.ts';
import type { Fields } from './item.ts';
import { cutGraphemes } from '../text/graphemes.ts';
import { fieldText, readField } from './read-field.ts';

/** Fields that sources commonly name their things by. */
const NAMES = ['title', 'name', 'subject', 'headline', 'summary'];

/** Fields with what somebody wrote. */
const WORDS = ['text', 'caption', 'class'];
const LONGEST = 120;

/** What an item is called on a screen: its title, who said what, or what it says first. */
export function itemTitle(fields: Fields): string {
  for (const name of NAMES) {
    const text = fieldText(fields[name]).trim();
    if (text) return text;
  }
  const who = fieldText(readField(fields, 'person.name') ?? readField(fields, 'author.name')).trim();
  const stars = typeof fields.stars === 'number' ? '★'.repeat(Math.min(5, Math.max(0, Math.round(fields.stars)))) : '';
  const words = WORDS.map((name) => fieldText(fields[name]).trim()).find(Boolean) ?? '';
  const heads = [who, stars].filter(Boolean).join(' ');
  if (words) return shortened(heads ? `${heads}: ${words}` : words);
  if (stars && who) return heads;
  const said: string[] = [];
  for (const [name, value] of Object.entries(fields)) {
    if (typeof value === 'number') said.push(`${fieldLabel(name)} ${value}`);
    else if (typeof value === 'string' && value.trim() && value.length < 200 && !/^https?:/.test(value))
      said.push(value.trim());
    if (said.length === 3) break;
  }
  return said.join(', ') || 'Untitled';
}

function shortened(text: string): string {
  const cut = cutGraphemes(text, LONGEST);
  return cut === text ? text : `${cut.trimEnd()}…`;
}
