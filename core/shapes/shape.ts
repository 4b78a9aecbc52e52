// Shapes: the one description of typed fields. Of the fields of items, of learned hook schemas, of a Call's sample, of a
// table's columns, of what steps make.
import { z } from 'zod';

/** What a value is, whatever it is called. */
export type Shape =
  /** `text` is short, as a title is; `longText` may have paragraphs. */
  | { type: 'text' | 'longText' | 'number' | 'yesNo' | 'link' | 'picture' }
  /** A day without a time: ISO 8601, `2026-11-26`. */
  | { type: 'date' }
  /** A point in time: RFC 3339, `2026-11-26T18:00:00Z`. */
  | { type: 'moment' }
  /** How long something lasts, in seconds. */
  | { type: 'duration' }
  /** One of a few texts. */
  | { type: 'choice'; options: readonly string[] }
  | { type: 'list'; of: Shape }
  | { type: 'object'; fields: ShapeFields };

/** A field's shape, and how it is called where its name alone does not say. */
export type FieldShape = Shape & { label?: string | undefined };

/** Fields by name, in the order in which people see them. */
export type ShapeFields = { readonly [name: string]: FieldShape };

export type ShapeType = Shape['type'];

const label = z.string().max(200).optional();
const plain = ['text', 'longText', 'number', 'yesNo', 'link', 'picture', 'date', 'moment', 'duration'] as const;

export const shapeSchema: z.ZodType<FieldShape> = z.lazy(() =>
  z.discriminatedUnion('type', [
    z.object({ type: z.enum(plain), label }),
    z.object({ type: z.literal('choice'), options: z.array(z.string().max(200)).max(200), label }),
    z.object({ type: z.literal('list'), of: shapeSchema, label }),
    z.object({ type: z.literal('object'), fields: z.record(z.string(), shapeSchema), label }),
  ]),
);

export const shapeFieldsSchema: z.ZodType<ShapeFields> = z.record(z.string(), shapeSchema);

// For descriptions that are written by hand.
export const TEXT = { type: 'text' } as const satisfies Shape;
export const LONG_TEXT = { type: 'longText' } as const satisfies Shape;
export const NUMBER = { type: 'number' } as const satisfies Shape;
export const YES_NO = { type: 'yesNo' } as const satisfies Shape;
export const DATE = { type: 'date' } as const satisfies Shape;
export const MOMENT = { type: 'moment' } as const satisfies Shape;
export const DURATION = { type: 'duration' } as const satisfies Shape;
export const LINK = { type: 'link' } as const satisfies Shape;
export const PICTURE = { type: 'picture' } as const satisfies Shape;
export const choice = (...options: string[]): Shape => ({ type: 'choice', options });
export const list = (of: Shape): Shape => ({ type: 'list', of });
export const object = (fields: ShapeFields): Shape => ({ type: 'object', fields });

/** Somebody who wrote, as networks tell of them. */
export const PERSON_FIELDS = { name: TEXT, id: TEXT, network: TEXT };
export const PERSON = object(PERSON_FIELDS);

/** How a shape is called where people choose one, or read what a field is. */
export const SHAPE_NAMES: Readonly<Record<ShapeType, string>> = {
  text: 'text',
  longText: 'long text',
  number: 'number',
  yesNo: 'yes or no',
  date: 'date',
  moment: 'date and time',
  duration: 'length of time',
  link: 'link',
  picture: 'picture',
  choice: 'choice',
  list: 'list',
  object: 'record',
};
