// What happens when two people, or a person and Playa, change the same thing at the same moment.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { inTransaction } from '../db/database.ts';
import { addWorkflow, saveDraft, workflowBy } from '../store/workflows.ts';
import { openHouse, type House } from '../testing/house.ts';
import { live } from '../testing/workflow.ts';
import { makeHook } from '../watch/hooks.ts';
import { renameSourceField } from '../watch/rename.ts';
import { goLive, NotReady } from './go-live.ts';

let house: House;
let watch: number;
beforeAll(async () => {
  house = await openHouse();
  watch = await makeHook(house.services, house.lidos, 'A hook');
});
afterAll(() => house?.close());

const telling = (text: string): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [{ id: 'tell', verb: 'notify', to: [], text }],
});
const unready = (): Definition => ({ schema: 1, sources: [{ id: 'source', watch }], steps: [] });

describe('going live beside a save', () => {
  it('never puts a draft live that was not looked over', async () => {
    const { pool } = house.services;
    for (let n = 0; n < 12; n++) {
      const id = await addWorkflow(pool, house.lidos, 'Raced', telling('{$title}'), house.clock.now);
      // Asked for by somebody who has seen the draft that is only now being saved.
      const going = goLive(house.services, {
        brandId: house.lidos,
        workflowId: id,
        revision: 2,
        userId: house.mo,
        beginning: { last: 0, every: 0 },
      }).then(
        () => 'live',
        (error: unknown) => (error instanceof NotReady ? 'refused' : Promise.reject(error)),
      );
      if (n % 3) await new Promise((done) => setTimeout(done, n));
      await saveDraft(pool, house.lidos, id, { name: 'Raced', definition: unready(), revision: 1 }, house.clock.now);
      expect(await going).toBe('refused');
      expect(await workflowBy(pool, house.lidos, id)).toMatchObject({ status: 'draft', liveVersion: null });
    }
  });
});

describe('renaming a field beside a save', () => {
  it('overwrites no draft that was saved meanwhile, and leaves none with the old name', async () => {
    const { pool } = house.services;
    const id = await live(house, telling('{$title}'));
    for (let round = 0; round < 8; round++) {
      const [from, to] = round % 2 ? ['name', 'title'] : ['title', 'name'];
      const { draftRevision } = (await workflowBy(pool, house.lidos, id))!;
      const words = `Round ${round}: {$${from}}`;
      const saving = new Promise((done) => setTimeout(done, round)).then(() =>
        inTransaction(pool, (db) =>
          saveDraft(
            db,
            house.lidos,
            id,
            { name: 'Raced', definition: telling(words), revision: draftRevision },
            house.clock.now,
          ),
        ),
      );
      const [saved] = await Promise.all([saving, renameSourceField(house.services, house.lidos, watch, from!, to!)]);
      const { draft } = (await workflowBy(pool, house.lidos, id))!;
      const text = JSON.stringify(draft.steps);
      // Either the save came first and was renamed, or it came too late and says so.
      if (saved !== null) expect(text).toContain(`Round ${round}: {$${to}}`);
      else expect(text).toContain(`{$${to}}`);
    }
  });

  it('waits for whoever is saving', async () => {
    const { pool } = house.services;
    const id = await live(house, telling('{$title}'));
    const { draftRevision } = (await workflowBy(pool, house.lidos, id))!;
    let renaming: Promise<unknown> | undefined;
    await inTransaction(pool, async (db) => {
      await workflowBy(db, house.lidos, id, true);
      renaming = renameSourceField(house.services, house.lidos, watch, 'title', 'heading');
      await new Promise((done) => setTimeout(done, 200));
      await saveDraft(
        db,
        house.lidos,
        id,
        { name: 'Kept', definition: telling('Saved meanwhile: {$title}'), revision: draftRevision },
        house.clock.now,
      );
    });
    await renaming;
    const { draft, name } = (await workflowBy(pool, house.lidos, id))!;
    expect(name).toBe('Kept');
    expect(JSON.stringify(draft.steps)).toContain('Saved meanwhile: {$heading}');
  });
});
