// What changes carry, so that nobody writes over what a colleague has changed meanwhile.
import { createHash } from 'node:crypto';
import { sortedJson } from '@playa/core/model/sorted-json.ts';

/**
 * The revision of something that counts none: the same for the same content, another for any other (RFC 9110
 * section 8.8.3 calls it a strong validator).
 *
 * @example revisionOf({ name: 'sign-off', text: 'Your crew' })
 */
export const revisionOf = (content: unknown): string =>
  createHash('sha256').update(sortedJson(content)).digest('base64url').slice(0, 22);

/** Somebody has changed it since it was seen. */
export class ChangedMeanwhile extends Error {
  override name = 'ChangedMeanwhile';
  /** The revision as it is now; null where it is gone. */
  readonly current: string | null;
  constructor(what: string, current: string | null) {
    super(
      current === null
        ? `Somebody has deleted ${what} meanwhile.`
        : `Somebody has changed ${what} since you opened it. What you typed is kept here.`,
    );
    this.current = current;
  }
}

/**
 * Says whether a change may be made over what is there now. To be asked in the transaction that makes it, with the row
 * locked.
 *
 * @param what is changed, as part of a sentence: "the policy"
 * @param current the revision as it is now; null where there is none
 * @param seen the one that was changed; undefined where whoever changes it has seen it in the same transaction
 * @throws ChangedMeanwhile
 */
export function mustBeAt(what: string, current: string | null, seen: string | null | undefined): void {
  if (seen !== undefined && seen !== current) throw new ChangedMeanwhile(what, current);
}
