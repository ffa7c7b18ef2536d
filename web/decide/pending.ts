import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { Decide, type DecisionItem } from '#contract/decide/endpoints.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { api, Offline, Refused } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'

export type Answer = 'approve' | 'reject' | 'return'

/** A decision that was made and has not reached the server, or that it refused. */
export interface Pending {
  /** The request key: however often it is sent, it counts once. */
  readonly key: string
  readonly personId: string
  readonly item: Pick<DecisionItem, 'documentId' | 'version' | 'number' | 'title' | 'amount' | 'currency' | 'path'>
  readonly decision: Answer
  readonly reason: string
  readonly at: string
  /** Why it does not apply any more. */
  readonly refused: readonly ReasonJson[]
}

/** Milliseconds between two tries to send what waits. */
const AGAIN = 15_000

/**
 * Takes decisions, also without a network: they are kept in this browser, shown as waiting, and sent when there is one. What no longer
 * applies then is said and stays until it is looked at.
 */
export function useDecisions(done: () => void) {
  const session = useSession()
  const kept = useLocalStorage<Pending[]>('ivory-order.decisions', [])
  const mine = computed(() => kept.value.filter(one => one.personId === session.person?.id))
  const waiting = computed(() => mine.value.filter(one => one.refused.length === 0))
  const refused = computed(() => mine.value.filter(one => one.refused.length > 0))

  const replace = (key: string, next?: Pending): void => {
    kept.value = kept.value.flatMap(one => (one.key !== key ? [one] : next ? [next] : []))
  }

  async function send(one: Pending): Promise<'sent' | 'refused' | 'offline'> {
    const { item, decision, reason, key } = one
    try {
      await api(Decide, { params: { id: item.documentId }, body: { version: item.version!, decision, reason }, key })
      replace(key)
      return 'sent'
    } catch (error) {
      if (error instanceof Offline || (error instanceof Refused && (error.status === 503 || error.status === 401)))
        return 'offline'
      replace(key, { ...one, refused: error instanceof Refused ? error.reasons : [{ code: 'server.failed', level: 'stop', details: {} }] }) // prettier-ignore
      return 'refused'
    }
  }

  async function decide(
    item: Pending['item'],
    decision: Answer,
    reason: string,
  ): Promise<'sent' | 'refused' | 'offline'> {
    const one: Pending = {
      key: crypto.randomUUID(),
      personId: session.person!.id,
      item,
      decision,
      reason,
      at: new Date().toISOString(),
      refused: [],
    }
    kept.value = [...kept.value, one]
    const outcome = await send(one)
    if (outcome !== 'offline') done()
    return outcome
  }

  async function sendAll(): Promise<void> {
    let some = false
    for (const one of waiting.value) {
      const outcome = await send(one)
      if (outcome === 'offline') break
      some = true
    }
    if (some) done()
  }
  useEventListener(window, 'online', () => void sendAll())
  useIntervalFn(() => void (waiting.value.length > 0 && sendAll()), AGAIN)
  if (waiting.value.length > 0) void sendAll()

  return { waiting, refused, decide, forget: (key: string): void => replace(key) }
}
