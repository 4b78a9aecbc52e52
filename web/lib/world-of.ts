// What a workflow is compiled against, of what the server tells of a brand.
import type { TriedDrafts } from '@playa/core/model/drafted.ts';
import type { World } from '@playa/core/model/world.ts';
import { everyPage } from './pages.ts';
import type { Answer } from './endpoint-types.ts';

type Page = Answer<'readWorld'>;
type Thing = Page['things'][number];
type Of<Sort extends Thing['of']> = Extract<Thing, { of: Sort }>;

/** A brand's customs, and what its definitions refer to. */
export interface BrandWorld extends Pick<Page, 'timeZone' | 'locale' | 'policy'> {
  outlets: Of<'outlet'>['outlet'][];
  watches: Of<'watch'>['watch'][];
  colleagues: Of<'colleague'>['colleague'][];
  secrets: string[];
  snippets: Of<'snippet'>['snippet'][];
  files: Of<'file'>['file'][];
}
/** The live workflows of a brand. */
export type Beside = Of<'workflow'>['workflow'][];

/**
 * Reads a brand's world, all of its pages.
 *
 * @throws Refused
 */
export async function readWorld(brand: number): Promise<{ world: BrandWorld; live: Beside }> {
  const pages = await everyPage('readWorld', { brand });
  const { timeZone, locale, policy } = pages.at(-1)!;
  const things = pages.flatMap((page) => page.things);
  const all = <Sort extends Thing['of']>(sort: Sort) => things.filter((thing): thing is Of<Sort> => thing.of === sort);
  return {
    world: {
      timeZone,
      locale,
      ...(policy ? { policy } : {}),
      outlets: all('outlet').map(({ outlet }) => outlet),
      watches: all('watch').map(({ watch }) => watch),
      colleagues: all('colleague').map(({ colleague }) => colleague),
      secrets: all('secret').map(({ secret }) => secret),
      snippets: all('snippet').map(({ snippet }) => snippet),
      files: all('file').map(({ file }) => file),
    },
    live: all('workflow').map(({ workflow }) => workflow),
  };
}

/**
 * @param known undefined before it is read: an empty world
 * @param drafted what text models have worded for samples
 */
export const worldOf = (known: BrandWorld | undefined, drafted: TriedDrafts): World => ({
  timeZone: known?.timeZone ?? 'UTC',
  locale: known?.locale ?? 'en',
  policy: known?.policy,
  drafted,
  outlets: new Map(known?.outlets.map((outlet) => [outlet.id, outlet])),
  watches: new Map(known?.watches.map((watch) => [watch.id, watch])),
  colleagues: new Map(known?.colleagues.map(({ id, name }) => [id, name])),
  secrets: known?.secrets ?? [],
  snippets: new Map(known?.snippets.map(({ name, text }) => [name, text])),
  files: new Map(known?.files.map((file) => [file.id, file])),
});
