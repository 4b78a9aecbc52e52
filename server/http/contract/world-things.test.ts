// A world in pages: everything once, whatever comes or goes between two pages.
import type { World } from '@playa/core/model/world.ts';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { cutPage, pageQuery } from './pages.ts';
import { placeOfThing, thingsAfter, worldPlaceSchema, worldThingSchema, type WorldPlace } from './world-things.ts';

const ids = fc.uniqueArray(fc.integer({ min: 1, max: 40 }), { maxLength: 8 });
const names = fc.uniqueArray(fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }), { maxLength: 6 });
const worldArbitrary = fc
  .record({ outlets: ids, watches: ids, colleagues: ids, files: ids, secrets: names, snippets: names, beside: ids })
  .map(({ outlets, watches, colleagues, files, secrets, snippets, beside }) => {
    const world: World = {
      timeZone: 'UTC',
      locale: 'en',
      outlets: new Map(outlets.map((id) => [id, { id, kind: 'page', name: `Outlet ${id}`, accountId: 1 }])),
      watches: new Map(watches.map((id) => [id, { id, name: `Source ${id}`, things: 'posts' }])),
      colleagues: new Map(colleagues.map((id) => [id, `Colleague ${id}`])),
      secrets,
      snippets: new Map(snippets.map((name) => [name, 'Your crew'])),
      files: new Map(
        files.map((id) => [
          id,
          {
            ...{ id, type: 'picture' as const, name: `File ${id}`, alt: '', url: 'https://lidos.example/f' },
            ...{ bytes: 1, mediaType: 'image/png', width: 1, height: 1, seconds: null },
          },
        ]),
      ),
    };
    const definition = { schema: 1 as const, sources: [{ id: 's', watch: null }], steps: [] };
    return { world, beside: beside.map((id) => ({ id, name: `Workflow ${id}`, definition })) };
  });
type Of = (typeof worldArbitrary extends fc.Arbitrary<infer T> ? T : never) & object;
const all = ({ world, beside }: Of) => thingsAfter(world, beside, null);
const said = (place: WorldPlace) => JSON.stringify(place);

/** Pages as a client reads them, each behind the cursor of the one before; the world may be another each time. */
function read(worlds: readonly Of[], most: number) {
  const query = pageQuery(worldPlaceSchema, 1000);
  const things = [];
  let after: string | undefined;
  for (let page = 0; ; page++) {
    const { world, beside } = worlds[Math.min(page, worlds.length - 1)]!;
    const asked = query.parse({ after });
    const cut = cutPage(thingsAfter(world, beside, asked.after ?? null), most, placeOfThing);
    things.push(...cut.page);
    if (cut.next === null) return things;
    after = cut.next;
  }
}

it('every page goes on where the one before ended, in pages of any size', () => {
  fc.assert(
    fc.property(worldArbitrary, fc.integer({ min: 1, max: 9 }), (of, most) => {
      const whole = all(of);
      expect(read([of], most)).toEqual(whole);
      expect(new Set(whole.map((thing) => said(placeOfThing(thing)))).size).toBe(whole.length);
      for (const thing of whole) worldThingSchema.parse(thing);
    }),
  );
});

it('nothing is said twice and nothing that stays is left out, though others come and go between two pages', () => {
  fc.assert(
    fc.property(
      fc.array(worldArbitrary, { minLength: 2, maxLength: 4 }),
      fc.integer({ min: 1, max: 9 }),
      (worlds, most) => {
        const places = read(worlds, most).map((thing) => said(placeOfThing(thing)));
        expect(new Set(places).size).toBe(places.length);
        const everywhere = worlds
          .map((of) => new Set(all(of).map((thing) => said(placeOfThing(thing)))))
          .reduce((a, b) => new Set([...a].filter((place) => b.has(place))));
        for (const place of everywhere) expect(places).toContain(place);
      },
    ),
  );
});
