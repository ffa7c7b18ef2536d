import {
  columnOrderingFeature,
  columnPinningFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  tableFeatures,
  useTable,
} from '@tanstack/vue-table'
import { computed, type ComputedRef } from 'vue'
import { type ColumnLook, NARROWEST, WIDEST } from '#core/lists/looks.ts'
import type { TableColumn } from '#web/shared/table/table.ts'

const features = tableFeatures({
  columnOrderingFeature,
  columnPinningFeature,
  columnVisibilityFeature,
  columnSizingFeature,
  columnResizingFeature,
})
type Sizes = Record<string, number>

/**
 * The columns of a table by how somebody wants to see them: order, pinned, hidden and widths come from `looks`, what has no width is as wide
 * as its content. Dragging an edge tells the new width when it is let go.
 */
export function useColumns<Row extends object>(parts: {
  columns: ComputedRef<readonly TableColumn<Row>[]>
  looks: ComputedRef<readonly ColumnLook[]>
  fitted: ComputedRef<ReadonlyMap<string, number>>
  sized: (key: string, width: number) => void
}) {
  const { columns, looks, fitted } = parts
  const dragged = computed<Sizes>(() =>
    Object.fromEntries(looks.value.map(look => [look.key, look.width ?? fitted.value.get(look.key) ?? 120])),
  )
  const state = computed(() => ({
    columnOrder: looks.value.map(look => look.key),
    columnVisibility: Object.fromEntries(looks.value.map(look => [look.key, !look.hidden])),
    columnPinning: { start: looks.value.filter(look => look.pinned).map(look => look.key), end: [] as string[] },
    columnSizing: dragged.value,
  }))
  const table = useTable({
    features,
    data: computed<Row[]>(() => []),
    columns: computed(() =>
      columns.value.map(column => ({ id: column.key, header: column.label, minSize: NARROWEST, maxSize: WIDEST })),
    ),
    columnResizeMode: 'onEnd' as const,
    state,
    onColumnSizingChange: (next: Sizes | ((old: Sizes) => Sizes)) => {
      const after = typeof next === 'function' ? next(dragged.value) : next
      for (const [key, width] of Object.entries(after))
        if (Math.round(width) !== Math.round(dragged.value[key] ?? 0)) parts.sized(key, Math.round(width))
    },
  })
  return { table, headers: computed(() => table.getHeaderGroups()[0]?.headers ?? []) }
}
