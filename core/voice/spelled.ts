// Numbers that are spelled out, as English does: "twenty-five", "a hundred and ten", "oh two eight nine". Other languages
// are not read; docs/desk.md says so.

const UNITS =
  'zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen'.split(
    ' ',
  );
const TENS = 'twenty thirty forty fifty sixty seventy eighty ninety'.split(' ');
const SCALES: Readonly<Record<string, number>> = { hundred: 100, thousand: 1000, million: 1_000_000 };
const VALUES: ReadonlyMap<string, number> = new Map([
  ...UNITS.map((word, value): [string, number] => [word, value]),
  ...TENS.map((word, index): [string, number] => [word, 20 + 10 * index]),
  ...Object.entries(SCALES),
]);
const alternatives = [...VALUES.keys()].sort((a, b) => b.length - a.length).join('|');

/** A number in words, as a pattern to be put into another: two words and more stand apart, or with a hyphen. No number has more words than that. */
export const SPELLED = String.raw`(?:(?:an?|half an?|${alternatives})(?:(?:\s+|-)(?:and\s+)?(?:${alternatives})){0,16}(?:\s+and\s+a\s+half)?)`;

/**
 * The number that words say; null where they say none: "a pound" is one, "and" is none.
 *
 * @example spelledNumber('a hundred and twenty-five') // 125
 */
export function spelledNumber(words: string): number | null {
  const said = words.toLowerCase().trim();
  const half = /\s+and\s+a\s+half$/.test(said) ? 0.5 : 0;
  if (/^half an?$/.test(said)) return 0.5;
  const parts = said
    .replace(/\s+and\s+a\s+half$/, '')
    .split(/[\s-]+/)
    .filter((word) => word !== 'and');
  let whole = 0;
  let part = 0;
  for (const word of parts) {
    const value = word === 'a' || word === 'an' ? 1 : VALUES.get(word);
    if (value === undefined) return null;
    if (value < 100) part += value;
    else if (value === 100) part = Math.max(1, part) * 100;
    else {
      whole += Math.max(1, part) * value;
      part = 0;
    }
  }
  return parts.length === 0 ? null : whole + part + half;
}

const DIGIT = `(?:oh|nought|${UNITS.slice(0, 10).join('|')})`;
/** Digits said one by one, six and more: as people read a telephone number out. */
const READ_OUT = new RegExp(
  String.raw`\b(?:(?:double|triple)\s+)?${DIGIT}(?:[\s,-]+(?:(?:double|triple)\s+)?${DIGIT}){5,}\b`,
  'gi',
);

/** Numbers that are read out digit by digit, each with its digits. */
export function readOutIn(text: string): { said: string; digits: string }[] {
  return Array.from(text.matchAll(READ_OUT), ([said]) => {
    let digits = '';
    let times = 1;
    for (const word of said.toLowerCase().split(/[\s,-]+/)) {
      if (word === 'double' || word === 'triple') {
        times = word === 'double' ? 2 : 3;
        continue;
      }
      const digit = word === 'oh' || word === 'nought' ? '0' : String(UNITS.indexOf(word));
      digits += digit.repeat(times);
      times = 1;
    }
    return { said, digits };
  });
}
