import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { compile } from '@playa/core/engine/program.ts';
import type { ActInput } from '@playa/core/model/acts.ts';
import type { World } from '@playa/core/model/world.ts';
import { rehearseItem } from '@playa/core/rehearsal/rehearse.ts';
import { definitionSchema } from '@playa/core/workflow/definition.ts';
import { Answering, Refusal } from '../testing/mounted.ts';
import { draftsAsked, useTriedDrafts } from './tried-drafts.ts';
import { momentOf, type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([
    [1, { id: 1, kind: 'listing', name: 'Old Quay', accountId: 1 }],
    [2, { id: 2, kind: 'model', name: 'Tide', accountId: 2 }],
  ]),
  watches: new Map([[1, { id: 1, name: 'Reviews', things: 'reviews', outlet: 1, said: 'review' }]]),
};
const definition = definitionSchema.parse({
  schema: 1,
  sources: [{ id: 'a', watch: 1 }],
  steps: [
    {
      ...{ id: 'draft', verb: 'draft', outlet: 2, name: 'answer', instruction: '', about: '', longest: 400 },
      ...{ variety: 0.5, as: 'answer' },
    },
    { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
  ],
});
const item = (id: number): PastItem => ({
  ...{ id, watch: 1, identity: `id:${id}`, publishedAt: 0, seenAt: 0 },
  fields: { id: `r${id}`, text: `Words ${id}`, stars: 5, outlet: { id: 1 } },
});
const shown = (of: PastItem) => {
  const tries = useTriedDrafts();
  const { trace } = rehearseItem(compile(definition, { ...world, drafted: tries.made }), of, momentOf(of));
  return trace;
};
let server: Answering;
beforeEach(() => {
  setActivePinia(createPinia());
  server = new Answering();
});
afterEach(() => vi.unstubAllGlobals());

describe('drafts for samples', () => {
  it('are really drafted, once for the same, and counted', async () => {
    server.to('POST', /drafts\/try$/, ({ body }) => {
      const { input } = body as { input: ActInput<'draft'> };
      return { text: `To “${input.answers!.text}”`, used: 100 };
    });
    const tries = useTriedDrafts();
    await tries.tryFor(definition, world, [item(1), item(2)]);
    await tries.tryFor(definition, world, [item(1), item(2)]);
    expect(server.asked).toHaveLength(2);
    expect(tries.used).toBe(200);
    const { reply } = shown(item(2));
    expect(reply?.kind === 'acts' && reply.acts[0]!.text).toBe('To “Words 2”');
    expect(draftsAsked(definition, world, [item(3)], tries.made).some((key) => tries.made.has(key))).toBe(false);
  });

  it('that are not right are drafted once more, and then wait as they would', async () => {
    server.to('POST', /drafts\/try$/, () => ({ text: 'Have a refund', faults: ['it promises: “refund”'], used: 1 }));
    await useTriedDrafts().tryFor(definition, world, [item(1)]);
    expect(server.asked).toHaveLength(2);
    const again = (server.asked[1]!.body as { input: ActInput<'draft'> }).input.again;
    expect(again).toEqual({ text: 'Have a refund', because: ['it promises: “refund”'] });
    const { draft, reply } = shown(item(1));
    expect(draft).toMatchObject({
      acts: [{ status: 'held', says: 'Drafted twice and not used: it promises: “refund”.' }],
    });
    expect(reply).toBeUndefined();
  });

  it('stop where somebody says so, and at the first refusal', async () => {
    const tries = useTriedDrafts();
    server.to('POST', /drafts\/try$/, () => {
      tries.stop();
      return { text: 'x', used: 1 };
    });
    await tries.tryFor(definition, world, [item(1), item(2), item(3)]);
    expect(server.asked).toHaveLength(1);
    expect(tries.busy).toBe(false);
    server = new Answering();
    server.to('POST', /drafts\/try$/, () => new Refusal(502, 'The text model does not answer.'));
    await tries.tryFor(definition, world, [item(2)]);
    expect(tries.trouble).toBe('The text model does not answer.');
  });
});
