<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed, onMounted, ref } from 'vue';
import type { z } from 'zod';
import { LANGUAGES } from '@playa/core/said/language.ts';
import {
  MOST_FACTS,
  tooManyFacts,
  usualVoice,
  voiceSchema,
  type PlaceVoice,
  type Voice,
} from '@playa/core/voice/voice.ts';
import { call } from '../../lib/api.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { useSendForm } from '../../lib/form.ts';
import type { Answer } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import ChooseOne from '../form/ChooseOne.vue';
import FormField from '../form/FormField.vue';
import LinesField from '../form/LinesField.vue';
import { LANGUAGE_CHOICES, placeChoices } from './choices.ts';
import ModalDialog from '../form/ModalDialog.vue';

// How the brand sounds when it answers: told to text models, and held against what they word.
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const notices = useNotices();
const opened = ref<Answer<'openVoice'>>();
const { stale, isStale } = useStale();
/** The revision that the voice here is put over. */
let over = '';

const form = useSendForm<Voice, Voice>({
  // Whole, it is no longer than a model can be told.
  schema: (voiceSchema as z.ZodType<Voice, Voice>).superRefine((voice, context) => {
    for (const outlet of tooManyFacts(voice).slice(0, 1)) {
      const where = outlet === null ? 'These' : `The facts of ${nameOf(outlet)}, with these,`;
      const message = `${where} are too long to be told at once: ${MOST_FACTS} characters at most.`;
      context.addIssue({ code: 'custom', path: ['facts'], message });
    }
  }),
  values: usualVoice('en'),
  send: async (voice) => {
    await call('keepVoice', { brand: session.brandId }, { body: { voice, revision: over } });
    notices.say('Kept. What is drafted from now on is worded and checked by it.');
    emit('close');
  },
  known: isStale,
});
const { busy, trouble, changed, values: voice } = form;

async function load() {
  stale.value = undefined;
  try {
    const answer = await call('openVoice', { brand: session.brandId });
    over = answer.revision;
    form.reset(answer.voice);
    opened.value = answer;
  } catch (error) {
    trouble.value = (error as Error).message;
  }
}
onMounted(load);
function keepMine() {
  over = stale.value!.current;
  stale.value = undefined;
  return form.submit();
}
const valueOf = (event: Event) => (event.target as HTMLInputElement).value;
const freePlaces = computed(() =>
  placeChoices(opened.value?.outlets.filter(({ id }) => !voice.value.places.some((each) => each.outlet === id))),
);
const freeLanguages = computed(() => LANGUAGE_CHOICES.filter(({ value }) => !voice.value.languages.includes(value)));
const nameOf = (outlet: number) =>
  opened.value?.outlets.find(({ id }) => id === outlet)?.name ?? 'A place that is gone';
const setPlace = (outlet: number, change: Partial<PlaceVoice>) =>
  form.set(
    'places',
    voice.value.places.map((each) => (each.outlet === outlet ? { ...each, ...change } : each)),
  );
</script>

