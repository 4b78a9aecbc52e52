<script setup lang="ts">
import { Bell, Check, CircleAlert } from '@lucide/vue';
import { DateTime } from 'luxon';
import { until } from '@vueuse/core';
import { computed, nextTick, onMounted } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import DayLine from '../components/today/DayLine.vue';
import AppearedList from '../components/today/AppearedList.vue';
import HeldList from '../components/today/HeldList.vue';
import { call } from '../lib/api.ts';
import { ago, shortMoment, zoneNote } from '../lib/times.ts';
import { everyPage } from '../lib/pages.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import { useResource } from '../stores/resource.ts';

const session = useSession();
const route = useRoute();
const router = useRouter();
const notices = useNotices();
const {
  data: today,
  trouble,
  load,
} = useResource('openToday', () => ({ brand: session.brandId }), {
  topics: ['runs', 'items', 'accounts', 'workflows', 'watches'],
});
// From elsewhere somebody comes for one thing that is held.
onMounted(async () => {
  await until(() => today.value !== undefined).toBe(true);
  await nextTick();
  const run = /^#held-(\d+)$/.exec(route.hash)?.[1];
  if (run) document.querySelector(`[data-run="${run}"]`)?.scrollIntoView({ block: 'center' });
});

const zone = computed(() => session.zone);
const needs = computed(() =>
  today.value
    ? today.value.waits +
      today.value.approvals.length +
      today.value.accounts.length +
      today.value.watches.length +
      today.value.notices.length +
      today.value.aside.length
    : 0,
);
const heading = computed(() =>
  DateTime.fromMillis(today.value?.now ?? Date.now(), { zone: zone.value, locale: 'en' }).toFormat('cccc, d LLLL'),
);
const started = computed(() => today.value && today.value.outlets.length > 0);

async function putAway(id: number) {
  try {
    await call('putNoticeAway', { brand: session.brandId, id });
    await load();
  } catch (error) {
    notices.wrong(error);
  }
}

/** What Playa could not take, by what it was. */
const ASIDE = {
  delivery: 'Something was sent that could not be taken',
  item: 'Something appeared that could not be taken',
  act: 'Something could not be done',
} as const;

async function putAsideAway(id: number) {
  try {
    await call('putAsideAway', { brand: session.brandId, id });
    await load();
  } catch (error) {
    notices.wrong(error);
  }
}

