import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadCosting } from '#contract/build/costings.ts'
import { type Change, changesBetween } from '#core/build/compareDays.ts'
import { costingActions } from '#core/build/costingActs.ts'
import { found, type Read } from '#server/call.ts'
import { actionsJson, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { type BuildLineRow, factsOf, type Known, knownCosting, type KnownCosting } from '#server/build/costingStore.ts'
import { itemsOf, knownToday } from '#server/build/knownStore.ts'
import { linksOf } from '#server/build/linkActs.ts'

type Costing = ResponseOf<typeof ReadCosting>
/** Changes since the day of a costing that are told one by one. */
const MOST_CHANGES = 40

/** A costing with all that it is computed from, and what is otherwise today. */
export async function readCosting(call: Read, id: string): Promise<Costing> {
  await needVisible(call, 'costing', id)
  const costing = await knownCosting(call, id)
  const { row } = costing
  const owner = found(await call.trx('people').where({ id: row.ownerId }).first('name'), 'person')
  const now = await knownToday(call, itemsOf(costing), row.settings.currency)
  const changes = changesBetween(factsOf(costing), { ...now, lines: [], pricedOn: call.today })
  return {
    kind: 'costing',
    id,
    number: row.number,
    version: row.version,
    title: row.title,
    state: row.state,
    sentence: { code: 'costing.short', details: { builds: row.settings.builds, unpriced: row.unpriced } },
    tone: row.unpriced > 0 ? 'attention' : 'plain',
    thread: null,
    budgets: [],
    steps: [],
    ...(await sheetParts(call, 'costing', id)),
    owner: owner.name,
    mine: row.ownerId === call.actor.id,
    actions: actionsJson(costingActions(row, call.actor)),
    sender: row.sender,
    pricedOn: row.pricedOn,
    settings: row.settings,
    parts: row.parts,
    beside: row.beside,
    lines: await linesJson(call, costing),
    known: row.known,
    changes: changes.slice(0, MOST_CHANGES) as Costing['changes'],
    moreChanges: Math.max(0, changes.length - MOST_CHANGES),
    links: await linksOf(call, id),
    names: namesOf(now, changes),
  }
}

async function linesJson(call: Read, { lines }: KnownCosting): Promise<Costing['lines']> {
  const ids = [...new Set(lines.flatMap(line => line.offered.map(one => one.itemId)))]
  const items = await call.trx('items').whereIn('id', ids).select('id', 'number', 'name')
  const named = new Map(items.map(item => [item.id, item]))
  const offeredOf = ({ offered, itemId }: BuildLineRow): Costing['lines'][number]['offered'] =>
    itemId !== null
      ? []
      : offered.flatMap(one => {
          const item = named.get(one.itemId)
          return item ? [{ ...one, reasons: [...one.reasons], number: item.number, name: item.name }] : []
        })
  return lines.map(line => ({
    parent: line.parent,
    number: line.number,
    maker: line.maker,
    makerNumber: line.makerNumber,
    gtin: line.gtin,
    description: line.description,
    quantity: line.quantity,
    unit: line.unit,
    places: line.places,
    remarks: line.remarks,
    itemId: line.itemId,
    row: line.row,
    matched: line.matched,
    offered: offeredOf(line),
  }))
}

/** Items and suppliers that changes name, whether the costing knew them or not. */
function namesOf(now: Known, changes: readonly Change[]): Record<string, string> {
  const wanted = new Set(
    changes.flatMap(one => [
      ...('itemId' in one ? [one.itemId] : []),
      ...('supplierId' in one ? [one.supplierId] : []),
    ]),
  )
  return Object.fromEntries(
    [...now.items, ...now.suppliers].filter(one => wanted.has(one.id)).map(one => [one.id, one.name]),
  )
}
