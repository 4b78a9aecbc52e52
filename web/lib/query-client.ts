// What the interface keeps of the server's answers.
import { QueryClient } from '@tanstack/vue-query';

/** Answers are kept while somebody goes from one view to another. Milliseconds. */
const KEPT_FOR = 5 * 60_000;

/**
 * What has been read is shown at once and read anew; when it changes the server says so (stores/changes.ts), so that
 * nothing is asked for because a window was looked at again. A refusal is said, not asked for once more.
 */
export const makeQueryClient = (): QueryClient =>
  new QueryClient({
    defaultOptions: {
      queries: {
        staleTime: 0,
        gcTime: KEPT_FOR,
        retry: false,
        refetchOnWindowFocus: false,
        refetchOnReconnect: false,
        // Playa may run on this very machine.
        networkMode: 'always',
      },
    },
  });
