import { inTransaction, type Pool } from '../db/database.ts';
import { resealAll } from '../store/sealed.ts';
import type { Vault } from './vault.ts';

/**
 * Seals every secret under the present key. What older keys sealed is opened with them, so they have to be at hand;
 * afterwards they are no longer needed.
 *
 * @returns how many secrets there are
 * @throws when one of them opens with none of the keys; then nothing is changed
 */
export function rotateKeys({ pool, vault }: { pool: Pool; vault: Vault }): Promise<number> {
  return inTransaction(pool, (db) => resealAll(db, (sealed, owner) => vault.seal(vault.open(sealed, owner), owner)));
}
