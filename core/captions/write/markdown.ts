// Writing markdown that reads back as what was meant (CommonMark 0.31). What a field holds is text, never markup, so
// everything that could be read as markup is escaped; and where the rules for emphasis would not recognise it, the words
// stay plain rather than show asterisks.
import type { Piece } from '../pieces.ts';

/** Signs that may mean something anywhere in a line (section 2.4 lets any ASCII punctuation be escaped). */
const ANYWHERE = /[\\`*_~[\]<>|]|&(?=#?\w+;)|!(?=\[)/g;
/** What means something at the beginning of a line only: headings, lists, rules, quotations (chapters 4 and 5). */
const AT_START = /^(\d{1,9})([.)])(?=\s|$)|^[-+](?=\s|$)|^#(?=#{0,5}(?:\s|$))|^[-=](?=[-=\s]*$)/u;
/** Section 2.1. */
const LINE_END = /\r\n?|\n/u;
const ADDRESS = /https?:\/\/[^\s<>]*[^\s<>.,;:!?)\]}"'…»”’]/gu;

/** A text as it is, where markdown is read. Addresses keep their form, so that they are still recognised. */
export function escapeMarkdown(text: string): string {
  return text
    .replaceAll('\0', '')
    .split(LINE_END)
    .map((line) => escapeStart(escapeInside(line.trim())))
    .join('\n');
}

const escapeStart = (line: string) =>
  line.replace(AT_START, (whole, number: string | undefined, sign: string | undefined) =>
    number === undefined ? `\\${whole}` : `${number}\\${sign}`,
  );

const escapeWords = (text: string) => text.replace(ANYWHERE, '\\$&');

/** An address in which nothing reads as markup: such signs are percent-encoded (RFC 3986 section 2.1). */
function safeAddress(address: string): string {
  return address.replace(/[\\`*[\]<>~|]|(?<![A-Za-z0-9])_|_(?![A-Za-z0-9])/g, (sign) => percent(sign));
}
const percent = (sign: string) => `%${sign.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`;

/** The words in markdown: bold, italic, code, links and lists. */
export function writeMarkdown(pieces: readonly Piece[]): string {
  const lines: Piece[][] = [[]];
  // Formatting does not run over line breaks: paragraphs end there.
  for (const piece of pieces) {
    // A reader would show NUL as U+FFFD (section 2.3), which is a sign to the rules of emphasis.
    piece.text
      .replaceAll('\0', '')
      .split(LINE_END)
      .forEach((text, index) => {
        if (index > 0) lines.push([]);
        if (text !== '') lines.at(-1)!.push({ ...piece, text });
      });
  }
  return lines.map(writeLine).join('\n');
}

function writeLine(pieces: readonly Piece[]): string {
  let line = '';
  const item = pieces[0]?.item === true;
  const words = item ? pieces.slice(1) : pieces;
  for (let index = 0; index < words.length;) {
    // What leads to the same address is one link; what is formatted alike within it is one run.
    const { link } = words[index]!;
    let end = index + 1;
    while (end < words.length && words[end]!.link === link) end++;
    const inside = words.slice(index, end);
    if (link === undefined) line += writeRuns(inside, line.at(-1) ?? '', firstSign(words[end]));
    else {
      const [before, body, after] = trimmed(inside);
      line += before;
      // Right before a link an exclamation mark would make it a picture (section 6.4).
      if (body.length > 0 && line.endsWith('!')) line = `${line.slice(0, -1)}\\!`;
      if (body.length > 0) line += `[${writeRuns(body, '[', ']')}](<${link.replace(/[<>\\\s]/g, percent)}>)`;
      line += after;
    }
    index = end;
  }
  line = line.trim();
  // Only at the very beginning can words be taken for a list or a heading.
  line = escapeStart(line);
  return item && line !== '' ? `- ${line}` : line;
}

const firstSign = (piece: Piece | undefined) =>
  piece === undefined ? '' : piece.link === undefined ? piece.text[0]! : '[';

