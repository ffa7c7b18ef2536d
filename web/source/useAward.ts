import { computed, reactive, type Ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { CompareEvent } from '#contract/source/comparing.ts'
import { sumTexts } from '#core/money/text.ts'
import { quantitiesByShare } from '#core/source/award.ts'

type Comparison = ResponseOf<typeof CompareEvent>
const keyOf = (lineId: string, supplierId: string): string => `${lineId} ${supplierId}`

/** Who gets how much of which line, while somebody is choosing. */
export function useAward(comparison: Readonly<Ref<Comparison | undefined>>) {
  const quantities = reactive<Record<string, string>>({})
  const clear = (): void => Object.keys(quantities).forEach(key => delete quantities[key])
  const of = (lineId: string, supplierId: string): string => quantities[keyOf(lineId, supplierId)] ?? ''
  const give = (lineId: string, supplierId: string, quantity: string): void => {
    if (quantity === '' || quantity === '0') delete quantities[keyOf(lineId, supplierId)]
    else quantities[keyOf(lineId, supplierId)] = quantity
  }
  /** The whole line to one; once more: to nobody. */
  function toggle(lineId: string, supplierId: string): void {
    const line = comparison.value?.lines.find(one => one.id === lineId)
    const index = comparison.value?.suppliers.findIndex(one => one.supplierId === supplierId) ?? -1
    const cell = line?.cells[index]
    if (!line || !cell) return
    const had = of(lineId, supplierId) !== ''
    for (const one of comparison.value!.suppliers) give(lineId, one.supplierId, '')
    if (!had) give(lineId, supplierId, cell.quantity)
  }
  /** Shares a line evenly among those chosen and one more. */
  function share(lineId: string, supplierId: string): void {
    const line = comparison.value?.lines.find(one => one.id === lineId)
    if (!line) return
    const chosen = comparison.value!.suppliers.map(one => one.supplierId).filter(id => of(lineId, id) !== '' || id === supplierId) // prettier-ignore
    const digits = line.quantity.split('.')[1]?.length ?? 0
    const parts = quantitiesByShare(line.quantity, digits, chosen.map(() => '1')) // prettier-ignore
    chosen.forEach((id, index) => give(lineId, id, parts[index]!))
  }
  function cheapest(): void {
    clear()
    for (const line of comparison.value?.lines ?? []) {
      const index = line.cells.findIndex(cell => cell?.best)
      if (index >= 0) give(line.id, comparison.value!.suppliers[index]!.supplierId, line.cells[index]!.quantity)
    }
  }
  function allTo(supplierId: string): void {
    clear()
    const index = comparison.value?.suppliers.findIndex(one => one.supplierId === supplierId) ?? -1
    for (const line of comparison.value?.lines ?? []) {
      const cell = line.cells[index]
      if (cell?.landed) give(line.id, supplierId, cell.quantity)
    }
  }
  const shares = computed(() =>
    Object.entries(quantities).map(([key, quantity]) => {
      const [lineId = '', supplierId = ''] = key.split(' ')
      return { lineId, supplierId, quantity }
    }),
  )
  const given = (lineId: string): string =>
    sumTexts(shares.value.filter(one => one.lineId === lineId).map(one => one.quantity))
  return {
    of,
    give,
    toggle,
    share,
    cheapest,
    allTo,
    clear,
    shares,
    given,
    any: computed(() => shares.value.length > 0),
  }
}
export type AwardChoice = ReturnType<typeof useAward>
