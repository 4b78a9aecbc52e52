import type { Queryable } from '../../db/database.ts';
import { keepWatch } from '../../store/watches.ts';
import type { SourceKind } from './kind.ts';

/**
 * The brand's watch of a source of some kind; made when there is none, so that every workflow shares it.
 *
 * @throws ZodError when these are no parameters of this kind
 */
export function keepSource<P>(
  db: Queryable,
  { kind, params, key }: SourceKind<P>,
  source: {
    brandId: number;
    params: P;
    name: string;
    things: string;
    everySeconds: number;
    /** The account that is asked. */
    accountId?: number;
  },
): Promise<number> {
  const of = params.parse(source.params);
  return keepWatch(db, { ...source, kind, params: of, sourceKey: key(of) });
}
