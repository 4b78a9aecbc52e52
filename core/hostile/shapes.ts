// Texts that somebody could send to do harm: what scanners with backtracking, nested loops and cuts by code unit stumble
// over.

/** A text of about so many UTF-16 units. */
export type Shape = (units: number) => string;

const repeated =
  (unit: string, end = ''): Shape =>
  (units) =>
    unit.repeat(Math.ceil(units / unit.length)) + end;

/** Hostile shapes by what they are, the most telling first. */
export const SHAPES: Readonly<Record<string, Shape>> = {
  spaces: repeated(' ', 'x'),
  'line breaks': repeated('\n', 'x'),
  'spaces and line breaks': repeated(' \n', 'x'),
  'stops after letters': repeated('a. '),
  'small letters after stops': repeated('a.\n'),
  hashtags: repeated('#tag '),
  'dotted mentions': repeated('@a.b.'),
  addresses: repeated('https://a.example/x '),
  'labels before addresses': repeated('Book: https://a.example/x\n'),
  'closed brackets': repeated('( )'),
  'begun comments': repeated('<!--'),
  'nested tags': repeated('<div>'),
  entities: repeated('&amp;'),
  backslashes: repeated('\\'),
  emoji: repeated('🏊'),
  flags: repeated('🇫'),
  'marks out of order': (units) => `e${repeated('\u0301\u0316')(units)}`,
  'lone surrogates': repeated('\ud83c '),
  'wide characters': repeated('海辺。'),
  digits: repeated('9'),
  'one letter': repeated('a'),
  'carriage returns': repeated('\r'),
  'full stops': repeated('.'),
  'commas and spaces': repeated(', ', 'x'),
  capitals: repeated('SHOUT '),
  'number signs': repeated('#'),
  'at signs': repeated('@'),
  'beginnings of addresses': repeated('http://'),
  'closing signs after an address': (units) => `https://${repeated('.')(units)} `,
  'quotation marks': repeated('" "'),
  'open tags': repeated('<'),
  'begun tags': repeated('<a '),
  backticks: repeated('`a'),
  braces: repeated('{'),
  families: repeated('👩‍👩‍👧‍👦'),
  'joiners and emoji': repeated('🏊\u200d'),
  'combining marks': (units) => `e${repeated('\u0301')(units)}`,
  'directions and joiners': repeated('\u202e\u200b\u200f'),
  'numbers and units': repeated('1 h '),
};
