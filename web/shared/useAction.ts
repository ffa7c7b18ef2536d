import { ref, shallowRef } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import { Offline, Refused } from '#web/api.ts'

/** Runs one change at a time; a second click while it runs does nothing. Its refusals are kept to be shown beside the fields. */
export function useAction() {
  const busy = ref(false)
  const reasons = shallowRef<readonly ReasonJson[]>([])

  async function run<T>(work: () => Promise<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    reasons.value = []
    try {
      return await work()
    } catch (error) {
      if (error instanceof Refused) reasons.value = error.reasons
      else if (error instanceof Offline) reasons.value = [{ code: 'server.databaseAway', level: 'stop', details: {} }]
      else throw error
      return undefined
    } finally {
      busy.value = false
    }
  }

  const at = (place: string): readonly ReasonJson[] => reasons.value.filter(reason => reason.place === place)
  return {
    busy,
    reasons,
    run,
    at,
    clear: () => {
      reasons.value = []
    },
  }
}
