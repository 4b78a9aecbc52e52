import { describe, expect, it } from 'vitest';
import { compile } from '../engine/program.ts';
import { rehearse, rehearseItem } from '../rehearsal/rehearse.ts';
import type { PastItem } from '../rehearsal/virtual-run.ts';
import { Summing } from '../rehearsal/summary.ts';
import { adviceFor } from '../advice/advise.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import { validateDefinition } from '../workflow/validate.ts';
import { everythingSaid, rulesAt, saidAt, wordUses } from '../workflow/word-uses.ts';
import type { World } from '../model/world.ts';
import type { Step } from './index.ts';

// Answers, messages and edits go by the rules of their outlet, as posts do.
const outlet = (id: number, kind: 'listing' | 'photos' | 'microblog' | 'room' | 'broadcast', name: string) =>
  [id, { id, kind, name, accountId: 1 }] as const;
const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([
    outlet(1, 'listing', 'Old Quay'),
    outlet(2, 'listing', 'Gannet Point'),
    outlet(3, 'photos', 'The feed'),
    outlet(4, 'microblog', 'The profile'),
    outlet(5, 'room', 'The room'),
    outlet(6, 'broadcast', 'The channel'),
  ]),
  watches: new Map([
    [1, { id: 1, name: 'Old Quay: reviews', things: 'reviews', outlet: 1 }],
    [2, { id: 2, name: 'Gannet Point: reviews', things: 'reviews', outlet: 2 }],
  ]),
};
const define = (text: string, ...steps: Step[]): Definition =>
  definitionSchema.parse({
    schema: 1,
    sources: [
      { id: 'a', watch: 1 },
      { id: 'b', watch: 2 },
    ],
    steps: [
      { id: 'words', verb: 'compose', name: 'answer', text, own: [{ outlet: 2, text: 'From the point: {$text}' }] },
      ...steps,
    ],
  });
const item = (fields: PastItem['fields'], at = 1): PastItem => ({
  id: at,
  watch: at,
  identity: `id:${at}`,
  publishedAt: 0,
  seenAt: 0,
  fields: { text: 'Lovely water.', id: 'r1', outlet: { id: at }, ...fields },
});
const traceOf = (definition: Definition, fields: PastItem['fields'] = {}, at = 1) =>
  rehearseItem(compile(definition, world), item(fields, at), 0).trace;
