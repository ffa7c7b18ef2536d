import { onScopeDispose, shallowRef, watch } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { FindSuppliers } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'

type Wanted = BodyOf<typeof FindSuppliers>
type Found = ResponseOf<typeof FindSuppliers>

const NOTHING: Found = { candidates: [], notes: [] }

/** Looks for existing records while somebody types; an answer that comes too late is dropped. */
export function useCandidates(wanted: () => Wanted) {
  const found = shallowRef<Found>(NOTHING)
  let timer: ReturnType<typeof setTimeout> | undefined
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
  watch(
    () => JSON.stringify(wanted()),
    text => {
      clearTimeout(timer)
      const body = JSON.parse(text) as Wanted
      const empty =
        body.name.trim().length < 3 &&
        body.web === '' &&
        body.iban === '' &&
        body.identifiers.every(one => one.value.trim() === '')
      if (empty) found.value = NOTHING
      else timer = setTimeout(() => void look(body), 180)
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    clearTimeout(timer)
    request.abort()
  })
  return found
}
