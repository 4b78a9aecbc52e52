import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCaption } from './caption.ts';
import { DEFAULT_LADDER, RUNGS } from './ladder.ts';
import { sayTrimmedParts, sayTrimmed } from './say-trimmed.ts';
import { writePlain } from './write/plain.ts';
import { countHashtags, countMentions, withoutMentions } from '../text/hashtags.ts';
import { OUTLET_KINDS, type WordRules } from '../outlets/kinds.ts';
import { wordRules, type Purpose } from '../outlets/length.ts';
import { refusal, sayBy } from './say.ts';
import { writtenText } from './written.ts';

const rules = (more: Partial<WordRules>): WordRules => ({ limit: null, unit: 'grapheme', format: 'plain', ...more });
const say = (rule: WordRules, source: string, fields: Record<string, string>, ladder = DEFAULT_LADDER) => {
  const pieces = readCaption(source).pieces(fields);
  return sayBy(rule, { text: writePlain(pieces), pieces }, ladder, 'en', 'The feed');
};

describe('hashtags and names', () => {
  it.each([
    ['#lido and ＃海', 2, 0],
    ['https://lidos.example/a#part &#39; a#b', 0, 0],
    ['Thanks @oldquay, post@lidos.example and @gannet.point', 0, 2],
    ['@ and # alone', 0, 0],
  ])('in %s are counted as networks find them', (text, hashtags, mentions) => {
    expect([countHashtags(text), countMentions(text)]).toEqual([hashtags, mentions]);
    expect(countMentions(withoutMentions(text))).toBe(0);
  });
});

describe('words by the rules of an outlet', () => {
  const tags = Array.from({ length: 8 }, (_, index) => `#tag${index}`).join(' ');
  it('lose only the hashtags that are too many, from the last', () => {
    const said = say(rules({ mostHashtags: 5 }), '{$title} {$tags}', { title: 'Cold water', tags });
    expect(said.text).toBe('Cold water #tag0 #tag1 #tag2 #tag3 #tag4');
    expect(said.trimmed).toEqual({ from: 58, hashtags: 3, fields: [], optional: 0 });
    expect(sayTrimmed(said.trimmed!)).toBe('3 hashtags left out');
  });
  it('are refused with what is too many when nothing may give way', () => {
    const none = (rule: WordRules, text: string) => sayBy(rule, { text }, null, 'en', 'The feed').refused;
    expect(none(rules({ mostHashtags: 5 }), tags)).toBe('8 hashtags, and The feed takes 5.');
    expect(none(rules({ mostMentions: 1 }), '@a1 @b2')).toBe('2 names with @, and The feed takes 1.');
    expect(none(rules({ limit: 3 }), 'four')).toBe('4 characters, 1 more than The feed takes.');
    expect(none(rules({ limit: 4, mostHashtags: 0 }), 'four')).toBeUndefined();
  });
  it('say which fields, hashtags and optional parts gave way', () => {
    const fields = { title: 'Cold water', description: 'What to expect, and when to get out. Breathe out.' };
    const source = '{$title}. {$description}{#optional} (6:10){/optional} #lido #sea';
    const [all, some, most] = [90, 63, 30].map((limit) => say(rules({ limit }), source, fields));
    expect([all!.text, all!.trimmed]).toEqual([`Cold water. ${fields.description} (6:10) #lido #sea`, undefined]);
    expect(some!.text).toBe('Cold water. What to expect, and when to get out. (6:10) #lido');
    expect(sayTrimmed(some!.trimmed!)).toBe('Description shortened, 1 hashtag left out');
    expect(most!.text).toBe('Cold water. What to… (6:10)');
    expect(sayTrimmedParts({ text: some!.trimmed, title: most!.trimmed })).toBe(
      'Description shortened, 1 hashtag left out; Description shortened in the title, 2 hashtags left out in the title',
    );
    const first = say(rules({ limit: 60 }), source, fields, {
      order: ['optional', ...RUNGS.slice(0, 2)],
      cutAt: 'word',
    });
    expect(sayTrimmed(first.trimmed!)).toMatch(/optional part left out$/);
  });
  it('name the fields of rows that were chosen by value', () => {
    const source =
      '.local $c = {$stars :number} .match $c 5 {{Lovely: {$text}}} 1 {{Sorry, {$person.name}: {$reason}}} * {{{$other}}}';
    const long = 'Words and more words. '.repeat(9);
    const shortened = (fields: Record<string, string>) => say(rules({ limit: 60 }), source, fields).trimmed?.fields;
    expect(shortened({ stars: '5', text: long })).toEqual(['text']);
    expect(shortened({ stars: '1', 'person.name': 'Ana', reason: long })).toEqual(['reason']);
    expect(shortened({ stars: '3', other: long })).toEqual(['other']);
  });
  it('of which only the text is known are shortened as well', () => {
    const said = sayBy(rules({ limit: 20 }), { text: 'Bring a towel and tea. And cake.' }, DEFAULT_LADDER, 'en', 'x');
    expect(said).toMatchObject({ text: 'Bring a towel and…', trimmed: { from: 32, fields: [''] } });
    expect(sayTrimmed(said.trimmed!)).toBe('the words shortened');
    const tags = sayBy(rules({ limit: 20 }), { text: 'Bring a towel #sea #tea #pool' }, DEFAULT_LADDER, 'en', 'x');
    expect(tags).toMatchObject({ text: 'Bring a towel #sea', trimmed: { hashtags: 2, fields: [] } });
    const kept = { order: ['hashtags'] as const, cutAt: 'either' as const };
    expect(sayBy(rules({ limit: 5 }), { text: 'Bring a towel' }, kept, 'en', 'x').refused).toMatch(/8 more/);
  });
});

