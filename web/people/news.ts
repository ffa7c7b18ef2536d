import { ref } from 'vue'
import { useSession } from '#web/people/session.ts'

type Listener = (news: { kind?: string; id?: string }) => void
const listeners = new Set<Listener>()
const reconnecting = ref(false)

/** Hears of changes by server-sent events; several changes in a row lead to one refresh. */
export function startNews(): void {
  const session = useSession()
  const source = new EventSource('/api/events')
  let pending: ReturnType<typeof setTimeout> | undefined
  source.addEventListener('changed', event => {
    const news = JSON.parse((event as MessageEvent<string>).data || '{}') as { kind?: string; id?: string }
    for (const listener of listeners) listener(news)
    clearTimeout(pending)
    pending = setTimeout(() => void session.refreshCounts(), 400)
  })
  source.addEventListener('open', () => {
    reconnecting.value = false
    session.offline = false
  })
  source.addEventListener('error', () => {
    reconnecting.value = true
    setTimeout(() => {
      session.offline = reconnecting.value
    }, 3000)
  })
}

export const onNews = (listener: Listener): (() => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}
