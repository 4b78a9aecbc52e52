import { readFileSync } from 'node:fs';
import damerauLevenshtein from 'damerau-levenshtein';
import fc from 'fast-check';
import { distance as levenshtein } from 'fastest-levenshtein';
import { describe, expect, it } from 'vitest';
import { readCaption } from '../captions/caption.ts';
import { evaluate } from '../conditions/evaluate.ts';
import { readField } from '../items/read-field.ts';
import { TEXT_PARTS } from './parts-of-text.ts';
import { editDistance } from './edit-distance.ts';
import { formOf } from './form.ts';
import { findKeyword, nearMisses, readKeywords, sayFound, toleranceFor } from './keywords.ts';
import { languageOf } from './language.ts';
import { isQuestion } from './question.ts';
import { toneOf, toneScore } from './tone.ts';
import { folded, wordsOf } from './words-of.ts';

const word = fc.string({ unit: fc.constantFrom(...'abcde'), maxLength: 9 });

describe('edit distance', () => {
  // Two reference libraries: fastest-levenshtein (no swaps), damerau-levenshtein (swaps; it gives up beyond 4).
  it('is that of the reference with swaps, as far as that goes', () => {
    fc.assert(
      fc.property(word, word, (a, b) => {
        const plain = levenshtein(a, b);
        const mine = editDistance(a, b, 20);
        expect(mine).toBeLessThanOrEqual(plain);
        if (plain <= 3 && a !== '' && b !== '') expect(mine).toBe(damerauLevenshtein(a, b).steps);
        if (mine < plain) expect(plain - mine).toBeLessThanOrEqual(Math.floor(plain / 2));
      }),
    );
  });
  it('says no more than that it is too much beyond the bound', () => {
    fc.assert(
      fc.property(word, word, fc.integer({ min: 0, max: 4 }), (a, b, most) => {
        expect(editDistance(a, b, most)).toBe(Math.min(editDistance(a, b, 20), most + 1));
      }),
    );
  });
  it('is the same both ways, and none for the same word', () => {
    fc.assert(
      fc.property(word, word, (a, b) => {
        expect(editDistance(a, b, 3)).toBe(editDistance(b, a, 3));
        expect(editDistance(a, a, 0)).toBe(0);
      }),
    );
  });
  // Worked examples of textbooks: Levenshtein's kitten and sitting; a swap of neighbours counts one (Damerau 1964).
  it.each([
    ['kitten', 'sitting', 3],
    ['ca', 'ac', 1],
    ['ca', 'abc', 3],
    ['', 'abc', 3],
  ])('%s and %s: %d', (a, b, expected) => expect(editDistance(a, b, 9)).toBe(expected));
});

