import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, ref, type ComputedRef } from 'vue'
import type { ListPage, ListRow } from '#contract/fields.ts'
import type { defineList } from '#contract/lists/list.ts'
import type { AskedJson } from '#contract/lists/views.ts'
import { api } from '#web/api.ts'
import { kindTopic, useNews } from '#web/news/news.ts'

const PAGE = 80
/** Pages that are asked anew when something changed; with more, the person is told and asks when they like. */
const MOST_ANEW = 6

/** The rows of a list, page after page as they are wanted, asked anew when what they show has news. */
export function useListRows(list: ReturnType<typeof defineList>, asked: ComputedRef<AskedJson>) {
  const stale = ref(false)
  const query = useInfiniteQuery({
    queryKey: computed(() => ['list', list.name, asked.value]),
    queryFn: ({ pageParam, signal }): Promise<ListPage> => {
      const { group: _, ...rest } = asked.value
      return api(list.page, { query: { ...rest, limit: PAGE, ...(pageParam ? { after: pageParam } : {}) }, signal })
    },
    initialPageParam: '',
    getNextPageParam: (last: ListPage) => last.next ?? undefined,
    placeholderData: before => before,
    structuralSharing: false,
    shallow: true,
  })
  const pages = computed(() => query.data.value?.pages ?? [])
  const rows = computed<ListRow[]>(() => pages.value.flatMap(page => page.rows))
  const reload = async (): Promise<void> => {
    stale.value = false
    await query.refetch()
  }
  useNews(
    () => list.kinds.map(kindTopic),
    () => {
      if (pages.value.length > MOST_ANEW) stale.value = true
      else void reload()
    },
  )
  return {
    page: computed(() => pages.value[0]),
    rows,
    failure: query.error,
    loading: query.isFetching,
    stale,
    reload,
    more: (): void => {
      if (query.hasNextPage.value && !query.isFetchingNextPage.value && !query.isPlaceholderData.value)
        void query.fetchNextPage()
    },
  }
}
