import type { Outcome } from '@playa/core/model/acts.ts';
import { bounded, OutOfBounds } from '@playa/core/items/bounded.ts';
import type { Fields } from '@playa/core/items/item.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { wellFormed } from '@playa/core/text/well-formed.ts';
import { NetworkTrouble } from '../connectors/connector.ts';

/**
 * What came of an act, as it can be stored and worked with: a moment that some calendar has, an address of usual length,
 * an answer within bounds.
 *
 * @param now what a network dates beyond all calendars was just now; milliseconds since 1970 UTC
 * @throws NetworkTrouble when what it gave back is more than a workflow can work with: the act itself was done
 */
export function usableOutcome({ remoteId, url, at, result }: Outcome, now: number): Outcome {
  const outcome: Outcome = {
    remoteId: cutUnits(wellFormed(remoteId), 1000),
    // Half of an address leads nowhere.
    url: url !== null && url.length <= 2000 ? url : null,
    at: at > 0 && at < Date.UTC(9999, 0) ? at : now,
  };
  if (result === undefined) return outcome;
  try {
    return { ...outcome, result: bounded(result) as Fields };
  } catch (error) {
    if (!(error instanceof OutOfBounds)) throw error;
    throw new NetworkTrouble('fix', `It was done, but Playa cannot take what it gave back. ${error.message}`, {
      definite: true,
    });
  }
}
