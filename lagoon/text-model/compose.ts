// A text model of the made-up world. It knows nothing, but it reads: the name, the stars, what is mentioned, the
// language and the tone asked for.

export interface Asked {
  instruction: string;
  input: string;
  longest: number;
  variety: number;
  seed: number;
}

type Language = 'en' | 'pt' | 'de';
type Mood = 'glad' | 'mixed' | 'sorry';

interface Phrases {
  greeting: string[];
  glad: string[];
  mixed: string[];
  sorry: string[];
  mention: string[];
  mentionSorry: string[];
  end: string[];
}

const PHRASES: Record<Language, Phrases> = {
  en: {
    greeting: ['Hello {name}', 'Dear {name}', 'Hi {name}'],
    glad: [
      'thank you for your kind words.',
      'what a lovely thing to read.',
      'thank you, this made our morning.',
      'how good to hear that.',
      'words like yours keep us going.',
      'you have made everybody here smile.',
      'we read this out at breakfast.',
      'it means a lot that you wrote.',
    ],
    mixed: [
      'thank you for telling us how it was.',
      'thank you for your honest words.',
      'what you say helps us.',
      'good to know what went well, and what did not.',
      'we take both halves of this to heart.',
      'your eye for it is useful to us.',
    ],
    sorry: [
      'we are sorry that it was not what you hoped for.',
      'thank you for telling us, and we are sorry.',
      'this is not how a day with us should be.',
      'you are right to say so, and we are sorry.',
      'that was not good enough.',
      'it is hard to read this, and good that you wrote.',
    ],
    mention: ['We are glad that you liked {things}.', 'It is good to hear about {things}.'],
    mentionSorry: [
      'We will look into {things}.',
      'What you say about {things} has gone to the people who look after it.',
    ],
    end: ['We hope to see you again soon.', 'Come back whenever you like.', 'Until the next time.'],
  },
  pt: {
    greeting: ['Olá {name}', 'Bom dia {name}'],
    glad: [
      'obrigado pelas suas palavras.',
      'que bom ler isto.',
      'ficámos mesmo contentes com isto.',
      'palavras destas dão-nos força.',
      'alegrou a manhã de todos aqui.',
    ],
    mixed: ['obrigado por nos contar como foi.', 'obrigado pela sua opinião.', 'o que diz ajuda-nos a melhorar.'],
    sorry: [
      'lamentamos que não tenha sido como esperava.',
      'obrigado por nos dizer, e pedimos desculpa.',
      'não é assim que devia ter sido.',
    ],
    mention: ['Ficamos contentes que tenha gostado: {things}.', 'É bom ouvir falar de {things}.'],
    mentionSorry: ['Vamos ver o que se passa com {things}.'],
    end: ['Esperamos vê-lo em breve.', 'Até à próxima.'],
  },
  de: {
    greeting: ['Hallo {name}', 'Guten Tag {name}'],
    glad: [
      'danke für die freundlichen Worte.',
      'das lesen wir gern.',
      'solche Worte tun uns gut.',
      'damit haben Sie uns den Morgen versüßt.',
      'wie schön, dass Sie uns schreiben.',
    ],
    mixed: [
      'danke, dass Sie uns erzählen, wie es war.',
      'danke für die offenen Worte.',
      'was Sie schreiben, hilft uns weiter.',
    ],
    sorry: [
      'es tut uns leid, dass es nicht so war wie erhofft.',
      'danke, dass Sie es uns sagen; es tut uns leid.',
      'so sollte ein Tag bei uns nicht sein.',
    ],
    mention: ['Schön, dass Ihnen das gefallen hat: {things}.'],
    mentionSorry: ['Wir gehen dem nach: {things}.'],
    end: ['Bis bald.', 'Wir freuen uns auf das nächste Mal.'],
  },
};

/** Things of a seaside pool and a bakery that people write about. */
const THINGS = [
  'the water',
  'the sauna',
  'the showers',
  'the lockers',
  'the staff',
  'the lifeguards',
  'the lessons',
  'the café',
  'the changing rooms',
  'the steps',
  'the view',
  'the coffee',
  'the bread',
  'the queue',
  'the prices',
  'the music',
  'the diving stones',
  'the sunrise swim',
  'the car park',
  'the temperature',
  'the tide',
  'the children’s pool',
  'the rye loaf',
  'the buns',
] as const;