describe('keywords', () => {
  const list = readKeywords('timetable, tools; swim lessons\n"pool", Straße');
  const rule = (text: string) => findKeyword(text, list)?.rule ?? null;
  it('are read from a list', () => {
    expect(list.map(({ said, tolerance }) => [said, tolerance])).toEqual([
      ['timetable', 2],
      ['tools', 1],
      ['swim lessons', 2],
      ['pool', 0],
      ['Straße', 1],
    ]);
    expect(readKeywords(' ,;\n!!')).toEqual([]);
    expect([1, 3, 4, 7, 8, 20].map(toleranceFor)).toEqual([0, 0, 1, 1, 2, 2]);
  });
  it.each([
    ['timetable', 'same'],
    ['The TIMETABLE🙏please!!', 'same'],
    ['time\u200Btable', 'same'],
    ['tïmetáble', 'same'],
    ['#timetable', 'same'],
    ['time table please', 'apart'],
    ['timetables?', 'plural'],
    ['timetabel please!!', 'misspelt'],
    ['itmetable', 'misspelt'],
    ['timtable', 'misspelt'],
    ['timettable', 'stretched'],
    ['tooools', 'stretched'],
    ['swimlessons', 'apart'],
    ['swim lesson', 'plural'],
    ['siwm lessons', 'misspelt'],
    ['STRASSE', 'same'],
    ['strassse', 'stretched'],
    ['pool', 'same'],
    ['pools', null],
    ['fools', null],
    ['schools', null],
    ['the tide is able', null],
    ['table', null],
    ['🌊🌊', null],
    ['', null],
  ])('“%s”: %s', (text, expected) => expect(rule(text)).toBe(expected));
  it('are found anywhere in scripts without spaces', () => {
    expect(findKeyword('来週の時刻表をください', readKeywords('時刻表'))?.rule).toBe('same');
  });
  it('say the rule by which they were taken, and what nearly was', () => {
    expect(sayFound(findKeyword('timetabel!', list)!)).toBe('“timetabel” is “timetable”, 1 letter off');
    expect(sayFound(findKeyword('tooools', list)!)).toBe('“tooools” is “tools” with letters repeated');
    expect(nearMisses('fools', list).map(sayFound)).toEqual([
      '“fools” is not “tools”: 1 letter off, or another first letter',
    ]);
    expect(nearMisses('tools', list)).toEqual([]);
  });
  it('take every word of theirs, with any one letter dropped, doubled or swapped inside', () => {
    const keyword = fc.string({ unit: fc.constantFrom(...'abcdefghij'), minLength: 5, maxLength: 14 });
    fc.assert(
      fc.property(keyword, fc.nat(), fc.constantFrom('drop', 'double', 'swap', 'none'), (said, seed, how) => {
        const at = 1 + (seed % (said.length - 2));
        const typed = {
          drop: said.slice(0, at) + said.slice(at + 1),
          double: said.slice(0, at) + said[at] + said.slice(at),
          swap: said.slice(0, at) + said[at + 1] + said[at] + said.slice(at + 2),
          none: said,
        }[how];
        expect(findKeyword(`Oh, ${typed.toUpperCase()}!`, readKeywords(said))).not.toBeNull();
      }),
    );
  });
  it('never take a word that is further off than they allow', () => {
    const text = fc.string({ unit: fc.constantFrom(...'abc '), maxLength: 30 });
    fc.assert(
      fc.property(
        text,
        word.filter((each) => each.length > 2),
        (said, keyword) => {
          const found = findKeyword(said, readKeywords(keyword));
          if (found?.rule !== 'misspelt') return;
          expect(editDistance(found.word, keyword, 9)).toBeLessThanOrEqual(toleranceFor(keyword.length));
        },
      ),
    );
  });
});

describe('words', () => {
  it('are told apart without what is not seen', () => {
    expect(Array.from(wordsOf('Ça va? l’été🏖️ IT’S 9°'), (each) => each.word)).toEqual([
      'ca',
      'va',
      'lete',
      'its',
      '9',
    ]);
    expect(folded('\u202Eti\u200Dme\uFE0F')).toBe('time');
  });
});

describe('form', () => {
  it.each([
    ['', 'nothing'],
    [' \n', 'nothing'],
    ['🙌🏽 ❤️', 'emoji'],
    ['❤️!!', 'emoji'],
    ['???', 'signs'],
    ['🙏 ok', 'words'],
    ['timetable please!!', 'words'],
    ['Nice. Very', 'sentences'],
    ['10', 'words'],
    ['Where is the pool today', 'sentences'],
    ['👍'.repeat(10_000), 'emoji'],
  ])('“%.30s” is %s', (text, expected) => expect(formOf(text)).toBe(expected));
  // Unicode's emoji-test.txt (UTS #51), from Debian's unicode-data.
  it('knows every emoji of the Unicode list for one', () => {
    const emoji = readFileSync('/usr/share/unicode/emoji/emoji-test.txt', 'utf8')
      .split('\n')
      .filter((line) => /; (?:fully-qualified|component|minimally-qualified)/.test(line))
      .map((line) =>
        String.fromCodePoint(
          ...line
            .split(';')[0]!
            .trim()
            .split(' ')
            .map((code) => parseInt(code, 16)),
        ),
      );
    expect(emoji.length).toBeGreaterThan(3000);
    const missed = emoji.filter((each) => formOf(each) !== 'emoji');
    expect(missed).toEqual([]);
    expect(emoji.filter((each) => formOf(`${each} yes`) !== 'words')).toEqual([]);
  });
});

