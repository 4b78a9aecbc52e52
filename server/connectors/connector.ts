import type { DeskKind } from '@playa/core/desk/entry.ts';
import type { ShapeFields } from '@playa/core/shapes/shape.ts';
import type { Fault } from '@playa/core/model/cells.ts';
import type { Item } from '@playa/core/items/item.ts';
import type { Standing } from '@playa/core/model/meanwhile.ts';
import type { ActInput, ActName, Outcome, Revision } from '@playa/core/model/acts.ts';
import type { Repeats } from '@playa/core/engine/next-move.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import type { BucketRule } from '@playa/core/timetable/token-bucket.ts';
import type { NetworkConfig } from './network-config.ts';
import type { Guard } from '../guard/guard.ts';
import type { OutletDetails } from '@playa/core/model/world.ts';

/**
 * What went wrong at a network, and so what to do:
 * retry: known not to have happened, try again; wait: the same, but not before `retryAfter`; unknown: it may have
 * happened; reconnect: the sign-in is refused; fix: the content is refused and a person has to change it.
 */
export class NetworkTrouble extends Error {
  override name = 'NetworkTrouble';
  readonly kind: 'retry' | 'wait' | 'unknown' | 'reconnect' | 'fix';
  /** Milliseconds the network asked us to wait. */
  readonly retryAfter: number;
  /** Whether the network itself said so about this very request, so that nothing is left unknown. */
  readonly definite: boolean;
  /** Whether the account as a whole was asked to go slower. */
  readonly limited: boolean;
  /** Whether what was asked about is not there (any more). */
  readonly missing: boolean;
  /** Which part of what was to be sent is at fault, where that is known. */
  readonly fault: Fault | undefined;
  constructor(
    kind: NetworkTrouble['kind'],
    message: string,
    { retryAfter = 0, definite = false, limited = false, missing = false, fault = undefined as Fault | undefined } = {},
  ) {
    super(message);
    this.kind = kind;
    this.retryAfter = retryAfter;
    this.definite = definite;
    this.limited = limited;
    this.missing = missing;
    this.fault = fault;
  }
}

/** What a connector works with: the network's configuration, the guarded client and a token for one account. */
export interface Session {
  network: NetworkConfig;
  guard: Guard;
  /** How long the network may take to answer, in milliseconds. */
  answerWithin: number;
  /** The account's access token, refreshed when needed; what was filled in, for networks that sign in by a form. */
  token: () => Promise<string>;
  /** What time it is, for what a network does not date itself; milliseconds since 1970 UTC. */
  now: () => number;
  /** Told of every call, for the allowance. */
  spent?: () => void;
}

export type { Repeats };

/** How a network carries out one sort of act. */
export interface Handler<A extends ActName> {
  /** What it offers against repeats; architecture, "Exactly once". */
  repeats: Repeats;
  /** @throws NetworkTrouble */
  send(session: Session, outlet: string, input: ActInput<A>, key: string): Promise<Outcome>;
  /** Looks among recent ones for what may have been done; undefined when it is not there. Findable networks only. */
  find?: (session: Session, outlet: string, input: ActInput<A>, since: number) => Promise<Outcome | undefined>;
  /**
   * What there is now of what would be answered, looked at right before it is; undefined when it is gone.
   *
   * @throws NetworkTrouble
   */
  standing?: (session: Session, outlet: string, input: ActInput<A>) => Promise<Standing | undefined>;
}

/** Changes to what is out already: which of them a network offers. */
export interface ReviseHandler extends Handler<'revise'> {
  offers: readonly Revision[];
}

/** The acts that a network carries out for an account; the others are Playa's own. */
export type NetworkAct = Exclude<ActName, 'call' | 'label' | 'notify' | 'hold'>;

/** An outlet as its network lists it. */
export interface RemoteOutlet {
  kind: OutletKind;
  remoteId: string;
  name: string;
  address: string | null;
  /** The feed of what appears there, when it has one. */
  feed: string | null;
  details?: OutletDetails;
}

/** A place that items can come from, found from something a person pasted. */
export interface FoundSource {
  kind: 'feed';
  /** The same for the same source, however it was found. */
  key: string;
  params: { url: string; channel?: string | undefined };
  name: string;
  /** What appears there, in the plural. */
  things: string;
  home: string | null;
}

/** Signing in by saying yes on a page of the network's (OAuth 2.0). */
export interface ConsentSignIn {
  by: 'consent';
  authorize: string;
  token: string;
  revoke: string;
  /** What is asked for, and what for: shown when a person has left one out. */
  scopes: Record<string, string>;
}

/** Signing in with something the network has given a person to hand on: a key, a bot's token, a mailbox's password. */
export interface FormSignIn {
  by: 'form';
  /** Where to find it, in a sentence. */
  help: string;
  fields: readonly { name: string; label: string; secret: boolean; hint?: string; optional?: boolean }[];
}

/** Whether Playa may do what it does at an outlet; if not, what is missing and how a person can give it. */
export type Permission = { ok: true } | { ok: false; trouble: string; remedy: string };