async function reconnect(id: number) {
  try {
    const [known, pages] = await Promise.all([
      call('listNetworks', { brand: session.brandId }),
      everyPage('listAccounts', { brand: session.brandId }),
    ]);
    const kind = pages.flatMap((page) => page.accounts).find((account) => account.id === id)?.kind;
    if (!kind) return notices.wrong('This account is no longer there.');
    // A key is handed over where the accounts are.
    if (known.networks.find((network) => network.kind === kind)?.signIn.by === 'form')
      return void (await router.push({
        name: 'accounts',
        params: { brand: session.brandId },
        query: { connect: kind },
      }));
    const { url } = await call(
      'beginConnect',
      { brand: session.brandId },
      {
        body: {
          kind,
          backTo: `/${session.brandId}/today`,
        },
      },
    );
    window.location.assign(url);
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <div class="mx-auto max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-baseline gap-x-3">
      <h1 class="text-xl">{{ heading }}</h1>
      <span class="text-ink-2">{{ zoneNote(zone) }}</span>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load">Try again</button>
    </p>
    <template v-if="today">
      <section class="sheet mb-4" aria-labelledby="needs">
        <h2 id="needs" class="flex items-center gap-2 border-b border-line px-4 py-2">
          Needs you <span v-if="needs" class="pill bg-rose-wash text-rose">{{ needs }}</span>
        </h2>
        <p v-if="needs === 0" class="flex items-center gap-2 px-4 py-3 text-kelp">
          <Check :size="15" /> Nothing waits for you.
        </p>
        <HeldList :held="today.held" @decided="load" />
        <div
          v-for="post in today.approvals"
          :key="'post' + post.post"
          class="flex flex-wrap items-baseline gap-x-2 gap-y-1 border-b border-line px-4 py-2.5 last:border-0"
        >
          <CircleAlert :size="14" class="translate-y-0.5 text-amber" aria-hidden="true" />
          <span class="min-w-0 flex-1 break-words"
            ><b>{{ post.title }}</b
            ><span class="text-ink-2">
              waits for your yes<template v-if="post.by">, written by {{ post.by }}</template
              ><template v-if="post.at">, for {{ shortMoment(post.at, zone) }}</template></span
            ></span
          >
          <RouterLink class="btn no-underline" :to="{ name: 'post', params: { brand: session.brandId, id: post.post } }"
            >Look at it</RouterLink
          >
        </div>
        <p v-if="today.waits > today.held.length" class="border-b border-line px-4 py-2.5 text-ink-3">
          These {{ today.held.length }} have waited longest; {{ today.waits - today.held.length }} more come up as you
          decide.
        </p>
        <div
          v-for="notice in today.notices"
          :key="'notice' + notice.id"
          class="flex flex-wrap items-baseline gap-x-2 gap-y-1 border-b border-line px-4 py-2.5 last:border-0"
        >
          <Bell :size="14" class="translate-y-0.5 text-sea" aria-hidden="true" />
          <span class="min-w-0 flex-1 break-words">{{ notice.text }}</span>
          <span class="text-sm text-ink-3"
            ><RouterLink
              v-if="notice.workflowId"
              :to="{
                name: 'run-sheet',
                params: { brand: session.brandId, id: notice.workflowId },
                query: { reading: 'happened' },
              }"
              >{{ notice.workflow }}</RouterLink
            >
            {{ shortMoment(notice.at, zone) }}</span
          >
          <button class="btn" @click="putAway(notice.id)">Put away</button>
        </div>
        <div
          v-for="thing in today.aside"
          :key="'aside' + thing.id"
          role="group"
          :aria-label="thing.what"
          class="flex flex-wrap items-baseline gap-x-2 gap-y-1 border-b border-line px-4 py-2.5 last:border-0"
        >
          <CircleAlert :size="14" class="translate-y-0.5 text-amber" aria-hidden="true" />
          <span class="min-w-0 flex-1 break-words"
            ><b
              >{{ ASIDE[thing.kind] }}<template v-if="thing.source"> at {{ thing.source }}</template></b
            ><span class="text-ink-2">
              · {{ thing.why }}<template v-if="thing.kind === 'delivery'"> Whoever sent it was told so.</template></span
            ><code class="mt-0.5 line-clamp-2 block text-sm break-all text-ink-3">{{ thing.what }}</code></span
          >
          <span class="text-sm text-ink-3">{{ shortMoment(thing.at, zone) }}</span>
          <button class="btn" @click="putAsideAway(thing.id)">Put away</button>
        </div>
        <div
          v-for="account in today.accounts"
          :key="'account' + account.id"
          class="flex flex-wrap items-center gap-2 border-b border-line px-4 py-2.5 last:border-0"
        >
          <span class="min-w-0 flex-1"
            ><CircleAlert :size="14" class="mr-1 inline text-rose" aria-hidden="true" /><b>{{ account.name }}</b
            ><span class="text-ink-2">
              · {{ account.says
              }}<template v-if="account.waiting">
                {{ account.waiting === 1 ? '1 post waits' : `${account.waiting} posts wait` }} for it.</template
              ></span
            ></span
          >
          <button class="btn btn-main" @click="reconnect(account.id)">Connect again</button>
        </div>
        <div
          v-for="source in today.watches"
          :key="'watch' + source.id"
          class="border-b border-line px-4 py-2.5 last:border-0"
        >
          <CircleAlert :size="14" class="mr-1 inline text-amber" aria-hidden="true" /><b>{{ source.name }}</b
          ><span class="text-ink-2">
            cannot be looked at: {{ source.says }} Playa keeps trying<template v-if="source.since"
              >; it last worked {{ ago(source.since, today.now) }}</template
            >.</span
          >
        </div>
      </section>

      <div v-if="!started" class="sheet mb-4 px-4 py-6">
        <h2 class="mb-1 text-lg">Begin here</h2>
        <p class="mb-3 max-w-prose text-ink-2">
          Once a workflow publishes somewhere, this page shows what went out, what goes next and what needs you. First
          connect an account that may post, then make a workflow.
        </p>
        <RouterLink :to="{ name: 'accounts', params: { brand: session.brandId } }" class="btn btn-main no-underline"
          >Connect an account</RouterLink
        >
      </div>

      <div class="grid items-start gap-4 lg:grid-cols-[1fr_340px]">
        <DayLine v-if="started" :today="today" />
        <AppearedList :items="today.appeared" :now="today.now" @taken="load" />
      </div>
    </template>
    <p v-else-if="!trouble" class="text-ink-3">Loading …</p>
  </div>
</template>
