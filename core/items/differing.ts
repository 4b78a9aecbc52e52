import type { Fields } from './item.ts';

/** Names of fields that say something else. */
export function differingFields(before: Fields, after: Fields): string[] {
  const names = new Set([...Object.keys(before), ...Object.keys(after)]);
  return [...names].filter((name) => JSON.stringify(before[name] ?? null) !== JSON.stringify(after[name] ?? null));
}
