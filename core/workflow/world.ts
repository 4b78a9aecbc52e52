import type { OutletKind } from '../outlets/kinds.ts';

/** An outlet as the steps need to know it. */
export interface WorldOutlet {
  id: number;
  kind: OutletKind;
  name: string;
  accountId: number;
  /** A sentence when nothing can be published there at the moment. */
  trouble?: string | undefined;
}

/** A watch as the steps need to know it. */
export interface WorldWatch {
  id: number;
  name: string;
  /** What appears there, in the plural: "videos". */
  things: string;
}

/** What a definition refers to by number, and the brand's customs. Handed to everything that reads a definition. */
export interface World {
  outlets: ReadonlyMap<number, WorldOutlet>;
  watches: ReadonlyMap<number, WorldWatch>;
  /** IANA name of the brand's time zone. */
  timeZone: string;
  /** BCP 47 tag of the brand's language. */
  locale: string;
}
