import fc from 'fast-check';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import { advance } from '../engine/advance.ts';
import { compile } from '../engine/program.ts';
import type { Item } from '../items/item.ts';
import type { World } from '../model/world.ts';
import { slotsIn, type RunState } from '../model/state.ts';
import { stepVerbs } from '../steps/index.ts';
import { definitionSchema } from '../workflow/definition.ts';
import { usesField } from '../workflow/uses-field.ts';
import { missingOf } from './missing.ts';
import {
  approvedPart,
  movedTo,
  newPost,
  postFields,
  postMoments,
  postTitle,
  writtenPostSchema,
  type WrittenPost,
} from './written.ts';

const ZONE = 'Europe/Lisbon';
const NOON = Date.UTC(2026, 10, 26, 12);
const world: World = {
  timeZone: ZONE,
  locale: 'en',
  outlets: new Map(
    (['page', 'microblog', 'photos', 'board'] as const).map((kind, index) => [
      index + 1,
      { id: index + 1, kind, name: `The ${kind}`, accountId: 1 },
    ]),
  ),
  watches: new Map([[9, { id: 9, name: 'By hand', things: 'posts' }]]),
};
const definition = definitionSchema.parse({
  schema: 1,
  sources: [{ id: 's', watch: 9 }],
  steps: [{ id: 'p', verb: 'post', from: 'post' }],
});
const program = compile(definition, world);
const saying = (text: string, outlets = [1, 2], at: string | null = '2026-12-24T18:00'): WrittenPost => {
  const post = newPost(outlets, at);
  return { ...post, compose: { ...post.compose, text } };
};
const itemOf = (post: WrittenPost): Item => ({ identity: 'post:1', publishedAt: NOON, fields: postFields(post) });
const context = (post: WrittenPost) => ({ item: itemOf(post), watch: 9, now: NOON, run: 'r' });
const begun = (post: WrittenPost) => advance(program, null, { type: 'arrived' }, context(post));
const slots = (state: RunState) =>
  slotsIn(state).map(({ outlet, status, input, placing }) => ({
    outlet,
    status,
    text: 'text' in input ? input.text : null,
    placing,
  }));

