/** Titles that stand before a name and are not the name. */
const TITLES = /^(?:mr|mrs|ms|mx|dr|prof|sir|dame|lady|lord|sr|sra|herr|frau|mme|m)\.?$/iu;

/**
 * The name to greet somebody by: the first of their names, or the part after the comma in "Prata, Ana". Handles and
 * signs that are no name ("@ana_p", "A Visitor") give nothing, so that nobody is greeted as "A".
 */
export function firstName(full: string): string {
  const text = full.replace(/\s+/g, ' ').trim();
  const turned = /^([^,]+), ([^,]+)$/.exec(text);
  const words = (turned ? `${turned[2]} ${turned[1]}` : text).split(' ').filter((word) => !TITLES.test(word));
  const first = words[0] ?? '';
  if (!/^\p{L}[\p{L}\p{M}’'-]*\.?$/u.test(first) || /^(?:a|an|the|anonymous|visitor|guest|user)$/iu.test(first))
    return '';
  // An initial is no name to greet by, unless it is all there is of a longer one.
  if (/^\p{Lu}\.?$/u.test(first))
    return words.slice(1).find((word) => word.length > 2) ? `${first} ${words.at(-1)}` : '';
  return first === first.toUpperCase() && first.length > 2 ? first.charAt(0) + first.slice(1).toLowerCase() : first;
}

/** "Ana, Tom and Bea", as the language lists them (CLDR list patterns). */
export function nameList(names: readonly string[], locale: string): string {
  const said = names.map((name) => name.trim()).filter(Boolean);
  return new Intl.ListFormat(locale, { type: 'conjunction' }).format(said);
}
