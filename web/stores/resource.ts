// What a view shows of the server: read by the name of an endpoint, kept, and read anew when something changes there.
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query';
import { computed, toValue, type ComputedRef, type MaybeRefOrGetter, type Ref } from 'vue';
import { call } from '../lib/api.ts';
import type { Topic } from '../lib/change-stream.ts';
import type { Answer, Endpoint, Listing, Params, Query } from '../lib/endpoint-types.ts';
import { everyPage } from '../lib/pages.ts';
import { onChanges, type News } from './changes.ts';

/** What was read, as far as it is known. */
export interface Resource<T> {
  /** Undefined until it has been read once; what was read before stays while it is read anew or when that fails. */
  data: Readonly<Ref<T | undefined>>;
  /** Why it could not be read the last time; empty when it was. */
  trouble: ComputedRef<string>;
  /** It is being read. */
  busy: Readonly<Ref<boolean>>;
  /** Reads it anew: after a change of one's own. What goes wrong is said in `trouble`. */
  load: () => Promise<void>;
}

export interface ResourceOptions<Name extends Endpoint> {
  /** What it is asked behind the question mark; read anew when it is another. */
  query?: MaybeRefOrGetter<Query<Name>>;
  /** What of the brand may change it. */
  topics?: readonly Topic[];
  /** Whether news of those topics matters now: not one's own, not while somebody reads further down. */
  heed?: (news: News) => boolean;
}

/** Null where there is nothing to read. */
type Wanted<Name extends Endpoint> = MaybeRefOrGetter<Params<Name> | null>;
/** Under which an answer is kept: what it is, which one, and what was asked of it. */
type Key = readonly [what: string, params: object | null, query: object];

const keyOf = <Name extends Endpoint>(
  what: string,
  params: Wanted<Name>,
  { query }: ResourceOptions<Name>,
): ComputedRef<Key> => computed(() => [what, toValue(params) as object | null, toValue(query) ?? {}]);

/** What was asked of the same thing differently is shown until the answer is there; another thing's never is. */
const sameThing =
  (key: Ref<Key>) =>
  (before: unknown, query: { queryKey: readonly unknown[] } | undefined): unknown =>
    JSON.stringify(query?.queryKey[1]) === JSON.stringify(key.value[1]) ? before : undefined;

/** What all ways of reading have in common. */
function heeding<Name extends Endpoint>(
  key: Ref<Key>,
  refetch: () => Promise<unknown>,
  { topics = [], heed = () => true }: ResourceOptions<Name>,
): () => Promise<void> {
  const load = async () => {
    if (key.value[1] !== null) await refetch();
  };
  if (topics.length > 0) onChanges(topics, (news) => heed(news) && void load());
  return load;
}

function kept<Name extends Endpoint, T>(
  key: Ref<Key>,
  read: (params: Params<Name>, query: Query<Name>) => Promise<T>,
  options: ResourceOptions<Name>,
): Resource<T> {
  const { data, error, isFetching, refetch } = useQuery({
    queryKey: key as Ref<readonly unknown[]>,
    queryFn: ({ queryKey: [, params, query] }): Promise<unknown> => read(params as Params<Name>, query as Query<Name>),
    enabled: () => key.value[1] !== null,
    placeholderData: sameThing(key) as never,
    shallow: true,
  });
  return {
    data: data as Ref<T | undefined>,
    trouble: computed(() => error.value?.message ?? ''),
    busy: isFetching,
    load: heeding(key, refetch, options),
  };
}

/**
 * An answer of an endpoint: read when it is first wanted and when what it is asked becomes another, kept for whoever
 * comes back, and read anew when the brand's news names it.
 *
 * @param params what stands in the endpoint's path; null where there is nothing to read
 * @example
 * const { data: today, trouble, load } = useResource('openToday', () => ({ brand: session.brandId }), {
 *   topics: ['runs', 'items'],
 * });
 */
export function useResource<Name extends Endpoint>(
  name: Name,
  params: Wanted<Name>,
  options: ResourceOptions<Name> = {},
): Resource<Answer<Name>> {
  const read = (at: Params<Name>, query: Query<Name>) => call(name, at, ...([{ query }] as never));
  return kept(keyOf(name, params, options), read, options);
}

/** All pages of a list that is as long as people make it, such as workflows. */
export function useWholeList<Name extends Listing>(
  name: Name,
  params: Wanted<Name>,
  options: ResourceOptions<Name> = {},
): Resource<Answer<Name>[]> {
  const read = (at: Params<Name>, query: Query<Name>) => everyPage(name, at, query);
  return kept(keyOf(`${name}, all`, params, options), read, options);
}

/** A list as far as somebody has read on in it. */
export interface PagedResource<Page> extends Resource<readonly Page[]> {
  /** There is more behind what is shown. */
  more: Readonly<Ref<boolean>>;
  /** Reads the next page. */
  further: () => Promise<void>;
}

/**
 * A list that grows for ever, such as what went out: its first page, and further ones when asked. Whoever has read on is
 * left there: what changes is not read anew under their eyes.
 *
 * @example
 * const { data: pages, more, further } = usePages('readLogbook', () => ({ brand: session.brandId }), { query: asked });
 */
export function usePages<Name extends Listing>(
  name: Name,
  params: Wanted<Name>,
  options: ResourceOptions<Name> = {},
): PagedResource<Answer<Name>> {
  const { heed = () => true } = options;
  const key = keyOf(`${name}, in pages`, params, options);
  const { data, error, isFetching, refetch, hasNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: key as Ref<readonly unknown[]>,
    queryFn: ({ queryKey: [, at, query], pageParam }): Promise<unknown> => {
      const asked = { query: { ...(query as object), ...(pageParam === null ? {} : { after: pageParam }) } };
      return call(name, at as Params<Name>, ...([asked] as never));
    },
    initialPageParam: null as string | null,
    getNextPageParam: (page) => (page as { next: string | null }).next,
    enabled: () => key.value[1] !== null,
    placeholderData: sameThing(key) as never,
    shallow: true,
  });
  const pages = computed(() => (data.value as { pages: Answer<Name>[] } | undefined)?.pages);
  const first = () => (pages.value?.length ?? 0) <= 1;
  return {
    data: pages,
    trouble: computed(() => error.value?.message ?? ''),
    busy: isFetching,
    load: heeding(key, refetch, { ...options, heed: (news) => first() && heed(news) }),
    more: hasNextPage,
    further: async () => void (await fetchNextPage()),
  };
}
