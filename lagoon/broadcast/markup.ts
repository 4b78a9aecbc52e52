import { Parser } from 'htmlparser2';
import { escape } from '../base/html.ts';

/** The safe subset of HTML that broadcast messages may have. */
const ALLOWED = new Set(['b', 'i', 'u', 's', 'a', 'code', 'pre', 'blockquote']);

/**
 * Reads a message's markup.
 *
 * @returns what is shown and its words alone, or a sentence about what is wrong with it
 */
export function readMarkup(source: string): { shown: string; words: string } | string {
  let shown = '';
  let words = '';
  let wrong: string | undefined;
  const open: string[] = [];
  const parser = new Parser(
    {
      onopentag(name, attributes, implied) {
        if (implied || !ALLOWED.has(name)) return void (wrong ??= `<${name}> is not allowed.`);
        const others = Object.keys(attributes).filter((each) => !(name === 'a' && each === 'href'));
        if (others.length) return void (wrong ??= `<${name}> takes no ${others[0]}.`);
        if (name === 'a' && !/^https?:\/\//.test(attributes.href ?? '')) wrong ??= 'A link needs an address.';
        open.push(name);
        shown += name === 'a' ? `<a href="${escape(attributes.href ?? '')}" rel="nofollow ugc">` : `<${name}>`;
      },
      ontext(text) {
        words += text;
        shown += escape(text);
      },
      onclosetag(name, implied) {
        if (implied) wrong ??= `<${name}> is not closed.`;
        else if (open.pop() !== name) wrong ??= `</${name}> closes nothing.`;
        shown += `</${name}>`;
      },
    },
    { decodeEntities: true, lowerCaseTags: true, recognizeSelfClosing: false },
  );
  parser.write(source);
  parser.end();
  if (!wrong && /<(?![a-z/])/i.test(source)) wrong = 'A < has to be written as &lt;.';
  return wrong ?? { shown: shown.replace(/\n/g, '<br>'), words };
}
