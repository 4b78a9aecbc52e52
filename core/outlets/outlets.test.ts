import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { NO_SETTINGS } from '../workflow/settings.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import { outletsUsed, watchesUsed } from '../workflow/uses.ts';
import { validateDefinition } from '../workflow/validate.ts';
import type { World } from '../model/world.ts';
import { compile } from '../engine/program.ts';
import { rehearseItem } from '../rehearsal/rehearse.ts';
import { weightedLength } from '../text/weighted.ts';
import { KIND_RULES, OUTLET_KINDS, type OutletKind } from './kinds.ts';
import { measure, titleRules, wordRules } from './length.ts';

describe('weighted counting', () => {
  // The examples of widths are from UAX #11 section 6 (from memory): Latin and Greek narrow, ideographs, kana and Hangul
  // wide, fullwidth Latin wide, halfwidth kana narrow. Emoji as two is common practice.
  it.each([
    ['abc', 3],
    ['Ωβ', 2],
    ['漢字', 4],
    ['かな', 4],
    ['한글', 4],
    ['ＡＢ', 4],
    ['ｱｲ', 2],
    ['🌊', 2],
    ['👩🏽‍🚒', 2],
    ['❤️', 2],
    ['e\u0301', 1],
    ['', 0],
  ])('%s weighs %i', (text, weight) => expect(weightedLength(text, null)).toBe(weight));
  it('takes addresses at their fixed cost, without the full stop after them', () => {
    const long = `https://lidos.example/${'x'.repeat(300)}`;
    expect(weightedLength(`See ${long}.`, 24)).toBe(4 + 24 + 1);
    expect(weightedLength(`${long} and ${long}`, 24)).toBe(24 + 5 + 24);
    expect(weightedLength('http:// is none', 24)).toBe(15);
  });
  it('never weighs less than its graphemes, nor more than twice as much, and adds up over spaces', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), fc.string({ unit: 'grapheme' }), (a, b) => {
        const weight = (text: string) => weightedLength(text, null);
        expect(weight(a)).toBeLessThanOrEqual(2 * a.length);
        expect(weight(`${a} ${b}`)).toBe(weight(a) + 1 + weight(b));
      }),
    );
  });
});

describe('the rules of the kinds', () => {
  it('count each text in the unit of its kind', () => {
    const length = (kind: OutletKind) => measure(KIND_RULES[kind].text, '👩🏽‍🚒漢');
    expect([length('page'), length('microblog'), length('professional')]).toEqual([2, 4, '👩🏽‍🚒漢'.length]);
    expect(measure({ limit: 9, unit: 'byte', format: 'plain' }, 'é漢')).toBe(5);
  });
  it('tell posts, posts beside a picture, answers and messages apart', () => {
    const limits = [
      wordRules('broadcast'),
      wordRules('broadcast', 'post', true),
      wordRules('page', 'post', true),
      wordRules('listing', 'answer'),
      wordRules('photos', 'message'),
      wordRules('board', 'answer'),
      titleRules('board')!,
    ].map(({ limit }) => limit);
    expect(limits).toEqual([4000, 1000, 2000, 1500, 1000, null, 100]);
    expect(titleRules('page')).toBeUndefined();
  });
  it('are whole: what is published to has an origin, and whatever is needed is also taken', () => {
    for (const kind of OUTLET_KINDS) {
      const rules = KIND_RULES[kind];
      expect(rules.origin).not.toBe('');
      if (rules.media.needed) expect(rules.media.takes.length).toBeGreaterThan(0);
    }
  });
});

const world: World = {
  timeZone: 'UTC',
  locale: 'en',
  watches: new Map([[1, { id: 1, name: 'Films', things: 'videos' }]]),
  outlets: new Map([
    [1, { id: 1, kind: 'page', name: 'A page', accountId: 1 }],
    [2, { id: 2, kind: 'board', name: 'A board', accountId: 2 }],
    [3, { id: 3, kind: 'room', name: 'A room', accountId: 3 }],
    [4, { id: 4, kind: 'broadcast', name: 'A channel', accountId: 4 }],
    [5, { id: 5, kind: 'microblog', name: 'A profile', accountId: 5 }],
  ]),
};
const everywhere: Definition = {
  schema: 1,
  sources: [{ id: 'source', watch: 1 }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: '{$title}' },
    {
      id: 'post',
      verb: 'publish',
      outlets: [1, 2, 3, 4, 5],
      caption: 'caption',
      card: 'link',
      title: 'Film: {$title}',
      media: [{ type: 'picture', from: 'picture', alt: 'From {$title}' }],
      options: { silent: true, preview: false, show: 'both', colour: '#1d5c63', mention: '9' },
    },
  ],
};
const item = (fields: object) => ({
  id: 1,
  watch: 1,
  seenAt: 0,
  identity: 'id:1',
  publishedAt: 0,
  fields: { title: 'Cold water', link: 'https://films.example/1', picture: 'https://films.example/1.jpg', ...fields },
});
const postsOf = (definition: Definition, fields: object = {}) => {
  const cell = rehearseItem(compile(definition, world), item(fields), 0).trace.post;
  return cell?.kind === 'posts' ? cell.posts : [];
};

