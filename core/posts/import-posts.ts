// A file's rows as posts: which column says what, and what is wrong with each row, before anything is kept.
import { captionSource } from '../captions/tokens.ts';
import { KIND_RULES } from '../outlets/kinds.ts';
import { writtenIn, type World } from '../model/world.ts';
import { fold } from '../sheets/column.ts';
import { localMoment } from '../text/local-moment.ts';
import { DateTime } from 'luxon';
import { missingOf } from './missing.ts';
import { newPost, postMoments, postTitle, type WrittenPost } from './written.ts';

/** What a column of a file can say of a post. */
export const POST_COLUMNS = ['when', 'where', 'words', 'link', 'state'] as const;
export type PostColumn = (typeof POST_COLUMNS)[number];
/** By the file's columns, in their order; null for what is left out. */
export type PostMap = readonly (PostColumn | null)[];

/** How columns are called in plans that people have already, in the languages of our users. */
const NAMES: Readonly<Record<PostColumn, readonly string[]>> = {
  when: [
    'when',
    'date',
    'time',
    'date and time',
    'publish at',
    'goes out',
    'goes out at',
    'scheduled',
    'data',
    'quando',
    'datum',
    'wann',
  ],
  where: ['where', 'outlet', 'outlets', 'channel', 'channels', 'network', 'onde', 'kanal', 'wo'],
  words: ['words', 'text', 'copy', 'caption', 'post', 'message', 'texto', 'legenda'],
  link: ['link', 'url', 'address', 'adresse', 'endereço'],
  state: ['state', 'status', 'estado'],
};

/** What columns say, by their names. Each thing is said by one. */
export function guessPostMap(header: readonly string[]): (PostColumn | null)[] {
  const taken = new Set<PostColumn>();
  return header.map((name) => {
    const found = POST_COLUMNS.find(
      (column) => !taken.has(column) && NAMES[column].some((each) => fold(each) === fold(name)),
    );
    if (found) taken.add(found);
    return found ?? null;
  });
}

/** A row of a file as it would become a post. */
export interface PostRow {
  /** Its line in the file, the first after the header being 2. */
  line: number;
  state: 'idea' | 'draft' | 'ready';
  post: WrittenPost;
  title: string;
  /** When it goes first, milliseconds since 1970 UTC; null for no time. */
  at: number | null;
  problems: { column: PostColumn; says: string }[];
}

const STATES: Readonly<Record<string, PostRow['state']>> = {
  '': 'draft',
  idea: 'idea',
  draft: 'draft',
  'in progress': 'draft',
  ready: 'ready',
  approved: 'ready',
  planned: 'ready',
};

/**
 * Reads the rows below a header. Rows without anything in a column that is read are no posts.
 *
 * @param rows the file's rows, the header first
 * @param now milliseconds since 1970 UTC: what has passed is never ready
 */
export function importPosts(rows: readonly (readonly string[])[], map: PostMap, world: World, now: number): PostRow[] {
  const places = new Map(map.flatMap((column, place) => (column ? [[column, place] as const] : [])));
  const outlets = outletsByName(world);
  return rows.slice(1).flatMap((row, index): PostRow[] => {
    const said = (column: PostColumn) => (row[places.get(column) ?? -1] ?? '').trim();
    if ([...places.keys()].every((column) => said(column) === '')) return [];
    const problems: PostRow['problems'] = [];
    const wrong = (column: PostColumn, says: string) => problems.push({ column, says });
    const moment = said('when') === '' ? null : localMoment(said('when'), writtenIn(world));
    if (said('when') !== '' && moment === null)
      wrong('when', `“${said('when')}” cannot be read as a date and a time, or can be read in two ways.`);
    const to = namesIn(said('where'), outlets).flatMap((name) => {
      const found = outlets.get(fold(name));
      if (!found) wrong('where', `There is no outlet called “${name}”.`);
      else if (found.length > 1)
        wrong('where', `Several are called “${name}”: ${found.map((id) => world.outlets.get(id)!.name).join('; ')}.`);
      return found?.length === 1 ? found : [];
    });
    const local =
      moment === null ? null : DateTime.fromMillis(moment, { zone: world.timeZone }).toFormat("yyyy-MM-dd'T'HH:mm");
    const post = newPost([...new Set(to)], local);
    // What stands in a file is meant as it stands: braces are no tokens there.
    post.compose.text = said('words') === '' ? '' : captionSource([said('words')]);
    if (/^https?:\/\/\S+$/i.test(said('link'))) post.link = said('link');
    else if (said('link') !== '') wrong('link', `“${said('link')}” is no web address.`);
    const state = STATES[fold(said('state'))];
    if (!state) wrong('state', `“${said('state')}” is none of idea, draft and ready.`);
    if (state === 'ready' && problems.length === 0) {
      for (const { what, says } of missingOf(post, world, now))
        wrong(what === 'time' ? 'when' : what === 'outlet' ? 'where' : 'words', says);
      if (moment !== null && moment < now) wrong('when', 'Its time has passed.');
    }
    const at = [...postMoments(post, world).values()].find((each) => each !== null) ?? moment;
    return [{ line: index + 2, state: state ?? 'draft', post, title: postTitle(post), at, problems }];
  });
}

/** Names of outlets in a cell: one in each line or between semicolons, or between commas that are in no name. */
function namesIn(text: string, outlets: ReadonlyMap<string, unknown>): string[] {
  const names = (by: RegExp, from: string) => from.split(by).flatMap((name) => name.trim() || []);
  return names(/[;\n]/, text).flatMap((name) => (outlets.has(fold(name)) ? [name] : names(/,/, name)));
}

/** Outlets that can be posted to, by their names: as Playa says them, as their network does, and with their kinds. */
function outletsByName(world: World): Map<string, number[]> {
  const named = new Map<string, number[]>();
  for (const { id, name, acts, kind } of world.outlets.values()) {
    if (acts && !acts.includes('publish')) continue;
    const said = KIND_RULES[kind].name;
    // Where two are called the same, each is told apart by its kind.
    const bare = name.endsWith(`, ${said}`) ? name.slice(0, -said.length - 2) : name;
    for (const each of new Set([name, bare, `${bare} (${kind})`, `${bare} (${said})`].map(fold)))
      named.set(each, [...(named.get(each) ?? []), id]);
  }
  return named;
}
