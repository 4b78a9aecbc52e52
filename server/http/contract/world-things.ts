// A brand's world as it is sent: one thing after the other, in pages, since brands have as many outlets, sources, snippets,
// files and workflows as people make.
import type { World } from '@playa/core/model/world.ts';
import { z } from 'zod';
import { besideSchema, fileSchema, id, worldOutletSchema, worldWatchSchema } from './schemas.ts';

/** One thing that a definition refers to, by number or name; or a live workflow beside which it goes. */
export const worldThingSchema = z
  .discriminatedUnion('of', [
    z.object({ of: z.literal('outlet'), outlet: worldOutletSchema }),
    z.object({ of: z.literal('watch'), watch: worldWatchSchema }),
    z.object({ of: z.literal('colleague'), colleague: z.object({ id, name: z.string() }) }),
    z.object({ of: z.literal('secret'), secret: z.string() }),
    z.object({ of: z.literal('snippet'), snippet: z.object({ name: z.string(), text: z.string() }) }),
    z.object({ of: z.literal('file'), file: fileSchema }),
    z.object({ of: z.literal('workflow'), workflow: besideSchema }),
  ])
  .meta({ id: 'WorldThing' });
export type WorldThing = z.input<typeof worldThingSchema>;

/** The order of the sorts of things. New ones are added at the end: a cursor that was handed out says a place in it. */
const SORTS = ['outlet', 'watch', 'colleague', 'secret', 'snippet', 'file', 'workflow'] as const;

/** Where a thing stands in the world: by its sort, then by its number or name. */
export const worldPlaceSchema = z.object({ sort: z.number().int(), key: z.union([z.number(), z.string().max(300)]) });
export type WorldPlace = z.infer<typeof worldPlaceSchema>;

export function placeOfThing(thing: WorldThing): WorldPlace {
  const sort = SORTS.indexOf(thing.of);
  switch (thing.of) {
    case 'outlet':
      return { sort, key: thing.outlet.id };
    case 'watch':
      return { sort, key: thing.watch.id };
    case 'colleague':
      return { sort, key: thing.colleague.id };
    case 'secret':
      return { sort, key: thing.secret };
    case 'snippet':
      return { sort, key: thing.snippet.name };
    case 'file':
      return { sort, key: thing.file.id };
    case 'workflow':
      return { sort, key: thing.workflow.id };
  }
}

const compare = (a: WorldPlace, b: WorldPlace): number =>
  a.sort !== b.sort ? a.sort - b.sort : a.key === b.key ? 0 : a.key < b.key ? -1 : 1;

/**
 * The things of a world behind a place, in their order: what comes or goes between two pages neither repeats nor hides
 * others.
 *
 * @param after null from the first
 */
export function thingsAfter(
  world: World,
  beside: readonly z.input<typeof besideSchema>[],
  after: WorldPlace | null,
): WorldThing[] {
  const things: WorldThing[] = [
    ...[...world.outlets.values()].map((outlet) => ({ of: 'outlet' as const, outlet })),
    ...[...world.watches.values()].map((watch) => ({ of: 'watch' as const, watch })),
    ...[...(world.colleagues ?? [])].map(([of, name]) => ({ of: 'colleague' as const, colleague: { id: of, name } })),
    ...(world.secrets ?? []).map((secret) => ({ of: 'secret' as const, secret })),
    ...[...(world.snippets ?? [])].map(([name, text]) => ({ of: 'snippet' as const, snippet: { name, text } })),
    ...[...(world.files?.values() ?? [])].map((file) => ({ of: 'file' as const, file })),
    ...beside.map((workflow) => ({ of: 'workflow' as const, workflow })),
  ];
  return things
    .map((thing) => ({ thing, place: placeOfThing(thing) }))
    .filter(({ place }) => after === null || compare(place, after) > 0)
    .sort((a, b) => compare(a.place, b.place))
    .map(({ thing }) => thing);
}
