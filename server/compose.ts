// Builds what the parts of the server share: the one place that knows all of them.
import { SYSTEM } from '@playa/core/access/actor.ts';
import { CallCount } from './base/call-count.ts';
import type { Config } from './base/config.ts';
import { openLog } from './base/log.ts';
import { Nudges } from './base/nudges.ts';
import type { Services } from './base/services.ts';
import { CONNECTORS } from './connectors/index.ts';
import { openPool } from './db/database.ts';
import { Guard } from './guard/guard.ts';
import { OutsideReader } from './outside/reader.ts';
import { ProgramCache } from './runner/programs.ts';
import { Vault } from './vault/vault.ts';

/** @param changes what a test hands in instead */
export function openServices(config: Config, changes: Partial<Services> = {}): Services {
  return {
    config,
    pool: openPool(config.databaseUrl),
    guard: new Guard(config.allowPrivate),
    outside: new OutsideReader(),
    vault: new Vault(config.vaultKey, config.oldVaultKeys),
    calls: new CallCount(),
    actor: SYSTEM,
    clock: () => Date.now() + config.clockAhead,
    log: openLog(config.log),
    connectors: CONNECTORS,
    programs: new ProgramCache(),
    looksBeside: true,
    nudges: new Nudges(),
    ...changes,
  };
}

export async function closeServices(services: Services): Promise<void> {
  await Promise.all([services.guard.close(), services.outside.close()]);
  await services.pool.end();
}