describe('whatever the words', () => {
  const field = fc.oneof(
    fc.string({ unit: 'grapheme', maxLength: 80 }),
    fc.array(fc.constantFrom('Cold', 'water.', '#sea', '@quay', '🌊', 'https://a.example/1', '*b*', '\n'), {
      maxLength: 40,
    }),
  );
  const fields = fc.record({ title: field, description: field }).map(({ title, description }) => ({
    title: [title].flat().join(' '),
    description: [description].flat().join(' '),
  }));
  const source = fc.constantFrom(
    '{$title} {$description}',
    '{#bold}{$title}{/bold} {#optional}{$description}{/optional} #lido #sea',
    '{#item /}{$title}\n{#item /}{#link to=|https://a.example/2|}{$description}{/link}',
  );
  const where = fc.tuple(
    fc.constantFrom(...OUTLET_KINDS),
    fc.constantFrom<Purpose>('post', 'answer', 'message'),
    fc.boolean(),
  );
  it('what is not refused is within every rule, and what was cut says so', () => {
    fc.assert(
      fc.property(
        fields,
        source,
        where,
        fc.integer({ min: 5, max: 200 }),
        (values, words, [kind, purpose, media], limit) => {
          const there = { ...wordRules(kind, purpose, media), limit, mostHashtags: 2 };
          const whole = sayBy(there, wordedOf(words, values), null, 'en', 'x');
          const said = say(there, words, values);
          if (said.refused === undefined) expect(refusal(there, said, 'x')).toBeUndefined();
          else expect(said.text).toBe(whole.text);
          if (whole.refused === undefined) expect(said).toEqual(whole);
          expect(said.trimmed !== undefined && said.refused !== undefined).toBe(false);
        },
      ),
      { numRuns: 800 },
    );
  });
  const wordedOf = (words: string, values: Record<string, string>) => {
    const pieces = readCaption(words).pieces(values);
    return { text: writePlain(pieces), pieces };
  };
  it('a text is counted as it is written', () => {
    const markdown = writtenText(wordRules('room'), 'a *b* c');
    expect(markdown).toEqual({ text: 'a *b* c', markup: 'a \\*b\\* c', length: 9 });
  });
});
