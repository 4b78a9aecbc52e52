import type { Clock } from './clock.ts';
import type { Config } from './config.ts';
import type { Database } from './db.ts';
import type { Faults } from './faults.ts';

/** What every service of Lagoon has at hand. */
export interface Lagoon {
  db: Database;
  clock: Clock;
  config: Config;
  faults: Faults;
}
