import { postDefinition, postTitle } from '@playa/core/posts/written.ts';
import type { Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Queryable } from '../db/database.ts';
import { readyPosts } from '../store/written-posts.ts';

/**
 * Posts by hand that are ready, and not out, in which something of the brand's own is found: a file, a snippet.
 *
 * @returns their beginnings, the soonest first
 */
export async function postsUsing(
  db: Queryable,
  brandId: number,
  find: (definition: Definition) => readonly Step[],
): Promise<string[]> {
  const ready = await readyPosts(db, brandId);
  return ready.flatMap(({ post }) => (find(postDefinition(post, null)).length > 0 ? [postTitle(post)] : []));
}
