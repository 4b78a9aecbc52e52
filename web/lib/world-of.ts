// What a workflow is compiled against, of what the server tells of a brand.
import type { TriedDrafts } from '@playa/core/model/drafted.ts';
import type { World } from '@playa/core/model/world.ts';
import type { OpenedWorkflow } from './types.ts';

/**
 * @param known undefined before it is read: an empty world
 * @param drafted what text models have worded for samples
 */
export const worldOf = (known: OpenedWorkflow['world'] | undefined, drafted: TriedDrafts): World => ({
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
