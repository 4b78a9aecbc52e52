import type { TokenOptions } from './token-options.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CaptionPart } from '@playa/core/captions/tokens.ts';
import { fromDocument, toDocument } from './document.ts';
import { tokenLabel } from './field-token.ts';

describe('a caption as a document', () => {
  const token = fc.record({ field: fc.constantFrom('title', 'author.name', 'length') }, { requiredKeys: ['field'] });
  const tweaked = fc.record(
    {
      field: fc.constantFrom('description', 'title'),
      tweak: fc.constantFrom('firstSentence', 'shorten'),
      options: fc.constantFrom<TokenOptions[]>(
        { most: '60' },
        { a: 'x', b: 'y' },
        { name: { field: 'snippet.spring' } },
      ),
    },
    { requiredKeys: ['field', 'tweak'] },
  );
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
  it('comes back with its markup, which ends at the end of a line', () => {
    const parts: CaptionPart[] = [
      { item: true },
      { mark: 'bold', open: true },
      'Cold ',
      { mark: 'italic', open: true },
      { field: 'title' },
      { mark: 'italic', open: false },
      { mark: 'bold', open: false },
      '\n',
      { mark: 'optional', open: true },
      'Book ',
      { mark: 'link', open: true, to: { field: 'link' } },
      'here',
      { mark: 'link', open: false },
      { mark: 'optional', open: false },
      { mark: 'link', open: true, to: { address: 'https://lidos.example/' } },
      'there',
      { mark: 'link', open: false },
    ];
    expect(fromDocument(toDocument(parts))).toEqual(parts);
    const crossing: CaptionPart[] = [
      { mark: 'bold', open: true },
      'a',
      { mark: 'link', open: true, to: { field: 'link' } },
      'b',
      { mark: 'bold', open: false },
      'c',
      { mark: 'link', open: false },
    ];
    // The same words look the same, in marks that are properly nested.
    const read = fromDocument(toDocument(crossing));
    expect(toDocument(read)).toEqual(toDocument(fromDocument(toDocument(read))));
    expect(read.filter((part) => typeof part === 'string')).toEqual(['a', 'b', 'c']);
    let depth = 0;
    for (const part of read) if (typeof part !== 'string' && 'mark' in part) depth += part.open ? 1 : -1;
    expect(depth).toBe(0);
  });
  it('has a paragraph for each line, also for an empty one', () => {
    expect(toDocument(['a\n\nb']).content).toHaveLength(3);
    expect(toDocument([]).content).toEqual([{ type: 'paragraph', content: [] }]);
  });
  it('names tokens as people read them', () => {
    expect(tokenLabel('description', 'firstSentence')).toBe('Description · first sentence');
    expect(tokenLabel('thumbnail.width', null)).toBe('Thumbnail · width');
    expect(tokenLabel('title', 'unknown')).toBe('Title · unknown');
    expect(tokenLabel('title', 'shorten', { most: '60' })).toBe('Title · shortened: 60');
    expect(tokenLabel('snippet.sign-off', null)).toBe('sign-off');
  });
});
