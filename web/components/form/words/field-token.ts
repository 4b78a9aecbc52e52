import { mergeAttributes, Node } from '@tiptap/core';
import { tweakNamed } from '@playa/core/captions/functions.ts';
import { fieldLabel } from '@playa/core/items/catalogue.ts';

/** What a token holds: a field, and what is done with it. */
export interface TokenAttributes {
  field: string;
  tweak: string | null;
  options: Record<string, string> | null;
}

/** A field of the item as one piece of the text: it cannot be half deleted, and copies whole. */
export const FieldTokenNode = Node.create({
  name: 'field',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({
    field: { default: 'title', parseHTML: (element) => element.getAttribute('data-field') },
    tweak: { default: null, parseHTML: (element) => element.getAttribute('data-tweak') },
    options: { default: null, parseHTML: (element) => readOptions(element.getAttribute('data-options')) },
  }),
  parseHTML: () => [{ tag: 'span[data-field]' }],
  renderHTML({ node, HTMLAttributes }) {
    const { field, tweak, options } = node.attrs as TokenAttributes;
    return [
      'span',
      mergeAttributes(
        {
          class: field.startsWith(SNIPPET) ? 'token token-snippet' : 'token',
          title: 'Click for what can be done with it',
        },
        {
          'data-field': field,
          ...(tweak ? { 'data-tweak': tweak } : {}),
          ...(options ? { 'data-options': JSON.stringify(options) } : {}),
        },
        HTMLAttributes.class ? { class: HTMLAttributes.class } : {},
      ),
      tokenLabel(field, tweak, options),
    ];
  },
  renderText: ({ node }) => {
    const { field, tweak, options } = node.attrs as TokenAttributes;
    return `[${tokenLabel(field, tweak, options)}]`;
  },
});

const SNIPPET = 'snippet.';

/** Options as they were copied; whatever else was pasted has none. */
function readOptions(text: string | null): Record<string, string> | null {
  try {
    const read: unknown = JSON.parse(text ?? 'null');
    if (read === null || typeof read !== 'object' || Array.isArray(read)) return null;
    return Object.fromEntries(Object.entries(read).map(([name, value]) => [name, String(value)]));
  } catch {
    return null;
  }
}

/** "Description · first sentence", "Link · with campaign parameters: spring" */
export function tokenLabel(
  field: string,
  tweak: string | null | undefined,
  options?: Record<string, string> | null,
): string {
  const name = field.startsWith(SNIPPET) ? field.slice(SNIPPET.length) : fieldLabel(field);
  if (!tweak) return name;
  const known = tweakNamed(tweak);
  const told = Object.values(options ?? {}).filter(Boolean);
  return `${name} · ${known?.label ?? tweak}${told.length ? `: ${told.join(', ')}` : ''}`;
}
