import { describe, expect, it } from 'vitest';
import type { Trigger } from '../triggers/trigger.ts';
import type { Definition } from '../workflow/definition.ts';
import type { World } from '../model/world.ts';
import { rehearse } from './rehearse.ts';
import type { PastItem } from './virtual-run.ts';

const HOUR = 3_600_000;
const NOON = Date.UTC(2026, 10, 26, 12);
const world: World = {
  timeZone: 'UTC',
  locale: 'en',
  watches: new Map([[1, { id: 1, name: 'Plan', things: 'rows' }]]),
  outlets: new Map([[1, { id: 1, kind: 'page', name: 'Page', accountId: 1 }]]),
};
const ready: Trigger = {
  on: 'becomes',
  when: {
    type: 'group',
    match: 'all',
    items: [
      { type: 'test', field: 'status', op: 'is', value: 'ready' },
      { type: 'test', field: 'at', op: 'hasCome' },
    ],
  },
};
const definition: Definition = {
  schema: 1,
  sources: [{ id: 's', watch: 1, trigger: ready }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: '{$title}' },
    { id: 'post', verb: 'publish', outlets: [1], caption: 'caption', card: null },
  ],
};
const row = (id: number, status: string, at: string): PastItem => ({
  id,
  watch: 1,
  identity: String(id),
  publishedAt: NOON,
  seenAt: NOON,
  fields: { title: `Row ${id}`, status, at },
});

describe('a rehearsal of a workflow that waits for a condition', () => {
  it('posts each at the moment at which it turns true, in that order, and says why the others do not', () => {
    const rows = [
      row(1, 'ready', new Date(NOON + 3 * HOUR).toISOString()),
      row(2, 'ready', new Date(NOON + HOUR).toISOString()),
      row(3, 'draft', new Date(NOON).toISOString()),
      row(4, 'ready', new Date(NOON - HOUR).toISOString()),
    ];
    const told = [...rehearse(definition, world, rows)];
    const posts = told.flatMap(({ item, trace }) =>
      trace.post?.kind === 'posts' ? trace.post.posts.map(({ at }) => [item, at! - NOON]) : [],
    );
    expect(posts).toEqual([
      [4, 0],
      [2, HOUR],
      [1, 3 * HOUR],
    ]);
    expect(told.find(({ item }) => item === 3)).toMatchObject({
      outcome: 'stopped',
      trace: { s: { kind: 'stops', why: 'Status is not “ready”' } },
    });
  });
});