<template>
  <ModalDialog title="How we answer" width="large" :busy="busy" :unsaved="changed" @close="emit('close')">
    <p class="mt-1 text-ink-2">
      What text models are told when they draft an answer, and what every draft is held against. A draft that breaks it
      is drafted once more; then it waits for a person, with the reason.
    </p>
    <p v-if="trouble" role="alert" class="mt-2 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ trouble }}</p>
    <div v-if="opened" class="voice mt-3 grid gap-x-5 gap-y-3">
      <p v-if="opened.models.length === 0" class="wide rounded-(--radius) bg-amber-wash px-3 py-2">
        No text model is connected yet, so nothing can be drafted.
        <RouterLink class="link" :to="{ name: 'accounts' }">Connect one</RouterLink>
      </p>
      <FormField class="wide" :form="form" name="tone" label="Tone" :maxlength="1000" />
      <FormField v-slot="{ bind, value, change }" :form="form" name="does" label="It does" hint="a line each">
        <LinesField v-bind="bind" :lines="value as string[]" @change="change" />
      </FormField>
      <FormField v-slot="{ bind, value, change }" :form="form" name="never" label="It never does" hint="a line each">
        <LinesField v-bind="bind" :lines="value as string[]" @change="change" />
      </FormField>
      <FormField
        v-slot="{ bind, value, change }"
        :form="form"
        name="facts"
        label="Facts it may tell"
        hint="a line each; no other address, telephone number or price may be in an answer"
      >
        <LinesField v-bind="bind" :lines="value as string[]" @change="change" />
      </FormField>
      <FormField
        :form="form"
        name="promises"
        label="Words that promise something"
        hint="separated by commas; a draft with one of them waits for a person"
        :maxlength="1000"
        :lines="4"
      />
      <FormField :form="form" name="signOff" label="Signed with" placeholder="nothing" :maxlength="300" :lines="2" />
      <FormField v-slot="{ bind, value, change }" :form="form" name="longest" label="Characters at most">
        <input
          v-bind="bind"
          class="field w-28"
          type="number"
          min="40"
          max="5000"
          :value="value as number"
          @input="change(Number(valueOf($event)))"
        />
      </FormField>
      <fieldset class="wide">
        <legend>Languages</legend>
        <p class="flex flex-wrap items-center gap-1.5">
          <span v-for="(code, index) in voice.languages" :key="code" class="pill flex items-center gap-1 bg-sea-wash">
            {{ LANGUAGES[code] ?? code }}<template v-if="index === 0"> (where theirs is none of these)</template>
            <button
              v-if="voice.languages.length > 1"
              class="hover:text-rose"
              :aria-label="`Without ${LANGUAGES[code] ?? code}`"
              @click="
                form.set(
                  'languages',
                  voice.languages.filter((each) => each !== code),
                )
              "
            >
              <X :size="12" />
            </button>
          </span>
          <ChooseOne
            label="Another language"
            any="another …"
            :options="freeLanguages"
            :value="undefined"
            @change="$event && form.set('languages', [...voice.languages, $event])"
          />
        </p>
      </fieldset>
      <fieldset class="wide grid gap-2">
        <legend>Otherwise at single places</legend>
        <section
          v-for="place in voice.places"
          :key="place.outlet"
          :aria-label="nameOf(place.outlet)"
          class="voice grid gap-x-5 gap-y-2 rounded-(--radius) border border-line bg-paper px-3 py-2"
        >
          <p class="wide flex items-center gap-2">
            <b class="flex-1">{{ nameOf(place.outlet) }}</b>
            <button
              class="p-1 hover:text-rose"
              :aria-label="`As everywhere at ${nameOf(place.outlet)}`"
              @click="
                form.set(
                  'places',
                  voice.places.filter((each) => each !== place),
                )
              "
            >
              <X :size="14" />
            </button>
          </p>
          <label class="wide"
            >Called
            <input
              class="field"
              maxlength="120"
              :placeholder="nameOf(place.outlet)"
              :value="place.name ?? ''"
              @change="setPlace(place.outlet, { name: valueOf($event).trim() || undefined })"
            />
          </label>
          <label
            >Signed with
            <input
              class="field"
              maxlength="300"
              :placeholder="voice.signOff || 'nothing'"
              :value="place.signOff ?? ''"
              @change="setPlace(place.outlet, { signOff: valueOf($event).trim() || undefined })"
            />
          </label>
          <label
            >Tone
            <input
              class="field"
              maxlength="1000"
              placeholder="as everywhere"
              :value="place.tone ?? ''"
              @change="setPlace(place.outlet, { tone: valueOf($event).trim() || undefined })"
            />
          </label>
          <label class="wide"
            >Facts besides
            <LinesField :lines="place.facts ?? []" @change="setPlace(place.outlet, { facts: $event })" />
            <span class="text-sm text-ink-3">a line each</span>
          </label>
        </section>
        <p class="flex items-center gap-1.5 text-ink-2">
          <Plus :size="14" />
          <ChooseOne
            label="Another place"
            any="a place …"
            :options="freePlaces"
            :value="undefined"
            @change="$event && form.set('places', [...voice.places, { outlet: Number($event) }])"
          />
        </p>
      </fieldset>
    </div>
    <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="load" @mine="keepMine" />
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" :disabled="busy || !changed || stale !== undefined" @click="form.submit()">
        Keep it
      </button>
    </template>
  </ModalDialog>
</template>

<style scoped>
.voice {
  grid-template-columns: repeat(2, minmax(0, 1fr));
}
.voice :deep(label),
.voice legend {
  display: grid;
  align-content: start;
  gap: 3px;
  font-weight: 650;
}
.voice :deep(.field) {
  font-weight: 400;
}
.voice :deep(label > span) {
  font-weight: 400;
}
.wide {
  grid-column: 1 / -1;
}
@media (max-width: 640px) {
  .voice {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
