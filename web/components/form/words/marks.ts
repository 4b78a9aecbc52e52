// The markup of captions in the editor. Bold, italic and code are the editor's own; the others mean something to Playa.
import { Mark } from '@tiptap/core';
import { Bold } from '@tiptap/extension-bold';
import { Code } from '@tiptap/extension-code';
import { Italic } from '@tiptap/extension-italic';
import { Paragraph } from '@tiptap/extension-paragraph';

/** Words that lead to an address: of a field, or one that was typed. */
export const LinkMark = Mark.create({
  name: 'link',
  inclusive: false,
  addAttributes: () => ({
    field: { default: null, parseHTML: (element) => element.getAttribute('data-link-field') },
    address: { default: null, parseHTML: (element) => element.getAttribute('data-link-address') },
  }),
  parseHTML: () => [{ tag: 'span[data-link]' }],
  renderHTML: ({ mark }) => {
    const { field, address } = mark.attrs as { field: string | null; address: string | null };
    return [
      'span',
      {
        class: 'linked',
        'data-link': '',
        title: `Leads to ${address ?? field ?? 'nowhere'}`,
        ...(field ? { 'data-link-field': field } : {}),
        ...(address ? { 'data-link-address': address } : {}),
      },
      0,
    ];
  },
});

/** Never shortened. */
export const KeepMark = Mark.create({
  name: 'keep',
  excludes: '',
  parseHTML: () => [{ tag: 'span[data-keep]' }],
  renderHTML: () => ['span', { class: 'kept', 'data-keep': '', title: 'Kept whole when the words are shortened' }, 0],
});

/** Left out as a whole when there is no room. */
export const OptionalMark = Mark.create({
  name: 'optional',
  inclusive: false,
  excludes: '',
  parseHTML: () => [{ tag: 'span[data-optional]' }],
  renderHTML: () => ['span', { class: 'optional', 'data-optional': '', title: 'Left out when there is no room' }, 0],
});

/** A line, which may be an entry of a list. */
export const Line = Paragraph.extend({
  addAttributes: () => ({
    item: {
      default: false,
      parseHTML: (element) => element.hasAttribute('data-item'),
      renderHTML: ({ item }) => (item ? { 'data-item': '' } : {}),
    },
  }),
});

/** All marks, with the shortcuts of the first three (Ctrl or ⌘ with B, I and E). */
export const RICH = [Bold, Italic, Code.extend({ excludes: '' }), LinkMark, KeepMark, OptionalMark];
