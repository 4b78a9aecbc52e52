<script setup lang="ts">
import { computed, ref } from 'vue';
import { placeOf } from '@playa/core/workflow/tree.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { webHref } from '../../lib/links.ts';
import { shortMoment } from '../../lib/times.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useNotices } from '../../stores/notices.ts';
import DeedsList from '../form/DeedsList.vue';
import { useSession } from '../../stores/session.ts';
import ModalDialog from '../form/ModalDialog.vue';

// What can be done with a whole run: end it, or run it again from the chosen step.
const props = defineProps<{ run: HappenedRun }>();
const emit = defineEmits<{ decided: [] }>();
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const { busy, attempt } = useAttempt(notices.wrong);
interface Sent {
  step: string;
  action: string;
  outlet: string | null;
  at: number;
  url: string | null;
}
/** What running again would send a second time; shown before it is done. */
const again = ref<Sent[] | null>(null);

const open = computed(() => ['new', 'waiting', 'held'].includes(props.run.status));
const step = computed(() => placeOf(editor.definition, editor.row));
const canRerun = computed(
  () => !props.run.thinned && props.run.status !== 'new' && step.value !== undefined && step.value.each.length === 0,
);

async function act(what: () => Promise<unknown>, said: string) {
  await attempt(async () => {
    await what();
    again.value = null;
    notices.say(said);
    emit('decided');
  });
}
const cancel = () =>
  act(() => call('cancelRun', { brand: session.brandId, id: props.run.id }), 'Ended. What was not sent is not sent.');
async function ask() {
  try {
    again.value = (await call('previewRerun', { brand: session.brandId, id: props.run.id, step: editor.row })).sent;
  } catch (error) {
    notices.wrong(error);
  }
}
const rerun = () =>
  act(
    () => call('rerun', { brand: session.brandId, id: props.run.id }, { body: { from: editor.row } }),
    `Running again from step ${editor.numberOf(editor.row)}.`,
  );
</script>

<template>
  <div class="mb-2 flex flex-wrap items-center gap-2">
    <button v-if="open" class="btn" :disabled="busy" @click="cancel">End this run</button>
    <button v-if="canRerun" class="btn" :disabled="busy" @click="ask">
      Run again from step {{ editor.numberOf(editor.row) }} …
    </button>
    <span v-if="run.version !== editor.workflow?.liveVersion" class="text-sm text-ink-3"
      >on version {{ run.version }}</span
    >
    <DeedsList class="w-full text-sm text-ink-2" :deeds="run.done" :zone="session.zone" />
    <ModalDialog v-if="again" :title="`Run again from step ${editor.numberOf(editor.row)}`" @close="again = null">
      <p v-if="again.length === 0" class="my-3">
        Nothing of this run has been sent from here on, so nothing goes out twice.
      </p>
      <template v-else>
        <p class="my-3 text-rose"><b>This would be sent a second time:</b></p>
        <ul class="mb-3 max-h-60 list-disc overflow-auto pl-5">
          <li v-for="(each, index) in again" :key="index">
            step {{ editor.numberOf(each.step) || 'gone' }}: {{ each.action }}
            <template v-if="each.outlet">at {{ each.outlet }}</template
            >, {{ shortMoment(each.at, session.zone) }}
            <a v-if="each.url" :href="webHref(each.url)" target="_blank" rel="noreferrer" class="link">see it</a>
          </li>
        </ul>
      </template>
      <template #actions>
        <button class="btn" :class="again.length > 0 && 'btn-main'" @click="again = null">Leave it</button>
        <button class="btn" :class="again.length === 0 && 'btn-main'" :disabled="busy" @click="rerun">
          {{ again.length ? 'Send it again' : 'Run again' }}
        </button>
      </template>
    </ModalDialog>
  </div>
</template>
