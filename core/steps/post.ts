import { z } from 'zod';
import { readField } from '../items/read-field.ts';
import type { Fields } from '../items/item.ts';
import type { World } from '../model/world.ts';
import { stepBase } from './base.ts';
import { compose } from './compose.ts';
import { publish } from './publish.ts';
import type { Plan, Prepared, StepBase, Verb } from './verb.ts';
import { writtenPostSchema } from './written-post.ts';

/** Sends what somebody has written by hand: each item brings its words, its outlets and its time. */
export interface PostStep extends StepBase {
  verb: 'post';
  /** The field with the post. */
  from: string;
}

/** Post: send posts that were written by hand. It is in the workflow that Playa keeps for them, and in no other. */
export const post = {
  verb: 'post',
  title: 'Post',
  sort: 'sending',
  offered: false,
  schema: z.object({ ...stepBase, verb: z.literal('post'), from: z.string().min(1).max(300) }),

  sentence: () => ['Post what was written by hand, where and when each says'],

  prepare(step, world): Prepared {
    return { plan: (env) => planOf(env.fields, step.from, world, (words, fields) => words.plan({ ...env, fields })) };
  },

  problems: () => [],
} satisfies Verb<PostStep>;

function planOf(
  fields: Fields,
  from: string,
  world: World,
  planned: (prepared: Prepared, fields: Fields) => Plan,
): Plan {
  const read = writtenPostSchema.safeParse(readField(fields, from));
  if (!read.success) return { go: 'stop', cell: { kind: 'stops', why: 'the post cannot be read' } };
  const { compose: words, publish: where } = read.data;
  // Words that may be made to fit are handed on in their parts.
  const around = where.fit ? { ...world, parts: new Set([words.name]) } : world;
  // A picture may go without words.
  const said: Plan =
    words.text.trim() === ''
      ? { go: 'on', cell: null, values: { [words.name]: '' } }
      : planned(compose.prepare(words, around), fields);
  if (said.go !== 'on') return said;
  return planned(publish.prepare(where, around), { ...fields, ...said.values });
}