const acts = (definition: Definition, step: string, fields: PastItem['fields'] = {}, at = 1) => {
  const cell = traceOf(definition, fields, at)[step];
  return cell?.kind === 'acts' ? cell.acts : [];
};
const reply = (more: object = {}): Step =>
  ({ id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer', ...more }) as Step;
const LONG = 'The water was lovely and so were you. '.repeat(60);

describe('an answer', () => {
  it('is held where it is longer than answers may be there, and made to fit where that is asked', () => {
    const held = acts(define('Thanks! {$text}', reply()), 'reply', { text: LONG })[0]!;
    expect(held).toMatchObject({ trouble: 'too-long', limit: 1500 });
    expect(held.says).toBe(`${held.length} characters, ${held.length! - 1500} more than Old Quay takes.`);
    const fitted = acts(define('Thanks! {$text}', reply({ fit: true })), 'reply', { text: LONG })[0]!;
    expect(fitted.trouble).toBeUndefined();
    expect(fitted.length).toBeLessThanOrEqual(1500);
    expect(fitted.text).toMatch(/^Thanks! .*you\.$/);
    expect(fitted.trimmed!.text).toMatchObject({ from: held.length, fields: ['text'] });
  });
  it('has words of its own where one place has them', () => {
    expect(acts(define('Thanks!', reply()), 'reply')[0]!.text).toBe('Thanks!');
    expect(acts(define('Thanks!', reply()), 'reply', {}, 2)[0]!.text).toBe('From the point: Lovely water.');
  });
  it('counts in the unit of its network, a message in its own', () => {
    const wide = '🌊'.repeat(150);
    const definition = define('{$text}', reply({ where: undefined, outlet: 4 }), {
      id: 'message',
      verb: 'message',
      outlet: 3,
      to: 'id',
      caption: 'answer',
    } as Step);
    expect(acts(definition, 'reply', { text: wide })[0]).toMatchObject({ length: 300, limit: 300 });
    expect(acts(definition, 'message', { text: wide })[0]).toMatchObject({ length: 300, limit: 1000 });
  });
  it('is plain words, whatever the caption looks like', () => {
    const [act] = acts(define('{#bold}Thanks{/bold} {#link to=|https://lidos.example/|}here{/link}', reply()), 'reply');
    expect(act!.text).toBe('Thanks here https://lidos.example/');
  });
});

describe('an edit', () => {
  const edit: Step = { id: 'edit', verb: 'revise', change: 'edit', of: 'out', caption: 'answer' };
  const publish = (media: boolean): Step => ({
    id: 'post',
    verb: 'publish',
    outlets: [5, 6],
    caption: 'answer',
    card: null,
    as: 'out',
    ...(media ? { media: [{ type: 'picture', from: 'picture', alt: '' }] } : {}),
  });
  const inputs = (definition: Definition, fields: PastItem['fields']) => {
    // What a Publish leaves behind, as a later step has it.
    const after: Definition = { ...definition, steps: definition.steps.filter(({ id }) => id !== 'post') };
    const posts = [5, 6].map((each) => ({
      outlet: each,
      id: '1',
      url: null,
      ...(fields.picture ? { media: true } : {}),
    }));
    return acts(after, 'edit', { ...fields, 'out.posts': posts });
  };
  it('is nothing that an outlet could be asked for which does not offer it', () => {
    const at = (revisions: readonly ('edit' | 'delete')[]) => {
      const outlets = new Map([...world.outlets].map(([id, each]) => [id, { ...each, revisions }]));
      const found = validateDefinition(define('{$text}', publish(false), edit), { ...world, outlets });
      return found.map(({ says }) => says);
    };
    expect(at(['edit', 'delete']).some((says) => says.includes('does not let posts be'))).toBe(false);
    expect(at(['delete']).filter((says) => says.includes('does not let posts be edited'))).toHaveLength(2);
  });
  it('is written in the markup of what it stands in, and as long as that may be', () => {
    const definition = define('{#bold}Now{/bold}: {$text}', publish(false), edit);
    const [room, channel] = inputs(definition, { text: 'Tide *tables* <soon>' });
    expect(room).toMatchObject({ text: 'Now: Tide *tables* <soon>', limit: 2000 });
    expect(channel).toMatchObject({ limit: 4000 });
    const long = inputs(define('{$text}', publish(true), edit), { text: LONG, picture: 'https://lidos.example/1.jpg' });
    // Beside a picture there is less room.
    expect(long.map(({ limit, trouble }) => [limit, trouble])).toEqual([
      [2000, 'too-long'],
      [1000, 'too-long'],
    ]);
  });
  it('tells later steps that a picture went with the post', () => {
    const definition = define('{$text}', publish(true), edit);
    const uses = wordUses(definition, world).get('answer')!;
    expect(uses.map(({ step, outlets, purpose }) => [step, outlets, purpose])).toEqual([
      ['post', [5, 6], 'post'],
      ['edit', [5, 6], 'post'],
    ]);
  });
});

describe('where words go', () => {
  const definition = define('Thanks {$text}', reply(), reply({ id: 'off', off: true }));
  it('is every step that sends them, and all places that are watched for answers where it was written', () => {
    const uses = wordUses(definition, world).get('answer')!;
    expect(uses).toEqual([{ step: 'reply', outlets: [1, 2], purpose: 'answer', fits: false }]);
    expect(rulesAt(uses, 1, world)?.limit).toBe(1500);
    expect(rulesAt(uses, 99, world)).toBeUndefined();
    const said = saidAt(traceOf(definition), uses);
    expect(said).toMatchObject([{ outlet: 1, text: 'Thanks Lovely water.', length: 20, limit: 1500 }]);
    expect(everythingSaid(traceOf(definition)).map(({ text }) => text)).toEqual(['Thanks Lovely water.']);
  });
  it('inside a For each is told apart by the element', () => {
    const each = definitionSchema.parse({
      ...define('x'),
      steps: [
        {
          id: 'each',
          verb: 'foreach',
          list: 'all',
          as: 'element',
          most: 9,
          together: true,
          steps: [
            { id: 'words', verb: 'compose', name: 'answer', text: '{$element}' },
            { id: 'post', verb: 'publish', outlets: [4], caption: 'answer', card: null },
          ],
        },
      ],
    });
    const trace = traceOf(each, { all: ['one', 'three'] });
    const uses = wordUses(each, world).get('answer')!;
    const places = Object.keys(trace).filter((place) => place.startsWith('words#'));
    expect(places.map((place) => saidAt(trace, uses, place).map(({ text, length }) => [text, length]))).toEqual([
      [['one', 3]],
      [['three', 5]],
    ]);
  });
});

describe('criticism of answers', () => {
  const seen = (definition: Definition, all: PastItem[]) => {
    const summing = new Summing(definition, world);
    for (const each of rehearse(definition, world, all)) summing.add(each);
    return { summary: summing.summary, advice: adviceFor(definition, summing.summary, world) };
  };
  it('counts them, finds those that are too long and shortens them by one remedy', () => {
    const definition = define('Thanks! {$text}', reply());
    const all = [item({}), item({ text: LONG }, 2), item({ text: LONG })];
    const { summary, advice } = seen(definition, all);
    expect(summary).toMatchObject({ posts: 0, answers: 1, tooLong: 2 });
    expect(summary.tooLongAt).toEqual([
      { outlet: 1, count: 1 },
      { outlet: 2, count: 1 },
    ]);
    const tooLong = advice.find((each) => each.show === 'too-long')!;
    expect(tooLong).toMatchObject({ level: 'harm', step: 'reply' });
    const next = structuredClone(definition);
    tooLong.remedy!.apply(next);
    expect(seen(next, all).summary).toMatchObject({ answers: 3, tooLong: 0 });
  });
  it('sees capitals and gaps, and closes them in one click', () => {
    const definition = define('Thanks , {$person.name} ! {$text}', reply());
    const { advice } = seen(definition, [item({})]);
    const gaps = advice.find((each) => each.show === 'left-behind')!;
    expect(gaps.step).toBe('words');
    const next = structuredClone(definition);
    gaps.remedy!.apply(next);
    expect(seen(next, [item({})]).advice.some((each) => each.show === 'left-behind')).toBe(false);
  });
  it('words it otherwise where a field is empty', () => {
    const definition = define('Thanks, {$person.name}. {$text}', reply());
    const empty = seen(definition, [item({}), item({ person: { name: 'Ana' } })]).advice.find(
      (each) => each.show === 'empty',
    )!;
    expect(empty.says).toBe('Person · name is empty in 1 of 2.');
    const next = structuredClone(definition);
    empty.remedy!.apply(next);
    expect(acts(next, 'reply', { person: { name: 'Ana' } })[0]!.text).toBe('Thanks, Ana. Lovely water.');
    expect(acts(next, 'reply')[0]!.text).toMatch(/^Thanks,? ?\.? ?Lovely water\.$/);
  });
});

describe('a step that makes no sense for what somebody wrote', () => {
  const said = (kind: 'comment' | 'message' | 'review', of: number): World => ({
    ...world,
    outlets: new Map(
      [...world.outlets].map(([id, each]) => [
        id,
        { ...each, acts: id === 1 ? ['reply'] : ['reply', 'message', 'react'] },
      ]),
    ),
    watches: new Map([[1, { id: 1, name: 'There', things: `${kind}s`, outlet: of, said: kind }]]),
  });
  const definition = (...steps: Step[]) =>
    definitionSchema.parse({
      schema: 1,
      sources: [{ id: 'a', watch: 1 }],
      steps: [{ id: 'words', verb: 'compose', name: 'answer', text: 'Hello' }, ...steps],
    });
  const cellOf = (step: Step, kind: 'comment' | 'message' | 'review', of = 3) =>
    rehearseItem(
      compile(definition(step), said(kind, of)),
      item({ person: { id: 'p1', name: 'Ana' }, outlet: { id: of }, stars: 5 }),
      0,
    ).trace[step.id];
  const write = {
    id: 'write',
    verb: 'message',
    outlet: null,
    where: 'item',
    to: 'person.id',
    caption: 'answer',
  } as Step;
  const like = { id: 'like', verb: 'react', outlet: null, where: 'item', to: 'id', reaction: 'like' } as Step;

  it('is passed over, and says so', () => {
    const why = (cell: unknown) => (cell as { why?: string }).why;
    expect(why(cellOf(reply(), 'message'))).toBe('passed over: a message has no public answer');
    expect(why(cellOf(like, 'message'))).toBe('passed over: a message is not liked');
    expect(why(cellOf(write, 'review', 1))).toBe('passed over: nobody can be written to directly at Old Quay');
    expect(why(cellOf(like, 'review', 1))).toBe('passed over: nothing can be liked at Old Quay');
    for (const step of [reply(), like, write]) expect(cellOf(step, 'comment')).toMatchObject({ kind: 'acts' });
    expect(cellOf(write, 'message')).toMatchObject({ kind: 'acts' });
  });
  it('is no reason not to go live where it makes sense for something, and one where it never does', () => {
    const harms = (kind: 'comment' | 'message', step: Step) =>
      validateDefinition(definition(step), said(kind, 3))
        .filter(({ level }) => level === 'harm')
        .map(({ says }) => says);
    expect(harms('comment', reply())).toEqual([]);
    expect(harms('message', reply())).toEqual(['It is never done: a message has no public answer.']);
  });
});
