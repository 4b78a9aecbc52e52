import type { Actor } from '@playa/core/access/actor.ts';
import type { Queryable } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { addWatch } from '../../store/watches.ts';
import type { SourceKind } from './kind.ts';

/** A source to be watched. */
interface NewSource<P> {
  brandId: number;
  params: P;
  name: string;
  things: string;
  everySeconds: number;
  /** The account that is asked. */
  accountId?: number;
}

/**
 * The brand's watch of a source of some kind; made when there is none, so that every workflow shares it.
 *
 * @param by who has it watched, and when: written down where it was not watched before. Left out where the source comes
 *   with something else that is written down
 * @throws ZodError when these are no parameters of this kind
 */
export async function keepSource<P>(
  db: Queryable,
  { kind, params, key }: SourceKind<P>,
  source: NewSource<P>,
  by?: { actor: Actor; now: number },
): Promise<number> {
  const of = params.parse(source.params);
  const { id, made } = await addWatch(db, { ...source, kind, params: of, sourceKey: key(of) });
  const { brandId, name } = source;
  if (made && by) await addAudit(db, by.actor, { brandId, did: 'made', about: 'source', id, name }, by.now);
  return id;
}
