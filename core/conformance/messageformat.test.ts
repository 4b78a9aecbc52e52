// Captions against Unicode MessageFormat 2 (UTS #35 part 9): messages of the specification's text and of the working
// group's own test suite (syntax.json, syntax-errors.json, data-model-errors.json, functions/*.json, pattern-selection.json),
// from memory, with what they say there. Captions are formatted without bidirectional isolates, as that suite's are when
// isolation is off; names are as they are there.
import { describe, expect, it } from 'vitest';
import { CaptionError, readCaption } from '../captions/caption.ts';
import { captionChoice } from '../captions/choices.ts';
import { captionParts, captionSource } from '../captions/tokens.ts';

type Values = Record<string, string | number>;
const say = (source: string, values: Values = {}, locale = 'en') => readCaption(source, locale).format(values);

describe('syntax', () => {
  it.each([
    ['hello', {}, 'hello'],
    ['hello {|world|}', {}, 'hello world'],
    ['hello {world}', {}, 'hello world'],
    ['hello {|world|} and {|moon|}', {}, 'hello world and moon'],
    ['hello {$place}', { place: 'world' }, 'hello world'],
    ['{$one} and {$two}', { one: 1.3, two: 4.2 }, '1.3 and 4.2'],
    ['{|\\\\|}', {}, '\\'],
    ['{|\\||}', {}, '|'],
    ['{|a\\\\b|}', {}, 'a\\b'],
    ['\\{ \\} \\| \\\\', {}, '{ } | \\'],
    ['{{hello}}', {}, 'hello'],
    ['{{hello { world\t\n}}}', {}, 'hello world'],
    ['{{hello {\u3000world\r}}}', {}, 'hello world'],
    ['\u3000{{hello world}}', {}, 'hello world'],
    ['.local $foo = {|1|} {{{$foo}}}', {}, '1'],
    ['.local $foo = {bar} {{bar {$foo}}}', {}, 'bar bar'],
    ['.local $foo = {|bar|} {{bar {$foo}}}', {}, 'bar bar'],
    ['.local $foo = {$bar} {{bar {$foo}}}', { bar: 'foo' }, 'bar foo'],
    ['.local $foo = {$baz} .local $bar = {$foo} {{bar {$bar}}}', { baz: 'foo' }, 'bar foo'],
    ['.input {$foo} {{bar {$foo}}}', { foo: 'bar' }, 'bar bar'],
    ['.input {$x :string} .local $y = {$x} {{{$y}}}', { x: 'abc' }, 'abc'],
    ['content -tag', {}, 'content -tag'],
    ['{#bold}content{/bold}', {}, 'content'],
    ['content {|foo| @note=|for whoever reads the message|}', {}, 'content foo'],
    ['{0}', {}, '0'],
    ['{-1.5e+2}', {}, '-1.5e+2'],
    ['', {}, ''],
    ['  spaces  stay  ', {}, '  spaces  stay  '],
  ] as [string, Values, string][])('%j says %j', (source, values, expected) => {
    expect(say(source, values)).toBe(expected);
  });

  it.each([
    '.',
    '{',
    '}',
    '{}',
    '{{',
    '{{}',
    '{{}}}',
    '{{missing end brace}',
    '{{missing end braces',
    '{{missing end {$braces',
    '{{extra}} content',
    'empty { } placeholder',
    'missing space {42:func}',
    'missing space {|foo|:func}',
    'missing space {|foo|@bar}',
    'missing space {:func@bar}',
    '{|foo| #markup}',
    '{|foo| #markup/}',
    '{|foo| /markup}',
    'bad {:}',
    'bad {\u0000placeholder}',
    'bad {:placeholder option=}',
    'bad {:placeholder option value}',
    'bad {:placeholder option:value}',
    'bad {:placeholder option}',
    'bad {:placeholder:}',
    'bad {::placeholder}',
    'bad {:placeholder::foo}',
    'bad {:placeholder option:=x}',
    'bad {:placeholder :option=x}',
    'bad {$placeholder option}',
    'bad {:placeholder @attribute=}',
    'bad {:placeholder @attribute=@foo}',
    '{ @misplaced = attribute }',
    'no {placeholder end',
    'no {$placeholder end',
    'no {:placeholder end',
    'no {|placeholder| end',
    'no {|literal} end',
    'no {|literal or placeholder end',
    '.local bar = {|foo|} {{_}}',
    '.local #bar = {|foo|} {{_}}',
    '.local $bar {|foo|} {{_}}',
    '.local $bar = |foo| {{_}}',
    '.match {#foo} * {{foo}}',
    '.match {} * {{foo}}',
    '.match {|foo| :x} {|bar| :x} ** {{foo}}',
    '.match * {{foo}}',
    '.match {|x| :x} * foo',
    '.match {|x| :x} * {{foo}} extra',
    '.match |x| * {{foo}}',
    '.i {1} {{}}',
    '.unsupported statement {{}}',
  ])('%j is no message, and a place in it is named', (source) => {
    try {
      readCaption(source);
    } catch (error) {
      expect(error).toBeInstanceOf(CaptionError);
      const { code, at, message } = error as CaptionError;
      expect(message).not.toBe('');
      expect(code).toBe('syntax');
      expect(at!.start).toBeGreaterThanOrEqual(0);
      expect(at!.end).toBeGreaterThanOrEqual(at!.start);
      expect(at!.end).toBeLessThanOrEqual(source.length);
      return;
    }
    expect.unreachable();
  });
});

