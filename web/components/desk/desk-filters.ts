// Which part of the desk is looked at: whose, what of it, in which order. All of it stands in the address.
import { useDebounceFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import type { Query } from '../../lib/endpoint-types.ts';
import { useFilters } from '../../lib/filters.ts';
import { useSession } from '../../stores/session.ts';

const FILTERS = [
  'shelf',
  'kind',
  'outlet',
  'stars',
  'tone',
  'language',
  'label',
  'assigned',
  'words',
  'order',
] as const;

export const ORDERS = [
  { value: 'oldest', name: 'oldest first' },
  { value: 'atRisk', name: 'at risk first' },
  { value: 'newest', name: 'newest first' },
] as const;
export type DeskOrder = (typeof ORDERS)[number]['value'];

/** The server counts no further. */
export const sayCounted = (count: number): string => (count >= 1000 ? '1000 or more' : String(count));

export type DeskFilters = ReturnType<typeof useDeskFilters>;

/** The filters as they stand in the address, and what is asked of which brands because of them. */
export function useDeskFilters() {
  const session = useSession();
  const { text, set, asked: query, clear } = useFilters<'openDesk'>(FILTERS);
  /** That of the chosen brand, or of all of somebody's. */
  const everyBrand = computed(() => text('brands') === 'all' && session.brands.length > 1);
  const shelf = computed(() => text('shelf') || 'open');
  const usualOrder = computed(() => (shelf.value === 'open' || shelf.value === 'later' ? 'oldest' : 'newest'));
  const order = computed(() => (text('order') || usualOrder.value) as DeskOrder);
  const search = ref(text('words'));
  watch(
    search,
    useDebounceFn(() => void set({ words: search.value.trim() }), 250),
  );
  return {
    text,
    set,
    everyBrand,
    shelf,
    order,
    search,
    find: (words: string) => (search.value = words),
    setOrder: (to: string) => set({ order: to === usualOrder.value ? '' : to }),
    filtered: computed(() => FILTERS.some((name) => name !== 'shelf' && name !== 'order' && text(name) !== '')),
    clear: () => {
      search.value = '';
      return clear();
    },
    asked: computed(() => ({
      query: query.value as Query<'openDesk'>,
      order: order.value,
      brands: everyBrand.value ? session.brands.map(({ id }) => id) : [session.brandId],
    })),
  };
}
