import { describe, expect, it } from 'vitest';
import { KIND_RULES } from './kinds.ts';
import { mediaTrouble, type MediaFacts } from './media.ts';

const about = (facts: Partial<MediaFacts>): MediaFacts => ({
  mediaType: null,
  bytes: null,
  width: null,
  height: null,
  seconds: null,
  ...facts,
});
const picture = (kind: 'page' | 'photos' | 'board', facts: Partial<MediaFacts>) =>
  mediaTrouble(kind, 'picture', about(facts), 'It');
const film = (facts: Partial<MediaFacts>) => mediaTrouble('page', 'video', about(facts), 'It');

describe('a picture', () => {
  it.each([
    ['of a shape at the edge', { width: 190, height: 100 }, undefined],
    ['just beyond it', { width: 191, height: 100 }, 'The picture is 1.91 times as wide as high; It takes 0.8 to 1.9.'],
    ['too high', { width: 79, height: 100 }, 'The picture is 0.79 times as wide as high; It takes 0.8 to 1.9.'],
    ['of a type that is not taken', { mediaType: 'image/webp' }, 'It does not take pictures of the type webp.'],
    ['that is too large', { bytes: 8_000_001 }, 'The picture has 8.1 MB; It takes 8.'],
    ['of which nothing is known', {}, undefined],
    ['without a height', { width: 100, height: 0 }, undefined],
  ])('%s', (_, facts, says) => {
    const trouble = picture('photos', facts);
    if (says === undefined) return void expect(trouble).toBeUndefined();
    expect(trouble!.says.startsWith(says)).toBe(true);
    expect(trouble!.canBeShaped).toBe(true);
  });
  it('goes in any shape where a kind minds none, and cannot be mended by another there', () => {
    expect(picture('page', { width: 900, height: 1 })).toBeUndefined();
    const trouble = picture('page', { bytes: 9_000_000 })!;
    expect(trouble.canBeShaped).toBe(false);
  });
});

describe('a film', () => {
  const { longest, mostBytes } = KIND_RULES.page.media.films!;
  it.each([
    ['that is as long as may be', { seconds: longest, bytes: mostBytes, mediaType: 'video/mp4' }, undefined],
    ['a moment longer', { seconds: longest + 0.2 }, 'The film is 20:01 long; It takes 20:00.'],
    ['too large', { bytes: mostBytes + 1 }, 'The film has 150.1 MB; It takes 150.'],
    [
      'of another type',
      { mediaType: 'video/x-msvideo' },
      'It does not take films of the type x-msvideo, only mp4 and quicktime and webm.',
    ],
    ['too narrow', { width: 49, height: 100 }, 'The film is 0.49 times as wide as high; It takes 0.5 to 2.4.'],
  ])('%s', (_, facts, says) => expect(film(facts)?.says).toBe(says));
  it('is nobody’s trouble where none is sent', () => {
    expect(mediaTrouble('board', 'video', about({ seconds: 99_999 }), 'It')).toBeUndefined();
  });
});
