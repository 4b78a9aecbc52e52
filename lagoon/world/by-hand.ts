// What people do to what is there already: correct, withdraw, delete, answer in the owner's name. By number.
import { z } from 'zod';
import type { Lagoon } from '../base/lagoon.ts';
import { answered, type Review } from '../listings/routes.ts';
import type { PageComment } from '../pages/comments.ts';
import { MicroStore } from '../microblog/store.ts';
import { PhotoStore, type PhotoComment } from '../photos/store.ts';
import { tellRows, typed, type SheetRow, type Tab } from '../sheets/routes.ts';
import { Things, type Thing } from '../base/things.ts';
import type { FilmComment } from '../video/comments.ts';

const id = z.number().int();
const cells = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]));
/** Where comments are. */
const at = z.enum(['photos', 'pages', 'video']);

/** Something a person does by hand. */
export const handActSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('change-row'), id, cells }),
  z.object({ do: z.literal('delete-row'), id }),
  /** As the owner of the place; null takes the answer away. */
  z.object({ do: z.literal('answer-review'), id, text: z.string().nullable() }),
  z.object({
    do: z.literal('edit-review'),
    id,
    text: z.string().nullable(),
    stars: z.number().int().min(1).max(5).optional(),
  }),
  z.object({ do: z.literal('delete-review'), id }),
  /** As the profile, page or channel. */
  z.object({ do: z.literal('answer-comment'), at, id, text: z.string() }),
  z.object({ do: z.literal('edit-comment'), at, id, text: z.string() }),
  z.object({ do: z.literal('delete-comment'), at, id }),
  /** As the profile that it was written to. */
  z.object({ do: z.literal('answer-message'), id, text: z.string() }),
  /** As the profile of this handle. */
  z.object({ do: z.literal('answer-note'), id, as: z.string(), text: z.string() }),
  z.object({ do: z.literal('edit-note'), id, text: z.string() }),
  z.object({ do: z.literal('delete-note'), id }),
  z.object({ do: z.literal('delete-film'), film: z.string() }),
]);
export type HandAct = z.infer<typeof handActSchema>;

/**
 * An act as a form of a page sends it: `act.do`, `act.id`, `act.cells.Title`. What is missing or empty where a review may
 * have no words is null.
 */
export function handActOf(form: Record<string, unknown>): Record<string, unknown> {
  const act: Record<string, unknown> = {};
  const cells: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(form)) {
    if (name.startsWith('act.cells.')) cells[name.slice('act.cells.'.length)] = value === '' ? null : value;
    else if (name === 'act.id' || name === 'act.stars') act[name.slice(4)] = Number(value);
    else if (name.startsWith('act.')) act[name.slice(4)] = String(value).replace(/\r\n/g, '\n');
  }
  if (act.do === 'change-row') act.cells = cells;
  if ((act.do === 'answer-review' || act.do === 'edit-review') && !act.text) act.text = null;
  return act;
}

const BY_HAND = new Set<string>(handActSchema.options.map((option) => option.shape.do.value));
/** Whether an act is one of these rather than one of the audience's. */
export const isByHand = (act: { do: string }): act is HandAct => BY_HAND.has(act.do);

type AnyComment = PhotoComment | PageComment | FilmComment;

/** Does it, and tells whoever wants to be told. Returns the number of what was made or changed. */
export async function playByHand(lagoon: Lagoon, act: HandAct): Promise<number> {
  const now = lagoon.clock.now();
  const reviews = new Things<Review>(lagoon, 'listings', 'review');
  const sheetRows = new Things<SheetRow>(lagoon, 'sheets', 'row');
  const micro = new MicroStore(lagoon);
  switch (act.do) {
    case 'change-row': {
      const row = there(await sheetRows.get(act.id), 'row');
      const tab = there(await new Things<Tab>(lagoon, 'sheets', 'tab').get(row.parent), 'table');
      await sheetRows.change(row.id, { cells: { ...row.body.cells, ...typed(tab.body, act.cells) } }, now);
      tellRows(lagoon, tab.id, row.id, 'updated');
      return row.id;
    }
    case 'delete-row': {
      const row = there(await sheetRows.get(act.id), 'row');
      await sheetRows.remove(row.id);
      tellRows(lagoon, row.parent!, row.id, 'removed');
      return row.id;
    }
    case 'answer-review': {
      const review = there(await reviews.get(act.id), 'review');
      const body = act.text === null ? { ...review.body, reply: null } : answered(review.body, 'hand', act.text, now);
      await reviews.change(review.id, body, now);
      return review.id;
    }
    case 'edit-review': {
      const review = there(await reviews.get(act.id), 'review');
      const { text, stars = review.body.stars } = act;
      await reviews.change(review.id, { ...review.body, text, stars }, now);
      return review.id;
    }
    case 'delete-review': {
      await reviews.remove(there(await reviews.get(act.id), 'review').id);
      return act.id;
    }
    case 'answer-comment': {
      const { comments, comment } = await commentAt(lagoon, act);
      // The owner of a place is known by a number below zero, as when an application answers.
      const by = { ...comment.body.by, id: -Math.max(1, comment.parent ?? 1), name: 'The owner' };
      const under = comment.body.under ?? comment.id;
      const body = { ...comment.body, text: act.text, by, under, to: comment.id };
      if ('likes' in body) body.likes = [];
      return comments.add(body, now, { parent: comment.parent ?? undefined });
    }
    case 'edit-comment': {
      const { comments, comment } = await commentAt(lagoon, act);
      await comments.change(comment.id, { ...comment.body, text: act.text }, now);
      return comment.id;
    }
    case 'delete-comment': {
      const { comments, comment } = await commentAt(lagoon, act);
      await comments.remove(comment.id);
      return comment.id;
    }
    case 'answer-message': {
      const { messages } = new PhotoStore(lagoon);
      const { body, parent } = there(await messages.get(act.id), 'message');
      return messages.add({ ...body, from: 'us', text: act.text }, now, { parent: parent ?? undefined });
    }
    case 'answer-note': {
      const note = there(await micro.notes.get(act.id), 'note');
      const as = there(await micro.profiles.byKey(act.as), 'profile');
      return micro.write(as.id, { sort: 'reply', text: act.text, of: note.id });
    }
    case 'edit-note': {
      const note = there(await micro.notes.get(act.id), 'note');
      await micro.notes.change(note.id, { ...note.body, text: act.text }, now);
      return note.id;
    }
    case 'delete-note': {
      await micro.notes.remove(there(await micro.notes.get(act.id), 'note').id);
      return act.id;
    }
    case 'delete-film':
      await lagoon.db.query('DELETE FROM videos WHERE id = ?', [act.film]);
      return 0;
  }
}

async function commentAt(
  lagoon: Lagoon,
  act: { at: z.infer<typeof at>; id: number },
): Promise<{ comments: Things<AnyComment>; comment: Thing<AnyComment> }> {
  const comments = new Things<AnyComment>(lagoon, act.at, 'comment');
  return { comments, comment: there(await comments.get(act.id), 'comment') };
}

function there<T>(found: T | undefined, what: string): T {
  if (found === undefined) throw Object.assign(new Error(`There is no such ${what}.`), { status: 404 });
  return found;
}
