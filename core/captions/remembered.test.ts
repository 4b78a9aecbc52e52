import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CaptionError, parseCaption, readCaption } from './caption.ts';
import { remembered } from './remembered.ts';

const counting = () => {
  const asked: string[] = [];
  const read = remembered((source: string, locale: string) => {
    asked.push(`${locale} ${source}`);
    if (source === 'bad') throw new Error('bad');
    return { source, locale };
  });
  return { asked, read };
};

describe('a reading that is remembered', () => {
  it('is made once for the same words, and gives the very same', () => {
    const { asked, read } = counting();
    expect(read('Hello', 'en')).toBe(read('Hello', 'en'));
    expect(asked).toEqual(['en Hello']);
  });
  it('is another in another language, and words cannot pass for the language', () => {
    const { asked, read } = counting();
    expect(read('Hello', 'pt').locale).toBe('pt');
    expect(read('Hello', 'en').locale).toBe('en');
    expect(read('b', 'a').source).toBe('b');
    expect(read('', 'a\0b').source).toBe('');
    expect(asked).toHaveLength(4);
  });
  it('remembers refusals too', () => {
    const { asked, read } = counting();
    expect(() => read('bad', 'en')).toThrow('bad');
    expect(() => read('bad', 'en')).toThrow('bad');
    expect(asked).toHaveLength(1);
  });
  it('keeps nothing that is very long, and not more than some hundred', () => {
    const { asked, read } = counting();
    const long = 'x'.repeat(5000);
    read(long, 'en');
    read(long, 'en');
    expect(asked).toHaveLength(2);
    for (let number = 0; number < 3000; number++) read(`words ${number}`, 'en');
    read('words 0', 'en');
    expect(asked).toHaveLength(2 + 3000 + 1);
  });
});

describe('words that are read once for all who ask', () => {
  const words = fc.oneof(
    fc.string({ maxLength: 40 }),
    fc.constantFrom(
      'Hello {$title}',
      '{$title :upper}',
      '{#strong}{$title}{/strong}',
      '.input {$stars :number} .match $stars 1 {{Sorry}} * {{Thanks, {$person}}}',
      'Hello {$title',
      '{$a :nonsense}',
    ),
  );
  it('say the same whoever has used them before, for whichever item', () => {
    const fields = fc.dictionary(fc.constantFrom('title', 'person', 'stars', 'a'), fc.oneof(fc.string(), fc.integer()));
    fc.assert(
      fc.property(words, fields, fields, (source, one, other) => {
        const say = (of: Record<string, string | number>) => {
          try {
            return readCaption(source).format(of);
          } catch (error) {
            return `refused: ${(error as CaptionError).code}`;
          }
        };
        const before = say(one);
        say(other);
        expect(say(one)).toBe(before);
      }),
    );
  });
  it('are changed by nobody who is handed them', () => {
    fc.assert(
      fc.property(words, (source) => {
        let message: unknown;
        try {
          message = parseCaption(source);
        } catch {
          return;
        }
        const before = JSON.stringify(message);
        try {
          readCaption(source).format({ title: 'High tide', stars: 1 });
        } catch {
          // What cannot be used is refused; it was not changed either.
        }
        expect(JSON.stringify(parseCaption(source))).toBe(before);
      }),
    );
  });
});
