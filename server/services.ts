import type { Logger } from 'pino';
import { CallCount } from './accounts/call-count.ts';
import type { Config } from './config.ts';
import { CONNECTORS } from './connectors/index.ts';
import type { Connector } from './connectors/connector.ts';
import { openPool, type Pool } from './db/database.ts';
import { Guard } from './guard/guard.ts';
import { openLog } from './log.ts';
import { Nudges } from './runner/nudges.ts';
import { OutsideReader } from './outside/reader.ts';
import { SAME_WORDS } from './runner/same-words.ts';
import { ProgramCache } from './runner/programs.ts';
import type { AccountKind } from './store/accounts.ts';
import { Vault } from './vault/vault.ts';

/** Where time comes from: milliseconds since 1970 UTC. */
export type Clock = () => number;

/** What the parts of the server share, made once and handed around. Tests hand in their own clock or connectors. */
export interface Services {
  config: Config;
  pool: Pool;
  guard: Guard;
  /** Reads feeds and pages of others, apart from everything else. */
  outside: OutsideReader;
  vault: Vault;
  clock: Clock;
  /** Calls at networks since they were last written down. */
  calls: CallCount;
  log: Logger;
  connectors: Readonly<Record<AccountKind, Connector>>;
  /** Versions of workflows made ready. */
  programs: ProgramCache;
  /** Whether sources are looked at beside the work, so that a run that wakes can wait for a look at its own. */
  looksBeside: boolean;
  /** For how long the same words of another workflow at the same outlet are held, in seconds. */
  sameWords: number;
  /** Tells the workers of this process that there is something to do, so that they need not find out by asking. */
  nudges: Nudges;
}

export function openServices(config: Config, changes: Partial<Services> = {}): Services {
  return {
    config,
    pool: openPool(config.databaseUrl),
    guard: new Guard(config.allowPrivate),
    outside: new OutsideReader(),
    vault: new Vault(config.vaultKey, config.oldVaultKeys),
    calls: new CallCount(),
    clock: () => Date.now() + config.clockAhead,
    log: openLog(config.log),
    connectors: CONNECTORS,
    programs: new ProgramCache(),
    looksBeside: true,
    sameWords: SAME_WORDS,
    nudges: new Nudges(),
    ...changes,
  };
}

export async function closeServices(services: Services): Promise<void> {
  await Promise.all([services.guard.close(), services.outside.close()]);
  await services.pool.end();
}
