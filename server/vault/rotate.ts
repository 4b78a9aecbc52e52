import { inTransaction } from '../db/database.ts';
import type { Services } from '../services.ts';
import { resealAll } from '../store/sealed.ts';

/**
 * Seals every secret under the present key. What older keys sealed is opened with them, so they have to be at hand;
 * afterwards they are no longer needed.
 *
 * @returns how many secrets there are
 * @throws when one of them opens with none of the keys; then nothing is changed
 */
export function rotateKeys(services: Services): Promise<number> {
  const { pool, vault } = services;
  return inTransaction(pool, (db) => resealAll(db, (sealed, owner) => vault.seal(vault.open(sealed, owner), owner)));
}