describe('language', () => {
  // The Universal Declaration of Human Rights, article 1, first sentence (United Nations; wording from memory).
  it.each([
    ['en', 'All human beings are born free and equal in dignity and rights.'],
    ['de', 'Alle Menschen sind frei und gleich an Würde und Rechten geboren.'],
    ['fr', 'Tous les êtres humains naissent libres et égaux en dignité et en droits.'],
    ['es', 'Todos los seres humanos nacen libres e iguales en dignidad y derechos.'],
    ['pt', 'Todos os seres humanos nascem livres e iguais em dignidade e em direitos.'],
    ['it', 'Tutti gli esseri umani nascono liberi ed eguali in dignità e diritti.'],
    ['nl', 'Alle mensen worden vrij en gelijk in waardigheid en rechten geboren.'],
    ['sv', 'Alla människor är födda fria och lika i värde och rättigheter.'],
    ['pl', 'Wszyscy ludzie rodzą się wolni i równi pod względem swej godności i swych praw.'],
    ['hu', 'Minden emberi lény szabadon születik és egyenlő méltósága és joga van.'],
    ['ru', 'Все люди рождаются свободными и равными в своём достоинстве и правах.'],
    ['tr', 'Bütün insanlar hür, haysiyet ve haklar bakımından eşit doğarlar.'],
    ['ja', 'すべての人間は、生まれながらにして自由であり、かつ、尊厳と権利とについて平等である。'],
    ['zh', '人人生而自由，在尊严和权利上一律平等。'],
    ['ko', '모든 인간은 태어날 때부터 자유로우며 그 존엄과 권리에 있어 동등하다.'],
  ])('%s', (language, text) => expect(languageOf(text)).toBe(language));
  it.each(['', 'ok', '🙌', 'timetable?', 'dgfhj kjhsdf wqxz', 'https://ternbay.example/all-human-beings', '12345678'])(
    'is not told from “%s”',
    (text) => expect(languageOf(text)).toBe(''),
  );
});

describe('tone', () => {
  // Examples published with the lexicon (Hutto and Gilbert 2014) with their scores; from memory.
  it.each([
    ['VADER is smart, handsome, and funny.', 0.8316],
    ['VADER is smart, handsome, and funny!', 0.8439],
    ['VADER is not smart, handsome, nor funny.', -0.7424],
    ['The book was good.', 0.4404],
    ['The book was only kind of good.', 0.3832],
    ['Today SUX!', -0.5461],
  ])('“%s” scores %d', (text, score) => expect(toneScore(text)).toBeCloseTo(score, 3));
  it.each([
    ['Staff at the gate remembered my name, the hot shower is lovely.', 'glad'],
    ['Changing rooms were cold and disgusting, a terrible visit.', 'cross'],
    ['We came on Tuesday with the children.', 'plain'],
    ['Das Wasser war kalt und schmutzig, ein schlechter Besuch war das für uns.', null],
    ['🙌', null],
    ['', null],
  ])('“%s” sounds %s', (text, expected) => expect(toneOf(text)).toBe(expected));
});

describe('questions', () => {
  it.each([
    ['Is the pool open for under-tens on Sunday?', true],
    ['when do you open on sundays', true],
    ['Hi, can we bring the dog', true],
    ['¿A qué hora abren?', true],
    ['営業時間は？', true],
    ['Τι ώρα ανοίγετε;', true],
    ['Lovely; see you soon', false],
    ['See https://ternbay.example/times?day=2', false],
    ['What a swim!', false],
    ['I know who you are', false],
    ['', false],
  ])('“%s”: %s', (text, expected) => expect(isQuestion(text)).toBe(expected));
});

describe('what can be told of a text, as fields of it', () => {
  const fields = {
    text: 'A água estava ótima, muito obrigado!',
    short: '🌊🌊',
    ask: 'Is the pool open on Sunday?',
    n: 3,
    empty: '',
  };
  it('is read where fields are: in conditions, in choices, in wordings', () => {
    expect(readField(fields, 'text.language')).toBe('Portuguese');
    expect(readField(fields, 'text.length')).toBe(36);
    expect(readField(fields, 'short.form')).toBe('only emoji');
    expect(readField(fields, 'short.language')).toBe('');
    expect(readField(fields, 'ask.question')).toBe(true);
    expect(readField(fields, 'ask.tone')).toBe('plain');
    expect(readField(fields, 'empty.form')).toBe('no words');
    expect(readCaption('In {$text.language}: {$text.length}').format(fields)).toBe('In Portuguese: 36');
    const isPortuguese = { type: 'test', field: 'text.language', op: 'is', value: 'Portuguese' } as const;
    expect(evaluate({ type: 'group', match: 'all', items: [isPortuguese] }, fields, 0).holds).toBe(true);
  });
  it('is nothing of what is no text, and what fields have of their own comes first', () => {
    expect(readField(fields, 'n.length')).toBeUndefined();
    expect(readField(fields, 'text.mood')).toBeUndefined();
    expect(readField({ text: { length: 'its own' } }, 'text.length')).toBe('its own');
    expect(readField({ text: 'a', 'text.length': 9 }, 'text.length')).toBe(9);
  });
  it('has a shape for each', () => {
    for (const name of Object.keys(TEXT_PARTS))
      expect(readField({ text: 'Hello there' }, `text.${name}`)).toBeDefined();
  });
});
