import { describe, expect, it } from 'vitest';
import type { World } from '../model/world.ts';
import type { Step } from '../steps/index.ts';
import type { Definition } from '../workflow/definition.ts';
import { compile, StepMemory, type Node, type Program } from './program.ts';

const world = (locale = 'en'): World => ({
  timeZone: 'Europe/Lisbon',
  locale,
  outlets: new Map([[1, { id: 1, kind: 'page', name: 'A page', accountId: 1 }]]),
  watches: new Map([[1, { id: 1, name: 'Films', things: 'films' }]]),
});
const words = (id: string, text: string): Step => ({ id, verb: 'compose', name: 'caption', text });
const post = (id: string, more: object = {}): Step => ({
  id,
  verb: 'publish',
  outlets: [1],
  caption: 'caption',
  card: null,
  ...more,
});
const each = (id: string, steps: Step[]): Step =>
  ({ id, verb: 'foreach', list: 'entries', as: 'entry', max: 10, steps }) as unknown as Step;
const define = (steps: Step[]): Definition => ({ schema: 1, sources: [{ id: 's', watch: 1 }], steps });
const nodes = (program: Program): Record<string, Node> => {
  const all: Record<string, Node> = {};
  const visit = (list: readonly Node[]) => {
    for (const node of list) {
      all[node.id] = node;
      for (const block of node.branches?.values() ?? []) visit(block.nodes);
    }
  };
  visit(program.root.nodes);
  return all;
};

describe('a program that is made again and again', () => {
  it('takes over what it was made of before, but for what has changed', () => {
    const memory = new StepMemory();
    const around = world();
    const [first, last] = [words('w', 'One'), post('p')];
    const before = nodes(compile(define([first, last]), around, memory));
    const after = nodes(compile(define([words('w', 'Two'), last]), around, memory));
    expect(after.p).toBe(before.p);
    expect(after.w).not.toBe(before.w);
  });
  it('makes steps anew that others lie in, and keeps those others', () => {
    const memory = new StepMemory();
    const around = world();
    const inner = [words('a', 'One'), post('b')];
    const before = nodes(compile(define([each('e', inner)]), around, memory));
    const after = nodes(compile(define([each('e', [words('a', 'Two'), inner[1]!])]), around, memory));
    expect(after.e).not.toBe(before.e);
    expect(after.a).not.toBe(before.a);
    expect(after.b).toBe(before.b);
  });
  it('makes all anew in another world', () => {
    const memory = new StepMemory();
    const step = words('w', '{$title}');
    const before = nodes(compile(define([step]), world(), memory));
    expect(nodes(compile(define([step]), world(), memory)).w).not.toBe(before.w);
  });
  it('makes anew what a later step wants more of: words that are to be fitted, elements that are gathered', () => {
    const memory = new StepMemory();
    const around = world();
    const step = words('w', 'One');
    const plain = nodes(compile(define([step, post('p')]), around, memory));
    const fitted = nodes(compile(define([step, post('p', { fit: true })]), around, memory));
    expect(fitted.w).not.toBe(plain.w);
    const loop = each('e', [words('a', 'One')]);
    const gather = { id: 'g', verb: 'gather', from: { type: 'each', step: 'e' }, as: 'all' } as unknown as Step;
    expect(nodes(compile(define([loop]), around, memory)).e!.keeps).toBe(false);
    expect(nodes(compile(define([loop, gather]), around, memory)).e!.keeps).toBe(true);
  });
  it('is the same as one that remembers nothing, whatever was made before', () => {
    const memory = new StepMemory();
    const around = world();
    const item = { identity: 'i', publishedAt: 0, fields: { title: 'High tide' } };
    const cellOf = (program: Program) => {
      const { w } = nodes(program);
      const env = { item, fields: item.fields, now: 0, chance: () => 0, gathered: () => [], tries: 0 };
      return JSON.stringify(w!.prepared.plan(env as never));
    };
    for (const text of ['One', '{$title}', 'One', '{#strong}{$title}{/strong}', '{$title', 'One']) {
      const definition = define([words('w', text), post('p')]);
      expect(cellOf(compile(definition, around, memory))).toBe(cellOf(compile(definition, around)));
    }
  });
});
