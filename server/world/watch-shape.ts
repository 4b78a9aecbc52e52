// What the items of a source look like, by its kind.
import { FEED_SHAPE } from '@playa/core/feeds/shape.ts';
import type { JsonSchema } from '@playa/core/items/json-schema.ts';
import type { OutletDetails } from '@playa/core/model/world.ts';
import { fieldsOfSchema } from '@playa/core/shapes/of-schema.ts';
import { LINK, NUMBER, object, TEXT, type ShapeFields } from '@playa/core/shapes/shape.ts';
import { shapeWithNames } from '@playa/core/shapes/with-names.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import { sheetShape } from '@playa/core/sheets/row-fields.ts';
import { OCCURRENCE_SHAPE } from '@playa/core/timetable/occurrence.ts';
import type { Watchable } from '../connectors/connector.ts';
import type { Watch } from '../store/watches.ts';

/** What a look at a network adds to each item: where it was seen. */
const SEEN_AT: ShapeFields = { outlet: object({ id: NUMBER, name: TEXT }) };

/**
 * The fields of a source's items.
 *
 * @param of what is known of where it looks: what is watched there, of which outlet; what a hook's bodies have
 *   taught, the columns of a sheet
 */
export function watchShape(
  watch: Pick<Watch, 'kind' | 'names'>,
  of: {
    watchable?: Watchable | undefined;
    details?: OutletDetails | undefined;
    learned?: JsonSchema | undefined;
    columns?: readonly Column[] | undefined;
  },
): ShapeFields {
  return shapeWithNames(bare(watch.kind, of), watch.names);
}

function bare(
  kind: Watch['kind'],
  { watchable, details = {}, learned, columns = [] }: Parameters<typeof watchShape>[1],
): ShapeFields {
  switch (kind) {
    case 'feed':
      return FEED_SHAPE;
    case 'written':
      return { title: TEXT, link: LINK };
    case 'schedule':
      return OCCURRENCE_SHAPE;
    case 'sheet':
      return sheetShape(columns);
    case 'hook':
      return learned ? fieldsOfSchema(learned) : {};
    case 'network': {
      if (!watchable) return {};
      const shape = typeof watchable.shape === 'function' ? watchable.shape(details) : watchable.shape;
      return { ...shape, ...SEEN_AT };
    }
  }
}
