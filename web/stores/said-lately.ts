// What was said lately, by other workflows, where a draft publishes.
import { shallowRef, type Ref } from 'vue';
import type { RecentPost } from '@playa/core/rehearsal/summary.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { outletsUsed } from '@playa/core/workflow/uses.ts';
import { call } from '../lib/api.ts';
import type { Params } from '../lib/endpoint-types.ts';

/** @param of which workflow does not count; null for none */
export function saidLately(definition: Ref<Definition>, of: () => Params<'openWorkflow'> | null) {
  const recent = shallowRef<RecentPost[]>([]);
  /** Of which outlets it is known. */
  let known = '';
  const outlets = () => [...outletsUsed(definition.value)].sort((a, b) => a - b).join();
  return {
    recent,
    async loadRecent(): Promise<void> {
      const workflow = of();
      if (!workflow) return;
      const asked = outlets();
      known = asked;
      if (asked === '') return void (recent.value = []);
      const query = { outlets: asked, except: workflow.id };
      const { posts } = await call('saidLately', { brand: workflow.brand }, { query });
      // It publishes elsewhere by now: whoever changed that has asked again.
      if (known === asked) recent.value = posts;
    },
    /** Whether the draft publishes elsewhere than what is known is of. */
    isElsewhere: () => outlets() !== known,
  };
}
