import { parseHtml } from './parse-html.ts';

/** Elements after which a reader expects a new line. */
const BLOCK = new Set(
  'address article aside blockquote br dd div dl dt figcaption figure footer form h1 h2 h3 h4 h5 h6 header hr li main nav ol p pre section table tr ul'.split(
    ' ',
  ),
);
/** Elements whose text is not for reading. */
const SILENT = new Set(['script', 'style', 'template', 'noscript', 'iframe', 'object', 'head']);

/**
 * The readable text of a piece of HTML: tags gone, entities decoded, scripts and styles left out, blocks on lines of
 * their own. The result is text, not HTML: it may hold `<` and `&`, and whoever shows it must escape it.
 */
export function plainText(html: string): string {
  if (!/[<&]/.test(html)) return tidyLines(html);
  let text = '';
  let silent = 0;
  parseHtml(html, {
    onopentag(name) {
      if (SILENT.has(name)) silent++;
      else if (BLOCK.has(name)) text += '\n';
    },
    ontext(chunk) {
      if (silent === 0) text += chunk;
    },
    onclosetag(name) {
      if (SILENT.has(name)) silent = Math.max(0, silent - 1);
      else if (BLOCK.has(name) && name !== 'br') text += '\n';
    },
  });
  return tidyLines(text);
}

/** Trims every line, folds runs of spaces, and allows at most one empty line between paragraphs. */
export function tidyLines(text: string): string {
  return text
    .replace(/\r\n?/g, '\n')
    .replace(/[^\S\n]+/g, ' ')
    .replace(/ ?\n ?/g, '\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
}

/**
 * The same on one line, for titles and names. NEL (U+0085) ends a line too (Unicode, section 5.8), and is no white space to
 * regular expressions.
 */
export function oneLine(text: string): string {
  return text.replace(/[\s\u0085]+/g, ' ').trim();
}
