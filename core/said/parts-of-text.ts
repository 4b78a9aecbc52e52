// What can be told of a text, as fields of it: `text.language` in a wording, in a condition, in a choice by value. The
// same as the questions of conditions tell, with the same limits: nothing here claims to understand.
import { choice, NUMBER, YES_NO, type ShapeFields } from '../shapes/shape.ts';
import { offerInTexts } from '../items/read-field.ts';
import { countGraphemes, cutUnits } from '../text/graphemes.ts';
import { remembering } from '../text/memo.ts';
import { FORM_NAMES, formOf } from './form.ts';
import { LANGUAGES, languageOf } from './language.ts';
import { isQuestion } from './question.ts';
import { TONES, toneOf } from './tone.ts';

/** What a text is looked at for at most, UTF-16 code units: more of it tells nothing new. */
const LOOKED_AT = 5000;

const read = {
  /** Its name in English: "Portuguese"; empty where it cannot be told. */
  language: (text: string) => LANGUAGES[languageOf(text)] ?? '',
  /** glad, plain or cross; empty for languages without a lexicon. */
  tone: (text: string) => toneOf(text) ?? '',
  /** "only emoji", "a few words", "sentences". */
  form: (text: string) => FORM_NAMES[formOf(text)],
  question: isQuestion,
  /** Characters as people count them. */
  length: countGraphemes,
};

for (const [name, of] of Object.entries(read)) {
  const told = remembering(200, (text: string) => of(text));
  offerInTexts(name, (text) => told(name === 'length' ? text : cutUnits(text, LOOKED_AT)));
}

/** What the parts of a text are, for those who choose fields. */
export const TEXT_PARTS: ShapeFields = {
  language: { ...choice(...Object.values(LANGUAGES)), label: 'Language' },
  tone: { ...choice(...TONES), label: 'Tone' },
  form: { ...choice(...Object.values(FORM_NAMES)), label: 'Form' },
  question: { ...YES_NO, label: 'Asks something' },
  length: { ...NUMBER, label: 'Length' },
};
