// What the fields of an item are made with.
import type { FieldValue, Fields } from '../items/item.ts';

/** An address on the web, resolved against a base; undefined for anything else. */
export function absolute(link: string | undefined, base: string): string | undefined {
  if (!link?.trim()) return undefined;
  try {
    const url = new URL(link.trim(), base);
    return url.protocol === 'http:' || url.protocol === 'https:' ? url.href : undefined;
  } catch {
    return undefined;
  }
}

/** A record without what is not there. */
export function compact(record: Record<string, FieldValue | undefined>): Fields {
  return Object.fromEntries(Object.entries(record).filter(([, value]) => value !== undefined)) as Fields;
}
