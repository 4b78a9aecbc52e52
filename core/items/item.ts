import { z } from 'zod';

/** Whatever JSON can hold; what a field of an item is. */
export type FieldValue = string | number | boolean | null | FieldValue[] | { [name: string]: FieldValue };

/** The fields of an item by name. Nested ones are reached by a path with dots: `thumbnail.url`. */
export type Fields = Record<string, FieldValue>;

/** One thing that appeared at a source. */
export interface Item {
  /** The same for the same thing, however often it is seen. Unique within a source. */
  identity: string;
  /** When its author published it, in milliseconds since 1970 UTC; null when the source does not say. */
  publishedAt: number | null;
  fields: Fields;
}

export const fieldValueSchema: z.ZodType<FieldValue> = z.lazy(() =>
  z.union([
    z.string(),
    z.number(),
    z.boolean(),
    z.null(),
    z.array(fieldValueSchema),
    z.record(z.string(), fieldValueSchema),
  ]),
);

export const fieldsSchema: z.ZodType<Fields> = z.record(z.string(), fieldValueSchema);
