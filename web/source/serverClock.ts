import { useIntervalFn } from '@vueuse/core'
import { ref, toValue, watch, type MaybeRefOrGetter } from 'vue'

const TICK = 250

/** The server's clock: how far this computer's is off is told with every answer, and goes on between them. In milliseconds. */
export function useServerClock(serverTime: MaybeRefOrGetter<string | undefined>) {
  let ahead = 0
  const now = ref(Date.now())
  const tick = (): void => {
    now.value = Date.now() + ahead
  }
  watch(
    () => toValue(serverTime),
    told => {
      if (told === undefined) return
      ahead = Date.parse(told) - Date.now()
      tick()
    },
    { immediate: true },
  )
  useIntervalFn(tick, TICK)
  return now
}
