import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCaption } from './caption.ts';
import { captionChoice, choiceFrom, choiceSource, rowFor, type Choice } from './choices.ts';
import { captionParts } from './tokens.ts';

const stars: Choice = {
  field: 'stars',
  by: 'number',
  rows: [
    { keys: ['1', '2'], parts: ['We are sorry, ', { field: 'name', tweak: 'firstName' }, '.'] },
    { keys: ['5'], parts: ['Thank you!'] },
    { keys: [], parts: ['Thanks for the ', { field: 'stars' }, ' stars.'] },
  ],
};

describe('wording by value, as rows', () => {
  it('is a matcher of MessageFormat 2 and comes back as the same rows', () => {
    const source = choiceSource(stars);
    expect(source).toContain('.match $choice');
    expect(captionChoice(source)).toEqual(stars);
    const caption = readCaption(source);
    expect(caption.uses).toEqual(expect.arrayContaining(['stars', 'name']));
    expect([1, 2, 5, 4].map((count) => caption.format({ stars: count, name: 'Ana Prata' }))).toEqual([
      'We are sorry, Ana.',
      'We are sorry, Ana.',
      'Thank you!',
      'Thanks for the 4 stars.',
    ]);
    // A field that is not there takes the row for all others, and nothing of the syntax shows.
    expect(caption.format({})).toBe('Thanks for the  stars.');
    expect(caption.format({ stars: 'many' })).toBe('Thanks for the many stars.');
  });
  it('chooses by plural forms as the language has them (CLDR)', () => {
    const choice: Choice = {
      field: 'count',
      by: 'number',
      rows: [
        { keys: ['one'], parts: [{ field: 'count' }, ' komentarz'] },
        { keys: ['few'], parts: [{ field: 'count' }, ' komentarze'] },
        { keys: [], parts: [{ field: 'count' }, ' komentarzy'] },
      ],
    };
    // Polish, from the tables of CLDR's plural rules (from memory): 1 one; 2 to 4, 22 few; 5 to 21 many.
    const caption = readCaption(choiceSource(choice), 'pl');
    expect([1, 2, 5, 12, 22].map((count) => caption.format({ count }))).toEqual([
      '1 komentarz',
      '2 komentarze',
      '5 komentarzy',
      '12 komentarzy',
      '22 komentarze',
    ]);
  });
  it('chooses by whether there is anything', () => {
    const choice: Choice = {
      field: 'title',
      by: 'filled',
      rows: [
        { keys: ['yes'], parts: ['New: ', { field: 'title' }] },
        { keys: [], parts: ['Something new'] },
      ],
    };
    const caption = readCaption(choiceSource(choice));
    expect(caption.format({ title: 'A film' })).toBe('New: A film');
    expect(caption.format({ title: '  ' })).toBe('Something new');
    expect(caption.format({})).toBe('Something new');
  });
  it('leaves out rows for nobody and values said twice', () => {
    const source = choiceSource({
      field: 'kind',
      by: 'value',
      rows: [
        { keys: ['video', ' '], parts: ['a'] },
        { keys: ['video'], parts: ['b'] },
        { keys: [], parts: ['c'] },
      ],
    });
    expect(readCaption(source).format({ kind: 'video' })).toBe('a');
    expect(captionChoice(source)!.rows).toHaveLength(2);
  });
  it('begins with the same words in every row', () => {
    const choice = choiceFrom(captionParts('Hi {$name}')!, 'stars', 'number', ['1']);
    const caption = readCaption(choiceSource(choice));
    expect(caption.format({ name: 'Ana', stars: 1 })).toBe('Hi Ana');
    expect(caption.format({ name: 'Ana', stars: 3 })).toBe('Hi Ana');
  });
  it.each([
    'Just words',
    '.input {$a :number select=exact} .match $a 1 {{x}} * {{y}}',
    '.local $a = {$x :string} .local $b = {$y :string} .match $a $b 1 2 {{x}} * * {{y}}',
    '.local $c = {$x :string} .match $c a {{{#strong}x{/strong}}} * {{y}}',
  ])('%s has no rows', (source) => expect(captionChoice(source)).toBeUndefined());

  const keyed = fc.uniqueArray(
    fc.oneof(fc.integer({ min: 0, max: 9 }).map(String), fc.constantFrom('one', 'few', 'a b', 'ü|x')),
    {
      maxLength: 4,
    },
  );
  it('comes back from text as it went in, and says which row speaks', () => {
    fc.assert(
      fc.property(keyed, fc.constantFrom('value', 'number'), fc.integer({ min: 0, max: 12 }), (keys, by, value) => {
        const choice: Choice = {
          field: 'x',
          by: by as Choice['by'],
          rows: [
            ...keys.map((key, index) => ({ keys: [key], parts: [`row ${index}`] })),
            { keys: [], parts: ['others'] },
          ],
        };
        expect(captionChoice(choiceSource(choice))).toEqual(choice);
        const said = readCaption(choiceSource(choice)).format({ x: value });
        expect(choice.rows[rowFor(choice, String(value), 'en')]!.parts).toEqual([said]);
      }),
    );
  });
});
