import { QueryClient } from '@tanstack/vue-query'

/**
 * One cache for everything that is asked of the server. What is in it is shown at once and asked anew; news say when it changed, so the
 * browser's focus does not. Broken connections are tried again by `api`, not here.
 */
export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: false,
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
      networkMode: 'always',
      gcTime: 120_000,
    },
    mutations: { retry: false, networkMode: 'always' },
  },
})
