// Typing "/" offers what can be put in, filtered by what is typed after it.
import { Extension } from '@tiptap/core';
import { Suggestion, type SuggestionProps } from '@tiptap/suggestion';
import { ref, type Ref } from 'vue';
import type { Insertable } from './insertables.ts';

/** The open list; null when there is none. */
export interface SlashList {
  items: Insertable[];
  index: number;
  /** Where the "/" stands, in the window. */
  place: DOMRect | null;
  take: (item: Insertable) => void;
}

/** As many as one looks through. */
const SHOWN = 9;

export function slashExtension(insertables: () => readonly Insertable[]): {
  extension: Extension;
  list: Ref<SlashList | null>;
} {
  const list = ref<SlashList | null>(null);
  const show = (props: SuggestionProps<Insertable>) => {
    // Words behind a stroke that no label has are words.
    if (props.items.length === 0 && /\s/.test(props.query)) return void (list.value = null);
    list.value = {
      items: props.items,
      index: Math.min(list.value?.index ?? 0, Math.max(0, props.items.length - 1)),
      place: props.clientRect?.() ?? null,
      take: (item) => props.command(item),
    };
  };
  const extension = Extension.create({
    name: 'slash',
    addProseMirrorPlugins() {
      return [
        Suggestion<Insertable>({
          editor: this.editor,
          char: '/',
          // Labels have spaces in them: “/person name” goes on until nothing matches.
          allowSpaces: true,
          // In the middle of a word or an address it is a stroke like any other.
          allowedPrefixes: [' ', '(', '“', '\u00a0'],
          items: ({ query }) => {
            const words = query.toLowerCase().split(/\s+/).filter(Boolean);
            // A text that merely has a stroke in it is no question any more.
            if (words.length > 4) return [];
            return insertables()
              .filter((each) => words.every((word) => `${each.label} ${each.field}`.toLowerCase().includes(word)))
              .slice(0, SHOWN);
          },
          command: ({ editor, range, props }) => {
            editor
              .chain()
              .focus()
              .insertContentAt(range, { type: 'field', attrs: { field: props.field, tweak: null, options: null } })
              .run();
          },
          render: () => ({
            onStart: show,
            onUpdate: show,
            onExit: () => (list.value = null),
            onKeyDown: ({ event }) => {
              const open = list.value;
              if (!open || open.items.length === 0) return false;
              const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
              if (by !== undefined) {
                open.index = (open.index + by + open.items.length) % open.items.length;
                return true;
              }
              if (event.key === 'Enter' || event.key === 'Tab') {
                open.take(open.items[open.index]!);
                return true;
              }
              if (event.key === 'Escape') {
                list.value = null;
                event.stopPropagation();
                return true;
              }
              return false;
            },
          }),
        }),
      ];
    },
  });
  return { extension, list };
}
