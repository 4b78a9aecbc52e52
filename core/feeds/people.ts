// Names of people that nobody has. Parsers of "mail@example.org (Name)" look for brackets from every bracket on, so what
// is longer than any name is left out before it gets to them.

const OPENING = /<(author|managingeditor|webmaster)\b[^<>]{0,200}>/gi;
/** Code units, markup and all. */
const LONGEST = 2000;

/** The text of a feed without people whose name and address are longer than anybody's. */
export function withoutEndlessPeople(text: string): string {
  let kept = '';
  let from = 0;
  for (const match of text.matchAll(OPENING)) {
    const begun = match.index + match[0].length;
    // Within one that was left out.
    if (begun <= from) continue;
    const end = endOf(text, match[1]!, begun);
    if (end < 0) break;
    if (end - begun <= LONGEST) continue;
    kept += text.slice(from, begun);
    from = end;
  }
  return from === 0 ? text : kept + text.slice(from);
}

/** Where an element ends; negative when it does not. */
function endOf(text: string, name: string, from: number): number {
  const closing = new RegExp(`</${name}\\s{0,20}>`, 'gi');
  closing.lastIndex = from;
  return closing.exec(text)?.index ?? -1;
}
