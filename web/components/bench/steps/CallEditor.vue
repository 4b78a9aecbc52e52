<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed, ref, shallowRef } from 'vue';
import type { Group } from '@playa/core/conditions/condition.ts';
import { CALL_METHODS } from '@playa/core/model/acts.ts';
import { compile } from '@playa/core/engine/program.ts';
import type { FieldValue } from '@playa/core/items/item.ts';
import { rehearseItem } from '@playa/core/rehearsal/rehearse.ts';
import { fieldsIn } from '@playa/core/shapes/catalogue.ts';
import { prepareStep, stepMakes } from '@playa/core/steps/index.ts';
import type { CallStep } from '@playa/core/steps/call.ts';
import { call } from '../../../lib/api.ts';
import { useEditor } from '../../../stores/editor.ts';
import { useSession } from '../../../stores/session.ts';
import ConditionGroup from '../../form/ConditionGroup.vue';
import FormRow from '../../form/FormRow.vue';
import LengthInput from '../../form/LengthInput.vue';
import NameInput from '../../form/NameInput.vue';
import SecretSelect from '../../form/SecretSelect.vue';
import WordsEditor from '../../form/WordsEditor.vue';
import KeptInput from '../../form/KeptInput.vue';
import { momentOf } from '@playa/core/rehearsal/virtual-run.ts';

const props = defineProps<{ step: CallStep }>();
const editor = useEditor();
const session = useSession();
const change = (what: (step: CallStep) => void, merge = '') => editor.changeStep<CallStep>(props.step.id, what, merge);

const firstSecret = computed(() => editor.world.secrets?.[0] ?? '');
const hasItem = computed(() => editor.chosenItem !== undefined);
const asking = ref(false);
const answer = shallowRef<{ status: number; body: FieldValue } | null>(null);
const wrong = ref('');

/** Asks the service for the chosen item, so that its answer's fields are known. This is really sent. */
async function tryNow() {
  const item = editor.chosenItem;
  if (!item) return;
  wrong.value = '';
  asking.value = true;
  try {
    const before = rehearseItem(compile(editor.definition, editor.world), item, momentOf(item));
    const texts = Object.values(before.trace).flatMap((cell) =>
      cell.kind === 'text' ? [[cell.name, cell.text] as const] : [],
    );
    const plan = prepareStep(props.step, editor.world).plan({
      item,
      fields: { ...item.fields, ...Object.fromEntries(texts) },
      now: Date.now(),
      chance: () => 0.5,
      gathered: () => [],
      tries: 0,
    });
    if (plan.go !== 'perform' || plan.effects[0]?.action !== 'call')
      throw new Error('The request is not complete yet; see “Worth a look”.');
    const result = await call('tryCall', { brand: session.brandId }, { body: plan.effects[0].input });
    answer.value = result;
    change((step) => (step.sample = result.body));
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    asking.value = false;
  }
}
const sampleText = computed(() => JSON.stringify(props.step.sample, null, 2));
function setSample(event: Event) {
  const { value } = event.target as HTMLTextAreaElement;
  try {
    const sample = JSON.parse(value) as FieldValue;
    wrong.value = '';
    change((step) => (step.sample = sample), 'sample');
  } catch (error) {
    wrong.value = `The example is not JSON: ${(error as Error).message}`;
  }
}
const setUntil = (until: Group, merge: string) =>
  change((step) => (step.again!.until = until), merge && `again ${merge}`);
