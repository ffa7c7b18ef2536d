import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, watch, type ComputedRef, type Ref } from 'vue'
import { seats, stepOf } from '#web/shared/table/table.ts'

/** How many lines from the end more are asked for. */
const AHEAD = 40

/** Which lines of a table are drawn while it is scrolled through, and where each stands. Heights in pixels. */
export function useSeats(parts: {
  scroller: Ref<HTMLElement | undefined>
  /** Of what is in sight. */
  sight: Ref<number>
  /** Of one line. */
  height: ComputedRef<number>
  count: () => number
  /** More lines are wanted. */
  end: () => void
}) {
  const { scroller, sight, height } = parts
  const virtual = useVirtualizer(
    computed(() => ({
      count: parts.count(),
      getScrollElement: () => scroller.value ?? null,
      estimateSize: () => height.value,
      overscan: 0,
      scrollPaddingEnd: 40,
      scrollPaddingStart: 34,
    })),
  )
  const first = computed(() => stepOf(virtual.value.range?.startIndex ?? 0))
  const lines = computed(() => seats(first.value, Math.ceil(sight.value / height.value), parts.count()))
  watch(
    () => Math.max(0, ...lines.value),
    last => {
      if (last >= parts.count() - AHEAD) parts.end()
    },
  )
  watch(height, () => virtual.value.measure())
  return {
    lines,
    total: computed(() => virtual.value.getTotalSize()),
    placed: (index: number): string => `transform: translateY(${index * height.value}px); height: ${height.value}px`,
    show: (index: number): void => virtual.value.scrollToIndex(index),
  }
}
