// What the parts of the server share. compose.ts makes it.
import type { Actor } from '@playa/core/access/actor.ts';
import type { Program } from '@playa/core/engine/program.ts';
import type { Logger } from 'pino';
import type { Connector } from '../connectors/connector.ts';
import type { Pool, Queryable } from '../db/database.ts';
import type { Guard } from '../guard/guard.ts';
import type { OutsideReader } from '../outside/reader.ts';
import type { AccountKind } from '../store/accounts.ts';
import type { Vault } from '../vault/vault.ts';
import type { CallCount } from './call-count.ts';
import type { Config } from './config.ts';
import type { Nudges } from './nudges.ts';

/** Where time comes from: milliseconds since 1970 UTC. */
export type Clock = () => number;

/** Versions of workflows made ready for running. */
export interface Programs {
  /**
   * @param epochs of brands, as far as they were asked for in this transaction
   * @throws an error when the version is gone
   */
  get(
    db: Queryable,
    run: { brandId: number; workflowId: number; version: number },
    epochs: Map<number, number>,
  ): Promise<Program>;
}

/** What the parts of the server share, made once and handed around. Tests hand in their own clock or connectors. */
export interface Services {
  config: Config;
  pool: Pool;
  guard: Guard;
  /** Reads feeds and pages of others, apart from everything else. */
  outside: OutsideReader;
  vault: Vault;
  clock: Clock;
  /** Who does what is done with these: Playa itself, unless an endpoint hands them on for a person. */
  actor: Actor;
  /** Calls at networks since they were last written down. */
  calls: CallCount;
  log: Logger;
  connectors: Readonly<Record<AccountKind, Connector>>;
  /** Versions of workflows made ready. */
  programs: Programs;
  /** Whether sources are looked at beside the work, so that a run that wakes can wait for a look at its own. */
  looksBeside: boolean;
  /** Tells the workers of this process that there is something to do, so that they need not find out by asking. */
  nudges: Nudges;
}
