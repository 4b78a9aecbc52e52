// How a sheet is looked at: sorted, filtered, with some columns hidden; kept under a name.
import { z } from 'zod';
import { groupSchema } from '../conditions/condition.ts';

export const sheetViewSchema = z.object({
  name: z.string().trim().min(1, 'A view needs a name.').max(80),
  sort: z.array(z.object({ key: z.string().max(60), down: z.boolean() })).max(5),
  filter: groupSchema.nullable(),
  hidden: z.array(z.string().max(60)).max(60),
});
export type SheetView = z.infer<typeof sheetViewSchema>;

export const sheetViewsSchema = z
  .array(sheetViewSchema)
  .max(30)
  .refine((views) => new Set(views.map(({ name }) => name.toLowerCase())).size === views.length, {
    message: 'Two views have the same name.',
  });
