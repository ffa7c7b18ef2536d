import { AddAlternate, ChangeLines, EndLink, MoveCosting, PriceAgain } from '#contract/build/costings.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import type { CostingRow } from '#core/build/costingRows.ts'
import { api } from '#web/api.ts'
import type { useCosting } from '#web/build/useCosting.ts'

/** What is done to the list of a costing and to the costing as a whole; each is kept at once and read anew. */
export function useLineActs({ data, version, action, reload }: ReturnType<typeof useCosting>) {
  const params = () => ({ id: data.value!.id })
  async function go(act: () => Promise<unknown>): Promise<void> {
    await action.run(act)
    await reload()
  }
  const lines = (changes: BodyOf<typeof ChangeLines>['lines']): Promise<void> =>
    go(() => api(ChangeLines, { params: params(), body: { version: version.value, lines: changes } }))
  return {
    /** What all places of a part are. */
    match: (row: CostingRow, itemId: string | null) =>
      lines(
        row.lines.map(position => ({
          position,
          itemId,
          quantity: data.value!.lines[position]!.quantity,
          unit: data.value!.lines[position]!.unit,
        })),
      ),
    quantity: (position: number, quantity: string, unit: string) =>
      lines([{ position, itemId: data.value!.lines[position]!.itemId, quantity, unit }]),
    alternate: (key: string, itemId: string, take: boolean) =>
      go(() => api(AddAlternate, { params: params(), body: { version: version.value, key, itemId, take } })),
    priceAgain: () => go(() => api(PriceAgain, { params: params(), body: { version: version.value } })),
    moveTo: (to: 'putAway' | 'takeUp') =>
      go(() => api(MoveCosting, { params: params(), body: { version: version.value, to } })),
    endLink: (linkId: string) => go(() => api(EndLink, { params: { ...params(), linkId } })),
  }
}