describe('the data model', () => {
  it.each([
    ['.match $foo * {{no declaration}}', 'missing selector annotation'],
    ['.input {$foo} .match $foo one {{one}} * {{other}}', 'missing selector annotation'],
    ['.input {$foo :string} .match $foo one {{one}}', 'missing fallback variant'],
    ['.input {$foo :string} .input {$bar :string} .match $foo $bar one {{one}} * * {{other}}', 'variant key mismatch'],
    ['.input {$foo} .input {$foo} {{_}}', 'duplicate declaration'],
    ['.local $foo = {|1|} .local $foo = {|2|} {{_}}', 'duplicate declaration'],
    ['.local $foo = {$foo} {{_}}', 'duplicate declaration'],
    ['.input {$v :string} .match $v one {{A}} one {{B}} * {{C}}', 'duplicate variant'],
    ['bad {:placeholder option=x option=x}', 'duplicate option name'],
  ])('%s is refused: %s', (source) => expect(() => readCaption(source)).toThrow(CaptionError));
  it.each([
    ['Shorter: {$title :nonsense}', ':nonsense'],
    ['{#strong}x{/strong}', '#strong'],
    ['12:nonsense {$a} {$title  :nonsense most=3}', ':nonsense'],
  ])('what Playa does not know in %j is named where it stands', (source, name) => {
    try {
      readCaption(source);
      expect.unreachable();
    } catch (error) {
      const { code, at } = error as CaptionError;
      expect(code).toBe(name.startsWith(':') ? 'unknown-tweak' : 'unknown-formatting');
      const { start, end } = at!;
      expect(source.slice(start, end)).toBe(name);
      expect(source.slice(0, start).lastIndexOf('{')).toBeGreaterThanOrEqual(0);
      expect(source.slice(source.slice(0, start).lastIndexOf('{'), start)).not.toContain('}');
    }
  });
});

describe('functions of the specification', () => {
  it.each([
    ['hello {4.2 :number}', {}, 'hello 4.2'],
    ['hello {-4.20 :number}', {}, 'hello -4.2'],
    ['hello {0.42e+1 :number}', {}, 'hello 4.2'],
    ['hello {|4.2| :number minimumFractionDigits=2}', {}, 'hello 4.20'],
    ['hello {|4.2| :number minimumFractionDigits=|2|}', {}, 'hello 4.20'],
    ['hello {|4.2| :number minimumFractionDigits=$foo}', { foo: 2 }, 'hello 4.20'],
    ['{1234567 :number}', {}, '1,234,567'],
    ['{1234567 :number useGrouping=never}', {}, '1234567'],
    ['{5 :number signDisplay=always}', {}, '+5'],
    ['hello {4.2 :integer}', {}, 'hello 4'],
    ['hello {-4.20 :integer}', {}, 'hello -4'],
    ['hello {0.42e+1 :integer}', {}, 'hello 4'],
    ['.input {$foo :number} .local $bar = {$foo} {{bar {$bar}}}', { foo: 4.2 }, 'bar 4.2'],
    ['{1 :offset add=1}', {}, '2'],
    ['{10 :offset subtract=4}', {}, '6'],
    ['{$a :string}', { a: 'abc' }, 'abc'],
  ] as [string, Values, string][])('%s says %s', (source, values, expected) => {
    expect(say(source, values)).toBe(expected);
  });
  it.each([
    ['de', '1.234.567,891'],
    ['pt-PT', '1\u00a0234\u00a0567,891'],
    ['en', '1,234,567.891'],
  ])('numbers are written as %s writes them (CLDR)', (locale, expected) => {
    expect(say('{1234567.891 :number}', {}, locale)).toBe(expected);
  });
});