function toggleAgain() {
  change((step) => {
    step.again = step.again
      ? null
      : {
          until: {
            type: 'group',
            match: 'all',
            items: [{ type: 'test', field: `${step.as}.status`, op: 'equals', value: 200 }],
          },
          every: 600,
          times: 6,
        };
  });
}
/** What can be asked about the answer. */
const answerFields = computed(() =>
  Object.entries(stepMakes({ ...props.step, off: false }, editor.world)).flatMap(([name, shape]) =>
    name.endsWith('.found')
      ? []
      : fieldsIn({ [name]: shape }).map((field) => ({ ...field, label: field.path.replaceAll('.', ' · ') })),
  ),
);
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Request">
      <select
        class="field"
        aria-label="Method"
        :value="step.method"
        @change="change((each) => (each.method = ($event.target as HTMLSelectElement).value as CallStep['method']))"
      >
        <option v-for="method in CALL_METHODS" :key="method">{{ method }}</option>
      </select>
      <WordsEditor
        class="min-w-48 flex-1"
        small
        first
        label="The address"
        placeholder="https://"
        :text="step.url"
        @change="change((each) => (each.url = $event), 'url')"
      />
    </FormRow>
    <FormRow label="Headers">
      <div v-for="(header, index) in step.headers" :key="index" class="flex w-full items-start gap-1.5">
        <KeptInput
          class="field w-32"
          :aria-label="`Name of header ${index + 1}`"
          placeholder="name"
          :value="header.name"
          @change="
            change(
              (each) =>
                (each.headers[index]!.name = ($event.target as HTMLInputElement).value.trim().replace(/\s/g, '-')),
            )
          "
        />
        <SecretSelect
          v-if="header.secret !== undefined"
          :secret="header.secret"
          @change="change((each) => (each.headers[index] = { name: header.name, secret: $event }))"
        />
        <WordsEditor
          v-else
          class="flex-1"
          small
          :label="`Value of header ${header.name}`"
          :text="header.value ?? ''"
          @change="change((each) => (each.headers[index]!.value = $event), `h${index}`)"
        />
        <button
          class="mt-1 rounded p-1 text-ink-3 hover:text-rose"
          :aria-label="`Leave out the header ${header.name}`"
          @click="change((each) => each.headers.splice(index, 1))"
        >
          <X :size="14" />
        </button>
      </div>
      <button class="btn btn-quiet px-1" @click="change((each) => each.headers.push({ name: '', value: '' }))">
        <Plus :size="13" /> a header
      </button>
      <button
        class="btn btn-quiet px-1"
        @click="change((each) => each.headers.push({ name: 'Authorization', secret: firstSecret }))"
      >
        <Plus :size="13" /> one with a secret
      </button>
    </FormRow>
    <FormRow v-if="step.method !== 'GET'" label="Body">
      <select
        class="field"
        aria-label="Form of the body"
        :value="step.body?.type ?? ''"
        @change="
          change((each) => {
            const type = ($event.target as HTMLSelectElement).value;
            each.body =
              type === ''
                ? null
                : {
                    type: type as 'json',
                    text: type === 'json' ? '{\n  &quot;title&quot;: &quot;{$title}&quot;\n}' : 'title={$title}',
                  };
          })
        "
      >
        <option value="">none</option>
        <option value="json">JSON</option>
        <option value="form">form</option>
      </select>
      <textarea
        v-if="step.body"
        class="field min-h-20 w-full font-mono text-sm"
        aria-label="The body"
        :value="step.body.text"
        @input="change((each) => (each.body!.text = ($event.target as HTMLTextAreaElement).value), 'body')"
      ></textarea>
      <p v-if="step.body" class="text-sm text-ink-3">
        {{
          step.body.type === 'json'
            ? 'Fields stand inside texts: "{$title}". A text that is only a field keeps its type.'
            : 'One name=value a line; fields as {$title}.'
        }}
      </p>
      <label class="flex items-center gap-1.5 text-ink-2"
        ><input
          type="checkbox"
          class="accent-(--sea)"
          :checked="step.keyed"
          @change="change((each) => (each.keyed = !each.keyed))"
        />
        the service ignores a repeated Idempotency-Key</label
      >
    </FormRow>
    <FormRow label="Answer" hint="Its fields are learned from an example; rehearsals take the example for the answer.">
      <button class="btn" :disabled="asking || !hasItem" @click="tryNow">
        {{ asking ? 'Asking …' : 'Ask once for this item' }}
      </button>
      <span class="text-sm text-ink-3">This one request is really sent.</span>
      <span v-if="answer" class="text-sm text-kelp">Answered {{ answer.status }}.</span>
      <KeptInput
        lines
        class="field min-h-16 w-full font-mono text-sm"
        aria-label="Example of the answer"
        :value="sampleText"
        @change="setSample"
      />
      <p v-if="wrong" role="alert" class="w-full text-sm text-rose">{{ wrong }}</p>
    </FormRow>
    <FormRow label="Ask again">
      <label class="flex items-center gap-1.5"
        ><input type="checkbox" class="accent-(--sea)" :checked="step.again !== null" @change="toggleAgain" /> until
        something holds</label
      >
      <template v-if="step.again">
        <span class="text-ink-3">every</span>
        <LengthInput
          :seconds="step.again.every"
          label="How often"
          @change="change((each) => (each.again!.every = Math.max(5, Math.round($event))), 'every')"
        />
        <span class="text-ink-3">at most</span>
        <KeptInput
          type="number"
          min="2"
          max="1000"
          class="field w-16"
          aria-label="At most so many times"
          :value="step.again.times"
          @change="
            change(
              (each) =>
                (each.again!.times = Math.min(
                  1000,
                  Math.max(2, Number(($event.target as HTMLInputElement).value) || 2),
                )),
            )
          "
        /><span class="text-ink-3">times</span>
        <ConditionGroup
          class="w-full"
          :group="step.again.until"
          :fields="answerFields"
          :depth="0"
          path="again"
          @change="setUntil"
        />
      </template>
    </FormRow>
    <FormRow label="Not found" hint="No such thing there (404), or asking again led to nothing.">
      <select
        class="field"
        aria-label="When it is not found"
        :value="step.whenNot"
        @change="change((each) => (each.whenNot = ($event.target as HTMLSelectElement).value as CallStep['whenNot']))"
      >
        <option value="on">go on, knowing so</option>
        <option value="stop">stop</option>
        <option value="hold">ask me</option>
      </select>
    </FormRow>
    <NameInput :name="step.as" what="the answer" @change="change((each) => (each.as = $event))" />
  </div>
</template>
