import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter, type Ref } from 'vue'
import type { Endpoint, ParamsOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import { useNews } from '#web/news/news.ts'

interface Asked<E extends Endpoint> {
  params?: ParamsOf<E>
  query?: QueryOf<E>
}
interface How {
  /** What it is asked anew for when it has news. */
  topics?: MaybeRefOrGetter<readonly string[]>
  /** False while there is nothing to ask yet. */
  when?: MaybeRefOrGetter<boolean>
  /** The answer before stays until the new one is there. */
  keep?: boolean
}

/**
 * What an endpoint answers, asked again when the question changes or one of the topics has news. Pages that ask the
 * same share one answer. An answer is replaced whole: its parts are not watched one by one.
 */
export function useRead<E extends Endpoint>(endpoint: E, asked: MaybeRefOrGetter<Asked<E>> = {}, how: How = {}) {
  const query = useQuery<unknown>({
    queryKey: computed((): unknown[] => [endpoint.name, toValue(asked)]),
    queryFn: ({ signal }) => api(endpoint, { ...(toValue(asked) as object), signal }),
    enabled: computed(() => toValue(how.when ?? true)),
    placeholderData: (before: unknown) => (how.keep ? before : undefined),
    shallow: true,
  })
  if (how.topics) useNews(how.topics, () => void query.refetch())
  return {
    data: query.data as Readonly<Ref<ResponseOf<E> | undefined>>,
    failure: query.error,
    loading: query.isFetching,
    reload: async (): Promise<void> => void (await query.refetch()),
  }
}
