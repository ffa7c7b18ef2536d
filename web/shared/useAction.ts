import { useMutation } from '@tanstack/vue-query'
import { computed, shallowRef } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import { Offline, Refused } from '#web/api.ts'

/** Runs one change at a time; a second click while it runs does nothing. Its refusals are kept to be shown beside the fields. */
export function useAction() {
  const mutation = useMutation({ mutationFn: (work: () => Promise<unknown>) => work() })
  const reasons = shallowRef<readonly ReasonJson[]>([])
  const busy = computed(() => mutation.isPending.value)

  async function run<T>(work: () => Promise<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    reasons.value = []
    try {
      return (await mutation.mutateAsync(work)) as T
    } catch (error) {
      if (error instanceof Refused) reasons.value = error.reasons
      else if (error instanceof Offline) reasons.value = [{ code: 'server.databaseAway', level: 'stop', details: {} }]
      else throw error
      return undefined
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
