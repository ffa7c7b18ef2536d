import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, type Ref } from 'vue'

/** How many rows above and below what is in sight are drawn, too. */
const BESIDE = 8

/** The rows of a table that scrolls in `scroller`, only those in sight, with the room that the others would take. Heights in pixels; of a row, about. */
export function useRowsInSight<R>(scroller: Ref<HTMLElement | undefined>, rows: () => readonly R[], height: number) {
  const virtual = useVirtualizer(
    computed(() => ({
      count: rows().length,
      getScrollElement: () => scroller.value ?? null,
      estimateSize: () => height,
      overscan: BESIDE,
    })),
  )
  const items = computed(() => virtual.value.getVirtualItems())
  return {
    shown: computed(() => items.value.map(({ index }) => ({ index, row: rows()[index]! }))),
    before: computed(() => items.value[0]?.start ?? 0),
    after: computed(() => Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0))),
  }
}