describe('pattern selection', () => {
  const NOTIFICATIONS =
    '.input {$n :number} .match $n 0 {{none}} one {{one}} two {{two}} few {{few}} many {{many}} * {{other}}';
  // CLDR plural rules: the samples of its table "Language Plural Rules".
  it.each([
    ['en', { 0: 'none', 1: 'one', 2: 'other', 21: 'other' }],
    ['pt', { 0: 'none', 1: 'one', 2: 'other', 1000000: 'many' }],
    ['cy', { 1: 'one', 2: 'two', 3: 'few', 6: 'many', 4: 'other' }],
    ['pl', { 1: 'one', 2: 'few', 5: 'many', 22: 'few', 1.5: 'other' }],
    ['ar', { 0: 'none', 1: 'one', 2: 'two', 3: 'few', 11: 'many', 100: 'other' }],
    ['ja', { 1: 'other', 2: 'other' }],
  ] as [string, Record<string, string>][])('in %s follows the plural rules', (locale, expected) => {
    for (const [n, row] of Object.entries(expected))
      expect([n, say(NOTIFICATIONS, { n: Number(n) }, locale)]).toEqual([n, row]);
  });
  it.each([
    ['.local $x = {1 :string} .match $x 1 {{=1}} * {{other}}', {}, '=1'],
    ['.input {$x :string} .match $x one {{one}} * {{other}}', { x: 'one' }, 'one'],
    ['.input {$x :number} .match $x 1 {{exactly}} one {{plural}} * {{other}}', { x: 1 }, 'exactly'],
    ['.input {$x :number} .match $x one {{plural}} 1 {{exactly}} * {{other}}', { x: 1 }, 'exactly'],
    ['.input {$x :number select=exact} .match $x one {{plural}} 1 {{exactly}} * {{other}}', { x: 1 }, 'exactly'],
    ['.input {$x :number select=exact} .match $x one {{plural}} * {{other}}', { x: 1 }, 'other'],
    ['.input {$x :number select=ordinal} .match $x one {{st}} two {{nd}} few {{rd}} * {{th}}', { x: 23 }, 'rd'],
    [
      '.input {$x :number} .input {$y :number} .match $x $y one one {{11}} one * {{1*}} * one {{*1}} * * {{**}}',
      { x: 5, y: 1 },
      '*1',
    ],
    ['.input {$x :string} .input {$y :string} .match $x $y * b {{*b}} a * {{a*}} * * {{**}}', { x: 'a', y: 'b' }, 'a*'],
  ] as [string, Values, string][])('%s for %j says %s', (source, values, expected) => {
    expect(say(source, values)).toBe(expected);
  });
  it('of one value is shown as rows, of more as text', () => {
    expect(captionChoice('.local $c = {$stars :number} .match $c 5 {{Yes}} * {{No}}')?.rows).toHaveLength(2);
    const two = '.input {$x :string} .input {$y :string} .match $x $y a b {{1}} * * {{2}}';
    expect([captionParts(two), captionChoice(two)]).toEqual([undefined, undefined]);
  });
});

describe('the text form', () => {
  it.each([
    '\\{ \\} \\\\ |',
    'a {$b} c',
    '{$a :shorten most=3}',
    '{#link to=$l}x{/link}',
    '.start',
    '{{'.replace('{{', '\\{\\{'),
  ])('%j comes back as it was, through tokens', (source) => {
    const parts = captionParts(source === '.start' ? '{{.start}}' : source)!;
    const again = captionSource(parts);
    expect(captionParts(again)).toEqual(parts);
    expect(readCaption(again).format({})).toBe(readCaption(source === '.start' ? '{{.start}}' : source).format({}));
  });
});
