<script setup lang="ts">
import { TextQuote, X } from '@lucide/vue';
import { useEventListener } from '@vueuse/core';
import { computed, nextTick, onMounted, ref } from 'vue';
import { TWEAKS, tweakNamed, type Surroundings } from '@playa/core/captions/functions.ts';
import type { TokenOption } from '@playa/core/captions/tokens.ts';
import { snippetField } from '@playa/core/workflow/snippets.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { useEditor } from '../../../stores/editor.ts';
import KeptInput from '../KeptInput.vue';
import type { TokenAttributes } from './field-token.ts';
import { isSnippet, nameOf } from './token-options.ts';

// What can be done with a field in the words, each with what it makes of the chosen item.
const props = defineProps<{ token: TokenAttributes; kept: boolean; optional: boolean; rich: boolean }>();
const emit = defineEmits<{
  change: [token: TokenAttributes];
  mark: [mark: 'keep' | 'optional'];
  remove: [];
  close: [];
}>();
const editor = useEditor();
const root = ref<HTMLElement>();
const ofBrand = computed(() => isSnippet(props.token.field));
const type = computed(() => editor.usable.find((field) => field.path === props.token.field)?.type ?? 'text');
const tweaks = computed(() => (ofBrand.value ? [] : TWEAKS.filter((tweak) => tweak.fits(type.value))));
const chosen = computed(() => (props.token.tweak ? tweakNamed(props.token.tweak) : undefined));
const around = computed<Surroundings>(() => ({
  locale: editor.world.locale,
  zone: editor.world.timeZone,
  now: Date.now(),
}));
const snippets = computed(() => [...(editor.world.snippets?.keys() ?? [])]);
/** What a field says of the chosen item, or a snippet of any. */
function said(field: string): string {
  if (isSnippet(field)) return editor.world.snippets?.get(nameOf(field)) ?? '';
  return fieldText(readField(editor.chosenItem?.fields ?? {}, field));
}
const value = computed(() => said(props.token.field));
const told = computed(() =>
  Object.fromEntries(
    Object.entries(props.token.options ?? {}).map(([name, option]) => [
      name,
      typeof option === 'string' ? option : said(option.field),
    ]),
  ),
);
function shows(tweak: string | null): string {
  const options = tweak === props.token.tweak ? told.value : {};
  const made = tweak ? tweakNamed(tweak)!.apply(value.value, around.value, options) : value.value;
  return made.slice(0, 90) || '(empty)';
}
/** The field that an option is told by; nothing where words were typed. */
function fieldOf(name: string): string | undefined {
  const option = props.token.options?.[name];
  return typeof option === 'object' ? option.field : undefined;
}
const take = (tweak: string | null) =>
  emit('change', { ...props.token, tweak, options: tweak === props.token.tweak ? props.token.options : null });
function tell(name: string, option: TokenOption) {
  const options = { ...props.token.options, [name]: option };
  if (option === '') delete options[name];
  emit('change', { ...props.token, options: Object.keys(options).length ? options : null });
}
// Clicks elsewhere in the words are the editor's to see.
useEventListener(document, 'pointerdown', ({ target }) => {
  const outside = target instanceof Element && !root.value?.contains(target) && !target.closest('.caption-editor');
  if (outside) emit('close');
});
onMounted(() => void nextTick(() => root.value?.querySelector<HTMLElement>('[aria-checked="true"]')?.focus()));
function move(event: KeyboardEvent) {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (by === undefined || (event.target as HTMLElement).tagName === 'SELECT') return;
  event.preventDefault();
  const all = [...root.value!.querySelectorAll<HTMLElement>('button')];
  const at = all.indexOf(document.activeElement as HTMLElement);
  all[(at + by + all.length) % all.length]?.focus();
}
</script>

