import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { compile } from '@playa/core/engine/program.ts';
import type { ActInput } from '@playa/core/model/acts.ts';
import type { TriedDrafts } from '@playa/core/model/drafted.ts';
import type { World } from '@playa/core/model/world.ts';
import { rehearseItem } from '@playa/core/rehearsal/rehearse.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { call } from '../lib/api.ts';
import { useSession } from './session.ts';
import { momentOf, type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

/** A draft that is not right is drafted once more, so a try may lead to another. */
const ROUNDS = 4;

/** What a definition has drafted for some items, by what is asked, in order; also what is not known yet. */
export function draftsAsked(
  definition: Definition,
  world: World,
  items: readonly PastItem[],
  known: TriedDrafts,
): string[] {
  const asked = new Set<string>();
  const asking = {
    get(key: string) {
      asked.add(key);
      return known.get(key);
    },
  } as TriedDrafts;
  const program = compile(definition, { ...world, drafted: asking });
  for (const item of items) rehearseItem(program, item, momentOf(item));
  return [...asked];
}

/**
 * Drafts that a text model really worded for samples while a workflow is edited. They stand for all that ask the very
 * same; whoever changes what is asked sees that it is not tried yet.
 */
export const useTriedDrafts = defineStore('tried-drafts', () => {
  const session = useSession();
  const made = shallowRef<TriedDrafts>(new Map());
  /** What the text models counted, of all tries since Playa was opened. */
  const used = ref(0);
  /** How many are still to come of those that were asked for. */
  const left = ref(0);
  const trouble = ref('');
  let stopped = false;

  /** Has everything drafted that a definition would draft for these items. */
  async function tryFor(definition: Definition, world: World, items: readonly PastItem[]): Promise<void> {
    if (left.value > 0) return;
    stopped = false;
    trouble.value = '';
    try {
      for (let round = 0; round < ROUNDS; round++) {
        const keys = draftsAsked(definition, world, items, made.value).filter((key) => !made.value.has(key));
        left.value = keys.length;
        if (keys.length === 0) return;
        for (const key of keys) {
          if (stopped) return;
          const [outlet, input] = JSON.parse(key) as [number, ActInput<'draft'>];
          const drafted = await call('tryDraft', { brand: session.brandId }, { body: { outlet, input } });
          made.value = new Map(made.value).set(key, drafted);
          used.value += drafted.used ?? 0;
          left.value--;
        }
      }
    } catch (error) {
      trouble.value = (error as Error).message;
    } finally {
      left.value = 0;
    }
  }
  const stop = () => (stopped = true);
  return { made, used, left, trouble, busy: computed(() => left.value > 0), tryFor, stop };
});
