import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { advance } from '../engine/advance.ts';
import { compile } from '../engine/program.ts';
import type { Fields } from '../items/item.ts';
import type { World } from '../model/world.ts';
import { asksToStop, entryOf, saidOf } from './entry.ts';
import { judge, POLICY_DOES, policySchema, sayRow, USUAL_POLICY, type Policy, type PolicyRow } from './policy.ts';

const NOW = Date.parse('2026-11-27T12:00:00Z');
const ZONE = 'Europe/Lisbon';
const review = (stars: number, text = ''): Fields => ({
  text,
  stars,
  person: { id: 'r1', network: 'listings', name: 'Ana Prata' },
  outlet: { id: 7, name: 'Old Quay Pool' },
  id: 'review~1',
  link: 'https://listings.example/r/1',
  answered: false,
});

describe('an entry', () => {
  it('is read from a review, a comment and a message', () => {
    expect(entryOf('review', review(2, 'The showers were cold and the floor was disgusting.'))).toMatchObject({
      stars: 2,
      to: 'review~1',
      person: { name: 'Ana Prata', id: 'r1', network: 'listings' },
      answered: false,
      about: null,
      tone: 'cross',
      form: 'sentences',
    });
    const comment = entryOf('comment', {
      text: '🙌',
      level: 2,
      id: 5,
      person: { id: 'u', name: '' },
      photo: { caption: 'First frost swim', link: 'https://p.example/1', picture: 'https://p.example/1.jpg' },
    });
    expect(comment).toMatchObject({ nested: true, form: 'emoji', to: '5', stars: null, person: { name: 'Somebody' } });
    expect(comment.about).toEqual({
      title: 'First frost swim',
      link: 'https://p.example/1',
      picture: 'https://p.example/1.jpg',
    });
    expect(entryOf('message', { text: 'Hi', person: { id: 'u3', name: 'Tom' }, id: 'm1' }).to).toBe('u3');
  });
  it('is told for a policy as for the desk', () => {
    const fields = review(2, 'The showers were disgusting, when do you clean them?');
    const { kind, text, stars, tone, language, question } = entryOf('review', fields);
    expect({ ...saidOf('review', fields) }).toEqual({ kind, text, stars, tone, language, question });
  });
  it('is read from whatever an item holds', () => {
    const value = fc.oneof(fc.string(), fc.double(), fc.constant(null), fc.boolean(), fc.constant([]), fc.constant({}));
    const fields = fc.dictionary(fc.constantFrom('text', 'stars', 'person', 'id', 'level', 'photo', 'post'), value);
    fc.assert(
      fc.property(fields, fc.constantFrom('review' as const, 'comment' as const, 'message' as const), (of, kind) => {
        const entry = entryOf(kind, of as Fields);
        expect(typeof entry.text).toBe('string');
        expect(entry.stars === null || (entry.stars >= 1 && entry.stars <= 5)).toBe(true);
      }),
    );
  });
  it.each([
    ['STOP!', true],
    [' stop ', true],
    ['Please unsubscribe', false],
    ['unsubscribe', true],
    ['Does the bus stop here?', false],
    ['', false],
    ['!!', false],
  ])('“%s” asks to stop: %s', (text, expected) => expect(asksToStop(text, 'stop, unsubscribe')).toBe(expected));
  it('asks nothing where no words are listed', () => expect(asksToStop('stop', ' , ')).toBe(false));
});

