import type { Definition } from '../workflow/definition.ts';
import { NO_SETTINGS, type Settings } from '../workflow/settings.ts';
import { describe, expect, it } from 'vitest';
import { compile } from '../engine/program.ts';
import { rehearseItem } from './rehearse.ts';
import type { PastItem } from './virtual-run.ts';
import type { Step } from '../steps/index.ts';
import { differencesBetween, differencesOf } from './differences.ts';
import type { World } from '../model/world.ts';

const world: World = {
  timeZone: 'UTC',
  locale: 'en',
  watches: new Map([[1, { id: 1, name: 'Films', things: 'films' }]]),
  outlets: new Map(
    (['page', 'page', 'board'] as const).map((kind, index) => [
      index + 1,
      { id: index + 1, kind, name: `Outlet ${index + 1}`, accountId: 1 },
    ]),
  ),
};
const item: PastItem = {
  id: 1,
  watch: 1,
  identity: 'a',
  publishedAt: 0,
  seenAt: 0,
  fields: { title: 'Cold water', link: 'https://lidos.example/1', picture: 'https://lidos.example/1.jpg' },
};
const outcome = (text: string, more: object = {}, ...steps: Step[]) =>
  rehearseItem(
    compile(
      {
        schema: 1,
        sources: [{ id: 's', watch: 1 }],
        steps: [
          ...steps,
          { id: 'words', verb: 'compose', name: 'caption', text },
          { id: 'post', verb: 'publish', outlets: [1, 2, 3], caption: 'caption', card: null, ...more } as Step,
        ],
      },
      world,
    ),
    item,
    0,
  );
const media = [{ type: 'picture', from: 'picture', alt: 'Water' }];
const whole = { title: '{$title}', media };

describe('what differs between two versions', () => {
  it('is nothing between a version and itself', () => {
    expect(differencesOf(outcome('{$title}', whole), outcome('{$title}', whole))).toEqual([]);
  });
  it('is said once for outlets at which it differs alike', () => {
    expect(differencesOf(outcome('{$title}', whole), outcome('New: {$title}', whole))).toEqual([
      { aspect: 'words', outlets: [1, 2, 3], before: 'Cold water', after: 'New: Cold water' },
    ]);
  });
  it('tells words, titles, cards and pictures apart', () => {
    const before = outcome('{$title}', whole);
    const after = outcome('{$title}', {
      title: 'A film: {$title}',
      card: 'link',
      media: [{ ...media[0], alt: 'Cold water' }],
    });
    expect(differencesOf(before, after)).toEqual(
      [
        { aspect: 'media', outlets: [1, 2, 3], before: 'picture: Water', after: 'picture: Cold water' },
        { aspect: 'title', outlets: [3], before: 'Cold water', after: 'A film: Cold water' },
        { aspect: 'card', outlets: [1, 2, 3], before: null, after: 'https://lidos.example/1' },
      ].sort((a, b) => ['media', 'title', 'card'].indexOf(a.aspect) - ['media', 'title', 'card'].indexOf(b.aspect)),
    );
  });
  it('knows what is new, gone, held or stopped', () => {
    const gone = differencesOf(outcome('{$title}', whole), outcome('{$title}', { ...whole, outlets: [1, 2] }));
    expect(gone).toContainEqual({ aspect: 'words', outlets: [3], before: 'Cold water', after: null });
    const held = differencesOf(outcome('{$title}', whole), outcome('{$title}', {}));
    expect(held).toContainEqual({
      aspect: 'trouble',
      outlets: [3],
      before: null,
      after: 'Outlet 3 needs a picture, and there is none.',
    });
    const check: Step = {
      id: 'check',
      verb: 'check',
      condition: {
        type: 'group',
        match: 'all',
        items: [{ type: 'test', field: 'title', op: 'contains', value: 'warm' }],
      },
    };
    const stopped = differencesOf(outcome('{$title}', whole), outcome('{$title}', whole, check));
    expect(stopped).toContainEqual({ aspect: 'outcome', outlets: [], before: 'done', after: 'stopped' });
  });
});

describe('words that become too long', () => {
  it('are compared with the words before, and why they are held is said beside them', () => {
    const long = 'Cold water. '.repeat(60).trim();
    const found = differencesOf(outcome('{$title}', whole), outcome(long, whole));
    expect(found).toContainEqual({ aspect: 'words', outlets: [1, 2, 3], before: 'Cold water', after: long });
    expect(found.find(({ aspect }) => aspect === 'trouble')).toMatchObject({ outlets: [3], before: null });
    // And back again: what stood in the way no longer does.
    expect(differencesOf(outcome(long, whole), outcome('{$title}', whole))).toContainEqual(
      expect.objectContaining({ aspect: 'trouble', outlets: [3], after: null }),
    );
  });
});

describe('two versions over the same items', () => {
  const world: World = {
    timeZone: 'Europe/Lisbon',
    locale: 'en',
    outlets: new Map([[1, { id: 1, kind: 'page', name: 'Page', accountId: 1 }]]),
    watches: new Map([[1, { id: 1, name: 'Comments', things: 'comments' }]]),
  };
  const version = (wordings: string[], settings: Partial<Settings> = {}, checked = false): Definition => ({
    schema: 1,
    sources: [{ id: 'source', watch: 1 }],
    steps: [
      ...(checked
        ? [
            {
              id: 'check',
              verb: 'check' as const,
              condition: {
                type: 'group' as const,
                match: 'all' as const,
                items: [{ type: 'test' as const, field: 'n', op: 'above' as const, value: 9 }],
              },
            },
          ]
        : []),
      { id: 'words', verb: 'compose', name: 'caption', text: wordings[0]!, others: wordings.slice(1) },
      { id: 'post', verb: 'publish', outlets: [1], caption: 'caption', card: null },
    ],
    settings: { ...NO_SETTINGS, ...settings },
  });
  const items = Array.from({ length: 40 }, (_, n) => ({
    identity: `id:${n}`,
    publishedAt: n * 3_600_000,
    seenAt: n * 3_600_000,
    id: n + 1,
    watch: 1,
    fields: { n, who: `person ${n % 10}` },
  }));
  const three = ['One {$n}', 'Two {$n}', 'Three {$n}'];

  it('sees that once per person was taken away', () => {
    const once = { once: { by: 'who', within: null } };
    const found = differencesBetween(version(['{$n}'], once), version(['{$n}']), world, items);
    expect(found).toHaveLength(30);
    expect(found[0]!.all).toContainEqual({ aspect: 'outcome', outlets: [], before: 'stopped', after: 'done' });
  });
  it('does not take wordings that fall otherwise for changes', () => {
    expect(differencesBetween(version(three), version(three), world, items)).toEqual([]);
    // A check that lets fewer through leaves the others their wordings.
    const fewer = differencesBetween(version(three), version(three, {}, true), world, items);
    expect(fewer.map(({ item }) => item.fields.n)).toEqual(Array.from({ length: 10 }, (_, n) => n));
    // One more wording changes only the items that get it.
    const more = differencesBetween(version(three), version([...three, 'Four {$n}']), world, items);
    expect(more.length).toBeGreaterThan(0);
    for (const { all } of more) expect(all.map(({ after }) => after)).toEqual([expect.stringMatching(/^Four/)]);
  });
});
