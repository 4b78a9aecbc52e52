<script setup lang="ts">
import { computed } from 'vue';
import type { RouteLocationRaw } from 'vue-router';
import { call } from '../../lib/api.ts';
import type { Sent } from '../../lib/endpoint-types.ts';
import type { OpenedCalendar, PostOnShelf } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

// What has no time: posts by hand that lack something or wait for a yes, and what waits for a person.
const props = defineProps<{ calendar: OpenedCalendar }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const notices = useNotices();
const outletOf = (id: number) => props.calendar.outlets.find((each) => each.id === id);
/** What waits for a person, by what is missing. */
const shelf = computed(() => {
  const groups = new Map<string, ShelfThing[]>();
  const put = (name: string, thing: ShelfThing) => groups.set(name, [...(groups.get(name) ?? []), thing]);
  for (const each of props.calendar.shelf) put(shelfOf(each), ofPost(each));
  for (const thing of props.calendar.held)
    put(SHELF[thing.trouble] ?? 'Something went wrong', {
      key: `${thing.runId}.${thing.key}`,
      title: thing.title,
      where: `${outletOf(thing.outlet)?.name ?? ''} · ${thing.post === null ? thing.workflow : 'by hand'}`,
      says: thing.says,
      to: { name: 'today', params: { brand: session.brandId }, hash: `#held-${thing.runId}` },
    });
  return [...groups];
});
/** Something on the shelf, and where it is seen to. */
interface ShelfThing {
  key: string;
  title: string;
  where: string;
  says: string;
  to: RouteLocationRaw;
}
const postAt = (id: number) => ({ name: 'post', params: { brand: session.brandId, id } });
const ofPost = ({ post, title, outlets: to, missing }: PostOnShelf): ShelfThing => ({
  key: `post ${post}`,
  title: title || 'without words yet',
  where: to.map((id) => outletOf(id)?.name ?? '').join(', ') || 'nowhere yet',
  says: missing.map(({ says }) => says).join(' '),
  to: postAt(post),
});
/** Posts by hand by what keeps them. */
function shelfOf({ stage, missing }: PostOnShelf): string {
  if (stage === 'approval') return 'Waits for a yes';
  if (stage === 'idea') return 'Ideas';
  if (stage === 'ended') return 'Ended';
  const [first] = missing;
  return first?.what === 'words' ? 'No words yet' : first?.what === 'outlet' ? 'Nowhere to go yet' : 'No time yet';
}
const SHELF: Readonly<Record<string, string>> = {
  empty: 'Something is missing',
  'too-long': 'Words too long',
  asks: 'Waits for a yes',
  outdated: 'Overtaken',
  date: 'When is not known',
  'no-outlet': 'The outlet is gone',
};

async function setApproval(event: Event) {
  try {
    await call(
      'keepApproval',
      { brand: session.brandId },
      { body: { by: (event.target as HTMLSelectElement).value as Sent<'keepApproval'>['body']['by'] } },
    );
    notices.say('Kept. What was planned already goes out as it is.');
  } catch (error) {
    notices.wrong(error);
  }
  emit('changed');
}
</script>

<template>
  <section class="sheet p-3" aria-label="Without a time">
    <h2 class="mb-2 font-[650]">
      Without a time
      <span class="font-normal text-ink-3">{{ calendar.held.length + calendar.shelf.length }}</span>
    </h2>
    <p v-if="shelf.length === 0" class="text-sm text-ink-3">Nothing waits for anybody.</p>
    <template v-for="[name, things] in shelf" :key="name">
      <h3 class="mt-2 mb-1 text-sm text-amber">{{ name }}</h3>
      <RouterLink
        v-for="thing in things"
        :key="thing.key"
        :to="thing.to"
        class="mb-1 block rounded-[5px] border border-l-[3px] border-line border-l-amber px-2 py-1 text-sm leading-tight no-underline"
        :title="thing.says"
        ><span class="line-clamp-2 text-ink">{{ thing.title }}</span
        ><span class="text-ink-3">{{ thing.where }}</span></RouterLink
      >
    </template>
    <label class="mt-3 block border-t border-line pt-2 text-sm text-ink-3"
      >Posts by hand go out
      <select
        class="field mt-1 w-full"
        aria-label="Who says yes to posts by hand"
        :value="calendar.approves"
        @change="setApproval"
      >
        <option value="nobody">without a yes</option>
        <option value="anybody">once somebody said yes</option>
        <option value="another">once a colleague said yes</option>
      </select>
    </label>
  </section>
</template>