describe('a post written by hand', () => {
  it('is sent by the steps that every workflow sends with: its words, at its time, to each of its outlets', () => {
    const post = saying('Cold water at {$link}');
    post.link = 'https://lidos.example/cold';
    post.compose.own = [{ outlet: 2, text: 'Brr' }];
    const at = Date.UTC(2026, 11, 24, 18);
    expect(slots(begun(post).state)).toEqual([
      { outlet: 1, status: 'planned', text: 'Cold water at https://lidos.example/cold', placing: { when: at } },
      { outlet: 2, status: 'planned', text: 'Brr', placing: { when: at } },
    ]);
  });
  it('goes at another moment where one outlet has one', () => {
    const post = movedTo(saying('x'), 2, '2026-12-25T09:30');
    expect([...postMoments(post, world).values()]).toEqual([Date.UTC(2026, 11, 24, 18), Date.UTC(2026, 11, 25, 9, 30)]);
    expect(slots(begun(post).state).map(({ placing }) => placing)).toEqual([
      { when: Date.UTC(2026, 11, 24, 18) },
      { when: Date.UTC(2026, 11, 25, 9, 30) },
    ]);
    // Moved again, it is there alone; with one outlet there is one moment.
    expect(movedTo(post, 2, '2026-12-26T10:00').publish.when).toEqual({
      type: 'moment',
      at: '2026-12-24T18:00',
      own: [{ outlet: 2, at: '2026-12-26T10:00' }],
    });
    expect(movedTo(saying('x', [1]), 1, '2026-12-26T10:00').publish.when).toEqual({
      type: 'moment',
      at: '2026-12-26T10:00',
    });
  });
  it('keeps, when its words are corrected, what went out, and says the new ones everywhere else', () => {
    const before = saying('Old words');
    const first = begun(before);
    const [one, two] = slotsIn(first.state);
    const out = advance(
      program,
      first.state,
      { type: 'done', key: one!.key, outcome: { remoteId: '7', url: null, at: NOON } },
      context(before),
    );
    const after = saying('New words');
    const again = advance(
      program,
      out.state,
      { type: 'changed', trace: { ...first.trace, ...out.trace }, outcomes: new Map(), takenBack: new Set([two!.key]) },
      context(after),
    );
    expect(again.kept).toBeUndefined();
    expect(slots(again.state)).toMatchObject([
      { outlet: 1, status: 'done', text: 'Old words' },
      { outlet: 2, status: 'planned', text: 'New words' },
    ]);
    expect(again.effects.filter((effect) => effect.do === 'perform')).toHaveLength(1);
  });
  it('may be a picture alone', () => {
    const post = saying('', [3]);
    post.publish.media = [{ type: 'picture', from: 'picture', alt: 'The pool' }];
    const fields = { ...postFields(post), picture: 'https://lidos.example/pool.png' };
    const { state } = advance(
      program,
      null,
      { type: 'arrived' },
      { ...context(post), item: { ...itemOf(post), fields } },
    );
    expect(slotsIn(state)).toMatchObject([{ status: 'planned', input: { text: '', media: [{ type: 'picture' }] } }]);
  });
  it('stops, and sends nothing, when it cannot be read', () => {
    for (const broken of [null, 'x', {}, { ...newPost([1]), compose: null }]) {
      const item: Item = { identity: 'x', publishedAt: NOON, fields: { post: broken as never } };
      const { state, effects } = advance(program, null, { type: 'arrived' }, { ...context(saying('x')), item });
      expect(state.status).toBe('stopped');
      expect(effects).toEqual([{ do: 'finish', outcome: 'stopped' }]);
    }
  });
  it('is all the workflow looks at, and no step that people put into one', () => {
    expect(usesField(definition, 'post')).toBe(true);
    expect(usesField(definition, 'link')).toBe(true);
    expect(stepVerbs()).not.toContain('post');
  });
  it('can be stored and read again, whatever it says', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 300 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 4 })),
        fc.option(fc.constant('2026-12-24T18:00')),
        (text, outlets, at) => {
          const post = saying(text, outlets, at);
          expect(writtenPostSchema.parse(JSON.parse(JSON.stringify(post)))).toEqual(post);
          expect(postTitle(post).length).toBeLessThanOrEqual(text.length + 1);
          expect(() => missingOf(post, world, NOON)).not.toThrow();
        },
      ),
    );
  });
  it('goes at a wall clock’s time on both sides of a change of clocks', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 364 }), fc.integer({ min: 3, max: 23 }), (day, hour) => {
        const local = DateTime.fromObject({ year: 2026, month: 1, day: 1, hour }, { zone: ZONE }).plus({ days: day });
        const at = local.toFormat("yyyy-MM-dd'T'HH:mm");
        expect(postMoments(saying('x', [1], at), world).get(1)).toBe(local.toMillis());
      }),
    );
  });
});

describe('what a post lacks', () => {
  const lacks = (post: WrittenPost) => missingOf(post, world, NOON).map(({ what, says }) => `${what}: ${says}`);
  it('is said in a sentence each', () => {
    expect(lacks(saying('x'))).toEqual([]);
    expect(lacks(saying(' ', [], null))).toEqual([
      'words: It says nothing yet.',
      'outlet: It has nowhere to go yet.',
      'time: It has no time yet.',
    ]);
    expect(lacks(movedTo(saying('x'), 2, '2027-03-01T09:00'))).toEqual([
      'time: Its outlets are more than 60 days apart.',
    ]);
    expect(lacks(saying('x', [1], 'soon'))).toEqual(['time: Its time cannot be read.']);
    expect(lacks(saying('y'.repeat(400), [2]))).toEqual([expect.stringMatching(/^fit: The microblog: /)]);
    expect(lacks(saying('x', [3]))).toEqual([
      'other: The photos needs a picture. Choose the field it comes from, or a file.',
    ]);
    expect(lacks(saying('x', [77]))).toEqual(['other: An outlet of this step is gone. Choose another.']);
    expect(lacks(saying('{$', [1]))).toEqual([expect.stringMatching(/^other: The words cannot be used/)]);
  });
  it('is no time where a timetable says it', () => {
    const post = saying('x', [1], null);
    post.publish.when = { type: 'free' };
    expect(lacks(post)).toEqual([]);
  });
});

describe('a yes to a post', () => {
  it('is to its words and places, whenever it goes', () => {
    const post = saying('x');
    expect(approvedPart(movedTo(post, 2, '2026-12-26T10:00'))).toBe(approvedPart(post));
    expect(approvedPart(saying('x', [2, 1]))).toBe(approvedPart(post));
    expect(approvedPart(saying('y'))).not.toBe(approvedPart(post));
    expect(approvedPart(saying('x', [1]))).not.toBe(approvedPart(post));
    expect(approvedPart({ ...post, link: 'https://x.example/' })).not.toBe(approvedPart(post));
  });
});
