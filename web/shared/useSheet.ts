import { onScopeDispose, readonly, ref, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import type { Endpoint, ResponseOf } from '#contract/endpoint.ts'
import type { SheetFrame } from '#contract/fields.ts'
import { api, Refused } from '#web/api.ts'
import { documentTopic, useNews } from '#web/news/news.ts'

/**
 * Keeps the Sheet of `id` loaded: a new id cancels the old request, and news of the document loads it again, unless `hold()` says that the
 * person is typing; then `stale` tells that something changed.
 */
export function useSheet<E extends Endpoint>(
  endpoint: E,
  id: MaybeRefOrGetter<string>,
  hold: () => boolean = () => false,
) {
  const sheet = shallowRef<ResponseOf<E>>()
  const failure = shallowRef<unknown>()
  const stale = ref(false)
  let request = new AbortController()

  async function load(): Promise<void> {
    request.abort()
    const { signal } = (request = new AbortController())
    try {
      const answer = await api(endpoint, { params: { id: toValue(id) } as never, signal })
      if (signal.aborted) return
      sheet.value = answer
      failure.value = undefined
      stale.value = false
    } catch (error) {
      if (!signal.aborted) failure.value = error
    }
  }

  watch(
    () => toValue(id),
    () => {
      sheet.value = undefined
      failure.value = undefined
      void load()
    },
    // asked for before the page draws anything else
    { immediate: true, flush: 'sync' },
  )
  useNews(
    () => [...new Set([toValue(id), ...threadOf(sheet.value)])].map(documentTopic),
    () => {
      if (hold()) stale.value = true
      else void load()
    },
  )
  onScopeDispose(() => request.abort())
  return {
    sheet,
    failure: readonly(failure),
    stale,
    reload: load,
    isGone: () => failure.value instanceof Refused && failure.value.status === 404,
  }
}

/** The documents before and after this one, whose figures it shows. */
const threadOf = (sheet: unknown): string[] =>
  (sheet as Partial<SheetFrame> | undefined)?.thread?.steps.flatMap(step => step.documents.map(one => one.id)) ?? []
