import { Node as MarkdownNode, Parser as MarkdownParser } from 'commonmark';
import fc from 'fast-check';
import { Parser as HtmlParser } from 'htmlparser2';
import { describe, expect, it } from 'vitest';
import { readCaption } from '../caption.ts';
import { isFormatted, type Piece } from '../pieces.ts';
import { escapeHtml, writeHtml } from './html.ts';
import { escapeMarkdown, writeMarkdown } from './markdown.ts';
import { writePlain } from './plain.ts';

/** A run of words as a reader of the markup sees it. */
interface Seen {
  text: string;
  bold: boolean;
  italic: boolean;
  code: boolean;
  link: string;
}

/** Reads markdown with the reference implementation of CommonMark, into runs that look alike. */
function readMarkdown(source: string): Seen[] {
  const seen: Seen[] = [];
  const look = { bold: 0, italic: 0, code: false, link: '' };
  const say = (text: string, code = false) =>
    seen.push({ text, bold: look.bold > 0, italic: look.italic > 0, code, link: look.link });
  const walker = new MarkdownParser().parse(source).walker();
  for (let event = walker.next(); event; event = walker.next()) {
    const { node, entering }: { node: MarkdownNode; entering: boolean } = event;
    const step = entering ? 1 : -1;
    if (node.type === 'strong') look.bold += step;
    else if (node.type === 'emph') look.italic += step;
    else if (node.type === 'link') look.link = entering ? (node.destination ?? '') : '';
    else if (node.type === 'text') say(node.literal ?? '');
    else if (node.type === 'code') say(node.literal ?? '', true);
    else if (node.type === 'softbreak' || node.type === 'linebreak') say('\n');
    else if (node.type === 'paragraph' && entering && seen.length > 0) say('\n\n');
    else if (!['document', 'paragraph', 'list', 'item'].includes(node.type)) say(`<${node.type}>`);
  }
  return joined(seen);
}

/** Reads the subset of HTML that broadcast networks take; says what is not well formed. */
function readHtml(source: string): Seen[] {
  const seen: Seen[] = [];
  const open: { name: string; href: string }[] = [];
  const parser = new HtmlParser(
    {
      onopentag(name, attributes, implied) {
        if (implied || !['b', 'i', 'a', 'code'].includes(name)) throw new Error(`<${name}> came out of ${source}`);
        open.push({ name, href: attributes.href ?? '' });
      },
      ontext(text) {
        const has = (name: string) => open.some((each) => each.name === name);
        const link = open.find((each) => each.name === 'a')?.href ?? '';
        seen.push({ text, bold: has('b'), italic: has('i'), code: has('code'), link });
      },
      onclosetag(name, implied) {
        if (implied || open.pop()?.name !== name) throw new Error(`</${name}> is out of place in ${source}`);
      },
    },
    { decodeEntities: true },
  );
  parser.write(source);
  parser.end();
  if (open.length > 0) throw new Error(`${open[0]!.name} stays open in ${source}`);
  return joined(seen);
}

function joined(seen: readonly Seen[]): Seen[] {
  const runs: Seen[] = [];
  for (const run of seen) {
    const last = runs.at(-1);
    const alike =
      last && last.bold === run.bold && last.italic === run.italic && last.code === run.code && last.link === run.link;
    if (alike) last.text += run.text;
    else if (run.text !== '') runs.push({ ...run });
  }
  return runs;
}
const textOf = (seen: readonly Seen[]) => seen.map((run) => run.text).join('');

const nasty = fc.oneof(
  fc.string({ maxLength: 12 }),
  fc.string({ unit: 'grapheme', maxLength: 8 }),
  fc.string({ unit: 'binary', maxLength: 8 }),
  fc.constantFrom(
    '<b>',
    '*',
    '**',
    '_',
    '`',
    '``',
    '[x](y)',
    '![x](y)',
    '# a',
    '1. b',
    '- c',
    '+ d',
    '> e',
    '---',
    '===',
    '&amp;',
    '&#65;',
    '\\',
    '~~',
    '|',
    '<https://x>',
    'a_b_c',
    '(*)',
    '"',
    "'",
    '</b>',
    'مرحبا',
    '👩🏽‍🚒',
    'e\u0301',
    '\ud800',
    '\u200d',
    '\u202e',
    '  ',
    '\n',
    '\n\n',
    'https://a.example/x_y*z',
    'word',
    'two words',
    '\t',
    '    four',
  ),
);
const yes = fc.option(fc.constant(true as const), { nil: undefined });
const pieces: fc.Arbitrary<Piece[]> = fc.array(
  fc.record(
    {
      text: nasty,
      bold: yes,
      italic: yes,
      code: yes,
      field: yes,
      link: fc.option(
        fc.constantFrom('https://a.example/1', 'https://a.example/?a=1&b="2"', 'https://a.example/(x)_y_'),
        {
          nil: undefined,
        },
      ),
    },
    { requiredKeys: ['text'] },
  ) as fc.Arbitrary<Piece>,
  { maxLength: 6 },
);

