import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Item } from '../items/item.ts';
import { KIND_RULES } from '../outlets/kinds.ts';
import { measure } from '../outlets/length.ts';
import { phraseText } from '../workflow/sentence.ts';
import type { World } from '../model/world.ts';
import { check, type CheckStep } from './check.ts';
import { compose, type ComposeStep } from './compose.ts';
import { prepareStep, stepProblems, stepSchema, stepSentence, stepSort } from './index.ts';
import type { Env } from './verb.ts';
import { outletNames, publish, type PublishStep } from './publish.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([1, 2, 3, 4].map((id) => [id, { id, kind: 'page' as const, name: `Page ${id}`, accountId: 1 }])),
  watches: new Map(),
};
const item: Item = {
  identity: 'id:1',
  publishedAt: 0,
  fields: { title: 'Cold water', link: 'https://x.example/1', length: 90, description: '' },
};
const env = (made: Record<string, string> = {}): Env => ({
  item,
  fields: { ...item.fields, ...made },
  now: 1000,
  chance: () => 0.5,
  gathered: () => [],
  tries: 0,
});
const aCheck: CheckStep = {
  id: 'c',
  verb: 'check',
  condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'length', op: 'longer', value: 60 }] },
};
const aCompose: ComposeStep = { id: 'w', verb: 'compose', name: 'caption', text: ' {$title} {$description} ' };
const aPublish: PublishStep = { id: 'p', verb: 'publish', outlets: [1, 2], caption: 'caption', card: 'link' };

describe('Check', () => {
  it('lets on or stops, with the reason', () => {
    expect(check.prepare(aCheck, world).plan(env())).toEqual({ go: 'on', cell: { kind: 'passes', why: '1:30' } });
    const strict = {
      ...aCheck,
      condition: {
        ...aCheck.condition,
        items: [{ type: 'test' as const, field: 'length', op: 'longer' as const, value: 120 }],
      },
    };
    expect(check.prepare(strict, world).plan(env())).toEqual({
      go: 'stop',
      cell: { kind: 'stops', why: '1:30 is not over 2 min' },
    });
  });
  it('names a question that is not finished, and one that asks nothing', () => {
    const asking = (items: CheckStep['condition']['items']) =>
      check.problems({ ...aCheck, condition: { type: 'group', match: 'all', items } }).map((problem) => problem.level);
    expect(asking([])).toEqual(['advice']);
    expect(asking([{ type: 'test', field: '', op: 'contains', value: 'x' }])).toEqual(['harm']);
    expect(asking([{ type: 'test', field: 'title', op: 'contains', value: '' }])).toEqual(['harm']);
    expect(asking([{ type: 'test', field: 'title', op: 'filled' }])).toEqual([]);
    expect(
      asking([{ type: 'group', match: 'any', items: [{ type: 'test', field: 'views', op: 'above', value: 0 }] }]),
    ).toEqual([]);
  });
});

describe('Compose', () => {
  it('words a text without loose ends, counts it, and says which fields were empty', () => {
    expect(compose.prepare(aCompose, world).plan(env())).toEqual({
      go: 'on',
      cell: { kind: 'text', name: 'caption', text: 'Cold water', length: 10, empty: ['description'] },
      values: { caption: 'Cold water' },
    });
  });
  it('goes on with nothing when it cannot be read, and says why', () => {
    const plan = compose.prepare({ ...aCompose, text: '{$title' }, world).plan(env());
    expect(plan).toMatchObject({
      go: 'on',
      values: { caption: '' },
      cell: { text: '', wrong: 'This cannot be read at character 8.' },
    });
    expect(compose.problems({ ...aCompose, text: '{$title' }, world)).toHaveLength(1);
    expect(compose.problems({ ...aCompose, text: '   ' }, world)[0]!.says).toBe('The caption has no words yet.');
  });
});

