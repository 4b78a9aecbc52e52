// Whatever is sent, the work a function makes of it grows with its length and no faster. Each one is given a megabyte of
// every hostile shape; what it costs is compared with one pass over the same text in the same run, never with a clock.
import { checkDraft } from '../voice/check-draft.ts';
import { requestFor } from '../voice/draft-request.ts';
import { statedIn } from '../voice/stated.ts';
import { usualVoice } from '../voice/voice.ts';
import { describe, expect, it } from 'vitest';
import { TWEAKS } from '../captions/functions.ts';
import { closedUp, closedUpPieces, hasGaps } from '../captions/close-up.ts';
import { fitPieces, fitText, piecesOfText } from '../captions/fit.ts';
import { lintPost, lintWords } from '../rehearsal/lints.ts';
import { joinedPieces, tidyPieces } from '../captions/pieces.ts';
import { readCaption } from '../captions/caption.ts';
import { Likeness } from '../captions/similar.ts';
import { escapeHtml, writeHtml } from '../captions/write/html.ts';
import { escapeMarkdown, writeMarkdown } from '../captions/write/markdown.ts';
import { corrected, handedOn, withHandedPieces } from '../captions/worded.ts';
import { writePlain } from '../captions/write/plain.ts';
import { OPERATORS, type Operator } from '../conditions/operators.ts';
import { asksToStop, entryOf } from '../desk/entry.ts';
import { decode } from '../feeds/decode.ts';
import { mailboxName } from '../feeds/entries.ts';
import { absolute } from '../feeds/records.ts';
import { feedsNamedBy } from '../feeds/autodiscovery.ts';
import { feedLinks } from '../feeds/links.ts';
import { readMoment as feedMoment } from '../feeds/moments.ts';
import { readFeed } from '../feeds/parse-feed.ts';
import { bounded } from '../items/bounded.ts';
import { fieldLabel } from '../items/field-label.ts';
import { misfits } from '../shapes/conforms.ts';
import { LINK, MOMENT } from '../shapes/shape.ts';
import { catalogue } from '../shapes/catalogue.ts';
import { identityOf } from '../items/identity.ts';
import { readPath } from '../items/json-path.ts';
import { inferSchema, mergeSchemas } from '../items/json-schema.ts';
import { fieldText, isEmpty, readField } from '../items/read-field.ts';
import '../said/parts-of-text.ts';
import { itemTitle } from '../items/title.ts';
import { KIND_RULES } from '../outlets/kinds.ts';
import { sayBy } from '../captions/say.ts';
import { outdated } from '../model/meanwhile.ts';
import { placeholderIn } from '../workflow/placeholders.ts';
import { SHAPES } from './shapes.ts';
import { sayLength } from '../text/dates.ts';
import { parseHtml } from '../text/parse-html.ts';

const MEGABYTE = 1_000_000;
/** So many shapes, the first ones, are given as a whole megabyte; the others are there to be sure. */
const TO_THE_FULL = 20;
/**
 * How many times the work of one pass over a text a function may make. The costliest honest ones cut the whole text into
 * graphemes, words and sentences (Intl.Segmenter), which comes to some hundred passes; work that grows with the square
 * of the length comes to many thousands.
 */
const MOST_PASSES = 3000;
/** Less than this cannot be told from the noise of the process, in milliseconds of work for one pass. */
const LEAST_PASS = 0.3;

/** Milliseconds of this process's own work, whatever else the machine is doing. */
function workOf(run: () => unknown): number {
  const before = process.cpuUsage();
  run();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}

/** One pass over a text that looks at every code point: what linear work costs. */
function onePass(text: string): number {
  let sum = 0;
  for (const sign of text) sum = (Math.imul(sum, 31) + sign.codePointAt(0)!) | 0;
  return sum;
}

/** The work of a function on a text, in passes over that text. */
function passesOf(call: (text: string) => unknown, text: string): number {
  const work = workOf(() => quietly(() => call(text)));
  return (
    work /
    Math.max(
      LEAST_PASS,
      workOf(() => onePass(text)),
    )
  );
}

