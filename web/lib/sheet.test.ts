import { DURATION } from '@playa/core/shapes/shape.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Item } from '@playa/core/items/item.ts';
import {
  stepBranches,
  stepProblems,
  stepSchema,
  stepSentence,
  stepSort,
  stepTitle,
  stepVerbs,
  type Step,
} from '@playa/core/steps/index.ts';
import { definitionSchema, type Definition } from '@playa/core/workflow/definition.ts';
import { saySettings } from '@playa/core/workflow/say-settings.ts';
import { phraseText } from '@playa/core/workflow/sentence.ts';
import { NO_SETTINGS, orderOf, type Settings } from '@playa/core/workflow/settings.ts';
import type { Source } from '@playa/core/workflow/source.ts';
import { allSteps, placeOf, stepsBefore } from '@playa/core/workflow/tree.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import type { World } from '@playa/core/model/world.ts';
import { fieldsMadeBefore, itemFields, textsBefore } from './fields-before.ts';
import { makeStep } from './make-step.ts';
import { alikeSources, bandId, FAILURES, listOfBand, RULES, sheetRows } from './sheet-rows.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([
    [
      1,
      {
        id: 1,
        kind: 'page',
        name: 'Tern Bay page',
        accountId: 1,
        acts: ['publish', 'reply', 'record', 'draft', 'message', 'react', 'revise'],
      },
    ],
    [2, { id: 2, kind: 'channel', name: 'Tern Bay channel', accountId: 2, acts: [] }],
  ]),
  watches: new Map([[1, { id: 1, name: 'Pool closures', things: 'messages' }]]),
  colleagues: new Map([[1, 'Mo Okoro']]),
  secrets: [],
};
const items: Item[] = [
  {
    identity: 'id:1',
    publishedAt: 0,
    fields: {
      title: 'Closed',
      link: 'https://x.example/1',
      length: 90,
      who: { id: 'p1', name: 'Mo' },
      pools: [{ name: 'Tern Bay', back: 'soon' }],
      published: '2026-11-23T10:00:00Z',
    },
  },
];
const around = (definition: Definition, row: string) => ({
  definition,
  world,
  items,
  row,
  fields: itemFields(items, { length: DURATION }),
  usable: [...itemFields(items, { length: DURATION }), ...fieldsMadeBefore(definition, row, items, world)],
});
const define = (steps: Step[], settings?: Settings): Definition =>
  definitionSchema.parse({ schema: 1, sources: [{ id: 's', watch: 1 }], steps, settings });
const compose: Step = { id: 'w', verb: 'compose', name: 'caption', text: '{$title}' };

describe('a new step', () => {
  const definition = define([
    compose,
    { id: 'p', verb: 'publish', outlets: [1], caption: 'caption', card: 'link', as: 'post' },
  ]);
  it.each(stepVerbs())('%s is one its schema takes, with a sentence that begins with its verb', (verb) => {
    const step = makeStep(verb, '', around(definition, 'p'));
    expect(stepSchema.parse(step)).toEqual(step);
    expect(phraseText(stepSentence(step, world))).toMatch(new RegExp(`^${stepTitle(verb)}`));
    expect(['looking', 'thinking', 'sending', 'keeping']).toContain(stepSort(verb));
  });
  it.each(
    stepVerbs().filter(
      (verb) => !['call', 'record', 'reply', 'message', 'react', 'draft', 'label', 'gather'].includes(verb),
    ),
  )('%s works at once where the items have what it takes', (verb) => {
    const step = makeStep(verb, '', around(definition, 'p'));
    const problems = stepProblems(step, world, {
      watches: [],
      texts: new Set(['caption', 'post.posts']),
      steps: new Map(definition.steps.map((each) => [each.id, each])),
    });
    expect(problems.filter((problem) => problem.level === 'harm')).toEqual([]);
  });
  it('takes what was typed after its name', () => {
    const make = (verb: 'wait' | 'check' | 'call' | 'label' | 'end', typed: string) =>
      makeStep(verb, typed, around(definition, 'p'));
    expect(make('wait', 'wait 10 min')).toMatchObject({ until: { type: 'duration', seconds: 600 } });
    expect(make('check', 'check longer 2 min')).toMatchObject({
      condition: { items: [{ field: 'length', op: 'longer', value: 120 }] },
    });
    expect(make('call', 'call https://x.example/')).toMatchObject({ url: 'https://x.example/' });
    expect(make('label', 'label greeted')).toMatchObject({ add: ['greeted'] });
    expect(make('end', 'end nothing more')).toMatchObject({ why: 'nothing more' });
  });
  it('gets a name that no other step makes', () => {
    const second = makeStep('compose', '', around(definition, 'p'));
    expect(second).toMatchObject({ name: 'caption2' });
    expect(makeStep('compose', '', around(define([...definition.steps, second]), 'p'))).toMatchObject({
      name: 'caption3',
    });
  });
  it('gathers from the For each above it', () => {
    const loop: Step = {
      id: 'l',
      verb: 'foreach',
      list: 'pools',
      as: 'pool',
      most: null,
      together: true,
      steps: [{ ...compose, id: 'in', name: 'line' } as Step],
    };
    expect(makeStep('gather', '', around(define([loop]), 'l'))).toMatchObject({
      from: { type: 'each', step: 'l' },
      take: 'line',
    });
    expect(makeStep('gather', '', around(definition, 'p'))).toMatchObject({ from: { type: 'runs' } });
  });
});

