// A caption's parts as the editor's document and back. A line of text is a paragraph; markup is a mark on every run it
// goes around, and is closed and opened again where marks cross.
import type { JSONContent } from '@tiptap/core';
import { readOptions } from './token-options.ts';
import { MARKS, type Mark } from '@playa/core/captions/pieces.ts';
import type { CaptionPart, LinkTarget, MarkPart } from '@playa/core/captions/tokens.ts';

interface Open {
  mark: Mark;
  to?: LinkTarget | undefined;
}
type JsonMark = NonNullable<JSONContent['marks']>[number];

export function toDocument(parts: readonly CaptionPart[]): JSONContent {
  const lines: { item: boolean; content: JSONContent[] }[] = [{ item: false, content: [] }];
  const open: Open[] = [];
  const marks = () => (open.length ? { marks: jsonMarks(open) } : {});
  for (const part of parts) {
    const line = lines.at(-1)!;
    if (typeof part === 'string') {
      part.split('\n').forEach((text, index) => {
        if (index > 0) lines.push({ item: false, content: [] });
        if (text) lines.at(-1)!.content.push({ type: 'text', text, ...marks() });
      });
    } else if ('item' in part) line.item = true;
    else if ('mark' in part) {
      if (part.open) open.push({ mark: part.mark, to: part.to });
      else {
        const last = open.findLastIndex((each) => each.mark === part.mark);
        if (last >= 0) open.splice(last, 1);
      }
    } else {
      const { field, tweak, options } = part;
      line.content.push({
        type: 'field',
        attrs: { field, tweak: tweak ?? null, options: options ?? null },
        ...marks(),
      });
    }
  }
  return {
    type: 'doc',
    content: lines.map(({ item, content }) => ({ type: 'paragraph', ...(item ? { attrs: { item } } : {}), content })),
  };
}

function jsonMarks(open: readonly Open[]): JsonMark[] {
  return open.map(({ mark, to }) => ({
    type: mark,
    ...(mark === 'link' ? { attrs: { field: null, address: null, ...to } } : {}),
  }));
}

export function fromDocument(document: JSONContent): CaptionPart[] {
  const parts: CaptionPart[] = [];
  const open: MarkPart[] = [];
  const close = (keep: number) => {
    while (open.length > keep) parts.push({ mark: open.pop()!.mark, open: false });
  };
  (document.content ?? []).forEach((paragraph, index) => {
    if (index > 0) {
      // Formatting ends with its line; what is optional or kept may go on.
      close(open.findIndex(({ mark }) => mark !== 'keep' && mark !== 'optional') + 1 ? 0 : open.length);
      parts.push('\n');
    }
    if (paragraph.attrs?.item) {
      close(0);
      parts.push({ item: true });
    }
    for (const node of paragraph.content ?? []) {
      const wanted = wantedMarks(node.marks ?? []);
      let same = 0;
      while (same < open.length && same < wanted.length && alike(open[same]!, wanted[same]!)) same++;
      close(same);
      for (const mark of wanted.slice(same)) {
        open.push(mark);
        parts.push(mark);
      }
      if (node.type === 'text') parts.push(node.text ?? '');
      else if (node.type === 'field') {
        const { field, tweak, options } = node.attrs as { field: string; tweak?: string; options?: object | null };
        const told = Object.entries(readOptions(options) ?? {});
        parts.push({
          field: String(field),
          ...(tweak ? { tweak: String(tweak) } : {}),
          ...(tweak && told.length ? { options: Object.fromEntries(told) } : {}),
        });
      }
    }
  });
  close(0);
  return parts;
}

/** Marks from the outermost to the innermost, always in the same order, so that neighbours share them. */
const ORDER: readonly Mark[] = ['optional', 'keep', 'link', 'bold', 'italic', 'code'];

function wantedMarks(marks: readonly JsonMark[]): MarkPart[] {
  return ORDER.flatMap((mark): MarkPart[] => {
    const found = marks.find((each) => each.type === mark);
    if (!found || !MARKS.includes(mark)) return [];
    if (mark !== 'link') return [{ mark, open: true }];
    const { field, address } = (found.attrs ?? {}) as { field?: string | null; address?: string | null };
    const to: LinkTarget = field ? { field } : { address: address ?? '' };
    return [{ mark, open: true, to }];
  });
}

const alike = (a: MarkPart, b: MarkPart) => a.mark === b.mark && JSON.stringify(a.to) === JSON.stringify(b.to);
