import fc from 'fast-check';
import { MessageFormat } from 'messageformat';
import { describe, expect, it } from 'vitest';
import { CaptionError, readCaption } from './caption.ts';
import { TWEAKS } from './functions.ts';
import { captionParts, captionSource, type CaptionPart } from './tokens.ts';

const fields = {
  title: 'Cold water: your {first} two minutes',
  description: 'What to expect. And when to get out.\n\nTimetable: https://lidos.example/',
  link: 'https://video.example/v/1',
  length: 295,
  author: { name: 'Rui' },
  tags: ['cold', 'dawn'],
  none: null,
};

describe('Unicode MessageFormat 2, examples of its specification (UTS #35 part 9)', () => {
  // The specification's own messages, from memory; formatted through Playa's reader.
  it.each([
    ['Hello, world!', {}, 'Hello, world!'], // "Simple messages"
    ['Hello, {$userName}!', { userName: 'Jane' }, 'Hello, Jane!'], // "Expressions"
    ['{{Hello, {$userName}!}}', { userName: 'Jane' }, 'Hello, Jane!'], // "Quoted pattern"
    ['Hello, {|literal|}!', {}, 'Hello, literal!'], // "Literals"
    [
      'Backslash: \\\\, left curly brace \\{, right curly brace \\}',
      {},
      'Backslash: \\, left curly brace {, right curly brace }',
    ], // "Escape sequences"
    ['.local $var = {|value|} {{{$var}}}', {}, 'value'], // "Declarations"
    [
      '.input {$count :number} .match $count one {{You have {$count} notification.}} * {{You have {$count} notifications.}}',
      { count: 1 },
      'You have 1 notification.',
    ],
    [
      '.input {$count :number} .match $count one {{You have {$count} notification.}} * {{You have {$count} notifications.}}',
      { count: 3 },
      'You have 3 notifications.',
    ],
    ['.input {$color :string} .match $color red {{stop}} * {{go}}', { color: 'red' }, 'stop'],
  ] as [string, Record<string, string | number>, string][])('%s', (source, values, expected) => {
    expect(readCaption(source).format(values)).toBe(expected);
  });

  it('formats as the reference implementation does, without isolates', () => {
    const source = '{$title} by {$author.name}, {$length :number}';
    const reference = new MessageFormat('en', source, { bidiIsolation: 'none' });
    expect(readCaption(source).format(fields)).toBe(reference.format(fields));
    expect(readCaption('{$title}').format({ title: 'שלום' })).toBe('שלום');
  });
});

describe('captions', () => {
  it('put fields in, nested ones and lists too', () => {
    expect(readCaption('{$title} {$author.name} {$tags}').format(fields)).toBe(
      'Cold water: your {first} two minutes Rui cold, dawn',
    );
  });
  it('leave nothing behind for what is not there', () => {
    const caption = readCaption('a{$gone}b{$none}c{$author}d{$gone.deeper}e');
    expect(caption.format(fields)).toBe('abcde');
    expect(caption.emptyIn(fields)).toEqual(['gone', 'none', 'author', 'gone.deeper']);
  });
  it('tweak values', () => {
    expect(readCaption('{$description :firstSentence} ({$length :clock})').format(fields)).toBe(
      'What to expect. (4:55)',
    );
    expect(readCaption('{$description :firstParagraph}').format(fields)).toBe('What to expect. And when to get out.');
    expect(readCaption('[{$gone :firstSentence}]').format(fields)).toBe('[]');
    expect(readCaption('[{$gone :clock}]').format(fields)).toBe('[]');
  });
  it('say where they stop making sense', () => {
    try {
      readCaption('Hello {$title');
      expect.unreachable();
    } catch (error) {
      expect(error).toBeInstanceOf(CaptionError);
      expect(error).toMatchObject({ code: 'syntax', at: { start: 13, end: 13 } });
    }
    expect(() => readCaption('{$a :nonsense}')).toThrow('no tweak called “nonsense”');
  });
  it('never throw for any field values', () => {
    const caption = readCaption('{$a} {$b :firstSentence} {$c.d :clock} {$e :firstParagraph}');
    fc.assert(
      fc.property(fc.dictionary(fc.constantFrom('a', 'b', 'c', 'e'), fc.jsonValue()), (values) => {
        expect(typeof caption.format(values as never)).toBe('string');
      }),
    );
  });
});

