import { onScopeDispose, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/**
 * Text that is typed to search by. The first key after a rest is written into the address at once, those that follow it quickly `delay`
 * milliseconds after the last of them. Who opens something before that is not held up: writing the address would break that navigation off,
 * so it takes the text along instead.
 */
export function useSearchText(delay: number) {
  const route = useRoute()
  const router = useRouter()
  const inAddress = (): string => String(route.query.q ?? '')
  const text = ref(inAddress())
  /** What is searched by now: before the address says it, which takes the browser a moment. */
  const sought = ref(text.value)
  watch(inAddress, q => {
    if (!unwritten) sought.value = q
  })
  let timer: ReturnType<typeof setTimeout> | undefined
  let last = -Infinity
  /** Whether the address does not say yet what was typed. */
  let unwritten = false

  /** Forgets that the address is to be written: somebody else writes it. */
  function settle(): void {
    clearTimeout(timer)
    unwritten = false
  }
  async function write(): Promise<void> {
    const written = text.value
    sought.value = written
    await router.replace({ path: route.path, query: { ...route.query, q: written || undefined } })
    if (written === text.value) unwritten = false
  }
  watch(text, () => {
    settle()
    const rested = performance.now() - last > delay
    last = performance.now()
    unwritten = true
    if (rested) void write()
    else timer = setTimeout(() => void write(), delay)
  })
  const stop = router.beforeEach((to, from) => {
    if (!unwritten || to.path === from.path) return true
    settle()
    const here = to.matched[0] !== undefined && to.matched[0] === from.matched[0]
    return here ? { path: to.path, query: { ...to.query, q: text.value || undefined } } : true
  })
  onScopeDispose(() => {
    settle()
    stop()
  })
  return { text, sought, settle }
}