/** Something that appears at an outlet and can be watched with an account. */
export interface Watchable {
  /** What appears, in the plural: "comments". */
  things: string;
  outlet: OutletKind;
  /** What they are to the desk, where people write them to the brand. */
  said?: DeskKind;
  /**
   * Whether those who write are known by the ids of outlets, as profiles that mention each other are. Elsewhere people and
   * outlets are numbered apart, and the same number is somebody else.
   */
  byOutlets?: true;
  /** Whether the link of a thing opens for colleagues alone. */
  internal?: true;
  /** Which acts of Playa's own at that outlet appear there too. */
  shows?: readonly NetworkAct[];
  /** What an item looks like; by what is known of the outlet, where its things are of the outlet's own shape. */
  shape: ShapeFields | ((details: OutletDetails) => ShapeFields);
  /**
   * What is there, newest first; back to something that has been `seen`, or as far as is reasonable.
   *
   * @throws NetworkTrouble
   */
  read(session: Session, outlet: string, seen: ReadonlySet<string>): Promise<Item[]>;
  /**
   * Every look reads all that is there, as far as this many: what is no longer among fewer is gone. Left out where a look
   * ends at what was seen before.
   */
  whole?: number;
  /** How the network tells that there is something new; without it, it has to be looked at. */
  push?: Push;
}

/** Being told by a network. What it says is not believed: it only makes Playa look at once. */
export interface Push {
  /** Asks the network to call an address. Returns its own name for that. @throws NetworkTrouble */
  subscribe(session: Session, outlet: string, callback: string, secret: string): Promise<string>;
  /** @throws NetworkTrouble */
  unsubscribe(session: Session, outlet: string, remoteId: string): Promise<void>;
  /** The signature: as Standard Webhooks, or "sha256=" and HMAC-SHA256 of the body in a header of this name. */
  signature: 'standard' | { header: string };
}

/** Something a person can have made at a network while choosing: a board, a section of one. */
export interface Creation {
  /** "board" */
  what: string;
  fields: readonly { name: string; label: string; hint?: string; optional?: boolean }[];
  /** @throws NetworkTrouble */
  make(session: Session, values: Record<string, string>): Promise<RemoteOutlet>;
}

/** A row of a table as a network keeps it. */
export interface RemoteRow {
  id: string;
  /** By the names of columns; what is left out is empty. */
  cells: Readonly<Record<string, string | number | boolean | null>>;
}

/** Tables that are read whole and written row by row: what keeping a sheet of Playa's in step with one asks for. */
export interface TableRows {
  /**
   * The table as it is now, its first rows first.
   *
   * @param most so many rows are read; `whole` says whether these are all
   * @throws NetworkTrouble
   */
  read(
    session: Session,
    outlet: string,
    most: number,
  ): Promise<{ columns: readonly string[]; rows: RemoteRow[]; whole: boolean }>;
  /** Adds a row; the same key adds one row, however often it is sent. @throws NetworkTrouble */
  add(session: Session, outlet: string, cells: RemoteRow['cells'], key: string): Promise<RemoteRow>;
  /** Writes some cells of a row; done twice it is as done once. @throws NetworkTrouble */
  change(session: Session, outlet: string, row: string, cells: RemoteRow['cells']): Promise<RemoteRow>;
  /** Deletes a row, or finds it deleted. @throws NetworkTrouble */
  remove(session: Session, outlet: string, row: string): Promise<void>;
}

/** One kind of network. Nothing in Playa but its connector knows how to talk to it. */
export interface Connector {
  kind: NetworkKind;
  /** What an account of this kind is for, in a suggested name: "posting". */
  purpose: string;
  signIn: ConsentSignIn | FormSignIn;
  /** Who signed in. @throws NetworkTrouble */
  whoAmI(session: Session): Promise<{ remoteId: string; name: string }>;
  /**
   * The outlets of an account.
   *
   * @param known ids that were added by address, for networks that cannot list
   * @throws NetworkTrouble
   */
  outlets(session: Session, known: readonly string[]): Promise<RemoteOutlet[]>;
  /**
   * The outlet that an address means, in any of its usual forms, when people may add outlets by address.
   *
   * @returns undefined when it does not read as an address of this network
   * @throws NetworkTrouble
   */
  open?: (session: Session, pasted: string) => Promise<RemoteOutlet | undefined>;
  /** An example of such an address. */
  openHint?: string;
  /** Looks whether what Playa does at an outlet is allowed there. @throws NetworkTrouble */
  check?: (session: Session, outlet: string) => Promise<Permission>;
  creations?: readonly Creation[];
  /** Tables that a sheet of Playa's can be kept in step with. */
  table?: TableRows;
  /** What can be watched with an account, by name. */
  watches?: Readonly<Record<string, Watchable>>;
  /** Items of the past that the feed no longer shows, newest first, at most so many. */
  past?: (session: Session, channel: string, most: number) => Promise<Item[]>;
  /** Addresses worth trying for what a person pasted, best guess first. */
  addresses?: (network: NetworkConfig, pasted: string) => string[];
  /** What it can be asked to do at its outlets. */
  acts: { [A in NetworkAct]?: A extends 'revise' ? ReviseHandler : Handler<A> };
  /** How many acts it allows, by account and by outlet. */
  limits?: { account?: BucketRule; outlet?: BucketRule };
  /** Calls it allows each account in an hour or day, for showing what is left and for looking within it. */
  allowance?: { calls: number; per: 'hour' | 'day' };
}
