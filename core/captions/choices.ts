// Wording chosen by a value, as rows: what the value is, and what is said then. Each row is a variant of a MessageFormat
// 2 matcher ("Matcher"); rows that say the same for several values are one row here.
import { stringifyMessage, type Model } from 'messageformat';
import { parseCaption } from './caption.ts';
import { captionSource, partsPattern, patternParts, type CaptionPart } from './tokens.ts';

/**
 * How a value chooses: by what it is, by its number with the plural forms of the language (CLDR), or by whether there
 * is anything in it.
 */
export const CHOOSE_BY = ['value', 'number', 'filled'] as const;
export type ChooseBy = (typeof CHOOSE_BY)[number];

/** The plural categories of CLDR, in its own order; a language uses some of them. */
export const PLURALS = ['zero', 'one', 'two', 'few', 'many'] as const;

export interface ChoiceRow {
  /** The values it is for; none for all others. */
  keys: string[];
  parts: CaptionPart[];
}

/** A caption whose wording depends on one field. */
export interface Choice {
  field: string;
  by: ChooseBy;
  /** The last one is for all others. */
  rows: ChoiceRow[];
}

const FUNCTIONS: Record<ChooseBy, string> = { value: 'string', number: 'number', filled: 'filled' };
/** What the value is called within the message where a field's own name cannot be declared. */
const LOCAL = 'choice';

/**
 * @returns undefined when the message does not choose by one field in a way that rows can show
 * @throws CaptionError when the source is not a message
 */
export function captionChoice(source: string): Choice | undefined {
  const message = parseCaption(source);
  if (message.type !== 'select' || message.selectors.length !== 1 || message.declarations.length !== 1)
    return undefined;
  const [declaration] = message.declarations;
  const expression = declaration!.value;
  if (declaration!.name !== message.selectors[0]!.name || expression.arg?.type !== 'variable') return undefined;
  const { functionRef } = expression;
  const by = CHOOSE_BY.find((each) => FUNCTIONS[each] === functionRef?.name);
  if (!by || Object.keys(functionRef?.options ?? {}).length > 0) return undefined;
  const rows: ChoiceRow[] = [];
  for (const { keys, value } of message.variants) {
    const parts = patternParts(value);
    const key = keys[0];
    if (!parts || keys.length !== 1 || !key) return undefined;
    // A row must not use what only the message declares.
    if (parts.some((part) => typeof part !== 'string' && 'field' in part && part.field === LOCAL)) return undefined;
    const said = key.type === '*' ? [] : [key.value];
    const last = rows.at(-1);
    if (last?.keys.length && said.length && same(last.parts, parts)) last.keys.push(...said);
    else rows.push({ keys: said, parts });
  }
  // The row for all others stands last.
  const others = rows.filter((row) => row.keys.length === 0);
  return {
    field: expression.arg.name,
    by,
    rows: [...rows.filter((row) => row.keys.length > 0), ...(others.length ? others : [{ keys: [], parts: [] }])],
  };
}

/** The message that says what the rows show. Rows without a value are for nobody and are left out, but for the last. */
export function choiceSource({ field, by, rows }: Choice): string {
  const declared = new Set<string>();
  const variants: Model.Variant[] = rows.flatMap((row, index) => {
    const value = partsPattern(row.parts);
    if (index === rows.length - 1) return [{ keys: [{ type: '*' }], value }];
    return row.keys.flatMap((key): Model.Variant[] => {
      const text = key.trim();
      if (text === '' || declared.has(text)) return [];
      declared.add(text);
      return [{ keys: [{ type: 'literal', value: text }], value }];
    });
  });
  return stringifyMessage({
    type: 'select',
    declarations: [
      {
        type: 'local',
        name: LOCAL,
        value: {
          type: 'expression',
          arg: { type: 'variable', name: field },
          functionRef: { type: 'function', name: FUNCTIONS[by] },
        },
      },
    ],
    selectors: [{ type: 'variable', name: LOCAL }],
    variants,
  });
}

/** Which row speaks for a value; the last one when none of them means it. */
export function rowFor({ by, rows }: Choice, value: string, locale: string): number {
  const text = value.trim();
  const last = rows.length - 1;
  const find = (key: string) => rows.findIndex((row, index) => index < last && row.keys.includes(key));
  let found: number;
  if (by === 'filled') found = find(text === '' ? 'no' : 'yes');
  else if (by === 'value') found = find(value.normalize());
  else {
    const number = Number(text);
    if (text === '' || Number.isNaN(number)) return last;
    found = find(String(number));
    // An exact number goes before a plural form.
    if (found < 0) found = find(new Intl.PluralRules(locale).select(number));
  }
  return found < 0 ? last : found;
}

/** What a caption becomes when it begins to depend on a value: the same words in every row. */
export function choiceFrom(parts: CaptionPart[], field: string, by: ChooseBy, keys: readonly string[]): Choice {
  return { field, by, rows: [...keys.map((key) => ({ keys: [key], parts })), { keys: [], parts }] };
}

const same = (a: readonly CaptionPart[], b: readonly CaptionPart[]) => captionSource(a) === captionSource(b);
