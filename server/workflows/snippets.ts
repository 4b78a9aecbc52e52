// What changing a snippet would change.
import { compile } from '@playa/core/engine/program.ts';
import { rehearseItem } from '@playa/core/rehearsal/rehearse.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { everythingSaid, type Saying } from '@playa/core/workflow/word-uses.ts';
import { stepsUsing } from '@playa/core/workflow/snippets.ts';
import type { World } from '@playa/core/model/world.ts';
import type { Queryable } from '../db/database.ts';
import { itemsOf } from '../store/items-shown.ts';
import { workflowsUsing } from '../world/uses.ts';
import { worldOf } from '../world/world.ts';
import { momentOf, type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

/** The steps in which a snippet is used. */
export const usingSnippet = (name: string) => (definition: Definition) => stepsUsing(definition, name);

/** Something said of a workflow's newest item, before and after. */
export interface SnippetChange {
  workflow: string;
  outlet: string;
  before: string;
  after: string;
  /** A sentence when it would no longer go out. */
  trouble: string | null;
}

/** What each workflow would say about its newest items with other words in a snippet. */
export async function changesBy(
  db: Queryable,
  brandId: number,
  name: string,
  text: string | null,
): Promise<SnippetChange[]> {
  const world = await worldOf(db, brandId);
  const snippets = new Map(world.snippets);
  if (text === null) snippets.delete(name);
  else snippets.set(name, text);
  const then: World = { ...world, snippets };
  const changes: SnippetChange[] = [];
  for (const { workflow, definition } of await workflowsUsing(db, brandId, usingSnippet(name))) {
    const watches = definition.sources.flatMap(({ watch }) => watch ?? []);
    const items = watches.length ? await itemsOf(db, brandId, watches, NEWEST) : [];
    for (const { watchId, ...item } of items) {
      const past: PastItem = { ...item, watch: watchId };
      const [before, after] = [saidOf(definition, world, past), saidOf(definition, then, past)];
      const made = before.flatMap((post, index): SnippetChange[] => {
        const other = after[index];
        if (!other || (other.text === post.text && other.says === post.says)) return [];
        const outlet = post.outlet === null ? '' : (world.outlets.get(post.outlet)?.name ?? 'an outlet that is gone');
        return [{ workflow, outlet, before: post.text, after: other.text, trouble: other.says ?? null }];
      });
      if (made.length === 0) continue;
      changes.push(...made);
      break;
    }
  }
  return changes;
}

/** As many items of a workflow are tried until one shows the difference. */
const NEWEST = 8;

/** Everything that would be said of an item. */
function saidOf(definition: Definition, world: World, item: PastItem): Saying[] {
  return everythingSaid(rehearseItem(compile(definition, world), item, momentOf(item)).trace);
}