/** Words a draft. The same request and seed give the same words. */
export function compose({ instruction, input, longest, variety, seed }: Asked): string {
  const language = languageOf(instruction, input);
  const phrases = PHRASES[language];
  let state = (seed ^ 0x9e3779b9) >>> 0;
  const avoided = avoidedIn(instruction);
  const pick = (all: readonly string[]): string => {
    const fresh = all.filter((each) => !avoided.some((begins) => beginsLike(each, begins)));
    const list = fresh.length > 0 ? fresh : all;
    state = (Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) + 0x6d2b79f5) >>> 0;
    return list[Math.floor((state / 4294967296) * Math.max(1, Math.ceil(list.length * variety)))]!;
  };
  const name = nameOf(input);
  const mood = moodOf(input);
  const things = mentioned(nowOf(input));
  const formal = /\b(formal|polite)\b/i.test(instruction);
  const greeting = formal && language === 'en' ? 'Dear {name}' : pick(phrases.greeting);
  const sentences = [
    (name ? greeting.replace('{name}', name) : greeting.replace(' {name}', '')) + ', ' + pick(phrases[mood]),
    ...(things.length
      ? [pick(mood === 'sorry' ? phrases.mentionSorry : phrases.mention).replace('{things}', listOf(things, language))]
      : []),
    pick(phrases.end),
  ];
  const wanted = /\b(one|two|three) sentences?\b/i.exec(instruction)?.[1]?.toLowerCase();
  const most = wanted ? ['one', 'two', 'three'].indexOf(wanted) + 1 : 3;
  // What they wrote about is worth more than a farewell.
  sentences.splice(most);
  // Whole sentences, as many as fit; a text model asked for less says less.
  while (sentences.length > 1 && sentences.join(' ').length > longest) sentences.pop();
  const text = sentences.join(' ');
  return text.length <= longest ? text : text.slice(0, Math.max(0, longest - 1)).replace(/\s+\S*$/, '') + '…';
}

/** "Do not begin like: “thank you for your”, “what a lovely”". */
function avoidedIn(instruction: string): string[] {
  const line = /not begin like:(.*)/i.exec(instruction)?.[1] ?? '';
  return Array.from(line.matchAll(/“([^”]*)”/g), ([, begins]) => begins!);
}

const bare = (text: string) =>
  text
    .normalize('NFD')
    .replace(/[^\p{L}\p{N} ]+/gu, '')
    .toLowerCase();
const beginsLike = (phrase: string, begins: string) => bare(phrase).startsWith(bare(begins).slice(0, 18));

function languageOf(instruction: string, input: string): Language {
  if (/\b(portuguese|português)\b/i.test(instruction)) return 'pt';
  if (/\b(german|deutsch)\b/i.test(instruction)) return 'de';
  if (/\b(english)\b/i.test(instruction)) return 'en';
  if (/\b(obrigad[oa]|muito|água|piscina)\b/i.test(input)) return 'pt';
  if (/\b(und|nicht|schön|wasser|danke)\b/i.test(input)) return 'de';
  return 'en';
}

/** "name: Ana Prata" or "Ana Prata wrote" gives Ana. */
function nameOf(input: string): string {
  const full =
    /(?:^|\n)\s*(?:name|reviewer|from|person)\s*[:=]\s*(.+)/i.exec(input)?.[1] ??
    /^\s*(\p{Lu}[\p{L}’-]+(?: \p{Lu}[\p{L}’-]+)?) (?:wrote|writes|says)/u.exec(input)?.[1] ??
    '';
  const first = full.trim().split(/\s+/)[0] ?? '';
  return /^\p{Lu}\p{L}+/u.test(first) && !/^(a|the|an)$/i.test(first) ? first : '';
}

function moodOf(input: string): Mood {
  const stars = /(?:stars?|rating)\s*[:=]?\s*([1-5])|([1-5])\s*(?:stars?|★)/i.exec(input);
  const count = stars ? Number(stars[1] ?? stars[2]) : (input.match(/★/g)?.length ?? 0);
  if (count) return count >= 4 ? 'glad' : count === 3 ? 'mixed' : 'sorry';
  if (/\b(cold|dirty|rude|broken|closed|disappoint|never again|awful)\w*/i.test(input)) return 'sorry';
  return 'glad';
}

/** What is asked about now, without what was said before. */
const nowOf = (input: string): string =>
  /they wrote no words/i.test(input) ? '' : (input.split(/they wrote now:/i)[1] ?? input);

function mentioned(input: string): string[] {
  return THINGS.filter((thing) =>
    new RegExp(`\\b${thing.replace('the ', '').replace(/s$/, '')}`, 'i').test(input),
  ).slice(0, 2);
}

function listOf(things: string[], language: Language): string {
  return new Intl.ListFormat(language, { type: 'conjunction' }).format(things);
}
