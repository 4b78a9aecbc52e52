// Columns of a sheet of Playa's own, with the types of their cells.
import { z } from 'zod';
import { OUTLET_KINDS } from '../outlets/kinds.ts';
import { NUMBER, TEXT, type FieldShape } from '../shapes/shape.ts';

/** What a cell can be. */
export const COLUMN_TYPES = [
  'text',
  'longText',
  'number',
  'yesNo',
  'date',
  'moment',
  'choice',
  'link',
  'picture',
  'outlet',
  'person',
  'computed',
  'left',
] as const;
export type ColumnType = (typeof COLUMN_TYPES)[number];

/** How a type is called where people choose one. */
export const COLUMN_TYPE_NAMES: Readonly<Record<ColumnType, string>> = {
  text: 'text',
  longText: 'long text',
  number: 'number',
  yesNo: 'yes or no',
  date: 'date',
  moment: 'date and time',
  choice: 'choice',
  link: 'link',
  picture: 'picture',
  outlet: 'outlet',
  person: 'colleague',
  computed: 'worded from the row',
  left: 'characters left',
};

/** Colours of choices, each by its name in the interface's palette. */
export const CHOICE_COLOURS = ['plain', 'sea', 'kelp', 'amber', 'rose', 'dusk'] as const;
export type ChoiceColour = (typeof CHOICE_COLOURS)[number];

/**
 * By what a column is known in wordings, conditions and steps. It stays when the column is given another name, so that
 * nothing that uses it has to change.
 */
export const COLUMN_KEY = /^\p{L}[\p{L}\p{N}_-]{0,59}$/u;

const base = {
  key: z.string().regex(COLUMN_KEY),
  name: z.string().trim().min(1, 'A column needs a name.').max(80),
  /** Pixels. */
  width: z.number().int().min(40).max(900).optional(),
};
const plain = ['text', 'longText', 'number', 'yesNo', 'date', 'moment', 'link', 'picture', 'outlet', 'person'] as const;

export const columnSchema = z.discriminatedUnion('type', [
  z.object({ ...base, type: z.enum(plain) }),
  z.object({
    ...base,
    type: z.literal('choice'),
    options: z
      .array(z.object({ value: z.string().trim().min(1).max(80), colour: z.enum(CHOICE_COLOURS) }))
      .max(60)
      .refine((options) => new Set(options.map(({ value }) => fold(value))).size === options.length, {
        message: 'Two choices say the same.',
      }),
  }),
  /** A wording over the row's other cells (MessageFormat 2). */
  z.object({ ...base, type: z.literal('computed'), words: z.string().max(2000) }),
  /** How many more characters a kind of outlet takes beside what stands in another column. */
  z.object({ ...base, type: z.literal('left'), of: z.string().max(60), kind: z.enum(OUTLET_KINDS) }),
]);
export type Column = z.infer<typeof columnSchema>;

/** The most columns of a sheet, and the most rows. */
export const MOST_COLUMNS = 60;
export const MOST_ROWS = 20_000;

export const columnsSchema = z
  .array(columnSchema)
  .min(1, 'A sheet needs a column.')
  .max(MOST_COLUMNS)
  .refine((columns) => new Set(columns.map(({ key }) => key)).size === columns.length, {
    message: 'Two columns have the same key.',
  })
  .refine((columns) => new Set(columns.map(({ name }) => fold(name))).size === columns.length, {
    message: 'Two columns have the same name.',
  });

/** How texts are compared where capitals make no difference. */
export const fold = (text: string): string => text.normalize('NFC').trim().toLowerCase();

/** Whether people and workflows write into it, rather than Playa working it out. */
export const isWritten = (column: Column): boolean => column.type !== 'computed' && column.type !== 'left';

/** What a cell of the column is as a field of the row. */
export function columnFieldShape(column: Column): FieldShape {
  const shape = bareShape(column);
  return column.name === column.key ? shape : { ...shape, label: column.name };
}

function bareShape(column: Column): FieldShape {
  switch (column.type) {
    case 'choice':
      return { type: 'choice', options: column.options.map(({ value }) => value) };
    case 'outlet':
    case 'person':
      return { type: 'object', fields: { id: NUMBER, name: TEXT } };
    case 'computed':
      return { type: 'longText' };
    case 'left':
      return { type: 'number' };
    default:
      return { type: column.type };
  }
}

/** Fields that every row has beside its cells, whose names no column takes as its key. */
export const ROW_FIELDS = ['id', 'row', 'link', 'outlet'] as const;

/**
 * A key for a column of this name.
 *
 * @param taken keys of the other columns
 * @example keyFor('Goes out at', []) // "goes_out_at"
 */
export function keyFor(name: string, taken: Iterable<string>): string {
  const used = new Set<string>([...taken, ...ROW_FIELDS]);
  const plainName = name
    .normalize('NFC')
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '_')
    .replace(/^[_\p{N}]+|_+$/gu, '');
  const stem = [...(plainName || 'column')].slice(0, 50).join('');
  if (!used.has(stem)) return stem;
  let count = 2;
  while (used.has(`${stem}_${count}`)) count++;
  return `${stem}_${count}`;
}
