// What of each entry the logbook shows, as each person chooses it; files have the same.
import { useLocalStorage } from '@vueuse/core';
import { computed } from 'vue';

/** In their order. The time and the words are always there: an entry is known by them. */
export const COLUMNS = {
  did: 'what was done',
  outlet: 'where',
  workflow: 'by which workflow',
  picture: 'its picture',
  link: 'the link to it',
  since: 'what became of it',
} as const;
export type LogbookColumn = keyof typeof COLUMNS;

/** How files call them. */
const IN_FILES: Readonly<Record<LogbookColumn, readonly string[]>> = {
  did: ['act'],
  outlet: ['where'],
  workflow: ['workflow'],
  picture: [],
  link: ['card', 'address'],
  since: ['since'],
};

/** @param brandId each brand has its own */
export function useColumns(brandId: number) {
  const hidden = useLocalStorage<LogbookColumn[]>(`playa.logbook.${brandId}.hidden`, []);
  const shows = computed(() => {
    const without = new Set(hidden.value);
    return (column: LogbookColumn) => !without.has(column);
  });
  /** The columns of a file, for its address; empty for all of them. */
  const inFiles = computed(() =>
    hidden.value.length === 0
      ? ''
      : [
          'when',
          'words',
          ...(Object.keys(COLUMNS) as LogbookColumn[]).filter(shows.value).flatMap((key) => IN_FILES[key]),
        ].join(','),
  );
  function toggle(column: LogbookColumn): void {
    hidden.value = shows.value(column) ? [...hidden.value, column] : hidden.value.filter((each) => each !== column);
  }
  return { shows, inFiles, toggle };
}