/** Runs of one link, or outside of links. */
function writeRuns(pieces: readonly Piece[], before: string, after: string): string {
  let text = '';
  for (let index = 0; index < pieces.length;) {
    const piece = pieces[index]!;
    let end = index + 1;
    while (end < pieces.length && oneRun(pieces[end]!, piece)) end++;
    const words = pieces
      .slice(index, end)
      .map((each) => each.text)
      .join('');
    const next = end < pieces.length ? pieces[end]!.text[0]! : after;
    text += writeRun(words, piece, text.at(-1) ?? before, next);
    index = end;
  }
  return text;
}

/** Code shows nothing else that it is; two stretches of it side by side would join their backticks. */
const oneRun = (a: Piece, b: Piece) =>
  a.code === b.code && (a.code === true || (a.bold === b.bold && a.italic === b.italic));

function writeRun(words: string, look: Piece, before: string, after: string): string {
  // Within a link, a bracket in code could make the line a reference definition (section 4.7).
  if (look.code) return look.link !== undefined && words.includes(']') ? escapeInside(words) : codeSpan(words);
  const marks = look.bold && look.italic ? '***' : look.bold ? '**' : look.italic ? '*' : '';
  const body = words.trim();
  if (marks === '' || body === '') return escapeInside(words);
  const [lead, tail] = spaceAround(words);
  const written = escapeInside(body);
  if (!opens(lead.at(-1) ?? before, body) || !closes(tail[0] ?? after, body)) return lead + written + tail;
  return lead + marks + written + marks + tail;
}

// Left-flanking and right-flanking delimiter runs (section 6.2): next to a punctuation sign inside there must be white
// space or punctuation outside. An asterisk of the neighbour would join the delimiter run, so it does not count.
const isSpace = (sign: string) => sign === '' || /\s/u.test(sign);
const isPunctuation = (sign: string) => /[\p{P}\p{S}]/u.test(sign);
const edge = (sign: string) => isSpace(sign) || (isPunctuation(sign) && sign !== '*');
const opens = (before: string, body: string) =>
  before !== '*' && before !== '\\' && (!isPunctuation([...body][0]!) || edge(before));
const closes = (after: string, body: string) => after !== '*' && (!isPunctuation([...body].at(-1)!) || edge(after));

function escapeInside(text: string): string {
  let escaped = '';
  let from = 0;
  for (const match of text.matchAll(ADDRESS)) {
    escaped += escapeWords(text.slice(from, match.index)) + safeAddress(match[0]);
    from = match.index + match[0].length;
  }
  return escaped + escapeWords(text.slice(from));
}

/** Code between more backticks than it has in a row itself (section 6.1). */
function codeSpan(code: string): string {
  const body = code.trim();
  if (body === '') return code;
  const [lead, tail] = spaceAround(code);
  const runs = new Set(Array.from(body.matchAll(/`+/g), ([run]) => run.length));
  let ticks = 1;
  while (runs.has(ticks)) ticks++;
  const fence = '`'.repeat(ticks);
  const gap = body.startsWith('`') || body.endsWith('`') ? ' ' : '';
  return lead + fence + gap + body + gap + fence + tail;
}

/** The white space at both ends. */
function spaceAround(text: string): [lead: string, tail: string] {
  return [text.slice(0, text.length - text.trimStart().length), text.slice(text.trimEnd().length)];
}

/** White space at the ends of a link stands outside of it. */
function trimmed(pieces: readonly Piece[]): [string, Piece[], string] {
  const words = pieces.map((piece) => piece.text).join('');
  if (words.trim() === '') return [words, [], ''];
  const body = pieces.map((piece) => ({ ...piece }));
  const [lead, tail] = spaceAround(words);
  let cut = lead.length;
  for (const piece of body) {
    const taken = Math.min(cut, piece.text.length);
    piece.text = piece.text.slice(taken);
    cut -= taken;
  }
  cut = tail.length;
  for (const piece of body.toReversed()) {
    const taken = Math.min(cut, piece.text.length);
    piece.text = piece.text.slice(0, piece.text.length - taken);
    cut -= taken;
  }
  return [lead, body.filter((piece) => piece.text !== ''), tail];
}
