import type { FieldValue, Fields } from './item.ts';
import { fieldText, isEmpty } from './read-field.ts';

export type FieldType = 'text' | 'number' | 'date' | 'length' | 'link' | 'picture' | 'flag' | 'list';

/** One field that items of a source have, as the bench lists it. */
export interface FieldInfo {
  path: string;
  /** The name a person reads: "Thumbnail · width". */
  label: string;
  type: FieldType;
  /** In how many of the items looked at it says nothing. */
  emptyIn: number;
}

/** Names and types of the fields that Playa's own readers of feeds and networks make. */
const KNOWN: Record<string, { label: string; type: FieldType }> = {
  title: { label: 'Title', type: 'text' },
  link: { label: 'Link', type: 'link' },
  description: { label: 'Description', type: 'text' },
  content: { label: 'Full text', type: 'text' },
  published: { label: 'Published', type: 'date' },
  updated: { label: 'Updated', type: 'date' },
  length: { label: 'Length', type: 'length' },
  id: { label: 'Identifier', type: 'text' },
  author: { label: 'Author', type: 'text' },
  'author.name': { label: 'Author', type: 'text' },
  categories: { label: 'Categories', type: 'list' },
  channel: { label: 'Channel', type: 'text' },
  'thumbnail.url': { label: 'Thumbnail', type: 'picture' },
  'picture.url': { label: 'Picture', type: 'picture' },
  'video.url': { label: 'Video file', type: 'link' },
};

const ISO_MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d/;

/** "videoCodec.maxWidth" → "Video codec · max width". */
export function fieldLabel(path: string): string {
  const known = KNOWN[path];
  if (known) return known.label;
  const words = path
    .split('.')
    .map((part) =>
      part
        .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
        .replace(/[_-]+/g, ' ')
        .toLowerCase(),
    )
    .join(' · ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function typeOf(path: string, value: FieldValue): FieldType {
  const known = KNOWN[path];
  if (known) return known.type;
  if (typeof value === 'number') return 'number';
  if (typeof value === 'boolean') return 'flag';
  if (Array.isArray(value)) return 'list';
  if (typeof value === 'string' && ISO_MOMENT.test(value)) return 'date';
  if (typeof value === 'string' && /^https?:\/\/\S+$/.test(value)) return 'link';
  return 'text';
}

/** The field's path, label and type, when only its path is known. */
export function fieldInfo(path: string): FieldInfo {
  return { path, label: fieldLabel(path), type: KNOWN[path]?.type ?? 'text', emptyIn: 0 };
}

/**
 * Lists every field that occurs in the given items, nested ones included, in a steady order: those Playa knows first,
 * then as they were found.
 */
export function catalogue(items: readonly Fields[]): FieldInfo[] {
  const found = new Map<string, FieldInfo & { filledIn: number }>();
  const visit = (prefix: string, fields: Fields) => {
    for (const [name, value] of Object.entries(fields)) {
      const path = prefix + name;
      if (value !== null && typeof value === 'object' && !Array.isArray(value)) {
        visit(path + '.', value);
        continue;
      }
      let info = found.get(path);
      if (!info) {
        info = { path, label: fieldLabel(path), type: 'text', emptyIn: 0, filledIn: 0 };
        found.set(path, info);
      }
      if (isEmpty(value) && fieldText(value).trim() === '') continue;
      if (info.filledIn === 0) info.type = typeOf(path, value);
      info.filledIn++;
    }
  };
  for (const fields of items) visit('', fields);
  const order = Object.keys(KNOWN);
  const rank = (path: string) => (order.includes(path) ? order.indexOf(path) : order.length);
  return [...found.values()]
    .map(({ filledIn, ...info }) => ({ ...info, emptyIn: items.length - filledIn }))
    .sort((a, b) => rank(a.path) - rank(b.path));
}
