<script setup lang="ts">
import { shallowRef, watchEffect } from 'vue';
import { graphemes } from '@playa/core/text/graphemes.ts';
import type { TextFormat } from '@playa/core/outlets/kinds.ts';

// The words of a post as its readers see them: its markup read back, addresses shown as such, and folded where the
// network folds long texts.
const props = defineProps<{
  text: string;
  markup: string | undefined;
  format: TextFormat;
  /** Whether addresses can be clicked there. */
  links: boolean;
  /** Graphemes that are shown; null for all. */
  shown: number | null;
}>();

interface Run {
  text: string;
  bold: boolean;
  italic: boolean;
  code: boolean;
  link: boolean;
}
const runs = shallowRef<Run[]>([]);
const plain = { bold: false, italic: false, code: false, link: false };

function readHtml(source: string): Run[] {
  const found: Run[] = [];
  const visit = (node: Node, look: Omit<Run, 'text'>) => {
    for (const child of node.childNodes) {
      if (child.nodeType === Node.TEXT_NODE) found.push({ text: child.textContent ?? '', ...look });
      else if (child instanceof HTMLElement) {
        const name = child.tagName.toLowerCase();
        visit(child, {
          bold: look.bold || name === 'b',
          italic: look.italic || name === 'i',
          code: look.code || name === 'code',
          link: look.link || name === 'a',
        });
      }
    }
  };
  visit(new DOMParser().parseFromString(source, 'text/html').body, plain);
  return found;
}

async function readMarkdown(source: string): Promise<Run[]> {
  const { Parser } = await import('commonmark');
  const found: Run[] = [];
  const look = { bold: 0, italic: 0, link: 0 };
  const say = (text: string, code = false) =>
    found.push({ text, bold: look.bold > 0, italic: look.italic > 0, link: look.link > 0, code });
  const walker = new Parser().parse(source).walker();
  for (let event = walker.next(); event; event = walker.next()) {
    const by = event.entering ? 1 : -1;
    const { type, literal } = event.node;
    if (type === 'strong') look.bold += by;
    else if (type === 'emph') look.italic += by;
    else if (type === 'link') look.link += by;
    else if (type === 'text') say(literal ?? '');
    else if (type === 'code') say(literal ?? '', true);
    else if (type === 'softbreak' || type === 'linebreak') say('\n');
    else if (type === 'item' && event.entering) say(found.length ? '\n• ' : '• ');
    else if (type === 'paragraph' && event.entering && found.length && event.node.parent?.type !== 'item') say('\n\n');
  }
  return found;
}

watchEffect(() => {
  const { text, markup, format } = props;
  if (markup === undefined || format === 'plain') runs.value = [{ text, ...plain }];
  else if (format === 'html') runs.value = readHtml(markup);
  else void readMarkdown(markup).then((read) => props.markup === markup && (runs.value = read));
});

const ADDRESS = /(https?:\/\/[^\s<>"“”„‘’«»]*[^\s<>"“”„‘’«».,;:!?)\]…])/;
const pieces = shallowRef<Run[]>([]);
watchEffect(() => {
  let left = props.shown ?? Infinity;
  const cut: Run[] = [];
  for (const run of runs.value) {
    if (left <= 0) break;
    const clusters = left === Infinity ? null : graphemes(run.text);
    const text = clusters && clusters.length > left ? `${clusters.slice(0, left).join('').trimEnd()}…` : run.text;
    left -= clusters?.length ?? 0;
    text.split(ADDRESS).forEach((part, index) => {
      if (part) cut.push({ ...run, text: part, link: run.link || (index % 2 === 1 && props.links) });
    });
  }
  pieces.value = cut;
});
</script>

<template>
  <span
    v-for="(piece, index) in pieces"
    :key="index"
    :class="[
      piece.bold && 'font-[650]',
      piece.italic && 'italic',
      piece.code && 'rounded bg-paper px-0.5 font-mono text-sm',
      piece.link && 'text-sea underline',
    ]"
    >{{ piece.text }}</span
  >
</template>
