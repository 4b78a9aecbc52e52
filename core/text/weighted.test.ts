import { eastAsianWidth } from 'get-east-asian-width';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { weightedLength } from './weighted.ts';

/** Grapheme by grapheme, without looking for what can be skipped. */
function slowly(text: string): number {
  let weight = 0;
  for (const { segment } of new Intl.Segmenter('und', { granularity: 'grapheme' }).segment(text))
    weight += /\p{Emoji_Presentation}|\p{Emoji}\ufe0f/u.test(segment) ? 2 : eastAsianWidth(segment.codePointAt(0)!);
  return weight;
}

describe('weights', () => {
  it('are the same whether stretches are skipped or not', () => {
    const part = fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 6 }),
      fc.constantFrom('plain words ', 'café – “tea” 3 € ', '漢字', '한국', '👩🏽‍🚒', '❤️', '1️⃣', 'e\u0301', '…', '\n'),
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 10 }), (parts) => {
        const text = parts
          .join('')
          .replace(/\p{Cc}/gu, (sign) => (sign === '\n' ? sign : ''))
          .replace(/https?:\S*/g, '');
        expect(weightedLength(text, null)).toBe(slowly(text.replace(/\n/g, ' ')));
      }),
      { numRuns: 500 },
    );
  });
});
