import type { ActName } from '../engine/acts.ts';
import type { OutletKind } from '../outlets/kinds.ts';

/** An outlet as the steps need to know it. */
export interface WorldOutlet {
  id: number;
  kind: OutletKind;
  name: string;
  accountId: number;
  /** What its network can be asked to do there; left out by those who need not know. */
  acts?: readonly ActName[] | undefined;
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
  /** Names of the people who work for the brand, by number. */
  colleagues?: ReadonlyMap<number, string> | undefined;
  /** Names of the secrets in the vault that a Call may use. */
  secrets?: readonly string[] | undefined;
  /** IANA name of the brand's time zone. */
  timeZone: string;
  /** BCP 47 tag of the brand's language. */
  locale: string;
}
