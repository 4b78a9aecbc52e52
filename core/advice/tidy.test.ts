import { expect, it } from 'vitest';
import { untidy, type PostOut } from './tidy.ts';

const DAY = 86_400_000;
const post = (key: string, more: Partial<PostOut> = {}): PostOut => ({
  key,
  outlet: 1,
  kind: 'page',
  at: 0,
  text: `Words of their own: ${key}`,
  title: null,
  card: null,
  media: [],
  ...more,
});
const of = (...posts: PostOut[]) => Object.fromEntries(untidy(posts));

it('finds what its kind has and a post lacks', () => {
  expect(of(post('a', { kind: 'board' }))).toEqual({ a: [{ what: 'title' }, { what: 'link' }, { what: 'picture' }] });
  const whole = {
    kind: 'board' as const,
    title: 'Rail',
    card: 'https://ternbay.example',
    media: [{ type: 'picture', alt: 'A rail' }],
  };
  expect(of(post('a', whole))).toEqual({});
  expect(of(post('a', { ...whole, media: [{ type: 'picture', alt: ' ' }] }))).toEqual({ a: [{ what: 'alt' }] });
  expect(of(post('a', { ...whole, card: null, text: 'See https://ternbay.example/rail' }))).toEqual({});
  expect(of(post('a'))).toEqual({});
});

it('names the later of two that say the same at the same outlet, whatever their order', () => {
  const [first, second] = [
    post('a', { text: 'The pool is open again.' }),
    post('b', { text: 'The  pool is OPEN again.', at: DAY }),
  ];
  expect(of(first, second)).toEqual({ b: [{ what: 'doubled', of: 'a' }] });
  expect(of(second, first)).toEqual({ b: [{ what: 'doubled', of: 'a' }] });
  expect(of(first, { ...second, outlet: 2 })).toEqual({});
  // A notice that comes back each season is meant.
  expect(of(first, { ...second, at: 61 * DAY })).toEqual({});
  // So is what says next to nothing.
  expect(of(post('a', { text: 'Open!' }), post('b', { text: 'Open!', at: 1 }))).toEqual({});
});

it('knows a link again that goes out twice within days', () => {
  const card = 'https://ternbay.example/rail/';
  const again = post('b', { card: 'https://ternbay.example/rail?from=plan', at: DAY });
  expect(of(post('a', { card }), again)).toEqual({ b: [{ what: 'doubled', of: 'a' }] });
  expect(of(post('a', { card }), { ...again, at: 5 * DAY })).toEqual({});
});