describe('one post for several kinds', () => {
  it('gives each what it knows, and nothing else', () => {
    const [page, board, room, channel, profile] = postsOf(everywhere);
    const media = [{ type: 'picture', url: 'https://films.example/1.jpg', alt: 'From Cold water' }];
    expect(page).toMatchObject({ card: 'https://films.example/1', more: { media } });
    expect(page!.more).not.toHaveProperty('title');
    expect(board!.more).toEqual({ title: 'Film: Cold water', media });
    expect(room!.more).toEqual({ title: 'Film: Cold water', media, show: 'both', colour: '#1d5c63', mention: '9' });
    expect(channel).toMatchObject({ card: null, limit: 1000, more: { media, silent: true, preview: false } });
    expect(profile).toMatchObject({ card: null, limit: 300 });
    expect(profile!.more).toBeUndefined();
  });
  it('stops only where something is missing or too long, and says what', () => {
    const bare = postsOf(everywhere, { picture: '' });
    expect(bare.map((post) => post.says)).toEqual([
      undefined,
      'A board needs a picture, and there is none.',
      undefined,
      undefined,
      undefined,
    ]);
    const long = postsOf(everywhere, { title: '🌊'.repeat(151) });
    expect(long[1]!.says).toBe('The title: 157 characters, 57 more than A board takes.');
    expect(long[4]!.says).toBe('302 characters, 2 more than A profile takes.');
  });
  it('is made to fit where it is asked for, each place by its own count, and nowhere else', () => {
    const fitting = structuredClone(everywhere);
    const publish = fitting.steps[1]!;
    if (publish.verb === 'publish') publish.fit = true;
    const title = `${'The water is cold. '.repeat(20)}https://films.example/1`;
    const posts = postsOf(fitting, { title });
    expect(posts[0]!.text).toBe(title);
    const profile = posts[4]!;
    expect(profile.says).toBeUndefined();
    expect(profile.length).toBeLessThanOrEqual(300);
    expect(profile.text).toMatch(/^(The water is cold\. ?)+ https:\/\/films\.example\/1$/);
    expect(postsOf(everywhere, { title })[4]!.says).toMatch(/more than A profile takes/);
  });
  it('is said to miss what a kind needs before anything is tried', () => {
    const without = structuredClone(everywhere);
    const publish = without.steps[1]!;
    if (publish.verb === 'publish') {
      delete publish.title;
      delete publish.media;
    }
    expect(validateDefinition(without, world).map((problem) => problem.says)).toEqual([
      'A board needs a picture. Choose the field it comes from, or a file.',
      'A board needs a title.',
    ]);
    expect(validateDefinition(everywhere, world)).toEqual([]);
  });
});

it('what a definition uses is found in every nook of it', () => {
  const nested = definitionSchema.parse({
    schema: 1,
    sources: [
      { id: 'a', watch: 1 },
      { id: 'b', watch: null },
    ],
    steps: [
      {
        id: 's',
        verb: 'split',
        by: 'asks',
        cases: [
          {
            id: 'c',
            name: '',
            when: { type: 'group', match: 'all', items: [] },
            share: 1,
            steps: [{ id: 'r', verb: 'react', outlet: 7, to: 'id', reaction: 'like' }],
          },
        ],
        otherwise: [{ id: 'v', verb: 'revise', change: 'forward', of: 'post', caption: null, to: 9 }],
      },
      { id: 'p', verb: 'publish', outlets: [1, 2], caption: 'x', card: null },
    ],
    settings: NO_SETTINGS,
  });
  expect([...outletsUsed(nested)].sort()).toEqual([1, 2, 7, 9]);
  expect([...watchesUsed(nested)]).toEqual([1]);
});
