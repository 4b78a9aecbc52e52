// What was done to what, as the list of deeds says it.
import type { RouteLocationRaw } from 'vue-router';
import type { AuditEntry } from '../../lib/types.ts';

/** What deeds can be about, in the words of the filter. */
export const ABOUT_NAMES: Readonly<Record<AuditEntry['about'], string>> = {
  run: 'runs',
  workflow: 'workflows',
  post: 'posts that are out',
  'written post': 'posts by hand',
  desk: 'the desk',
  contact: 'people who wrote',
  sheet: 'sheets',
  source: 'sources',
  account: 'accounts',
  outlet: 'outlets',
  snippet: 'snippets',
  secret: 'secrets',
  file: 'files',
  brand: 'the brand',
};

const ONE: Readonly<Record<AuditEntry['about'], string>> = {
  run: 'a run of',
  workflow: 'the workflow',
  post: 'a post',
  'written post': 'a post by hand',
  desk: 'something at the desk',
  contact: 'the person',
  sheet: 'the sheet',
  source: 'the source',
  account: 'the account',
  outlet: 'the outlet',
  snippet: 'the snippet',
  secret: 'the secret',
  file: 'the file',
  brand: 'the brand',
};

/** "the sheet", before its name. */
export const sayAbout = ({ about, name }: AuditEntry): string =>
  name === null && about === 'run' ? 'a run' : ONE[about];

/** Where something is shown; undefined where it has no place of its own. */
export function placeOf(entry: AuditEntry, brand: number): RouteLocationRaw | undefined {
  const { about, aboutId, workflowId } = entry;
  switch (about) {
    case 'workflow':
    case 'run':
      return workflowId === null
        ? undefined
        : {
            name: 'run-sheet',
            params: { brand, id: workflowId },
            ...(about === 'run' && aboutId !== null && { query: { run: aboutId } }),
          };
    case 'sheet':
      return aboutId === null ? undefined : { name: 'sheet', params: { brand, id: aboutId } };
    case 'written post':
      return aboutId === null ? undefined : { name: 'post', params: { brand, id: aboutId } };
    case 'contact':
      return aboutId === null ? undefined : { name: 'people', params: { brand }, query: { contact: aboutId } };
    case 'account':
    case 'outlet':
      return { name: 'accounts', params: { brand } };
    case 'desk':
      return { name: 'desk', params: { brand }, ...(aboutId !== null && { query: { item: aboutId } }) };
    default:
      return undefined;
  }
}
