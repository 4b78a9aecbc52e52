// Lists that the server answers in pages.
import { api } from './api.ts';

/** A page says where the next one begins. */
interface Page {
  next: string | null;
}

/** The address of the page behind a cursor. */
export const behind = (path: string, next: string | null): string =>
  next === null ? path : `${path}${path.includes('?') ? '&' : '?'}after=${encodeURIComponent(next)}`;

/**
 * All pages of a list, one after the other: for lists that are as long as people make them, such as workflows.
 *
 * @throws Refused when one of them is refused: half a list would look like a whole one
 * @example
 * const workflows = (await everyPage<Answer<'listWorkflows'>>(`${at}/workflows`)).flatMap((page) => page.workflows);
 */
export async function everyPage<P extends Page>(path: string): Promise<P[]> {
  const pages: P[] = [];
  let next: string | null = null;
  do {
    const page: P = await api<P>('GET', behind(path, next));
    pages.push(page);
    next = page.next;
  } while (next);
  return pages;
}
