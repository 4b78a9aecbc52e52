import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CaptionPart } from '@playa/core/captions/tokens.ts';
import { fromDocument, toDocument, tokenLabel } from './field-token.ts';

describe('a caption as a document', () => {
  const token = fc.record({ field: fc.constantFrom('title', 'author.name', 'length') }, { requiredKeys: ['field'] });
  const tweaked = fc.record({
    field: fc.constantFrom('description', 'title'),
    tweak: fc.constantFrom('firstSentence', 'firstParagraph'),
  });
  const joined = (parts: readonly CaptionPart[]) =>
    parts.reduce<CaptionPart[]>((made, part) => {
      const last = made.at(-1);
      if (typeof part === 'string' && typeof last === 'string') made[made.length - 1] = last + part;
      else if (part !== '') made.push(part);
      return made;
    }, []);
  it('comes back as it went in, lines and tokens', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.string({ unit: 'grapheme' }), fc.constantFrom('\n', '\n\n', ' ', 'a\nb'), token, tweaked)),
        (parts) => {
          expect(joined(fromDocument(toDocument(parts)))).toEqual(joined(parts));
        },
      ),
    );
  });
  it('has a paragraph for each line, also for an empty one', () => {
    expect(toDocument(['a\n\nb']).content).toHaveLength(3);
    expect(toDocument([]).content).toEqual([{ type: 'paragraph', content: [] }]);
  });
  it('names tokens as people read them', () => {
    expect(tokenLabel('description', 'firstSentence')).toBe('Description · first sentence');
    expect(tokenLabel('thumbnail.width', null)).toBe('Thumbnail · width');
    expect(tokenLabel('title', 'unknown')).toBe('Title · unknown');
  });
});
