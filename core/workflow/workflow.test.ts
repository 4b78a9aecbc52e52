import { describe, expect, it } from 'vitest';
import { rehearse } from '../rehearsal/rehearse.ts';
import type { PastItem } from '../rehearsal/virtual-run.ts';
import { Summing } from '../rehearsal/summary.ts';
import { adviceFor } from '../advice/advise.ts';
import { definitionSchema, type Definition } from './definition.ts';
import { phraseText, workflowSentence } from './sentence.ts';
import { validateDefinition } from './validate.ts';
import type { World } from '../model/world.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([
    [1, { id: 1, kind: 'page', name: 'Tern Bay page', accountId: 1 }],
    [2, { id: 2, kind: 'page', name: 'Old Quay', accountId: 1 }],
    [
      3,
      {
        id: 3,
        kind: 'page',
        name: 'Gannet Point',
        accountId: 2,
        trouble: 'The account for Gannet Point has to be connected again.',
      },
    ],
  ]),
  watches: new Map([[1, { id: 1, name: 'Tern Bay channel', things: 'videos' }]]),
};
const make = (changes: Partial<Definition> = {}): Definition =>
  definitionSchema.parse({
    schema: 1,
    sources: [{ id: 's', watch: 1 }],
    steps: [
      {
        id: 'c',
        verb: 'check',
        condition: {
          type: 'group',
          match: 'all',
          items: [{ type: 'test', field: 'length', op: 'longer', value: 120 }],
        },
      },
      { id: 'w', verb: 'compose', name: 'caption', text: '{$title} {$description} {$link}' },
      { id: 'p', verb: 'publish', outlets: [1, 2], caption: 'caption', card: 'link' },
    ],
    ...changes,
  });
const says = (definition: Definition) => validateDefinition(definition, world).map((problem) => problem.says);

describe('a workflow’s sentence', () => {
  it('is written from its definition', () => {
    expect(phraseText(workflowSentence(make(), world))).toBe(
      'New videos on Tern Bay channel if length is over 2 min → Tern Bay page and Old Quay',
    );
    expect(phraseText(workflowSentence(make({ sources: [{ id: 's', watch: null }], steps: [] }), world))).toBe(
      'Nothing is watched yet → nowhere yet',
    );
  });
});

describe('validation', () => {
  it('finds nothing in a whole one', () => expect(says(make())).toEqual([]));
  it('names what would harm', () => {
    expect(says(make({ sources: [{ id: 's', watch: null }] }))).toEqual(['Choose what to watch.']);
    expect(
      says(
        make({
          sources: [
            { id: 's', watch: 1 },
            { id: 't', watch: 1 },
          ],
        }),
      ),
    ).toEqual(['The same source is watched twice.']);
    expect(says(make({ steps: [] }))).toEqual(['Nothing is published: add a step that publishes.']);
    expect(
      says(make({ steps: [{ id: 'p', verb: 'publish', outlets: [3, 8], caption: 'words', card: null }] })),
    ).toEqual([
      'Nothing above composes a text called “words”.',
      'The account for Gannet Point has to be connected again.',
      'An outlet of this step is gone. Choose another.',
    ]);
    const broken = make();
    broken.steps[1] = { id: 'w', verb: 'compose', name: 'caption', text: '{$title' };
    expect(says(broken)[0]).toContain('cannot be used');
    const off = make();
    off.steps[1]!.off = true;
    expect(says(off)).toEqual(['Nothing above composes a text called “caption”.']);
  });
  it('refuses what is no definition', () => {
    expect(definitionSchema.safeParse({ schema: 1, sources: [], steps: [] }).success).toBe(false);
    expect(
      definitionSchema.safeParse({ ...make(), steps: [{ id: 's', verb: 'compose', name: 'caption', text: '' }] })
        .success,
    ).toBe(false);
    expect(definitionSchema.safeParse({ ...make(), steps: [{ id: 'x', verb: 'shout' }] }).success).toBe(false);
  });
});

describe('rehearsal', () => {
  const past = (id: number, fields: PastItem['fields']): PastItem => ({
    id,
    watch: 1,
    identity: `id:${id}`,
    publishedAt: id * 1000,
    seenAt: id * 1000 + 60,
    fields,
  });
  const items = [
    past(3, { title: 'C', description: 'x'.repeat(2500), link: 'https://x.example/3', length: 400 }),
    past(1, { title: 'A', description: '', link: 'https://x.example/1', length: 400 }),
    past(2, { title: 'B', description: 'b', link: 'https://x.example/2', length: 60 }),
    past(4, { title: 'A', description: '', link: 'https://x.example/1', length: 400 }),
  ];
  it('goes through items in order of time and adds up', () => {
    const definition = make();
    const summing = new Summing(definition);
    const rehearsed = [...rehearse(definition, world, items)];
    for (const each of rehearsed) summing.add(each);
    expect(rehearsed.map((each) => [each.item, each.outcome, each.endedAt])).toEqual([
      [1, 'done', null],
      [2, 'stopped', 'c'],
      [3, 'held', 'p'],
      [4, 'done', null],
    ]);
    expect(summing.summary).toEqual({
      items: 4,
      posts: 4,
      answers: 0,
      outlets: 2,
      stops: [{ step: 'c', count: 1 }],
      tooLong: 2,
      tooLongAt: [
        { outlet: 1, count: 1 },
        { outlet: 2, count: 1 },
      ],
      emptyCaption: 0,
      incomplete: 0,
      lints: [],
      emptyFields: [{ field: 'description', count: 2 }],
      repeats: 2,
      joined: 0,
      waiting: 0,
    });
    const advice = adviceFor(definition, summing.summary, world);
    expect(advice.map((each) => each.says)).toEqual([
      '2 posts of 4 items would be too long and wait for you.',
      'Description is empty in 2 of 4.',
      '2 posts would say the same as an earlier one on the same page.',
      'Link also shows as a card; it may be left out of the words.',
    ]);
    advice.at(-1)!.remedy!.apply(definition);
    expect(definition.steps[1]).toMatchObject({ text: '{$title} {$description}' });
  });
  it('says what would be posted, never that it was', () => {
    for (const { trace } of rehearse(make(), world, items)) {
      for (const cell of Object.values(trace)) {
        if (cell.kind === 'posts')
          for (const post of cell.posts) {
            expect(['would', 'held']).toContain(post.status);
            expect(post.key).toBeUndefined();
          }
      }
    }
  });
});
