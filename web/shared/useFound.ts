import { ref, shallowRef } from 'vue'

/** What a field offers to choose from. */
export interface Found {
  readonly id: string
  readonly label: string
}

/** A list that is searched on the server while somebody types: an answer that comes late never takes the place of a newer one. */
export function useFound(search: (q: string) => Promise<readonly Found[]>, first: readonly Found[] = []) {
  const found = shallowRef(first)
  const loading = ref(false)
  let asked = 0
  async function find(q: string): Promise<void> {
    const turn = ++asked
    loading.value = true
    const answer = q.trim() ? await search(q.trim()).catch(() => undefined) : undefined
    if (turn !== asked) return
    loading.value = false
    if (answer) found.value = answer
  }
  return { found, loading, find }
}
