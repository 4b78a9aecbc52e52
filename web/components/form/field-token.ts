import { mergeAttributes, Node } from '@tiptap/core';
import type { JSONContent } from '@tiptap/core';
import { tweakNamed } from '@playa/core/captions/functions.ts';
import type { CaptionPart } from '@playa/core/captions/tokens.ts';
import { fieldLabel } from '@playa/core/items/catalogue.ts';

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
  }),
  parseHTML: () => [{ tag: 'span[data-field]' }],
  renderHTML({ node, HTMLAttributes }) {
    const { field, tweak } = node.attrs as { field: string; tweak: string | null };
    return [
      'span',
      mergeAttributes(
        { class: 'token', title: 'Click for what can be done with it' },
        { 'data-field': field, ...(tweak ? { 'data-tweak': tweak } : {}) },
        HTMLAttributes.class ? { class: HTMLAttributes.class } : {},
      ),
      tokenLabel(field, tweak),
    ];
  },
  renderText: ({ node }) => `[${tokenLabel(node.attrs.field as string, node.attrs.tweak as string | null)}]`,
});

/** "Description · first sentence" */
export function tokenLabel(field: string, tweak: string | null | undefined): string {
  return tweak ? `${fieldLabel(field)} · ${tweakNamed(tweak)?.label ?? tweak}` : fieldLabel(field);
}

/** A caption's parts as a document: a line of text is a paragraph. */
export function toDocument(parts: readonly CaptionPart[]): JSONContent {
  const lines: JSONContent[][] = [[]];
  for (const part of parts) {
    if (typeof part !== 'string') {
      lines.at(-1)!.push({ type: 'field', attrs: { field: part.field, tweak: part.tweak ?? null } });
      continue;
    }
    part.split('\n').forEach((text, index) => {
      if (index > 0) lines.push([]);
      if (text) lines.at(-1)!.push({ type: 'text', text });
    });
  }
  return { type: 'doc', content: lines.map((content) => ({ type: 'paragraph', content })) };
}

export function fromDocument(document: JSONContent): CaptionPart[] {
  const parts: CaptionPart[] = [];
  (document.content ?? []).forEach((paragraph, index) => {
    if (index > 0) parts.push('\n');
    for (const node of paragraph.content ?? []) {
      if (node.type === 'text') parts.push(node.text ?? '');
      else if (node.type === 'field')
        parts.push({
          field: String(node.attrs?.field),
          ...(node.attrs?.tweak ? { tweak: String(node.attrs.tweak) } : {}),
        });
    }
  });
  return parts;
}
