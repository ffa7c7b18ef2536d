import { watchDebounced } from '@vueuse/core'
import { computed, onScopeDispose, shallowRef, watch } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { FindSuppliers } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'

type Wanted = BodyOf<typeof FindSuppliers>
type Found = ResponseOf<typeof FindSuppliers>

const NOTHING: Found = { candidates: [], notes: [] }

/** Looks for existing records while somebody types; an answer that comes too late is dropped. */
export function useCandidates(wanted: () => Wanted) {
  const found = shallowRef<Found>(NOTHING)
  let request = new AbortController()
  async function look(body: Wanted): Promise<void> {
    request.abort()
    const { signal } = (request = new AbortController())
    try {
      const answer = await api(FindSuppliers, { body, signal })
      if (!signal.aborted) found.value = answer
    } catch {
      if (!signal.aborted) found.value = NOTHING
    }
  }
  /** As text, so that it is looked for only when it says something else; '' while it says too little. */
  const asked = computed(() => {
    const body = wanted()
    const empty =
      body.name.trim().length < 3 &&
      body.web === '' &&
      body.iban === '' &&
      body.identifiers.every(one => one.value.trim() === '')
    return empty ? '' : JSON.stringify(body)
  })
  watch(asked, text => {
    if (text !== '') return
    request.abort()
    found.value = NOTHING
  })
  watchDebounced(
    asked,
    text => {
      if (text !== '') void look(JSON.parse(text) as Wanted)
    },
    { debounce: 180, immediate: true },
  )
  onScopeDispose(() => request.abort())
  return found
}