describe('HTML', () => {
  it('reads back as what was meant, whatever the words hold', () => {
    fc.assert(
      fc.property(pieces, (made) => {
        const expected = joined(
          made.map((piece) => ({
            text: piece.text,
            bold: piece.bold === true,
            italic: piece.italic === true,
            code: piece.code === true,
            link: piece.link ?? '',
          })),
        );
        // The parser turns a lone surrogate and NUL into what HTML has for them; the words around them stay.
        const plain = (text: string) => text.replace(/[\ud800-\udfff]|\0|\ufffd|\r/gu, '');
        const read = readHtml(writeHtml(made)).map((run) => ({ ...run, text: plain(run.text) }));
        expect(joined(read)).toEqual(joined(expected.map((run) => ({ ...run, text: plain(run.text) }))));
      }),
      { numRuns: 600 },
    );
  });
  it('escapes as the HTML Living Standard says, section 13.3', () => {
    expect(escapeHtml('a & b < c > "d"')).toBe('a &amp; b &lt; c &gt; &quot;d&quot;');
  });
});

describe('markdown, read back by the reference implementation of CommonMark', () => {
  /** What a reader of paragraphs tells apart: white space at the ends of lines does not show. */
  const visible = (text: string) =>
    text
      .replace(/[\ud800-\udfff]|[\0\ufffd]/gu, '')
      .split(/[\r\n]/u)
      .map((line) => line.replace(/\s+/gu, ' ').trim())
      .filter(Boolean)
      .join('\n');

  it('shows any text as it is', () => {
    fc.assert(
      fc.property(fc.array(nasty, { maxLength: 8 }), (parts) => {
        const text = parts.join('').replace(/https?:\S+/g, 'address');
        expect(visible(textOf(readMarkdown(escapeMarkdown(text))))).toBe(visible(text));
      }),
      { numRuns: 1000 },
    );
  });
  it('never shows a sign of its own, and formats nothing that was not meant', () => {
    fc.assert(
      fc.property(pieces, (made) => {
        const safe = made.map((piece) => ({ ...piece, text: piece.text.replace(/https?:\S+/g, 'address') }));
        const read = readMarkdown(writeMarkdown(safe));
        expect(visible(textOf(read))).toBe(visible(safe.map((piece) => piece.text).join('')));
        const meant = (mark: 'bold' | 'italic' | 'code') =>
          safe
            .filter((piece) => piece[mark])
            .map((piece) => piece.text)
            .join('\n');
        for (const run of read) {
          const words = run.text.match(/[\p{L}\p{N}]+/gu) ?? [];
          for (const mark of ['bold', 'italic', 'code'] as const)
            if (run[mark]) for (const word of words) for (const char of word) expect(meant(mark)).toContain(char);
          if (run.link) expect(safe.some((piece) => piece.link !== undefined)).toBe(true);
        }
      }),
      { numRuns: 600 },
    );
  });
  it.each([
    [[{ text: 'Cold ' }, { text: 'water', bold: true }, { text: ' today' }], 'Cold **water** today'],
    [[{ text: 'both', bold: true, italic: true }], '***both***'],
    [[{ text: ' spaced ', italic: true }, { text: 'x' }], '*spaced* x'],
    [[{ text: 'Book', link: 'https://lidos.example/a b' }], '[Book](<https://lidos.example/a%20b>)'],
    [[{ text: '• ', item: true }, { text: 'one\n' }, { text: '• ', item: true }, { text: 'two' }], '- one\n- two'],
    [[{ text: 'a`b', code: true }], '``a`b``'],
    [[{ text: '2*3*4 <b> [x] #lido' }], '2\\*3\\*4 \\<b\\> \\[x\\] #lido'],
    [[{ text: 'Go!' }, { text: 'Book', link: 'https://lidos.example/' }], 'Go\\![Book](<https://lidos.example/>)'],
    [[{ text: '1. not a list' }], '1\\. not a list'],
    // Section 6.2 would not read the closing asterisks here, so the words stay plain.
    [[{ text: 'wow!', bold: true }, { text: 'next' }], 'wow!next'],
    [[{ text: 'see https://a.example/x_y_z' }], 'see https://a.example/x_y_z'],
  ] as [Piece[], string][])('%j', (made, expected) => expect(writeMarkdown(made)).toBe(expected));
});

describe('plain text', () => {
  it('puts an address after the words that lead to it, once', () => {
    const caption = readCaption(
      'Book {#link to=$link}{#bold}a lesson{/bold} now{/link} or {#link to=$link}{$link}{/link}.',
    );
    const made = caption.pieces({ link: 'https://lidos.example/l' });
    expect(writePlain(made)).toBe('Book a lesson now https://lidos.example/l or https://lidos.example/l.');
    expect(caption.format({ link: 'https://lidos.example/l' })).toBe(writePlain(made));
    expect(isFormatted(made)).toBe(true);
  });
  it('links nothing but the web and mail', () => {
    const caption = readCaption('{#link to=$link}words{/link}');
    expect(caption.pieces({ link: 'javascript:alert(1)' })).toEqual([{ text: 'words' }]);
    expect(caption.pieces({})).toEqual([{ text: 'words' }]);
  });
});
