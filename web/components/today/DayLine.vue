<script setup lang="ts">
import { Check } from '@lucide/vue';
import { DateTime } from 'luxon';
import { computed } from 'vue';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { webHref } from '../../lib/links.ts';
import { clockTime, shortMoment } from '../../lib/times.ts';
import type { Today } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';

// The line of the day: for each outlet, what went out and what goes next.
const props = defineProps<{ today: Today }>();
const session = useSession();
const zone = computed(() => session.zone);
const lines = computed(() =>
  props.today.outlets.map((outlet) => ({
    ...outlet,
    went: props.today.went
      .filter((entry) => entry.outletId === outlet.id)
      .slice(0, 3)
      .reverse(),
    weekly: props.today.went.filter((entry) => entry.outletId === outlet.id && !entry.deleted).length,
    coming: props.today.coming.filter((entry) => entry.outlet === outlet.id).slice(0, 3),
  })),
);
/** What an outlet published in the last seven days, in the logbook. */
const weekOf = (outlet: number) => ({
  name: 'logbook',
  params: { brand: session.brandId },
  query: {
    outlet: String(outlet),
    sort: 'posts',
    from: DateTime.fromMillis(props.today.now, { zone: zone.value }).minus({ days: 7 }).toISODate()!,
  },
});
</script>

<template>
  <section class="sheet overflow-x-auto" aria-labelledby="line">
    <h2 id="line" class="border-b border-line px-4 py-2">The line of the day</h2>
    <table class="w-full min-w-[640px] table-fixed">
      <thead class="text-left text-sm text-ink-3">
        <tr class="border-b border-line">
          <th class="w-44 px-4 py-1 font-normal">outlet</th>
          <th class="px-3 py-1 font-normal">went out</th>
          <th class="w-16 border-x-2 border-sea bg-sea-wash px-1 py-1 text-center font-[650] text-sea">
            {{ clockTime(today.now, zone) }}
          </th>
          <th class="w-[34%] px-3 py-1 font-normal">goes next</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in lines" :key="line.id" class="border-b border-line align-top last:border-0">
          <th scope="row" class="px-4 py-2 text-left">
            <a
              v-if="line.address"
              :href="webHref(line.address)"
              target="_blank"
              rel="noreferrer"
              class="inline-block leading-6 no-underline hover:underline"
              >{{ line.name }}</a
            >
            <div class="text-sm font-normal text-ink-3">
              {{ KIND_RULES[line.kind].short }} ·
              <RouterLink class="inline-block leading-6 hover:underline" :to="weekOf(line.id)"
                >{{ line.weekly }} this week</RouterLink
              >
            </div>
          </th>
          <td class="px-3 py-2">
            <p v-if="line.went.length === 0" class="text-ink-3">Nothing this week</p>
            <p v-for="entry in line.went" :key="entry.id" class="truncate">
              <Check :size="13" class="mr-1 inline text-kelp" aria-label="posted" /><b>{{
                shortMoment(entry.at, zone, today.now)
              }}</b>
              <span v-if="entry.deleted" class="text-amber">deleted</span>&nbsp;<a
                v-if="entry.url && !entry.deleted"
                :href="webHref(entry.url)"
                target="_blank"
                rel="noreferrer"
                >{{ entry.text }}</a
              ><template v-else>{{ entry.text }}</template>
            </p>
          </td>
          <td class="border-x-2 border-sea bg-sea-wash"></td>
          <td class="px-3 py-2">
            <p v-if="line.coming.length === 0" class="text-ink-3">
              {{ line.fed ? 'as soon as something appears' : 'no live workflow posts here' }}
            </p>
            <p v-for="entry in line.coming" :key="entry.at + entry.title" class="truncate">
              <b>{{ shortMoment(entry.at, zone, today.now) }}</b> {{ entry.title
              }}<span v-if="entry.waits" class="text-amber">, once its account is connected again</span
              ><span v-else-if="!entry.sure" class="text-ink-3">, if its steps let it through</span>
            </p>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
