import type { Item } from '@playa/core/items/item.ts';
import type { ActInput, ActName, Outcome } from '@playa/core/engine/acts.ts';
import type { Repeats } from '@playa/core/engine/next-move.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import type { BucketRule } from '@playa/core/timetable/token-bucket.ts';
import type { NetworkConfig } from '../config.ts';
import type { Guard } from '../guard/guard.ts';
import type { AccountKind } from '../store/accounts.ts';

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
  constructor(
    kind: NetworkTrouble['kind'],
    message: string,
    { retryAfter = 0, definite = false, limited = false } = {},
  ) {
    super(message);
    this.kind = kind;
    this.retryAfter = retryAfter;
    this.definite = definite;
    this.limited = limited;
  }
}

/** What a connector works with: the network's configuration, the guarded client and a token for one account. */
export interface Session {
  network: NetworkConfig;
  guard: Guard;
  /** How long the network may take to answer, in milliseconds. */
  answerWithin: number;
  /** The account's access token, refreshed when needed. */
  token: () => Promise<string>;
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
}

/** The acts that a network carries out for an account; the others are Playa's own. */
export type NetworkAct = Exclude<ActName, 'call' | 'label' | 'notify' | 'hold'>;

export interface RemoteOutlet {
  kind: OutletKind;
  remoteId: string;
  name: string;
  address: string | null;
  /** The feed of what appears there, when it has one. */
  feed: string | null;
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

/** One kind of network. Nothing in Playa but its connector knows how to talk to it. */
export interface Connector {
  kind: AccountKind;
  /** What an account of this kind is for, in a suggested name: "posting". */
  purpose: string;
  signIn: {
    authorize: string;
    token: string;
    revoke: string;
    scopes: string;
  };
  whoAmI(session: Session): Promise<{ remoteId: string; name: string }>;
  outlets(session: Session): Promise<RemoteOutlet[]>;
  /** Items of the past that the feed no longer shows, newest first, at most so many. */
  past?: (session: Session, channel: string, most: number) => Promise<Item[]>;
  /** Addresses worth trying for what a person pasted, best guess first. */
  addresses?: (network: NetworkConfig, pasted: string) => string[];
  /** What it can be asked to do at its outlets. */
  acts: { [A in NetworkAct]?: Handler<A> };
  /** How many calls it allows, by account and by outlet. */
  limits?: { account?: BucketRule; outlet?: BucketRule };
}