<template>
  <div
    ref="root"
    class="rounded-(--radius) border border-line bg-card py-1 shadow-lg"
    role="dialog"
    aria-label="What to do with this field"
    @keydown="move"
    @keydown.escape.stop="emit('close')"
  >
    <div v-if="chosen?.options?.length" class="grid gap-1 border-b border-line px-3 pb-1.5">
      <div v-for="option in chosen.options" :key="option.name" class="flex items-center gap-2">
        <span class="text-ink-2">{{ option.label }}</span>
        <select
          v-if="option.choices"
          class="field ml-auto py-0"
          :aria-label="option.label"
          :value="token.options?.[option.name] ?? option.usual ?? ''"
          @change="tell(option.name, ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="choice in option.choices" :key="choice" :value="choice">
            {{ choice.replaceAll('-', ', ') }}
          </option>
        </select>
        <span
          v-else-if="fieldOf(option.name) !== undefined"
          class="ml-auto flex items-center gap-1 rounded bg-kelp-wash px-1.5 font-[650] text-kelp"
        >
          {{ nameOf(fieldOf(option.name)!) }}
          <button
            type="button"
            :aria-label="`Type the ${option.label} instead`"
            class="hover:text-rose"
            @click.prevent="tell(option.name, '')"
          >
            <X :size="13" />
          </button>
        </span>
        <template v-else>
          <KeptInput
            class="field ml-auto min-w-0 py-0"
            :aria-label="option.label"
            :class="option.number ? 'w-16' : 'w-36'"
            :type="option.number ? 'number' : 'text'"
            :min="option.number ? 1 : undefined"
            :placeholder="option.usual"
            :value="told[option.name] ?? ''"
            @change="tell(option.name, ($event.target as HTMLInputElement).value.trim())"
          />
          <!-- A list behind a sign: there is no room for its words. -->
          <span
            v-if="!option.number && snippets.length"
            class="relative grid size-6 place-items-center rounded text-ink-2 focus-within:outline-2 focus-within:outline-sea hover:bg-sea-wash"
            :title="`A snippet as the ${option.label}`"
          >
            <TextQuote :size="14" />
            <select
              class="absolute inset-0 cursor-pointer opacity-0"
              :aria-label="`A snippet as the ${option.label}`"
              value=""
              @change="tell(option.name, { field: snippetField(($event.target as HTMLSelectElement).value) })"
            >
              <option value="" disabled>a snippet</option>
              <option v-for="name in snippets" :key="name" :value="name">{{ name }}</option>
            </select>
          </span>
        </template>
      </div>
    </div>
    <div class="max-h-64 overflow-y-auto" role="radiogroup" aria-label="As what it is said">
      <button
        role="radio"
        :aria-checked="token.tweak === null"
        class="block w-full px-3 py-1 text-left hover:bg-sea-wash focus:bg-sea-wash"
        :class="token.tweak === null && 'font-[650]'"
        @click="take(null)"
      >
        as it is<span class="block truncate text-sm font-normal text-ink-3">{{ shows(null) }}</span>
      </button>
      <button
        v-for="tweak in tweaks"
        :key="tweak.name"
        role="radio"
        :aria-checked="token.tweak === tweak.name"
        class="block w-full px-3 py-1 text-left hover:bg-sea-wash focus:bg-sea-wash"
        :class="token.tweak === tweak.name && 'font-[650]'"
        :title="tweak.says"
        @click="take(tweak.name)"
      >
        {{ tweak.label }}<span class="block truncate text-sm font-normal text-ink-3">{{ shows(tweak.name) }}</span>
      </button>
    </div>
    <div v-if="rich" class="border-t border-line">
      <button
        class="block w-full px-3 py-1 text-left hover:bg-sea-wash"
        :aria-pressed="kept"
        @click="emit('mark', 'keep')"
      >
        {{ kept ? '✓ ' : '' }}never shorten it
      </button>
      <button
        class="block w-full px-3 py-1 text-left hover:bg-sea-wash"
        :aria-pressed="optional"
        @click="emit('mark', 'optional')"
      >
        {{ optional ? '✓ ' : '' }}leave it out when there is no room
      </button>
    </div>
    <div class="flex border-t border-line">
      <button class="px-3 py-1 text-rose hover:bg-rose-wash" @click="emit('remove')">remove</button>
      <button class="ml-auto px-3 py-1 text-ink-3 hover:bg-sea-wash" @click="emit('close')">close</button>
    </div>
  </div>
</template>