describe('Publish', () => {
  const plan = (texts: Record<string, string>, step = aPublish) => publish.prepare(step, world).plan(env(texts));
  it('plans one post per outlet, each once', () => {
    const { effects } = plan({ caption: 'Hello' }, { ...aPublish, outlets: [2, 1, 2] }) as {
      effects: { outlet: number }[];
    };
    expect(effects).toEqual([
      {
        action: 'publish',
        outlet: 2,
        input: { text: 'Hello', card: 'https://x.example/1' },
        length: 5,
        limit: 2000,
        blocked: undefined,
      },
      {
        action: 'publish',
        outlet: 1,
        input: { text: 'Hello', card: 'https://x.example/1' },
        length: 5,
        limit: 2000,
        blocked: undefined,
      },
    ]);
  });
  it('shows no card for a field that is empty, and none when there is to be none', () => {
    expect(plan({ caption: 'x' }, { ...aPublish, card: 'description' })).toMatchObject({
      effects: [{ input: { card: null } }, {}],
    });
    expect(plan({ caption: 'x' }, { ...aPublish, card: null })).toMatchObject({
      effects: [{ input: { card: null } }, {}],
    });
  });
  it('never plans to send what is empty, too long, or has nowhere to go', () => {
    expect(plan({})).toMatchObject({ effects: [{ blocked: { trouble: 'empty' } }, { blocked: { trouble: 'empty' } }] });
    expect(plan({ caption: 'x' }, { ...aPublish, outlets: [9] })).toMatchObject({
      effects: [{ blocked: { trouble: 'no-outlet' } }],
    });
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 3000, size: 'max' }), (text) => {
        const { effects } = plan({ caption: text }, { ...aPublish, outlets: [1] }) as {
          effects: { blocked?: object }[];
        };
        const length = measure(KIND_RULES.page.text, text);
        const fits = text.trim() !== '' && length <= KIND_RULES.page.text.limit!;
        expect(effects[0]!.blocked === undefined).toBe(fits);
      }),
      { numRuns: 200 },
    );
  });
  it('says where in a sentence', () => {
    const says = (outlets: number[]) => phraseText(publish.sentence({ ...aPublish, outlets }, world));
    expect([says([]), says([1]), says([1, 2]), says([1, 2, 3]), says([1, 2, 3, 4]), says([9])]).toEqual([
      'Publish nowhere yet',
      'Publish to Page 1 at once',
      'Publish to Page 1 and Page 2 at once',
      'Publish to Page 1, Page 2 and Page 3 at once',
      'Publish to 4 outlets at once',
      'Publish to an outlet that is gone at once',
    ]);
    expect(phraseText(outletNames([], world))).toBe('nowhere yet');
  });
});

describe('all verbs', () => {
  const steps = [aCheck, aCompose, aPublish];
  it('have a sentence that begins with the verb, a sort, and a schema that takes them', () => {
    for (const step of steps) {
      const sentence = phraseText(stepSentence(step, world));
      expect(sentence.toLowerCase().startsWith(step.verb)).toBe(true);
      expect(['thinking', 'sending']).toContain(stepSort(step.verb));
      expect(stepSchema.parse(step)).toEqual(step);
    }
  });
  it('say nothing of a step that is switched off', () => {
    expect(
      stepProblems({ ...aPublish, outlets: [], off: true }, world, { watches: [], steps: new Map(), texts: new Set() }),
    ).toEqual([]);
  });
  it.each(['title', 'length', 'link', 'description'])(
    'take a %s that is named as the functions of an object are',
    (name) => {
      const odd = { toString: '', valueOf: '', toJSON: '', then: '', constructor: '', length: 3, __proto__: 1 };
      for (const step of steps)
        expect(() => prepareStep(step, world).plan({ ...env(), fields: { [name]: odd, caption: 'x' } })).not.toThrow();
    },
  );
  it('never throw for any item', () => {
    fc.assert(
      fc.property(
        fc.dictionary(fc.constantFrom('title', 'length', 'link', 'description'), fc.jsonValue()),
        (fields) => {
          for (const step of steps) {
            const plan = prepareStep(step, world).plan({
              ...env(),
              fields: { ...(fields as Item['fields']), caption: 'x' },
            });
            expect(['on', 'stop', 'perform']).toContain(plan.go);
          }
        },
      ),
    );
  });
});
