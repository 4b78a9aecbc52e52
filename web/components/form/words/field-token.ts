import { mergeAttributes, Node } from '@tiptap/core';
import { tweakNamed } from '@playa/core/captions/functions.ts';
import { isSnippet, nameOf, readOptionsText, type TokenOptions } from './token-options.ts';

/** What a token holds: a field, and what is done with it. */
export interface TokenAttributes {
  field: string;
  tweak: string | null;
  options: TokenOptions | null;
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
    options: { default: null, parseHTML: (element) => readOptionsText(element.getAttribute('data-options')) },
  }),
  parseHTML: () => [{ tag: 'span[data-field]' }],
  renderHTML({ node, HTMLAttributes }) {
    const { field, tweak, options } = node.attrs as TokenAttributes;
    return [
      'span',
      mergeAttributes(
        {
          class: isSnippet(field) ? 'token token-snippet' : 'token',
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

/** "Description · first sentence", "Link · with campaign parameters: spring" */
export function tokenLabel(field: string, tweak: string | null | undefined, options?: TokenOptions | null): string {
  const name = nameOf(field);
  if (!tweak) return name;
  const known = tweakNamed(tweak);
  const told = Object.values(options ?? {})
    .filter((each) => each !== '')
    .map((each) => (typeof each === 'string' ? each : nameOf(each.field)));
  return `${name} · ${known?.label ?? tweak}${told.length ? `: ${told.join(', ')}` : ''}`;
}
