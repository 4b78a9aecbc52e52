import { z } from 'zod';
import type { DeskKind } from '../desk/entry.ts';
import type { Policy } from '../desk/policy.ts';
import type { ActName, Revision } from './acts.ts';
import type { TriedDrafts } from './drafted.ts';
import type { OutletKind } from '../outlets/kinds.ts';
import type { Timetable } from '../timetable/timetable.ts';
import type { ShapeFields } from '../shapes/shape.ts';
import type { Written } from '../text/local-moment.ts';
import type { MediaFacts } from '../outlets/media.ts';

/** What a network tells of an outlet beside its name. */
export const outletDetailsSchema = z.object({
  /** Of a table, with the type of their cells. */
  columns: z
    .array(
      z.object({
        /** By which cells are written and read. */
        name: z.string(),
        /** How people call it, where that is something else. */
        label: z.string().optional(),
        type: z.string(),
        /** Worked out rather than written. */
        computed: z.boolean().optional(),
      }),
    )
    .optional(),
  /** Who can be called in a room. */
  groups: z.array(z.object({ id: z.string(), name: z.string() })).optional(),
  /** What it lies in: a server, a spreadsheet, a board. */
  within: z.string().optional(),
  /** Somebody else's: it can be watched, and nothing more. */
  watchOnly: z.boolean().optional(),
});
export type OutletDetails = z.infer<typeof outletDetailsSchema>;

/** An outlet as the steps need to know it. */
export interface WorldOutlet {
  id: number;
  kind: OutletKind;
  name: string;
  /** Null for a sheet of Playa's own. */
  accountId: number | null;
  /** What its network can be asked to do there; left out by those who need not know. */
  acts?: readonly ActName[] | undefined;
  /** What can be done there to what is out already. */
  revisions?: readonly Revision[] | undefined;
  /** What the network tells of it for those who choose: the columns of a table, the groups of members in a room that can be called. */
  details?: OutletDetails | undefined;
  /** When it publishes; left out where nobody has said anything. */
  timetable?: Timetable | undefined;
  /** A sentence when nothing can be published there at the moment. */
  trouble?: string | undefined;
}

/** A watch as the steps need to know it. */
export interface WorldWatch {
  id: number;
  name: string;
  /** What appears there, in the plural: "videos". */
  things: string;
  /** The outlet whose news it is, when an account is asked. */
  outlet?: number | undefined;
  /** What its things are to the desk, where people write them to the brand. */
  said?: DeskKind | undefined;
  /** The links of its things open for colleagues alone. */
  internal?: boolean | undefined;
  /** What its things look like, as far as that is known before there are any. */
  shape?: ShapeFields | undefined;
  /** Outlets whose posts, or rows, appear there, so that what Playa itself makes comes back. */
  shows?: readonly number[] | undefined;
}

/** A picture or film of the brand's own, as the steps need to know it. */
export interface WorldFile extends MediaFacts {
  id: number;
  type: 'picture' | 'video';
  name: string;
  /** What it shows, for those who do not see it. */
  alt: string;
  /** Where networks find it. */
  url: string;
}

/** Where dates of a brand's rows were written, when they do not say. */
export const writtenIn = ({ timeZone, locale }: Pick<World, 'timeZone' | 'locale'>): Written => ({
  zone: timeZone,
  locale,
});

/** What a definition refers to by number, and the brand's customs. Handed to everything that reads a definition. */
export interface World {
  outlets: ReadonlyMap<number, WorldOutlet>;
  watches: ReadonlyMap<number, WorldWatch>;
  /** Names of the people who work for the brand, by number. */
  colleagues?: ReadonlyMap<number, string> | undefined;
  /** Names of the secrets in the vault that a Call may use. */
  secrets?: readonly string[] | undefined;
  /** Words of the brand's own that any wording can use as `{$snippet.name}`. */
  snippets?: ReadonlyMap<string, string> | undefined;
  /** Which answers go out by themselves; where it is left out, as is usual. */
  policy?: Policy | undefined;
  /** Drafts that were tried, for samples and rehearsals: they draft nothing themselves. */
  drafted?: TriedDrafts | undefined;
  /** The brand's own pictures and films, by number. */
  files?: ReadonlyMap<number, WorldFile> | undefined;
  /** Names of the texts whose parts a later step has a use for; set while a definition is made ready. */
  parts?: ReadonlySet<string> | undefined;
  /** IANA name of the brand's time zone. */
  timeZone: string;
  /** BCP 47 tag of the brand's language. */
  locale: string;
}
