import { Parser, type Handler } from 'htmlparser2';

/** Elements open within one another that one parser is given; a page that means something has some dozens. */
const DEEPEST = 1000;
/** Their content is read by other rules, which a new parser would not know of. */
const BY_OTHER_RULES = new Set([
  'script',
  'style',
  'title',
  'textarea',
  'xmp',
  'iframe',
  'noembed',
  'noframes',
  'plaintext',
]);

/**
 * Reads HTML and tells what it meets.
 *
 * The parser keeps the open elements in a list whose front it changes, so its work grows with the square of how deep they
 * are nested: 200,000 of them take half a minute. Beyond a depth no honest page has, all open elements count as closed
 * and a new parser goes on from there; no words are lost.
 */
export function parseHtml(html: string, handler: Pick<Partial<Handler>, 'onopentag' | 'ontext' | 'onclosetag'>): void {
  let from = 0;
  while (from < html.length) {
    const open: string[] = [];
    let deep = false;
    const parser = new Parser(
      {
        ...handler,
        onopentag(name, attributes, implied) {
          open.push(name);
          handler.onopentag?.(name, attributes, implied);
          if (open.length < DEEPEST || BY_OTHER_RULES.has(name)) return;
          deep = true;
          parser.pause();
        },
        onclosetag(name, implied) {
          open.pop();
          handler.onclosetag?.(name, implied);
        },
      },
      { decodeEntities: true, lowerCaseTags: true },
    );
    parser.write(html.slice(from));
    if (!deep) return parser.end();
    from += parser.endIndex + 1;
    for (const name of open.reverse()) handler.onclosetag?.(name, true);
  }
}
