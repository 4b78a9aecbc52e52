<script setup lang="ts">
import { Copy } from '@lucide/vue';
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import type { FieldValue, Fields } from '@playa/core/items/item.ts';
import type { JsonSchema } from '@playa/core/items/json-schema.ts';
import type { Answer } from '../../lib/types.ts';
import { shortMoment } from '../../lib/times.ts';
import { call } from '../../lib/api.ts';
import { ago } from '../../lib/times.ts';
import { onChanges } from '../../stores/changes.ts';
import { useEditor } from '../../stores/editor.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import KeptInput from '../form/KeptInput.vue';
import ChooseOne from '../form/ChooseOne.vue';
import HookSchema from './HookSchema.vue';

// A web hook: its secret address, what has come, the fields learned from it and their names, and a sender for trying.
const props = defineProps<{ watchId: number }>();
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const hook = shallowRef<Answer<'openHook'> | null>(null);
const secret = ref('');
const body = ref('{\n  "title": "Sea too rough",\n  "number": 17\n}');
const wrong = ref('');
const showSchema = ref(false);

async function load() {
  hook.value = await call('openHook', { brand: session.brandId, id: props.watchId });
}
onMounted(() => load().catch(notices.wrong));
watch(
  () => props.watchId,
  () => load().catch(notices.wrong),
);
onChanges(['items', 'watches'], () => void load().catch(() => undefined));

interface Leaf {
  path: string;
  name: string;
  type: string;
  always: boolean;
  example: string;
}
/** The fields of the learned schema, nested ones by their path, under the names they go by here. */
const leaves = computed(() => {
  const found: Leaf[] = [];
  const walk = (schema: JsonSchema, path: string, always: boolean) => {
    for (const [key, inner] of Object.entries(schema.properties ?? {})) {
      const at = path ? `${path}.${key}` : key;
      const sure = always && (schema.required ?? []).includes(key);
      if (inner.properties) walk(inner, at, sure);
      else {
        const type = [inner.type ?? ''].flat().join(' or ');
        const example = inner.examples?.at(-1);
        found.push({
          path: at,
          name: hook.value?.names[at] ?? at,
          type: inner.format ? `${type}, ${inner.format}` : type,
          always: sure,
          example: example === undefined ? '' : String(example),
        });
      }
    }
  };
  if (hook.value?.schema) walk(hook.value.schema, '', true);
  return found;
});

const asking = ref(false);
async function makeAnother() {
  asking.value = false;
  await change({ newAddress: true });
  notices.say('It has another address. The old one works for a day more.', () => void change({ oldAddress: true }));
}
async function change(what: object) {
  try {
    const answer = await call('changeHook', { brand: session.brandId, id: props.watchId }, { body: what });
    secret.value = answer.secret ?? '';
    await load();
  } catch (error) {
    notices.wrong(error);
  }
}
async function rename(leaf: Leaf, event: Event) {
  const input = event.target as HTMLInputElement;
  const to = input.value.trim();
  if (to === leaf.name || to === '') return void (input.value = leaf.name);
  try {
    await editor.flush();
    const { workflows } = await call(
      'renameSourceField',
      { brand: session.brandId, id: props.watchId },
      { body: { from: leaf.name, to } },
    );
    notices.say(`Renamed, in ${workflows} ${workflows === 1 ? 'workflow' : 'workflows'}.`);
    // The server has rewritten the draft that is open here.
    const row = editor.row;
    await editor.open(editor.workflow!.id);
    editor.row = row;
    await load();
  } catch (error) {
    input.value = leaf.name;
    notices.wrong(error);
  }
}
async function sendTest() {
  wrong.value = '';
  let sent: Fields;
  try {
    const value = JSON.parse(body.value) as FieldValue;
    if (value === null || typeof value !== 'object' || Array.isArray(value)) throw new Error('it must be an object');
    sent = value;
  } catch (error) {
    wrong.value = `The test cannot be sent: ${(error as Error).message}.`;
    return;
  }
  try {
    await call('testHook', { brand: session.brandId, id: props.watchId }, { body: { body: sent } });
    notices.say('Sent, marked as a test. A live workflow acts on it like on any other.');
  } catch (error) {
    notices.wrong(error);
  }
}
async function copy() {
  await navigator.clipboard.writeText(hook.value!.address);
  notices.say('The address is copied.');
}
</script>

