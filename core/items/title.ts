import { fieldLabel } from './catalogue.ts';
import type { Fields } from './item.ts';
import { fieldText } from './read-field.ts';

/** Fields that sources commonly name their things by. */
const NAMES = ['title', 'name', 'subject', 'headline', 'summary'];

/** What an item is called on a screen: its title, or what it says first. */
export function itemTitle(fields: Fields): string {
  for (const name of NAMES) {
    const text = fieldText(fields[name]).trim();
    if (text) return text;
  }
  const said: string[] = [];
  for (const [name, value] of Object.entries(fields)) {
    if (typeof value === 'number') said.push(`${fieldLabel(name)} ${value}`);
    else if (typeof value === 'string' && value.trim() && value.length < 200 && !/^https?:/.test(value))
      said.push(value.trim());
    if (said.length === 3) break;
  }
  return said.join(', ') || 'Untitled';
}
