import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changedWords, noLinksWritten, withoutFields, withTweak } from './change.ts';
import { captionParts, captionSource, type CaptionPart } from './tokens.ts';

// What a message may not hold at all (MessageFormat 2, "text-char": no NUL, no lone surrogates) is left out.
const legal = (text: string) => text.replace(/\0|\p{Surrogate}/gu, '');
const text = fc
  .oneof(fc.string(), fc.string({ unit: 'grapheme' }), fc.constantFrom('{$x}', '\\', '}}', '|', '\n', '.match', '/'))
  .map(legal)
  .filter((each) => each !== '');
const field = fc.constantFrom('title', 'person.name', 'snippet.sign-off');
const option = fc.oneof(
  text,
  field.map((each) => ({ field: each })),
);
const options = fc.dictionary(fc.constantFrom('most', 'text', 'source'), option, { minKeys: 1, noNullPrototype: true });
const token: fc.Arbitrary<CaptionPart> = fc.oneof(
  field.map((each) => ({ field: each })),
  fc.record({ field, tweak: fc.constantFrom('shorten', 'or', 'campaign') }),
  fc.record({ field, tweak: fc.constantFrom('shorten', 'or', 'campaign'), options }),
);
const inner = fc.array(fc.oneof(text, token), { minLength: 1, maxLength: 4 });
const marked: fc.Arbitrary<CaptionPart[]> = fc.oneof(
  fc
    .tuple(fc.constantFrom('bold', 'italic', 'code', 'keep', 'optional'), inner)
    .map(([mark, parts]): CaptionPart[] => [{ mark, open: true }, ...parts, { mark, open: false }]),
  fc
    .tuple(
      fc.oneof(
        field.map((each) => ({ field: each })),
        text.map((address) => ({ address })),
      ),
      inner,
    )
    .map(([to, parts]): CaptionPart[] => [{ mark: 'link', open: true, to }, ...parts, { mark: 'link', open: false }]),
  fc.constant<CaptionPart[]>([{ item: true }]),
);
const parts = fc.array(fc.oneof(inner, marked), { maxLength: 6 }).map((all) => all.flat());
const merged = (all: readonly CaptionPart[]) =>
  all.reduce<CaptionPart[]>((made, part) => {
    const last = made.at(-1);
    if (typeof part === 'string' && typeof last === 'string') made[made.length - 1] = last + part;
    else made.push(part);
    return made;
  }, []);

describe('parts with markup and options', () => {
  it('come back from the text form as they went in, and the text stays the same', () => {
    fc.assert(
      fc.property(parts, (all) => {
        const source = captionSource(all);
        expect(captionParts(source)).toEqual(merged(all));
        expect(captionSource(captionParts(source)!)).toBe(source);
      }),
      { numRuns: 800 },
    );
  });
});

describe('changes that remedies make', () => {
  it('touch what they are about and leave the rest as it was written', () => {
    const source = 'New: {$title}, {$link} and https://lidos.example/x {$description :firstSentence}';
    expect(changedWords(source, withoutFields(new Set(['link'])))).toBe(
      'New: {$title}, and https://lidos.example/x {$description :firstSentence}',
    );
    expect(changedWords(source, noLinksWritten)).toBe('New: {$title}, {$link} and {$description :firstSentence}');
    expect(
      changedWords(
        '{$title} {$description :firstSentence}',
        withTweak('calm', () => true),
      ),
    ).toBe('{$title :calm} {$description :firstSentence}');
    // Rows are changed one by one; what cannot be read is left alone.
    expect(
      changedWords(
        '.local $choice = {$stars :number} .match $choice 5 {{Yes {$link}}} * {{No {$link}}}',
        withoutFields(new Set(['link'])),
      ),
    ).toMatch(/5 \{\{Yes\}\}\s+\* \{\{No\}\}/);
    expect(changedWords('{$title', noLinksWritten)).toBeUndefined();
  });
});