const nested = define(
  [
    compose,
    {
      id: 'x',
      verb: 'split',
      by: 'asks',
      cases: [
        {
          id: 'a',
          name: 'Rough',
          when: { type: 'group', match: 'all', items: [] },
          share: 1,
          steps: [{ id: 'e', verb: 'end', why: '' }],
        },
      ],
      otherwise: [
        {
          id: 'l',
          verb: 'foreach',
          list: 'pools',
          as: 'pool',
          most: null,
          together: true,
          steps: [{ id: 'in', verb: 'compose', name: 'line', text: '{$pool.name}' }],
        },
      ],
    },
    {
      id: 'c',
      verb: 'call',
      method: 'GET',
      url: 'https://x.example/',
      headers: [],
      body: null,
      as: 'answer',
      sample: { size: 3, deep: { name: 'x' } },
      keyed: false,
      again: null,
      whenNot: 'on',
    },
    { id: 'p', verb: 'publish', outlets: [1], caption: 'caption', card: null, as: 'post' },
  ],
  { ...NO_SETTINGS, onFailure: { do: 'steps', steps: [{ id: 'f', verb: 'notify', to: [], text: 'x' }] } },
);

describe('the rows of a sheet', () => {
  it('are numbered by nesting, with a band for every list that needs one', () => {
    expect(sheetRows(nested).map((row) => ('number' in row ? `${row.number} ${row.id}` : row.id))).toEqual([
      '1 s',
      RULES,
      '2 w',
      '3 x',
      'x/a',
      '3a.1 e',
      'x/otherwise',
      '3b.1 l',
      '3b.1.1 in',
      '4 c',
      '5 p',
      FAILURES,
      'F1 f',
    ]);
  });
  it('an empty For each shows where its steps go', () => {
    const empty = define([
      { id: 'l', verb: 'foreach', list: 'pools', as: 'pool', most: null, together: true, steps: [] },
    ]);
    expect(sheetRows(empty).at(-1)).toMatchObject({ type: 'band', id: bandId('l', 'each'), empty: true });
    expect(listOfBand(empty, bandId('l', 'each'))).toBe((empty.steps[0] as { steps: Step[] }).steps);
    expect(listOfBand(nested, FAILURES)).toHaveLength(1);
    expect(listOfBand(empty, FAILURES)).toBeUndefined();
    expect(listOfBand(nested, 'nobody/each')).toBeUndefined();
  });
  it('every step is found with its place, however deep', () => {
    expect(placeOf(nested, 'in')).toMatchObject({
      number: '3b.1.1',
      depth: 2,
      each: ['l'],
      inside: { branch: 'each' },
    });
    expect(stepsBefore(nested, 'l').map((step) => step.id)).toEqual(['w', 'x', 'e']);
    expect(allSteps(nested)).toHaveLength(8);
    expect(placeOf(nested, 'nobody')).toBeUndefined();
  });
});

describe('what can be used at a step', () => {
  const paths = (id: string) => fieldsMadeBefore(nested, id, items, world).map((field) => field.path);
  it('is what earlier steps make; elements only inside their For each', () => {
    expect(paths('in')).toEqual(expect.arrayContaining(['caption', 'pool.name', 'pool.back', 'pool.number']));
    expect(paths('p')).toEqual(['caption', 'answer.size', 'answer.deep.name', 'answer.status', 'answer.found']);
    expect(paths('w')).toEqual([]);
    expect(paths('s')).toEqual([]);
    expect(textsBefore(nested, 'p')).toEqual(['caption', 'line']);
  });
  it('has the types of its examples', () => {
    const types = Object.fromEntries(
      fieldsMadeBefore(nested, 'p', items, world).map((field) => [field.path, field.type]),
    );
    expect(types).toMatchObject({ 'answer.size': 'number', 'answer.status': 'number', 'answer.found': 'yesNo' });
  });
});

