// Lists in pages. A cursor says behind what a page begins, so that what comes or goes meanwhile neither repeats nor hides
// anything; to clients it is a word that they hand back.
import { z } from 'zod';

/** A cursor as it is handed out. @example cursorOf({ before: 12 }) */
export const cursorOf = (where: object): string => Buffer.from(JSON.stringify(where)).toString('base64url');

/** The longest cursor: of a list by name, whose names may be of letters that take four bytes each. */
const LONGEST_CURSOR = 2000;

/** What a list is asked: behind which cursor, and how many at most. */
export const pageQuery = <C extends z.ZodObject>(cursor: C, most: number, usual = most) =>
  z.object({
    after: z
      .string()
      .max(LONGEST_CURSOR)
      .transform((text, context): z.output<C> => {
        const read = cursor.safeParse(parsed(text));
        if (read.success) return read.data;
        context.addIssue({
          code: 'custom',
          message: 'This is no place to go on from; ask for the list from its beginning.',
        });
        return z.NEVER;
      })
      .optional()
      .meta({ description: 'The `next` of the page before.' }),
    most: z.coerce.number().int().min(1).max(most).default(usual),
  });

function parsed(text: string): unknown {
  try {
    return JSON.parse(Buffer.from(text, 'base64url').toString('utf8'));
  } catch {
    return null;
  }
}

/** The cursor of lists in the order in which their things were made. */
export const byId = z.object({ after: z.number().int() });
/** The cursor of lists by name. */
export const byName = z.object({ after: z.string().max(200) });

/** The cursor of lists of outlets. */
export const byAccount = z.object({ account: z.number().int(), id: z.number().int() });
/** @see byAccount */
export const atOutlet = ({ accountId, id }: { accountId: number | null; id: number }) => ({
  account: accountId ?? 0,
  id,
});

/**
 * A page of a list that was asked for with one more than the page holds.
 *
 * @example
 * const { page, next } = cutPage(await filesPage(pool, brand, before, most + 1), most, ({ id }) => ({ after: id }));
 */
export function cutPage<T>(
  found: readonly T[],
  most: number,
  cursor: (last: T) => object,
): { page: T[]; next: string | null } {
  const page = found.slice(0, most);
  const last = page.at(-1);
  return { page, next: last !== undefined && found.length > most ? cursorOf(cursor(last)) : null };
}

/** What a page says besides its list. */
export const nextPage = {
  next: z.string().nullable().meta({ description: 'To hand on as `after` for the next page; null on the last one.' }),
};
