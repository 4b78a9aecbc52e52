import fc from 'fast-check';
import { MessageFormat, parseMessage } from 'messageformat';
import { describe, expect, it } from 'vitest';
import type { Fields } from '../items/item.ts';
import { readCaption } from './caption.ts';
import { captionFunctions, TWEAKS, type Surroundings } from './functions.ts';
import { speakable } from './spoken.ts';
import { straight } from './straight.ts';

const around: Surroundings = { locale: 'en', zone: 'Europe/Lisbon', now: Date.UTC(2026, 6, 1, 12), chance: () => 0.6 };

/** The words by the formatter that follows the specification. */
function byFormatter(source: string, fields: Fields): string {
  const formatter = new MessageFormat('en', source, { bidiIsolation: 'none', functions: captionFunctions(around) });
  return formatter.format(speakable(fields, ['title', 'about.text', 'n', 'when', 'tags', 'gone']), () => {});
}

const straightOn = (source: string) => straight(parseMessage(source), around);

const fieldValue = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 40 }),
  fc.constantFrom('', ' ', 'Cold water. Warm tea.', 'https://lidos.example/a?b=c', '4', '370', '2026-07-02T09:00:00Z'),
  fc.constant('a'.repeat(2500)),
  fc.integer(),
  fc.boolean(),
  fc.constant(null),
  fc.array(fc.string({ maxLength: 8 }), { maxLength: 4 }),
);
const anyFields: fc.Arbitrary<Fields> = fc.record(
  {
    title: fieldValue,
    about: fc.record({ text: fieldValue }),
    n: fieldValue,
    when: fieldValue,
    tags: fieldValue,
  },
  { requiredKeys: [] },
);

const literal = (text: string) => `|${text.replaceAll('\\', '\\\\').replaceAll('|', '\\|')}|`;
const options = fc
  .dictionary(
    fc.constantFrom('most', 'text', 'length', 'source', 'fields'),
    fc.constantFrom('3', '60', 'long', 'a | b', ''),
    {
      maxKeys: 2,
    },
  )
  .map((each) =>
    Object.entries(each)
      .map(([name, value]) => ` ${name}=${literal(value)}`)
      .join(''),
  );
const tweaked = fc
  .tuple(fc.constantFrom(...TWEAKS.filter(({ standard }) => !standard).map(({ name }) => name)), options)
  .map(([name, said]) => ` :${name}${said}`);
const placeholder = fc
  .tuple(fc.constantFrom('title', 'about.text', 'n', 'when', 'tags', 'gone'), fc.oneof(fc.constant(''), tweaked))
  .map(([path, rest]) => `{$${path}${rest}}`);
const words = fc.constantFrom('New: ', ' – ', '\n\n', ' #lido', '\\{open\\}', '\u{1F3CA} ');
const message = fc.array(fc.oneof(words, placeholder), { maxLength: 6 }).map((parts) => parts.join(''));

describe('words said straight on', () => {
  it('are those of the formatter, whatever the fields hold and whatever is done to them', () => {
    fc.assert(
      fc.property(message, anyFields, (source, fields) => {
        const say = straightOn(source);
        expect(say, source).toBeDefined();
        const said = say!(fields);
        expect(said).toBe(byFormatter(source, fields));
        expect(readCaption(source, 'en', around.zone).format(fields, around)).toBe(said);
      }),
      { numRuns: 1500 },
    );
  });

  it('are none where the formatter decides: choices, values that lean on each other, functions and options of its own', () => {
    for (const source of [
      '.input {$title :filled} .match $title yes {{a}} * {{b}}',
      '.local $x = {$title :upper} {{{$x}}}',
      '{$n :number}',
      '{$n :integer}',
      '{#bold}{$title}{/bold}',
      '{$title :shorten most=$n}',
      '{$title :upper u:id=x}',
      '{|words|}',
    ])
      expect(straightOn(source), source).toBeUndefined();
  });

  it('leaves out a field with which a tweak fails, as the formatter’s own functions do', () => {
    const failing = {
      chance: () => {
        throw new Error('no chance');
      },
    };
    expect(readCaption('Today: {$tags :pick}!').format({ tags: ['a', 'b'] }, failing)).toBe('Today: !');
    const chosen = '.input {$tags :pick} .match $tags a {{Swim}} * {{Today: {$tags}!}}';
    expect(readCaption(chosen).format({ tags: ['a', 'b'] }, failing)).toBe('Today: !');
  });
});