/** Every function of a module of texts, by name, is tried by itself: a new one cannot be forgotten. */
const modules = import.meta.glob<Record<string, unknown>>(['../text/*.ts', '!../text/*.test.ts'], { eager: true });
/** Functions that want more than a text. */
const WITH: Record<string, (text: string) => unknown> = {
  parseHtml: (text) => parseHtml(text, {}),
};
/** What takes no text from outside. */
const NOT_FOR_TEXTS = new Set(['clockLength', 'spokenLength', 'remembering', 'Segmenter', 'segmenterFor']);

const textFunctions = Object.entries(modules)
  .filter(([file]) => !file.endsWith('.test.ts'))
  .flatMap(([file, exports]) =>
    Object.entries(exports)
      .filter(([name, value]) => typeof value === 'function' && !NOT_FOR_TEXTS.has(name))
      .map(
        ([name, value]) =>
          [`${file.slice('../text/'.length, -3)}: ${name}`, WITH[name] ?? callWith(name, value)] as const,
      ),
  );

/** The function with arguments that suit its name. */
function callWith(name: string, value: unknown): (text: string) => unknown {
  const call = value as (...args: unknown[]) => unknown;
  const more: Record<string, unknown[]> = {
    shorten: [80, 'en'],
    cutGraphemes: [200],
    cutUnits: [200],
    firstSentences: ['en', 3],
    firstSentence: ['en'],
    sentenceEnds: ['en'],
    titleCase: ['en'],
    calmed: ['en'],
    sayDate: ['en', 'UTC'],
    sayTime: ['en', 'UTC'],
    sayRelativeDate: ['en', 'UTC', 0],
    sayLength: ['en'],
    weightedLength: [23],
    withParameters: [{ utm_source: 'playa' }],
    readLinkPreview: ['https://lidos.example/'],
  };
  if (name === 'nameList') return (text) => call(text.split(/,\s*/), 'en');
  if (name === 'sentenceEnds') return (text) => Array.from(call(text, 'en') as Iterable<number>);
  return (text) => call(text, ...(more[name] ?? []));
}

const around = { locale: 'en', zone: 'UTC', now: 0, chance: () => 0.5 };
const bytes = (text: string) => Buffer.from(text);
const piecesOf = (text: string) => [
  { text: 'New: ' },
  { text, field: 'description' },
  { text: ' ' },
  { text: text.slice(0, text.length / 2), field: 'title', bold: true as const },
];
const atom = (inside: string) =>
  bytes(`<feed xmlns="http://www.w3.org/2005/Atom"><title>T</title><entry><id>1</id>${inside}</entry></feed>`);
const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replaceAll('\0', '');
const quietly = (run: () => unknown) => {
  try {
    return run();
  } catch (error) {
    // A refusal is an answer too; what must not happen is that it takes for ever.
    if (error instanceof RangeError) throw error;
    return error;
  }
};
const caption = readCaption('{#bold}{$title}{/bold}: {$description :withoutLinks} {#optional}{$link}{/optional}');
const wanted = readPath('$.list[?match(@.text, "(a|a)*b")]');
const searched = readPath('$.list[?search(@.text, "(a|a)*b|(a*)*$")]');

/** Tweaks that are functions of `core/text` under another name, which are tried by themselves. */
const IN_TEXT = new Set([
  'firstSentence',
  'usefulBeginning',
  'shorten',
  'withoutLinks',
  'withoutHashtags',
  'withoutEmoji',
  'plain',
  'titleCase',
  'calm',
  'firstName',
  'hashtags',
  'domain',
]);

