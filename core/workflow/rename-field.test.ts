import { describe, expect, it } from 'vitest';
import { NO_SETTINGS } from './settings.ts';
import { definitionSchema, type Definition } from './definition.ts';
import { inWords, renameField } from './rename-field.ts';

const test = (field: string) => ({
  type: 'group' as const,
  match: 'all' as const,
  items: [{ type: 'test' as const, field, op: 'filled' as const }],
});
const everywhere: Definition = definitionSchema.parse({
  schema: 1,
  sources: [
    { id: 's', watch: 1, condition: test('who'), trigger: { on: 'becomes', when: test('who.since') } },
    { id: 's2', watch: 2, trigger: { on: 'changes', fields: ['who', 'other'] } },
  ],
  settings: { ...NO_SETTINGS, once: { by: 'who.id', within: null }, inOrder: 'who', onChange: ['who', 'other'] },
  steps: [
    { id: 'a', verb: 'check', condition: test('who') },
    {
      id: 'b',
      verb: 'split',
      by: 'asks',
      cases: [
        {
          id: 'x',
          name: '',
          when: test('who.name'),
          share: 1,
          steps: [
            {
              id: 'c',
              verb: 'compose',
              name: 'caption',
              text: 'Hi {$who.name :firstSentence} and {$whole}',
              others: ['{$who}'],
            },
          ],
        },
      ],
      otherwise: [],
    },
    {
      id: 'd',
      verb: 'foreach',
      list: 'who',
      as: 'each',
      most: null,
      together: true,
      steps: [{ id: 'e', verb: 'compose', name: 'line', text: '{$each}' }],
    },
    {
      id: 'f',
      verb: 'gather',
      from: { type: 'runs', group: 'who', closing: { at: null, count: 2, silence: null } },
      take: 'who',
      as: 'g',
      between: ' ',
      order: { by: 'who', direction: 'up' },
      most: null,
      whenEmpty: 'stop',
    },
    { id: 'h', verb: 'wait', until: { type: 'field', field: 'who', offset: 0 } },
    {
      id: 'i',
      verb: 'call',
      method: 'POST',
      url: 'https://x.example/{$who}',
      headers: [{ name: 'X', value: '{$who}' }],
      body: { type: 'json', text: '{"who":"{$who}","fixed":"who"}' },
      as: 'answer',
      sample: {},
      keyed: false,
      again: { until: test('who'), every: 60, times: 2 },
      whenNot: 'on',
    },
    {
      id: 'j',
      verb: 'publish',
      outlets: [1],
      caption: 'caption',
      card: 'who',
      when: { type: 'field', field: 'who.at' },
    },
    { id: 'k', verb: 'label', person: 'who', name: 'who.name', add: ['x'], remove: [] },
    { id: 'l', verb: 'notify', to: [], text: '{$who}' },
    { id: 'm', verb: 'hold', question: '{$who}?', text: null },
    {
      id: 'n',
      verb: 'find',
      what: 'person',
      outlet: null,
      by: 'id',
      value: '{$who}',
      as: 'found',
      whenNone: 'on',
      whenSeveral: 'first',
    },
    { id: 'o', verb: 'reply', outlet: 1, to: 'who', caption: 'caption' },
    {
      id: 'p',
      verb: 'record',
      outlet: 1,
      match: { column: 'who', value: '{$who}' },
      values: [{ column: 'who', value: '{$who}' }],
      as: 'row',
    },
    {
      id: 'q',
      verb: 'draft',
      outlet: 1,
      name: 'draft',
      instruction: '{$who}',
      about: '{$who}',
      longest: 100,
      variety: 0,
    },
  ],
});

describe('renaming a field', () => {
  it('reaches every use of it, and nothing that only looks like it', () => {
    const renamed = renameField(everywhere, 'who', 'client');
    const text = JSON.stringify(renamed);
    expect(text).not.toMatch(/\$who[.} ]/);
    expect(renamed.steps[1]).toMatchObject({
      cases: [
        {
          when: { items: [{ field: 'client.name' }] },
          steps: [{ text: 'Hi {$client.name :firstSentence} and {$whole}' }],
        },
      ],
    });
    expect(renamed.steps.find(({ id }) => id === 'j')).toMatchObject({ when: { field: 'client.at' } });
    expect(renamed.sources).toMatchObject([
      { trigger: { when: { items: [{ field: 'client.since' }] } } },
      { trigger: { fields: ['client', 'other'] } },
    ]);
    // Columns, and words that are only words, stay.
    expect(text.match(/"who"|\\"who\\"/g)).toEqual(['\\"who\\"', '\\"who\\"', '"who"', '"who"']);
    expect(definitionSchema.parse(renamed)).toEqual(renamed);
  });
  it('and back gives what there was', () => {
    const back = renameField(renameField(everywhere, 'who', 'client'), 'client', 'who');
    const norm = (definition: Definition) => JSON.stringify(definition).replace(/\\n|\s+/g, '');
    expect(norm(back)).toBe(norm(everywhere));
  });
  it('of a field that is not used leaves the definition as it is', () => {
    expect(renameField(everywhere, 'nobody', 'x')).toBe(everywhere);
  });
  it('leaves words alone that cannot be read', () => {
    expect(inWords('{$who', (path) => `${path}!`)).toBe('{$who');
    expect(inWords('.input {$who :string}\n.match $who\na {{A}}\n* {{B {$who}}}', () => 'client')).toContain('$client');
  });
});
