// What has to be settled before going live, so that nobody reads what nobody meant to say.
import { describe, expect, it } from 'vitest';
import type { Step } from '../steps/index.ts';
import type { Definition } from './definition.ts';
import { placeholderIn } from './placeholders.ts';
import { validateDefinition } from './validate.ts';
import type { World } from '../model/world.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([
    [1, { id: 1, kind: 'page', name: 'Page', accountId: 1, acts: ['publish'] }],
    [
      2,
      {
        id: 2,
        kind: 'sheet',
        name: 'Plan',
        accountId: 2,
        acts: ['record'],
        details: { columns: [{ name: 'Posted', type: 'text' }] },
      },
    ],
  ]),
  watches: new Map([
    [1, { id: 1, name: 'Plan: rows', things: 'rows', outlet: 2, internal: true }],
    [2, { id: 2, name: 'A channel', things: 'videos' }],
  ]),
};
const flow = (watch: number, text: string, more: { card?: string | null; steps?: Step[] } = {}): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text },
    { id: 'post', verb: 'publish', outlets: [1], caption: 'caption', card: more.card ?? null },
    ...(more.steps ?? []),
  ],
});
const harms = (definition: Definition) =>
  validateDefinition(definition, world).flatMap(({ level, step, says }) =>
    level === 'harm' ? [`${step}: ${says}`] : [],
  );

describe('a placeholder', () => {
  it.each([
    ['Words', 'Words'],
    ['Thank you /person name for coming', '/person name'],
    ['New: /title', '/title'],
    ['Hello [first name]!', '[first name]'],
    ['See <link>', '<link>'],
  ])('in “%s” is “%s”', (words, found) => {
    expect(placeholderIn(words)).toBe(found);
    expect(harms(flow(2, words))).toEqual([expect.stringContaining(`“${found}”`)]);
  });
  it.each([
    'New: {$title}',
    'Words of wisdom: {$title}',
    'Swim and/or sauna, 24/7, https://ternbay.example/title/text',
    '[Video] New lesson',
    'I <3 the sea',
    'Ten for $5',
  ])('is not seen in “%s”', (words) => {
    expect(placeholderIn(words)).toBe(undefined);
  });
  it('that may be meant is told of and holds nothing up', () => {
    expect(harms(flow(2, 'Write /start to the bot'))).toEqual([]);
    expect(validateDefinition(flow(2, 'Write /start to the bot'), world)).toHaveLength(1);
  });
});

describe('a link that only colleagues can open', () => {
  it('as a card, or in words that go to an audience, has to be settled', () => {
    expect(harms(flow(1, '{$Caption}', { card: 'link' }))).toEqual([
      'post: The link of Plan: rows opens only for colleagues, and would be shown as a card. Choose another link, or none.',
    ]);
    expect(harms(flow(1, '{$Caption} {$link}'))).toEqual([expect.stringContaining('in the words')]);
    expect(harms(flow(1, '{$Caption} {$Link}'))).toEqual([]);
    expect(harms(flow(2, '{$title} {$link}', { card: 'link' }))).toEqual([]);
  });
  it('may be told to colleagues', () => {
    const steps: Step[] = [{ id: 'tell', verb: 'notify', to: [], text: 'Look: {$link}' }];
    expect(harms(flow(1, '{$Caption}', { steps }))).toEqual([]);
  });
});

describe('the row that an item is', () => {
  const own = (column: string): Step => ({
    id: 'row',
    verb: 'record',
    outlet: null,
    where: 'item',
    match: null,
    values: [{ column, value: 'yes' }],
    as: 'row',
  });
  it('has to have the column that is written, and to be a row', () => {
    expect(harms(flow(1, '{$Caption}', { steps: [own('Posted')] }))).toEqual([]);
    expect(harms(flow(1, '{$Caption}', { steps: [own('Psted')] }))).toEqual([
      'row: The table has no column called “Psted”.',
    ]);
    const elsewhere = { ...world, watches: new Map([[2, world.watches.get(2)!]]) };
    expect(
      validateDefinition(flow(2, '{$title}', { steps: [own('Posted')] }), elsewhere).map(({ says }) => says),
    ).toEqual(['What is watched is no table, so there is no row to write into.']);
  });
});

describe('a snippet', () => {
  it('with fields in it is for the desk alone: in a caption they would go out as they stand', () => {
    const said = (text: string) => {
      const known: World = { ...world, snippets: new Map([['hello', text]]) };
      return validateDefinition(flow(2, '{$title} {$snippet.hello}'), known).filter(({ level }) => level === 'harm');
    };
    expect(said('Hello!')).toEqual([]);
    expect(said('Hello {$person.name}!')).toMatchObject([
      { step: 'words', says: expect.stringContaining('filled in at the desk alone') },
    ]);
  });
});
