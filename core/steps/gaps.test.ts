import { describe, expect, it } from 'vitest';
import { rehearseItem } from '../rehearsal/rehearse.ts';
import { compile } from '../engine/program.ts';
import type { Fields } from '../items/item.ts';
import type { World } from '../model/world.ts';
import type { ComposeStep } from './compose.ts';
import type { Step } from './index.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([1, 2].map((id) => [id, { id, kind: 'page' as const, name: `Page ${id}`, accountId: 1 }])),
  watches: new Map([[1, { id: 1, name: 'A table', things: 'rows', outlet: 3 }]]),
};
const made = (steps: Step[], fields: Fields) =>
  rehearseItem(
    compile({ schema: 1, sources: [{ id: 'src', watch: 1 }], steps }, world),
    {
      identity: 'a',
      publishedAt: 0,
      seenAt: 0,
      id: 1,
      watch: 1,
      fields: { ...fields, id: '7', outlet: { id: 3, name: 'Plan' } },
    },
    0,
  );
const words = (text: string, more: Partial<ComposeStep> = {}): Step[] => [
  { id: 'words', verb: 'compose', name: 'caption', text, ...more },
  { id: 'post', verb: 'publish', outlets: [1, 2], caption: 'caption', card: null },
];
const posts = (steps: Step[], fields: Fields) => {
  const cell = made(steps, fields).trace.post;
  return cell?.kind === 'posts' ? cell.posts.map((post) => post.trouble ?? post.text) : null;
};

describe('a caption with a gap', () => {
  const fresh = 'Fresh: {$bread}, {$cake}, baked at {$place}';
  it('waits for a person when everything put in is empty', () => {
    expect(posts(words(fresh), {})).toEqual(['empty', 'empty']);
    const said = made(words(fresh), {}).trace.words;
    expect(said).toMatchObject({ wrong: 'Nothing says what it is about: Bread, Cake, Place are empty.' });
    expect(posts(words(fresh, { own: [{ outlet: 2, text: 'At {$place}' }] }), {})).toEqual(['empty', 'empty']);
  });
  it('goes out when something says something, or waits or ends as the step says', () => {
    const fields = { bread: 'rye', place: 'the quay' };
    expect(posts(words(fresh), fields)).toEqual(Array(2).fill('Fresh: rye, , baked at the quay'));
    expect(posts(words(fresh, { gaps: { some: 'hold' } }), fields)).toEqual(['empty', 'empty']);
    expect(made(words(fresh, { gaps: { some: 'end' } }), fields)).toMatchObject({
      outcome: 'stopped',
      trace: { words: { kind: 'stops', why: 'empty: Cake' } },
    });
    expect(posts(words('{$bread}!', { gaps: { all: 'send' } }), {})).toEqual(['!', '!']);
  });
  it('waits where a list came and one thing was expected, and says so', () => {
    const batch = { place: 'the quay', bread: [{ name: 'rye' }, { name: 'oat' }] };
    for (const text of ['Fresh: {$bread.name}, baked at {$place}', 'Fresh: {$bread}, baked at {$place}']) {
      expect(posts(words(text), batch)).toEqual(['empty', 'empty']);
      expect(made(words(text), batch).trace.words).toMatchObject({
        wrong: expect.stringContaining('Bread came as a list of 2 where one thing was expected.'),
      });
    }
    // A list of words is said as it is, and one by its number.
    expect(posts(words('Fresh: {$bread}'), { bread: ['rye', 'oat'] })).toEqual(Array(2).fill('Fresh: rye, oat'));
    expect(posts(words('Fresh: {$bread.0.name}'), batch)).toEqual(Array(2).fill('Fresh: rye'));
    expect(posts(words('Fresh: {$bread.name}', { gaps: { all: 'send' } }), batch)).toEqual(Array(2).fill('Fresh:'));
  });
  it('is none where no field was put in', () => {
    expect(posts(words('Open all day'), {})).toEqual(['Open all day', 'Open all day']);
  });
});

describe('writing into the row that an item is', () => {
  const record = (values: { column: string; value: string }[]): Step[] => [
    { id: 'row', verb: 'record', outlet: null, where: 'item', match: null, values, as: 'row' },
  ];
  it('names what changes, old beside new, and leaves blank columns alone', () => {
    const { trace } = made(
      record([
        { column: 'Status', value: 'posted' },
        { column: 'Note', value: '' },
        { column: 'Link', value: '{$post}' },
      ]),
      { Status: 'ready', Note: 'do not lose me', post: 'https://pages.example/1' },
    );
    expect(trace.row).toMatchObject({
      acts: [{ outlet: 3, what: 'in this row: Status: ready → posted · Link: – → https://pages.example/1' }],
    });
  });
});
