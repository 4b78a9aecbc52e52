import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Item } from '../items/item.ts';
import type { Definition } from '../workflow/definition.ts';
import { definitionSchema } from '../workflow/definition.ts';
import type { World } from '../model/world.ts';
import { advance, type Context } from './advance.ts';
import { compile } from './program.ts';
import { DEFAULT_RETRY, retryDelay } from './retry.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([1, 2, 3].map((id) => [id, { id, kind: 'page' as const, name: `Page ${id}`, accountId: 9 }])),
  watches: new Map([[1, { id: 1, name: 'A channel', things: 'videos' }]]),
};
const item: Item = {
  identity: 'id:1',
  publishedAt: 1000,
  fields: { title: 'Hello', link: 'https://x.example/1', length: 300, description: 'One. Two.' },
};
const context: Context = { item, now: 5000, run: 'r' };
const definition = (steps: Definition['steps']): Definition =>
  definitionSchema.parse({ schema: 1, sources: [{ id: 's', watch: 1 }], steps });
const longer = (seconds: number) => ({
  id: 'check',
  verb: 'check' as const,
  condition: {
    type: 'group' as const,
    match: 'all' as const,
    items: [{ type: 'test' as const, field: 'length', op: 'longer' as const, value: seconds }],
  },
});
const compose = (text = '{$title}: {$description :firstSentence}') => ({
  id: 'words',
  verb: 'compose' as const,
  name: 'caption',
  text,
});
const publish = (outlets: number[], id = 'post') => ({
  id,
  verb: 'publish' as const,
  outlets,
  caption: 'caption',
  card: 'link',
});
const begin = (steps: Definition['steps'], about = context) =>
  advance(compile(definition(steps), world), null, { type: 'arrived' }, about);
const outcome = { remoteId: '77', url: 'https://x.example/post/77', at: 6000 };

describe('advance', () => {
  it('stops where a check does not hold, and says why', () => {
    const { state, effects, trace } = begin([longer(600), compose(), publish([1])]);
    expect(state.status).toBe('stopped');
    expect(effects).toEqual([{ do: 'finish', outcome: 'stopped' }]);
    expect(trace).toEqual({ check: { kind: 'stops', why: '5:00 is not over 10 min' } });
  });
  it('asks for one effect per outlet, with keys that are always the same', () => {
    const first = begin([longer(60), compose(), publish([1, 2])]);
    expect(first.state.status).toBe('waiting');
    expect(first.effects).toEqual([
      {
        do: 'perform',
        key: 'r.post.1.1',
        place: 'post',
        action: 'publish',
        outlet: 1,
        input: { text: 'Hello: One.', card: 'https://x.example/1' },
      },
      {
        do: 'perform',
        key: 'r.post.2.1',
        place: 'post',
        action: 'publish',
        outlet: 2,
        input: { text: 'Hello: One.', card: 'https://x.example/1' },
      },
    ]);
    expect(begin([longer(60), compose(), publish([1, 2])])).toEqual(first);
  });
  it('goes on only when all of a step’s effects are settled', () => {
    const program = compile(definition([compose(), publish([1, 2])]), world);
    const one = advance(
      program,
      advance(program, null, { type: 'arrived' }, context).state,
      { type: 'done', key: 'r.post.1.1', outcome },
      context,
    );
    expect(one.state.status).toBe('waiting');
    const two = advance(program, one.state, { type: 'done', key: 'r.post.2.1', outcome }, context);
    expect(two.state.status).toBe('done');
    expect(two.trace.post).toMatchObject({
      kind: 'posts',
      posts: [{ status: 'posted', url: outcome.url }, { status: 'posted' }],
    });
  });
  it('holds what must not go out, and lets a person mend it under a new key', () => {
    const program = compile(definition([compose('{$title}{$title}'), publish([1])]), world);
    const long = { ...context, item: { ...item, fields: { ...item.fields, title: 'x'.repeat(1500) } } };
    const held = advance(program, null, { type: 'arrived' }, long);
    expect(held.state.status).toBe('held');
    expect(held.effects).toEqual([
      { do: 'hold', key: 'r.post.1.1', place: 'post', says: '3000 characters, 1000 more than Page 1 takes.' },
    ]);
    const mended = advance(
      program,
      held.state,
      { type: 'decided', key: 'r.post.1.1', decision: { do: 'retry', text: 'short' } },
      long,
    );
    expect(mended.effects).toMatchObject([{ do: 'perform', key: 'r.post.1.2', input: { text: 'short' } }]);
    expect(mended.trace.post).toMatchObject({ posts: [{ length: 5, limit: 2000, status: 'planned' }] });
  });
  it('shows what a step that is switched off would have done, and does not do it', () => {
    const { state, effects, trace } = begin([{ ...longer(600), off: true }, compose(), { ...publish([1]), off: true }]);
    expect(state.status).toBe('done');
    expect(effects).toEqual([{ do: 'finish', outcome: 'done' }]);
    expect(trace.check).toMatchObject({ kind: 'stops', off: true });
    expect(trace.post).toMatchObject({ kind: 'posts', off: true, posts: [{ status: 'would' }] });
  });
  it('takes a late answer for something a person was asked about', () => {
    const program = compile(definition([compose(), publish([1])]), world);
    const begun = advance(program, null, { type: 'arrived' }, context);
    const held = advance(
      program,
      begun.state,
      { type: 'failed', key: 'r.post.1.1', says: 'who knows', unknown: true },
      context,
    );
    expect(held.state.status).toBe('held');
    expect(advance(program, held.state, { type: 'done', key: 'r.post.1.1', outcome }, context).state.status).toBe(
      'done',
    );
  });
  it('holds a caption that cannot be read instead of posting nothing', () => {
    expect(begin([compose('{$title'), publish([1])]).state.status).toBe('held');
  });
});

describe('retries', () => {
  it('wait within the stated bounds: [d/2, d] with d = min(longest, base·2^(n−1)), never less than Retry-After', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        fc.double({ min: 0, max: 0.999999, noNaN: true }),
        fc.nat(1_000_000),
        (failures, chance, asked) => {
          const delay = retryDelay(DEFAULT_RETRY, failures, chance, asked);
          if (failures >= DEFAULT_RETRY.tries) return void expect(delay).toBeNull();
          const most = Math.min(DEFAULT_RETRY.longest, DEFAULT_RETRY.base * 2 ** (failures - 1));
          expect(delay).toBeGreaterThanOrEqual(Math.max(asked, Math.floor(most / 2)));
          expect(delay).toBeLessThanOrEqual(Math.max(asked, most));
        },
      ),
    );
  });
});