describe('rules', () => {
  it('are said in short', () => {
    const hours = [1, 2, 3, 4, 5, 6, 7].map(() => [{ from: '09:00', to: '17:00' }]);
    expect(
      saySettings({
        once: { by: 'who', within: 86_400 },
        hours,
        pace: { workflow: { gap: 60, jitter: 30 }, account: { gap: 5, jitter: 0 }, outlet: null },
        atOnce: 2,
        inOrder: 'who',
        onFailure: { do: 'skip' },
        stopAfter: 3,
        onChange: ['title'],
      }),
    ).toEqual([
      'once per who in 1 d',
      'Mon to Sun 09:00–17:00',
      '1 min to 1 min 30 s apart',
      '5 s apart per account',
      '2 at once',
      'in order per who',
      'skips what fails',
      'pauses after 3 failures in a row',
      'again when title changes',
    ]);
    expect(saySettings(undefined)).toEqual([]);
    expect(saySettings(NO_SETTINGS)).toEqual([]);
  });
  it('that cannot work are named', () => {
    const says = (settings: Partial<Settings>) =>
      validateDefinition(
        define([compose, { id: 'n', verb: 'notify', to: [], text: 'x' }], { ...NO_SETTINGS, ...settings }),
        world,
      ).map((problem) => problem.says);
    expect(says({ hours: [[], [], [], [], [], [], []] })).toEqual([
      'The opening hours are never open, so nothing would go out.',
    ]);
    expect(says({ onFailure: { do: 'steps', steps: [] } })).toEqual(['Say what is done when something fails.']);
    expect(says({})).toEqual([]);
  });
  it('an order is kept by what a field says, if it says something', () => {
    expect(orderOf({ ...NO_SETTINGS, inOrder: 'who.id' }, items[0]!.fields)).toBe('p1');
    expect(orderOf({ ...NO_SETTINGS, inOrder: 'nobody' }, items[0]!.fields)).toBeNull();
    expect(orderOf(undefined, items[0]!.fields)).toBeNull();
  });
});

describe('definitions', () => {
  it('refuse two steps of one id, however deep, and more than can be looked over', () => {
    const twice = { ...nested, steps: [...nested.steps, { id: 'in', verb: 'end', why: '' }] };
    expect(definitionSchema.safeParse(twice).success).toBe(false);
    const deep = (depth: number): Step => ({
      id: `d${depth}`,
      verb: 'foreach',
      list: 'x',
      as: 'y',
      most: null,
      together: true,
      steps: depth ? [deep(depth - 1)] : [],
    });
    expect(definitionSchema.safeParse({ schema: 1, sources: [{ id: 's', watch: 1 }], steps: [deep(6)] }).success).toBe(
      true,
    );
    expect(definitionSchema.safeParse({ schema: 1, sources: [{ id: 's', watch: 1 }], steps: [deep(7)] }).success).toBe(
      false,
    );
  });
  it('any step made anywhere leaves a definition that is read back as it was', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...stepVerbs()), fc.nat(20)), { maxLength: 12 }), (choices) => {
        const definition = define([]);
        for (const [verb, where] of choices) {
          const rows = sheetRows(definition).filter(
            (row) => row.type === 'step' || row.type === 'band' || row.type === 'rules',
          );
          const row = rows[where % rows.length]!.id;
          const step = makeStep(verb, '', around(definition, row));
          const placed = placeOf(definition, row);
          if (placed && placed.depth > 4) continue;
          const list = listOfBand(definition, row) ?? placed?.list ?? definition.steps;
          list.splice(placed ? placed.index + 1 : 0, 0, step);
        }
        expect(definitionSchema.parse(JSON.parse(JSON.stringify(definition)))).toEqual(definition);
        // Whatever is wrong with it is said, never thrown.
        expect(Array.isArray(validateDefinition(definition, world))).toBe(true);
        for (const { step } of allSteps(definition)) expect(stepBranches(step).length).toBeLessThan(22);
      }),
      { numRuns: 60 },
    );
  });
});

describe('sources that are watched alike', () => {
  const said = (watch: number) => (watch < 100 ? 'review' : watch < 200 ? 'comment' : undefined);
  const of = (...sources: Source[]) =>
    alikeSources(sources, said).map(({ source, others, at }) => [at + 1, source.id, ...others.map(({ id }) => id)]);
  const condition = { type: 'group' as const, match: 'all' as const, items: [] };

  it('are one row: the same is written there, and the same of it counts', () => {
    expect(of({ id: 'a', watch: 1 }, { id: 'b', watch: 101 }, { id: 'c', watch: 2 }, { id: 'd', watch: 3 })).toEqual([
      [1, 'a', 'c', 'd'],
      [2, 'b'],
    ]);
  });
  it('are none where something differs, where nothing is watched, or nobody writes', () => {
    expect(of({ id: 'a', watch: 1 }, { id: 'b', watch: 2, condition })).toEqual([
      [1, 'a'],
      [2, 'b'],
    ]);
    expect(of({ id: 'a', watch: 201 }, { id: 'b', watch: 202 })).toEqual([
      [1, 'a'],
      [2, 'b'],
    ]);
    expect(of({ id: 'a', watch: null }, { id: 'b', watch: null })).toEqual([
      [1, 'a'],
      [2, 'b'],
    ]);
  });
  it('lose none, and none is in two', () => {
    const source = fc.record({
      watch: fc.oneof(fc.constant(null), fc.nat(300)),
      trigger: fc.constantFrom<Source['trigger'][]>(undefined, { on: 'changes', fields: ['text'] }),
    });
    fc.assert(
      fc.property(fc.array(source, { maxLength: 50 }), (all) => {
        const sources = all.map((each, index): Source => ({ ...each, id: String(index) }));
        const ids = alikeSources(sources, said).flatMap((row) => [row.source.id, ...row.others.map(({ id }) => id)]);
        expect(ids.sort()).toEqual(sources.map(({ id }) => id).sort());
      }),
    );
  });
});