const rest: Record<string, (text: string) => unknown> = {
  statedIn,
  checkDraft: (text) =>
    checkDraft(text, {
      ...{ longest: 500, language: 'en', facts: [text.slice(0, 300)], promises: text.slice(0, 300), name: text },
      before: [{ text, name: 'Ana' }],
    }),
  requestFor: (text) =>
    requestFor(
      {
        ...{ instruction: text, about: text, longest: 500, variety: 0, seed: 1 },
        answers: {
          kind: 'review',
          id: '',
          text,
          stars: 1,
          person: '',
          network: '',
          name: text,
          outlet: null,
          under: text,
        },
      },
      {
        ...{ voice: usualVoice('en'), business: text, place: text, limit: null },
        earlier: [{ by: 'them', text, at: 0 }],
        before: [{ text, name: text }],
      },
    ),
  closedUp,
  placeholderIn,
  corrected: (text) => corrected(handedOn('caption', { pieces: piecesOf(text) }), 'caption', text, `${text}!`),
  withHandedPieces: (text) => withHandedPieces(piecesOf(text), handedOn('title', { pieces: piecesOf(text) })),
  outdated: (text) => outdated({ to: '1', text: 'x', was: text }, { text: `${text} `, answers: [text] }, [text]),
  hasGaps,
  closedUpPieces: (text) => closedUpPieces(piecesOf(text)),
  piecesOfText,
  joinedPieces: (text) => joinedPieces(piecesOf(text)),
  tidyPieces: (text) => tidyPieces(piecesOf(text)),
  'fitPieces, by units': (text) => {
    const over = (pieces: readonly { text: string }[]) =>
      pieces.reduce((sum, piece) => sum + piece.text.length, 0) - 2000;
    return fitPieces(piecesOf(text), over, 'en');
  },
  fitText: (text) => fitText(text, (each) => each.length - 2000, 'en'),
  'a caption': (text) => caption.pieces({ title: text, description: text, link: text }),
  Likeness: (text) => new Likeness(text),
  escapeHtml,
  writeHtml: (text) => writeHtml(piecesOf(text)),
  escapeMarkdown,
  writeMarkdown: (text) => writeMarkdown(piecesOf(text)),
  writePlain: (text) => writePlain(piecesOf(text)),
  lintWords,
  lintPost: (text) => lintPost({ outlet: 1, text, length: 1, limit: 1 } as never, 'microblog'),
  ...Object.fromEntries(
    // Units and ways of writing that differ.
    (['microblog', 'room'] as const).map((kind) => [
      `sayBy, ${kind}`,
      (text: string) =>
        sayBy(
          KIND_RULES[kind].text,
          { text, pieces: piecesOf(text) },
          { order: ['hashtags', 'fields', 'optional'], cutAt: 'either' },
          'en',
          'Here',
        ),
    ]),
  ),
  ...Object.fromEntries(
    TWEAKS.filter(({ name }) => !IN_TEXT.has(name)).map((tweak) => [
      `:${tweak.name}`,
      (text: string) => tweak.apply(text, around, { most: '80', text: 'none' }),
    ]),
  ),
  ...Object.fromEntries(
    (Object.keys(OPERATORS) as Operator[])
      .filter((op) => op !== 'shorterText')
      .map((op) => [`Check: ${op}`, (text: string) => OPERATORS[op].holds(text, 'tide', 0)]),
  ),
  ...Object.fromEntries(
    (['starts', 'contains', 'is', 'mentions'] as Operator[]).map((op) => [
      `Check against it: ${op}`,
      (text: string) => OPERATORS[op].holds('tide', text, 0),
    ]),
  ),
  'an entry of the desk': (text) => [entryOf('comment', { text, person: { name: text } }), asksToStop(text, 'stop')],
  'stop words': (text) => asksToStop('stop', text),
  decode: (text) => decode(bytes(text), text),
  absolute: (text) => absolute(text, 'https://lidos.example/'),
  mailboxName,
  'moments of feeds': feedMoment,
  sayLength: (text) => sayLength(text, 'en'),
  feedsNamedBy: (text) => feedsNamedBy(text, 'https://lidos.example/'),
  'a page inside a page': (text) =>
    feedsNamedBy(`<html><head><link rel="${text}" href="/a">`, 'https://lidos.example/'),
  'a Link header': (text) => feedLinks('<feed/>', 'https://lidos.example/', text),
  'links of a head': (text) => feedLinks(`<feed>${text}`, 'https://lidos.example/'),
  'no feed at all': (text) => quietly(() => readFeed(bytes(text), 'https://lidos.example/')),
  'a title': (text) => quietly(() => readFeed(atom(`<title>${escaped(text)}</title>`), 'https://lidos.example/')),
  'HTML content': (text) =>
    quietly(() => readFeed(atom(`<content type="html">${escaped(text)}</content>`), 'https://lidos.example/')),
  'an author': (text) =>
    quietly(() =>
      readFeed(
        bytes(
          `<rss version="2.0"><channel><title>T</title><item><guid>1</guid><author>${escaped(text)}</author></item></channel></rss>`,
        ),
        'https://lidos.example/',
      ),
    ),
  'after the end of a feed': (text) =>
    quietly(() =>
      readFeed(bytes(`<feed xmlns="http://www.w3.org/2005/Atom"></feed>${text}`), 'https://lidos.example/'),
    ),
  'before the beginning of a feed': (text) =>
    quietly(() =>
      readFeed(bytes(`${text}<feed xmlns="http://www.w3.org/2005/Atom"></feed>`), 'https://lidos.example/'),
    ),
  'a JSON feed': (text) =>
    quietly(() =>
      readFeed(
        bytes(JSON.stringify({ version: 'https://jsonfeed.org/version/1.1', title: text, items: [{ id: text }] })),
        'https://lidos.example/',
      ),
    ),
  'bounded fields': (text) => bounded({ text, list: [text] }),
  catalogue: (text) => catalogue([{ [text]: text, text }]),
  misfits: (text) => misfits({ text: LINK, at: MOMENT }, { text, at: text }),
  fieldLabel,
  identityOf: (text) => [
    identityOf({ id: text }),
    identityOf({ link: text }),
    identityOf({ title: text, description: text }),
  ],
  'a schema': (text) => mergeSchemas(inferSchema({ text, [text.slice(0, 50_000)]: 1 }), inferSchema({ text })),
  'fields read': (text) => [readField({ text }, text), fieldText(text), isEmpty(text)],
  'parts of a text': (text) =>
    ['language', 'tone', 'form', 'question', 'length'].map((name) => readField({ text }, `text.${name}`)),
  itemTitle: (text) => [itemTitle({ title: text }), itemTitle({ text }), itemTitle({ other: text })],
  'JSONPath, match': (text) => wanted.read({ list: [{ text }] }),
  'JSONPath, search': (text) => searched.read({ list: [{ text }] }),
};

/** A list of every character is itself some hundred megabytes; nothing hands it more than this. */
const LESS = new Map([['graphemes: graphemes', 100_000]]);

describe('work grows with what is given, and no faster', () => {
  it.each([...textFunctions, ...Object.entries(rest)])('%s', { timeout: 240_000 }, (what, call) => {
    // What runs for the first time is compiled; that is nobody's fault.
    for (const shape of ['addresses', 'emoji', 'hashtags']) quietly(() => call(SHAPES[shape]!(2000)));
    for (const [index, [name, shape]] of Object.entries(SHAPES).entries()) {
      const most = Math.min(LESS.get(what) ?? MEGABYTE, index < TO_THE_FULL ? MEGABYTE : 60_000);
      // A smaller one first, so that work which explodes is seen before it takes hours.
      for (const units of [20_000, most]) {
        const text = shape(units);
        let passes = passesOf(call, text);
        // A machine short of memory or with others on the same cores makes one measurement wrong, not three.
        for (let again = 0; again < 2 && passes >= MOST_PASSES; again++)
          passes = Math.min(passes, passesOf(call, text));
        expect(passes, `${name}, ${units} units`).toBeLessThan(MOST_PASSES);
      }
    }
  });
});
