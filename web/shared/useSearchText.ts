import { onScopeDispose, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/**
 * Text that is typed to search by. It is written into the address `delay` milliseconds after the last key. Who opens something before that
 * is not held up: writing the address would break that navigation off, so it takes the text along instead.
 */
export function useSearchText(delay: number) {
  const route = useRoute()
  const router = useRouter()
  const text = ref(String(route.query.q ?? ''))
  let timer: ReturnType<typeof setTimeout> | undefined

  /** Forgets that the address is to be written: somebody else writes it. */
  function settle(): void {
    clearTimeout(timer)
    timer = undefined
  }
  watch(text, () => {
    settle()
    timer = setTimeout(() => {
      timer = undefined
      void router.replace({ path: route.path, query: { ...route.query, q: text.value || undefined } })
    }, delay)
  })
  const stop = router.beforeEach((to, from) => {
    if (timer === undefined || to.path === from.path) return true
    settle()
    const here = to.matched[0] !== undefined && to.matched[0] === from.matched[0]
    return here ? { path: to.path, query: { ...to.query, q: text.value || undefined } } : true
  })
  onScopeDispose(() => {
    settle()
    stop()
  })
  return { text, settle }
}
