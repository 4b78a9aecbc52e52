// Posts that somebody writes by hand: the same two steps that a workflow words and sends with, kept with the post.
import { writePlain } from '../captions/write/plain.ts';
import { CaptionError, readCaption } from '../captions/caption.ts';
import type { Fields, FieldValue } from '../items/item.ts';
import { writtenIn, type World } from '../model/world.ts';
import type { WrittenPost } from '../steps/written-post.ts';
import { cutGraphemes } from '../text/graphemes.ts';
import { localMoment } from '../text/local-moment.ts';
import type { Definition } from '../workflow/definition.ts';

export { writtenPostSchema, type WrittenPost } from '../steps/written-post.ts';

/** What its words are called between its two steps. */
const WORDS = 'words';

/** A post without words. @param at when it is to go, on the brand's wall clock: "2026-12-24T18:00"; null for no time yet */
export function newPost(outlets: readonly number[] = [], at: string | null = null): WrittenPost {
  return {
    compose: { id: 'words', verb: 'compose', name: WORDS, text: '' },
    publish: {
      id: 'post',
      verb: 'publish',
      outlets: [...outlets],
      caption: WORDS,
      card: 'link',
      when: { type: 'moment', at: at ?? '' },
    },
    link: '',
  };
}

/** A post as an item has it, from which a run takes all it sends. */
export function postFields(post: WrittenPost): Fields {
  return { post: post as unknown as FieldValue, title: postTitle(post), link: post.link };
}

/** A post as a workflow that has nothing else, for whatever reads definitions. @param watch its source */
export function postDefinition(post: WrittenPost, watch: number | null): Definition {
  return { schema: 1, sources: [{ id: 'written', watch }], steps: [post.compose, post.publish] };
}

/** The beginning of what it says, on one line; fields in it stand by their values where it has them. */
export function postTitle({ compose: { text }, link }: WrittenPost): string {
  let said = text;
  try {
    said = writePlain(readCaption(text).pieces({ link }));
  } catch (error) {
    if (!(error instanceof CaptionError)) throw error;
  }
  const line = said.replace(/\s+/g, ' ').trim();
  const beginning = cutGraphemes(line, 80);
  return beginning === line ? line : `${beginning.trimEnd()}…`;
}

/** The longest between the moments of one post at two outlets, milliseconds. */
export const LONGEST_APART = 60 * 86_400_000;

/** When a post goes at each outlet, milliseconds since 1970 UTC; null where nobody has said so, or a timetable says. */
export function postMoments(
  { publish }: WrittenPost,
  world: Pick<World, 'timeZone' | 'locale'>,
): Map<number, number | null> {
  const { when, outlets } = publish;
  const written = writtenIn(world);
  return new Map(
    outlets.map((outlet) => {
      if (when?.type !== 'moment') return [outlet, null];
      const own = when.own?.find((each) => each.outlet === outlet)?.at;
      return [outlet, localMoment(own ?? when.at, written)];
    }),
  );
}

/** A post that goes at another moment at one outlet. @param at on the brand's wall clock: "2026-12-24T18:00" */
export function movedTo(post: WrittenPost, outlet: number, at: string): WrittenPost {
  const { when, outlets } = post.publish;
  const own = when?.type === 'moment' ? (when.own ?? []).filter((each) => each.outlet !== outlet) : [];
  const alone = outlets.length === 1;
  const before = when?.type === 'moment' ? when.at : '';
  return {
    ...post,
    publish: {
      ...post.publish,
      when:
        alone || before === ''
          ? { type: 'moment', at, ...(own.length > 0 && !alone && { own }) }
          : { type: 'moment', at: before, own: [...own, { outlet, at }] },
    },
  };
}

/**
 * What of a post somebody says yes to: all but when it goes. Two posts with the same text here say the same at the same
 * places.
 */
export function approvedPart({
  compose: words,
  publish: { when: _, apart: _apart, ...where },
  link,
}: WrittenPost): string {
  return JSON.stringify([words, { ...where, outlets: [...where.outlets].sort((a, b) => a - b) }, link]);
}
