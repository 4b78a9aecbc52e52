import { describe, expect, it } from 'vitest';
import type { Fields } from '../items/item.ts';
import type { ActInput } from '../model/acts.ts';
import { draftKey } from '../model/drafted.ts';
import type { World } from '../model/world.ts';
import { compile } from '../engine/program.ts';
import { rehearseItem } from '../rehearsal/rehearse.ts';
import { Driven } from '../testing/driven.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import type { Step } from './index.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([
    [1, { id: 1, kind: 'listing', name: 'Old Quay', accountId: 1 }],
    [2, { id: 2, kind: 'model', name: 'Tide', accountId: 2 }],
  ]),
  watches: new Map([[1, { id: 1, name: 'Reviews', things: 'reviews', outlet: 1, said: 'review' }]]),
};
const draft = (more: object = {}): Step => ({
  ...{ id: 'draft', verb: 'draft', outlet: 2, name: 'answer', instruction: '', about: '', longest: 400, variety: 0.5 },
  as: 'answer',
  ...more,
});
const reply: Step = { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' };
const define = (...steps: Step[]): Definition =>
  definitionSchema.parse({ schema: 1, sources: [{ id: 'a', watch: 1 }], steps });
const REVIEW: Fields = {
  ...{ id: 'r1', text: 'Lovely water.', stars: 5, outlet: { id: 1 } },
  person: { id: 'p1', network: 'listings', name: 'Ana Prata' },
};
const drive = (definition: Definition, fields = REVIEW) =>
  new Driven(definition, fields, world).take({ type: 'arrived' });
const input = (run: Driven) => run.performs()[0]!.input as ActInput<'draft'>;
const WRONG = { result: { text: 'Hello Ana, have a refund.', faults: ['it promises: “refund”'] } };

describe('a draft of an answer', () => {
  it('takes along what is answered, and goes on with what nothing is wrong with', () => {
    const run = drive(define(draft(), reply));
    expect(input(run).answers).toEqual({
      ...{ kind: 'review', id: 'r1', text: 'Lovely water.', stars: 5, person: 'p1', network: 'listings' },
      ...{ name: 'Ana Prata', outlet: 1, under: '' },
    });
    run.doneAll({ result: { text: 'Hello Ana, come again.' } });
    expect(run.performs()[0]).toMatchObject({ action: 'reply', input: { text: 'Hello Ana, come again.' } });
  });

  it('is drafted once more with what was wrong, under another key and seed', () => {
    const run = drive(define(draft(), reply));
    const [first] = run.performs();
    run.doneAll(WRONG);
    const [second] = run.performs();
    expect(second!.key).not.toBe(first!.key);
    expect(input(run).seed).not.toBe((first!.input as ActInput<'draft'>).seed);
    expect(input(run).again).toEqual({ text: 'Hello Ana, have a refund.', because: ['it promises: “refund”'] });
    run.doneAll({ result: { text: 'Hello Ana, come again.' } });
    expect(run.performs()[0]).toMatchObject({ action: 'reply', input: { text: 'Hello Ana, come again.' } });
  });

  it('waits for a person after the second time, with the reason, and goes on with their words', () => {
    const run = drive(define(draft(), reply));
    run.doneAll(WRONG).doneAll(WRONG);
    const [held] = run.held();
    expect(held).toMatchObject({ action: 'hold', trouble: 'draft', input: { text: 'Hello Ana, have a refund.' } });
    expect(held!.says).toBe('Drafted twice and not used: it promises: “refund”.');
    run.take({ type: 'decided', key: held!.key, decision: { do: 'retry', text: 'Hello Ana, we are sorry.' } });
    expect(run.performs()[0]).toMatchObject({ action: 'reply', input: { text: 'Hello Ana, we are sorry.' } });
  });

  it('ends when that person says no', () => {
    const run = drive(define(draft(), reply));
    run.doneAll(WRONG).doneAll(WRONG);
    run.take({ type: 'decided', key: run.held()[0]!.key, decision: { do: 'skip' } });
    expect(run.state!.status).toBe('stopped');
    expect(run.performs()).toEqual([]);
  });

  it('a yes to its words is the yes that the policy would ask for', () => {
    const run = drive(define(draft(), reply), { ...REVIEW, stars: 1 });
    run.doneAll(WRONG).doneAll(WRONG);
    run.take({ type: 'decided', key: run.held()[0]!.key, decision: { do: 'retry' } });
    expect(run.performs()[0]).toMatchObject({ action: 'reply' });
    const good = drive(define(draft(), reply), { ...REVIEW, stars: 1 });
    good.doneAll({ result: { text: 'We are sorry, Ana.' } });
    expect(good.held()[0]).toMatchObject({ action: 'reply', says: 'Held: 1 star' });
  });

  it('hands on others to choose from as a list', () => {
    const run = drive(define(draft({ count: 3 }), { ...reply, caption: 'answer' }));
    expect(input(run).count).toBe(3);
    run.doneAll({ result: { text: 'One.', others: ['Two.', 'Three.'] } });
    expect(run.state!.root.values['answer.others']).toEqual(['Two.', 'Three.']);
  });

  it('is asked for anew when they have changed what they wrote, and not when they have not', () => {
    for (const text of ['Lovely water.', 'Cold water.']) {
      const definition = define(draft(), { id: 'yes', verb: 'hold', question: 'Good?', text: 'answer' }, reply);
      const run = drive(definition);
      const [first] = run.performs();
      const outcome = { remoteId: '', url: null, at: 0, result: { text: 'Hello Ana, about the lovely water.' } };
      run.doneAll(outcome);
      expect(run.held()).toHaveLength(1);
      run.fields = { ...REVIEW, text };
      const { trace } = run;
      run.take({ type: 'changed', trace, outcomes: new Map([[first!.key, outcome]]), takenBack: new Set() });
      if (text === 'Lovely water.') {
        expect(run.performs()).toEqual([]);
        expect(run.held()[0]!.input).toEqual({ text: 'Hello Ana, about the lovely water.' });
      } else {
        expect(input(run).answers!.text).toBe('Cold water.');
        const [again] = run.performs();
        expect(again!.key).not.toBe(first!.key);
        // What still comes of the question before it is no answer to this one.
        run.done(first!.key, outcome);
        expect(run.held()).toEqual([]);
        run.done(again!.key, { result: { text: 'We are sorry that it was cold.' } });
        expect(run.held()[0]!.input).toEqual({ text: 'We are sorry that it was cold.' });
      }
    }
  });

  it('shows samples with drafts that were tried for the very same', () => {
    const definition = define(draft(), reply);
    const asked = input(drive(definition));
    const item = { id: 1, watch: 1, identity: 'id:r1', publishedAt: 0, seenAt: 0, fields: REVIEW };
    const shown = (tried: World['drafted']) => {
      const { trace } = rehearseItem(compile(definition, { ...world, drafted: tried }), item, 0);
      return trace.reply?.kind === 'acts' ? trace.reply.acts[0]?.text : undefined;
    };
    expect(shown(undefined)).toBe('(drafted when it runs)');
    // The seed is that of the item; a driver by hand has another.
    const seeded = new Map<string, { text: string }>();
    const keys: string[] = [];
    const spy = { get: (key: string) => (keys.push(key), undefined) } as unknown as NonNullable<World['drafted']>;
    shown(spy);
    seeded.set(keys[0]!, { text: 'Hello Ana, as tried.' });
    expect(keys[0]).toContain(JSON.stringify(asked.answers!.text));
    expect(shown(seeded)).toBe('Hello Ana, as tried.');
    expect(draftKey(2, { ...asked, longest: 10 })).not.toBe(draftKey(2, asked));
  });
});