<template>
  <div v-if="hook" class="grid gap-3 *:min-w-0">
    <div>
      <p class="mb-1 text-ink-2">Whoever is to tell Playa sends JSON to this address. Keep it secret.</p>
      <div class="flex gap-1.5">
        <input
          class="field min-w-0 flex-1 font-mono text-sm"
          readonly
          aria-label="The secret address"
          :value="hook.address"
        />
        <button class="btn" aria-label="Copy the address" @click="copy"><Copy :size="14" /></button>
        <button class="btn ml-2" :aria-expanded="asking" @click="asking = !asking">Another …</button>
      </div>
      <div v-if="asking" class="mt-1.5 flex flex-wrap items-center gap-2 rounded-(--radius) bg-amber-wash px-2 py-1.5">
        <span class="min-w-48 flex-1 text-sm"
          >Give it another address? The one above works for a day more, so that whoever sends can be told.</span
        >
        <button class="btn btn-main" @click="makeAnother">Make another</button>
        <button class="btn" @click="asking = false">Keep it</button>
      </div>
      <p v-else-if="hook.oldUntil" class="mt-1 text-sm text-ink-2">
        The address before this one works until {{ shortMoment(hook.oldUntil, session.zone) }}.
        <button class="link" @click="change({ oldAddress: true })">Go back to it</button>
      </p>
      <label class="mt-1.5 flex items-center gap-1.5"
        ><input
          type="checkbox"
          class="accent-(--sea)"
          :checked="hook.signed"
          @change="change({ signed: !hook!.signed })"
        />
        only when signed (Standard Webhooks)</label
      >
      <p v-if="secret" class="mt-1 rounded-(--radius) bg-amber-wash px-2 py-1 text-sm text-amber">
        The key to sign with, shown this once: <code class="break-all">{{ secret }}</code>
      </p>
    </div>
    <div>
      <h3 class="mb-1">Fields learned from what came</h3>
      <p v-if="leaves.length === 0" class="text-ink-3">None yet. Send a test, or have the other side send one.</p>
      <table v-else class="w-full text-sm">
        <thead class="text-left text-ink-3">
          <tr>
            <th class="font-normal">called here</th>
            <th class="font-normal">is</th>
            <th class="font-normal">last</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="leaf in leaves" :key="leaf.path" class="border-t border-dashed border-line">
            <td class="py-0.5 pr-2">
              <KeptInput
                class="field w-32 py-0"
                :aria-label="`Name of the field ${leaf.path}`"
                :value="leaf.name"
                :title="`${leaf.path} at the sender`"
                @change="rename(leaf, $event)"
              />
            </td>
            <td class="pr-2 text-ink-2">{{ leaf.type }}{{ leaf.always ? '' : ', not always there' }}</td>
            <td class="max-w-32 truncate text-ink-3">{{ leaf.example }}</td>
          </tr>
        </tbody>
      </table>
      <div class="mt-1.5 flex flex-wrap items-center gap-2 text-sm">
        <label class="flex items-center gap-1.5 text-ink-2"
          >the same thing has the same
          <ChooseOne
            class="py-0"
            label="What is the same in the same thing"
            any="message id, or body within the hour"
            :options="leaves.map(({ path, name }) => ({ value: path, name }))"
            :value="hook.identityField"
            @change="change({ identityField: $event || null })"
          />
        </label>
        <button v-if="leaves.length" class="link" @click="showSchema = !showSchema">
          {{ showSchema ? 'Hide the JSON Schema' : 'Show and edit as JSON Schema' }}
        </button>
      </div>
      <HookSchema
        v-if="showSchema"
        :watch-id="watchId"
        :schema="hook.schema"
        :revision="hook.revision"
        @kept="load().catch(notices.wrong)"
      />
    </div>
    <div>
      <h3 class="mb-1">Try it</h3>
      <textarea v-model="body" class="field min-h-20 w-full font-mono text-sm" aria-label="Body of the test"></textarea>
      <p v-if="wrong" role="alert" class="text-sm text-rose">{{ wrong }}</p>
      <button class="btn mt-1" @click="sendTest">Send this as a test</button>
    </div>
    <div v-if="hook.deliveries.length">
      <h3 class="mb-1">Lately</h3>
      <ul class="text-sm">
        <li
          v-for="delivery in hook.deliveries"
          :key="delivery.id"
          class="flex gap-2 border-b border-dashed border-line py-0.5"
        >
          <span class="shrink-0">{{ ago(delivery.receivedAt) }}</span>
          <span v-if="delivery.test" class="pill shrink-0 bg-paper text-ink-2">test</span>
          <span v-if="delivery.trouble" class="shrink-0 text-rose">{{ delivery.trouble }}</span>
          <span class="truncate text-ink-3">{{ delivery.body }}</span>
        </li>
      </ul>
    </div>
  </div>
</template>
