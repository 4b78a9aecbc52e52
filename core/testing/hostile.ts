// Texts that somebody could send to do harm, and a way to tell how much work a function makes of one. Shapes are what
// scanners with backtracking, nested loops and cuts by code unit stumble over.

/** A text of about so many UTF-16 units. */
export type Shape = (units: number) => string;

const repeated =
  (unit: string, end = ''): Shape =>
  (units) =>
    unit.repeat(Math.ceil(units / unit.length)) + end;

/** Hostile shapes by what they are. */
export const SHAPES: Readonly<Record<string, Shape>> = {
  'one letter': repeated('a'),
  spaces: repeated(' ', 'x'),
  'line breaks': repeated('\n', 'x'),
  'spaces and line breaks': repeated(' \n', 'x'),
  'carriage returns': repeated('\r'),
  'full stops': repeated('.'),
  'commas and spaces': repeated(', ', 'x'),
  'stops after letters': repeated('a. '),
  capitals: repeated('SHOUT '),
  'small letters after stops': repeated('a.\n'),
  'number signs': repeated('#'),
  hashtags: repeated('#tag '),
  'at signs': repeated('@'),
  'dotted mentions': repeated('@a.b.'),
  'beginnings of addresses': repeated('http://'),
  'closing signs after an address': (units) => `https://${repeated('.')(units)} `,
  addresses: repeated('https://a.example/x '),
  'labels before addresses': repeated('Book: https://a.example/x\n'),
  'closed brackets': repeated('( )'),
  'quotation marks': repeated('" "'),
  'open tags': repeated('<'),
  'begun tags': repeated('<a '),
  'begun comments': repeated('<!--'),
  'nested tags': repeated('<div>'),
  entities: repeated('&amp;'),
  backslashes: repeated('\\'),
  backticks: repeated('`a'),
  braces: repeated('{'),
  emoji: repeated('🏊'),
  families: repeated('👩‍👩‍👧‍👦'),
  'joiners and emoji': repeated('🏊\u200d'),
  flags: repeated('🇫'),
  'combining marks': (units) => `e${repeated('\u0301')(units)}`,
  'marks out of order': (units) => `e${repeated('\u0301\u0316')(units)}`,
  'lone surrogates': repeated('\ud83c '),
  'wide characters': repeated('海辺。'),
  'directions and joiners': repeated('\u202e\u200b\u200f'),
  digits: repeated('9'),
  'numbers and units': repeated('1 h '),
};

/** Milliseconds of this process's own work, whatever else the machine is doing. */
export function workOf(run: () => unknown): number {
  const before = process.cpuUsage();
  run();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}

/** One pass over a text that looks at every code point: what linear work costs. */
export function onePass(text: string): number {
  let sum = 0;
  for (const sign of text) sum = (Math.imul(sum, 31) + sign.codePointAt(0)!) | 0;
  return sum;
}
