import { describe, expect, it } from 'vitest';
import type { Step } from '../steps/index.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import { NO_SETTINGS, type Settings } from '../workflow/settings.ts';
import type { World } from '../model/world.ts';
import type { RunEvent, RunState } from '../model/state.ts';
import { advance } from './advance.ts';
import { postsAhead } from './ahead.ts';
import { compile } from './program.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([1, 2].map((id) => [id, { id, kind: 'page' as const, name: `Page ${id}`, accountId: id }])),
  watches: new Map([[1, { id: 1, name: 'Films', things: 'films' }]]),
  secrets: [],
};
const NOON = Date.UTC(2026, 10, 23, 12);
const compose: Step = { id: 'words', verb: 'compose', name: 'caption', text: 'Hello' };
const publish = (id: string, outlets = [1]): Step => ({ id, verb: 'publish', outlets, caption: 'caption', card: null });
const wait: Step = { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 3600 } };
const filled = {
  type: 'group' as const,
  match: 'all' as const,
  items: [{ type: 'test' as const, field: 'title', op: 'filled' as const }],
};
const check: Step = { id: 'check', verb: 'check', condition: filled };
const split = (inner: Step[], otherwise: Step[]): Step => ({
  id: 'split',
  verb: 'split',
  by: 'asks',
  cases: [{ id: 'a', name: 'A', when: filled, share: 1, steps: inner }],
  otherwise,
});
const define = (steps: Step[], settings: Partial<Settings> = {}): Definition =>
  definitionSchema.parse({
    schema: 1,
    sources: [{ id: 'src', watch: 1 }],
    steps,
    settings: { ...NO_SETTINGS, ...settings },
  });

/** Where a run comes to by these events; what it asks for is done at once where `done` says so. */
function standing(definition: Definition, events: RunEvent[]): RunState {
  const program = compile(definition, world);
  let state: RunState | null = null;
  for (const event of events)
    state = advance(program, state, event, {
      item: { identity: 'i', publishedAt: NOON, fields: { title: 'High tide' } },
      watch: 1,
      now: NOON,
      run: 'run',
    }).state;
  return state!;
}
const says = (posts: ReturnType<typeof postsAhead>) =>
  posts.map(({ step, outlet, sure }) => `${step} ${outlet}${sure ? '' : '?'}`);

describe('the posts ahead of a run', () => {
  it('are all of the sheet before it begins, sure until something may turn it', () => {
    const definition = define([
      compose,
      publish('one', [1, 2]),
      check,
      publish('two'),
      split([publish('three', [2])], [publish('four')]),
    ]);
    expect(says(postsAhead(definition, null))).toEqual(['one 1', 'one 2', 'two 1?', 'three 2?', 'four 1?']);
  });
  it('leave out what is switched off, and are never sure where each person is let through once', () => {
    const definition = define([compose, { ...publish('one'), off: true }, publish('two')]);
    expect(says(postsAhead(definition, null))).toEqual(['two 1']);
    const once = define([compose, publish('one')], { once: { by: 'person', within: null } });
    expect(says(postsAhead(once, null))).toEqual(['one 1?']);
  });
  it('are those behind the moment it waits for', () => {
    const definition = define([compose, wait, publish('one'), publish('two', [2])]);
    const state = standing(definition, [{ type: 'arrived' }]);
    expect(state.status).toBe('waiting');
    expect(says(postsAhead(definition, state))).toEqual(['one 1', 'two 2']);
  });
  it('are not those it has asked for', () => {
    const definition = define([compose, publish('one'), publish('two', [2])]);
    expect(says(postsAhead(definition, standing(definition, [{ type: 'arrived' }])))).toEqual(['two 2']);
  });
  it('inside a case are those of the case, and those after it', () => {
    const definition = define([compose, split([wait, publish('inner')], [publish('other')]), publish('after')]);
    expect(says(postsAhead(definition, standing(definition, [{ type: 'arrived' }])))).toEqual(['inner 1', 'after 1']);
  });
  it('are none once it has ended, or where its version does not have its step', () => {
    const definition = define([compose, wait, publish('one')]);
    expect(postsAhead(definition, standing(definition, [{ type: 'arrived' }, { type: 'cancelled' }]))).toEqual([]);
    const state = standing(definition, [{ type: 'arrived' }]);
    expect(postsAhead(define([compose, publish('one')]), state)).toEqual([]);
  });
});