describe('a policy', () => {
  const said = (fields: Fields, kind: 'review' | 'comment' | 'message' = 'review') => entryOf(kind, fields);
  const does = (rows: Omit<PolicyRow, 'id'>[], fields: Fields, at = NOW) =>
    judge(
      { rows: rows.map((row, id) => ({ ...row, id: String(id) })), otherwise: 'post', copyTo: [] },
      said(fields),
      7,
      at,
      ZONE,
    );

  it('that nobody has made holds three stars and fewer', () => {
    const stars = [1, 2, 3, 4, 5].map((each) => judge(USUAL_POLICY, said(review(each)), 7, NOW, ZONE).does);
    expect(stars).toEqual(['hold', 'hold', 'hold', 'post', 'post']);
    expect(judge(USUAL_POLICY, said({ text: 'Hello' }, 'message'), 7, NOW, ZONE).does).toBe('post');
  });
  it('asks for kind, place, stars, tone, language, words, questions and hours, and says what decided', () => {
    const cross = review(4, 'The showers were disgusting, a terrible shame.');
    expect(does([{ tone: 'cross', does: 'hold' }], cross)).toMatchObject({ does: 'hold', says: 'sounds cross' });
    expect(does([{ outlet: 8, does: 'hold' }], cross).does).toBe('post');
    expect(does([{ outlet: 7, kind: 'review', does: 'ignore' }], cross)).toMatchObject({ does: 'ignore' });
    expect(does([{ kind: 'comment', does: 'hold' }], cross).does).toBe('post');
    const refund = review(5, 'I would like a refnud, please.');
    expect(does([{ words: 'refund, lawyer', does: 'hold' }], refund).says).toBe(
      'mentions “refnud” is “refund”, 1 letter off',
    );
    expect(does([{ words: ' ', does: 'hold' }], refund).does).toBe('hold');
    expect(does([{ language: 'pt', does: 'hold' }], review(5, 'A água estava fria mas adorei')).says).toBe(
      'in Portuguese',
    );
    expect(does([{ question: true, does: 'hold' }], review(5, 'When do you open?')).says).toBe('asks something');
    const night = Array.from({ length: 7 }, () => [{ from: '20:00', to: '24:00' }]);
    expect(does([{ hours: night, does: 'hold' }], review(5)).does).toBe('post');
    expect(does([{ hours: night, does: 'hold' }], review(5), NOW + 9 * 3_600_000).does).toBe('hold');
  });
  it('is decided by the first row that fits, whatever comes after', () => {
    const row = fc.record(
      {
        id: fc.uuid(),
        kind: fc.constantFrom('review' as const, 'comment' as const),
        outlet: fc.constantFrom(7, 8),
        mostStars: fc.integer({ min: 1, max: 5 }),
        does: fc.constantFrom(...POLICY_DOES),
      },
      { requiredKeys: ['id', 'does'] },
    );
    fc.assert(
      fc.property(fc.array(row, { maxLength: 6 }), row, fc.integer({ min: 1, max: 5 }), (rows, last, stars) => {
        const judged = (of: PolicyRow[]) =>
          judge({ rows: of, otherwise: 'hold', copyTo: [] }, said(review(stars)), 7, NOW, ZONE);
        const before = judged(rows as PolicyRow[]);
        if (before.row !== null) expect(judged([...rows, last] as PolicyRow[])).toEqual(before);
        else expect(judged([...rows, last] as PolicyRow[])).toEqual(judged([last] as PolicyRow[]));
      }),
    );
  });
  it('reads as sentences', () => {
    expect(sayRow({ id: 'a', kind: 'review', mostStars: 3, does: 'hold' }, null)).toBe(
      'A review with at most 3 stars: waits for a yes',
    );
    expect(sayRow({ id: 'a', tone: 'cross', language: 'pt', does: 'ignore' }, 'Old Quay Pool')).toBe(
      'Anything at Old Quay Pool that sounds cross in Portuguese: is not answered',
    );
    expect(policySchema.safeParse({ rows: [{ id: 'a', does: 'shout' }], otherwise: 'post', copyTo: [] }).success).toBe(
      false,
    );
  });
});

describe('an answer of a workflow', () => {
  const world = (policy?: Policy): World => ({
    outlets: new Map([[7, { id: 7, kind: 'listing', name: 'Old Quay Pool', accountId: 1 }]]),
    watches: new Map([[3, { id: 3, name: 'Reviews', things: 'reviews', outlet: 7, said: 'review' }]]),
    policy,
    timeZone: ZONE,
    locale: 'en',
  });
  const run = (fields: Fields, { policy, hold = false }: { policy?: Policy; hold?: boolean } = {}) => {
    const program = compile(
      {
        schema: 1,
        sources: [{ id: 'source', watch: 3 }],
        steps: [
          { id: 'words', verb: 'compose', name: 'answer', text: 'Thank you' },
          ...(hold ? [{ id: 'hold', verb: 'hold' as const, question: 'Good?', text: 'answer' }] : []),
          { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
        ],
      },
      world(policy),
    );
    const context = { item: { identity: 'review:1', publishedAt: NOW, fields }, watch: 3, now: NOW, run: 'run' };
    const first = advance(program, null, { type: 'arrived' }, context);
    if (!hold) return first;
    const cell = first.trace.hold;
    const key = cell?.kind === 'acts' ? cell.acts[0]!.key! : '';
    return advance(program, first.state, { type: 'decided', key, decision: { do: 'retry' } }, context);
  };
  it('waits for a yes where the policy says so, goes out where it does not, and is not made where it is ignored', () => {
    expect(run(review(5)).effects).toMatchObject([{ do: 'perform', action: 'reply' }]);
    const held = run(review(2));
    expect(held.effects.filter((effect) => effect.do === 'perform')).toEqual([]);
    expect(held.state.status).toBe('held');
    expect(held.trace.reply).toMatchObject({ acts: [{ status: 'held', says: 'Held: 2 stars' }] });
    const ignored = run(review(2), { policy: { rows: [], otherwise: 'ignore', copyTo: [] } });
    expect(ignored.trace.reply).toMatchObject({ kind: 'stops' });
    expect(ignored.state.status).toBe('stopped');
  });
  it('that a person has said yes to waits for no other', () => {
    expect(run(review(1), { hold: true }).effects).toMatchObject([{ do: 'perform', action: 'reply' }]);
  });
});
