// Lists that the server answers in pages.
import { call } from './api.ts';
import type { Answer, Listing, Params, Query } from './endpoint-types.ts';

/**
 * All pages of a list, one after the other: for lists that are as long as people make them, such as workflows.
 *
 * @throws Refused when one of them is refused: half a list would look like a whole one
 * @example
 * const workflows = (await everyPage('listWorkflows', { brand })).flatMap((page) => page.workflows);
 */
export async function everyPage<Name extends Listing>(
  name: Name,
  params: Params<Name>,
  query?: Query<Name>,
): Promise<Answer<Name>[]> {
  const pages: Answer<Name>[] = [];
  let after: string | null = null;
  do {
    const asked = { query: { ...query, ...(after === null ? {} : { after }) } };
    const page: Answer<Name> = await call(name, params, asked as never);
    pages.push(page);
    after = (page as unknown as { next: string | null }).next;
  } while (after);
  return pages;
}
