// Clips: pages sent to Playa from the browser, with a note. A clip is a row of a sheet that has a column for its address.
import type { Column } from './column.ts';
import { isWritten } from './column.ts';

/** Columns of a sheet to begin clipping with. */
export const CLIPS: readonly Column[] = [
  { key: 'title', name: 'Title', type: 'text' },
  { key: 'note', name: 'Note', type: 'longText' },
  { key: 'address', name: 'Address', type: 'link' },
  { key: 'picture', name: 'Picture', type: 'picture' },
  { key: 'post', name: 'Post', type: 'link' },
];

/** What a browser tells of a page, and what a person adds. */
export interface Clip {
  url: string;
  title: string;
  note: string;
  picture: string;
}

/** The columns that take the parts of a clip; those a sheet does not have are left out. */
export type ClipColumns = Partial<Record<keyof Clip, string>>;

/**
 * Where the parts of a clip go: the address into the first column of links, the note into the first of long texts.
 *
 * @returns undefined when the sheet has no column for an address
 */
export function clipColumns(columns: readonly Column[]): ClipColumns | undefined {
  const first = (type: Column['type']) => columns.find((column) => column.type === type && isWritten(column))?.key;
  const url = first('link');
  if (url === undefined) return undefined;
  const title = first('text');
  const note = first('longText');
  const picture = first('picture');
  return { url, ...(title && { title }), ...(note && { note }), ...(picture && { picture }) };
}

/** The cells of a clip; parts that are empty, or that the sheet has no column for, are left out. */
export function clipCells(columns: readonly Column[], clip: Clip): Record<string, string> {
  const into = clipColumns(columns) ?? {};
  return Object.fromEntries(
    (Object.entries(into) as [keyof Clip, string][]).flatMap(([part, key]) =>
      clip[part].trim() ? [[key, clip[part].trim()]] : [],
    ),
  );
}

/** A page that was shared, and what was said of it. */
export type SharedPage = Pick<Clip, 'url' | 'title' | 'note'>;

/**
 * The page that was shared: programs put its address into one of three places.
 *
 * @example sharedPage({ text: 'Look at this https://ternbay.example/rail' }) // { url: 'https://ternbay.example/rail', … }
 */
export function sharedPage({
  url = '',
  title = '',
  text = '',
}: {
  url?: string;
  title?: string;
  text?: string;
}): SharedPage {
  const found = [url, text, title].map((each) => /https?:\/\/[^\s"<>]+/i.exec(each)?.[0]).find(Boolean) ?? '';
  const without = (words: string) => (found ? words.replace(found, '') : words).trim();
  return { url: found, title: without(title), note: without(text) };
}

/** An address as far as it makes a page: what only says where somebody came from, or which part they read, is left out. */
export function pageOf(address: string): string {
  if (!URL.canParse(address)) return address;
  const url = new URL(address);
  const kept = [...url.href.replace(/#.*$/, '').matchAll(/[?&]([^=&]+)(=[^&]*)?/g)].filter(
    ([, name = '']) => !/^(utm_\w+|ref|source|fbclid|gclid|mc_[ce]id)$/i.test(name),
  );
  const query = kept.map(([, name = '', value = '']) => name + value).join('&');
  const bare = url.href.replace(/[?#].*$/, '').replace(/\/$/, '');
  return (query ? `${bare}?${query}` : bare).replace(/^https?:\/\/(www\.)?/, '').toLowerCase();
}
