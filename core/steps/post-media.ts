// The pictures, films and files of a post: where they come from, and what of them an outlet gets.
import { z } from 'zod';
import type { Media } from '../model/acts.ts';
import type { Fields, FieldValue } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { KIND_RULES, MEDIA_TYPES, type KindRules, type MediaType } from '../outlets/kinds.ts';
import { mediaTrouble } from '../outlets/media.ts';
import { countGraphemes } from '../text/graphemes.ts';
import { shorten } from '../text/shorten.ts';
import type { World, WorldFile, WorldOutlet } from '../model/world.ts';
import { readWords, wordsProblems, type Words } from './words.ts';
import type { Problem } from '../model/problems.ts';

/** A picture or file of a post. */
export interface PostMedia {
  type: MediaType;
  /** The field with its address, or with several; not looked at when a file of the brand's own was chosen. */
  from: string;
  /** The number of a file of the brand's own, the same for every item. */
  file?: number | undefined;
  /** A wording of what it shows; without words, what the file says of itself. */
  alt: string;
  /** Pictures that a kind would not take are cut to a shape it takes, or get a margin. */
  shape?: 'crop' | 'pad' | undefined;
  /** Left out where the link of the post shows as a card, which has a picture of its own. */
  notByCard?: true | undefined;
}

export const postMediaSchema = z.object({
  type: z.enum(MEDIA_TYPES),
  from: z.string().max(300),
  file: z.number().int().positive().optional(),
  alt: z.string().max(2000),
  shape: z.enum(['crop', 'pad']).optional(),
  notByCard: z.literal(true).optional(),
});

/** One of a step's pictures, made ready. */
export interface ReadyMedia extends Omit<PostMedia, 'alt' | 'file'> {
  alt: Words;
  /** Undefined when it comes from a field; null when the file is gone. */
  file: WorldFile | null | undefined;
}
/** A picture for one item, before any outlet has a say. */
export type PlannedMedia = Media & Pick<PostMedia, 'notByCard'> & { by: PostMedia['shape'] };

export function readMedia(all: readonly PostMedia[], { locale, timeZone, files }: World): ReadyMedia[] {
  return all.map(({ file, ...each }) => ({
    ...each,
    alt: readWords(each.alt, locale, timeZone),
    file: file === undefined ? undefined : (files?.get(file) ?? null),
  }));
}

/** The pictures of one item. A field that holds several gives all of them. */
export function plannedMedia(all: readonly ReadyMedia[], fields: Fields): PlannedMedia[] {
  return all.flatMap(({ type, from, alt, shape, file, notByCard }): PlannedMedia[] => {
    if (file === null) return [];
    const said = alt.format(fields);
    if (file) return [{ type: file.type, url: file.url, alt: said || file.alt, by: shape, notByCard }];
    return addresses(readField(fields, from)).map((url) => ({ type, url, alt: said, by: shape, notByCard }));
  });
}

function addresses(value: FieldValue | undefined): string[] {
  if (Array.isArray(value)) return value.flatMap(addresses);
  if (value && typeof value === 'object') return addresses(value.url);
  const address = fieldText(value);
  return address === '' ? [] : [address];
}

/**
 * What of the pictures a kind takes.
 *
 * @param card the link set beside the text; null for none
 */
export function mediaFor(
  rules: KindRules,
  planned: readonly PlannedMedia[],
  card: string | null,
): {
  media: Media[];
  /** How many more there were than go with one post. */
  left: number;
} {
  const showsCard = rules.linkCard === 'card' && card !== null;
  const taken = planned.filter(({ type, notByCard }) => rules.media.takes.includes(type) && !(notByCard && showsCard));
  return {
    media: taken.slice(0, rules.media.most).map((each) => asTaken(rules, each)),
    left: Math.max(0, taken.length - rules.media.most),
  };
}

/** A picture as a kind takes it: its alternative text no longer than it may be, and its shape. */
function asTaken({ media: { alt: longest, shape } }: KindRules, { type, url, alt, by }: PlannedMedia): Media {
  const said = longest !== null && countGraphemes(alt) > longest ? shorten(alt, longest) : alt;
  if (!by || !shape || type !== 'picture') return { type, url, alt: said };
  return { type, url, alt: said, shape: { by, least: shape[0], most: shape[1] } };
}

/** What is wrong with a step's pictures, as far as it is known before there are items. */
export function mediaProblems(step: string, all: readonly PostMedia[], outlets: readonly number[], world: World) {
  const problems: Problem[] = [];
  const harm = (says: string) => problems.push({ level: 'harm', step, says });
  for (const each of all) {
    problems.push(...wordsProblems(step, 'What the picture shows', each.alt, false));
    if (each.file === undefined) {
      if (each.from === '') harm('Choose the field that the picture comes from, or a file.');
      continue;
    }
    const file = world.files?.get(each.file);
    if (!file) {
      harm('A file of this step is gone. Choose another.');
      continue;
    }
    for (const id of outlets) {
      const outlet = world.outlets.get(id);
      const says = outlet && fileTrouble(file, each.shape, outlet);
      if (says) harm(`${file.name}: ${says}`);
    }
  }
  return problems;
}

function fileTrouble(file: WorldFile, shape: PostMedia['shape'], { kind, name }: WorldOutlet): string | undefined {
  if (!KIND_RULES[kind].media.takes.includes(file.type)) return undefined;
  const trouble = mediaTrouble(kind, file.type, file, name);
  return trouble && !(shape && trouble.canBeShaped) ? trouble.says : undefined;
}

/** Whether a step says where a picture or file that a kind takes comes from. */
export function hasMediaFor(rules: KindRules, all: readonly PostMedia[], world: World): boolean {
  return all.some(({ type, file }) =>
    rules.media.takes.includes(file === undefined ? type : (world.files?.get(file)?.type ?? type)),
  );
}
