<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { call } from '../lib/api.ts';
import { useAttempt } from '../lib/attempt.ts';
import { shortMoment } from '../lib/times.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import ModalDialog from './form/ModalDialog.vue';

// A paused workflow goes on. What appeared meanwhile is kept: how much of it is taken is asked.
const props = defineProps<{ workflow: { id: number; name: string; pausedBecause?: string | null } }>();
const emit = defineEmits<{ close: []; resumed: [] }>();
const session = useSession();
const notices = useNotices();

type Take = 'none' | 'all' | 'last' | 'since';
const missed = ref<{ id: number; title: string; at: number }[]>();
const pausedAt = ref<number | null>(null);
const take = ref<Take>('none');
const last = ref(1);
const since = ref(0);
const every = ref(10);
const { busy, trouble: wrong, attempt } = useAttempt();

onMounted(async () => {
  try {
    const answer = await call('listMissed', { brand: session.brandId, id: props.workflow.id });
    missed.value = answer.missed;
    pausedAt.value = answer.pausedAt;
    since.value = answer.missed[0]?.at ?? 0;
  } catch (error) {
    wrong.value = (error as Error).message;
  }
});
const all = computed(() => missed.value ?? []);
const chosen = computed(() => {
  if (take.value === 'all') return all.value;
  if (take.value === 'last') return last.value > 0 ? all.value.slice(-last.value) : [];
  return take.value === 'since' ? all.value.filter((item) => item.at >= since.value) : [];
});
const things = (count: number) => (count === 1 ? '1 thing' : `${count} things`);

async function resume() {
  await attempt(async () => {
    const { taken } = await call(
      'resumeWorkflow',
      { brand: session.brandId, id: props.workflow.id },
      {
        body: {
          take: take.value,
          last: last.value,
          since: since.value,
          every: every.value,
        },
      },
    );
    notices.say(
      `“${props.workflow.name}” goes on${taken ? `, and takes ${things(taken)} from the pause` : ' from now'}.`,
    );
    emit('resumed');
  });
}
</script>

<template>
  <ModalDialog :title="`Let “${workflow.name}” go on`" @close="emit('close')">
    <p v-if="workflow.pausedBecause" class="mt-1 text-rose">{{ workflow.pausedBecause }}</p>
    <p v-if="missed === undefined && !wrong" class="mt-2 text-ink-3">Looking at what appeared meanwhile …</p>
    <p v-else-if="all.length === 0" class="mt-2 text-ink-2">
      Nothing appeared while it was paused. What was under way goes on.
    </p>
    <fieldset v-else class="mt-3 grid gap-2">
      <legend class="mb-1">
        <b>{{ things(all.length) }}</b> appeared while it was paused<template v-if="pausedAt"
          >, since {{ shortMoment(pausedAt, session.zone) }}</template
        >. It takes
      </legend>
      <label class="flex items-center gap-2"
        ><input v-model="take" type="radio" value="none" class="accent-(--sea)" />
        {{ all.length === 1 ? 'not that' : 'none of them' }}, only what appears from now on</label
      >
      <label class="flex items-center gap-2"
        ><input v-model="take" type="radio" value="all" class="accent-(--sea)" />
        {{ all.length === 1 ? `“${all[0]!.title}”` : `all ${all.length}` }}</label
      >
      <label v-if="all.length > 1" class="flex items-center gap-2"
        ><input v-model="take" type="radio" value="last" class="accent-(--sea)" /> the last
        <input
          v-model.number="last"
          type="number"
          min="1"
          :max="all.length"
          class="field w-16"
          aria-label="How many of the last"
          @focus="take = 'last'"
      /></label>
      <label v-if="all.length > 1" class="flex flex-wrap items-center gap-2"
        ><input v-model="take" type="radio" value="since" class="accent-(--sea)" /> everything since
        <select v-model.number="since" class="field max-w-72" aria-label="Since which" @focus="take = 'since'">
          <option v-for="item in all" :key="item.id" :value="item.at">
            {{ shortMoment(item.at, session.zone) }} · {{ item.title }}
          </option>
        </select></label
      >
      <label v-if="chosen.length > 1" class="flex items-center gap-2 text-ink-2"
        >one every
        <input v-model.number="every" type="number" min="0" class="field w-16" aria-label="Minutes between two" />
        min</label
      >
      <ul v-if="chosen.length" class="max-h-40 overflow-auto rounded-(--radius) bg-paper px-3 py-2">
        <li v-for="item in chosen" :key="item.id" class="flex gap-2">
          <span class="truncate">{{ item.title }}</span><span class="ml-auto shrink-0 text-ink-3">{{
            shortMoment(item.at, session.zone)
          }}</span>
        </li>
      </ul>
    </fieldset>
    <p v-if="wrong" role="alert" class="mt-2 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <template #actions>
      <button class="btn" @click="emit('close')">Stay paused</button>
      <button class="btn btn-main" :disabled="busy || missed === undefined" @click="resume">
        {{ busy ? 'Looking at the source …' : chosen.length ? `Go on and take ${things(chosen.length)}` : 'Go on' }}
      </button>
    </template>
  </ModalDialog>
</template>