describe('tokens', () => {
  const field = fc.stringMatching(/^[a-z][a-z0-9]{0,5}(\.[a-z]{1,4})?$/);
  const token = fc.record({ field, tweak: fc.option(fc.constantFrom('firstSentence', 'clock'), { nil: undefined }) });
  const merged = (parts: readonly CaptionPart[]) =>
    parts.reduce<CaptionPart[]>((made, part) => {
      const last = made.at(-1);
      if (typeof part === 'string' && typeof last === 'string') made[made.length - 1] = last + part;
      else if (part !== '') made.push(part);
      return made;
    }, []);
  it('come back from text as they went in', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.string(),
            fc.string({ unit: 'grapheme' }),
            fc.constantFrom('.match', '{{', '}}', '\\', '{$x}', '\n', ' '),
            token,
          ),
        ),
        (parts) => {
          // What a message may not hold at all (MessageFormat 2, "text-char": no NUL, no lone surrogates) is left out.
          const legal = parts.map((part) =>
            typeof part === 'string'
              ? part.replace(/\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '')
              : part,
          );
          expect(captionParts(captionSource(legal))).toEqual(merged(legal));
        },
      ),
      { numRuns: 500 },
    );
  });
  it('say the same in both forms', () => {
    const source = captionSource([
      'New: ',
      { field: 'title' },
      ' {not a field} ',
      { field: 'description', tweak: 'firstSentence' },
    ]);
    expect(readCaption(source).format(fields)).toBe(
      'New: Cold water: your {first} two minutes {not a field} What to expect.',
    );
  });
  it('are not offered for messages that choose', () => {
    expect(captionParts('.input {$a :string} .match $a x {{1}} * {{2}}')).toBeUndefined();
    expect(captionParts('.local $b = {$a :string} {{{$b}}}')).toBeUndefined();
    expect(captionParts('{#strong}x{/strong}')).toBeUndefined();
  });
  it('are told by fields and snippets too, and say what those say', () => {
    expect(captionParts('{$link :campaign name=$snippet.spring}')).toEqual([
      { field: 'link', tweak: 'campaign', options: { name: { field: 'snippet.spring' } } },
    ]);
    const caption = readCaption('{$link :campaign source=$where name=$snippet.spring}');
    expect(caption.uses).toEqual(['link', 'where', 'snippet.spring']);
    const fields = { link: 'https://lidos.example/?a=1#b', 'snippet.spring': 'spring & summer', where: 'note' };
    expect(caption.format(fields)).toBe('https://lidos.example/?a=1&utm_source=note&utm_campaign=spring+%26+summer#b');
    // What says nothing is left out.
    expect(caption.format({ link: 'https://lidos.example/' })).toBe('https://lidos.example/');
  });
});

describe('tweaks', () => {
  const long = 'Three drills for the slow lane. Breathe out.\n\nLINKS\nTimetable: https://lidos.example/t\n#swim #lido';
  it.each([
    ['{$text :usefulBeginning}', 'Three drills for the slow lane. Breathe out.'],
    ['{$text :shorten most=35}', 'Three drills for the slow lane.'],
    ['{$tags :hashtags}', '#coldWater #dawn'],
    ['{$people :nameList}', 'Ana, Tom, and Bea'],
    ['{$name :firstName}', 'Ana'],
    ['{$stars :stars}', '★★★★☆'],
    ['{$link :domain}', 'lidos.example'],
    [
      '{$link :campaign medium=photo name=|first light|}',
      'https://lidos.example/t?utm_source=playa&utm_medium=photo&utm_campaign=first+light',
    ],
    ['{$empty :or text=|no words|}', 'no words'],
    ['{$name :or text=|nobody|}', 'Ana Prata'],
    ['{$html :plain}', 'Bold & plain'],
    ['{$name :upper}', 'ANA PRATA'],
    ['{$wave :withoutEmoji}', 'Sea'],
    ['.input {$stars :number}\n.match $stars\n5 {{Thank you!}}\n* {{We will do better.}}', 'We will do better.'],
  ])('%s', (source, said) => {
    const item = {
      text: long,
      tags: ['cold water', 'dawn', 'Dawn'],
      people: ['Ana', 'Tom', 'Bea'],
      name: 'Ana Prata',
      stars: 4,
      link: 'https://lidos.example/t',
      empty: '',
      html: '<b>Bold</b> &amp; plain',
      wave: 'Sea 🌊',
    };
    expect(readCaption(source).format(item)).toBe(said);
  });
  it('take anything: every one of them, on any text, gives well-formed text and the same each time', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.string({ unit: 'binary' }), fc.string({ unit: 'grapheme' }), fc.webUrl()),
        fc.constantFrom(...TWEAKS.map((tweak) => tweak.name)),
        fc.constantFrom('en', 'pt', 'de', 'ar', 'ja', 'tr'),
        (text, tweak, locale) => {
          const caption = readCaption(`{$field :${tweak}}`, locale);
          const said = caption.format({ field: text });
          expect(caption.format({ field: text })).toBe(said);
          // What went in whole comes out whole.
          const broken = (each: string) => /\p{Cs}/u.test(each);
          if (!broken(text)) expect(broken(said)).toBe(false);
        },
      ),
      { numRuns: 1500 },
    );
  });
});
