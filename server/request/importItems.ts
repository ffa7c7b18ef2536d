import { randomUUID } from 'node:crypto'
import type { ImportResult } from '#contract/files/endpoints.ts'
import { stop } from '#core/reasons.ts'
import { type ImportedItem, ITEM_COLUMNS, readItemRow } from '#core/request/itemImport.ts'
import type { Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { json } from '#server/database/json.ts'
import { MOST_ROWS } from '#server/formats/cells.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import { keepPrices } from '#server/request/priceStore.ts'
import { searchName, suppliersCalled } from '#server/source/supplierStore.ts'

type Placed = ImportedItem & { readonly row: number }

const hasOffer = (item: ImportedItem): boolean => item.supplierName !== ''

const NEEDED = ['number', 'name', 'category'] as const

/**
 * Reads an item file with offers; suppliers are found by name or number. A known item gets the offer renewed, or none where the row has
 * none. All rows or none; `most`: rows that are taken at once.
 */
export async function importItems(
  call: Write,
  bytes: Buffer,
  dryRun: boolean,
  most = MOST_ROWS,
): Promise<ImportResult> {
  const table = await compute('tableOf', { bytes, known: ITEM_COLUMNS, needed: NEEDED, most })
  const faults: RowFaults[] = []
  const items: Placed[] = []
  const seen = new Map<string, number>()
  for await (const { row, index } of slices(table.rows)) {
    const number = index + 2
    const { item, reasons } = readItemRow(row, number)
    const key = item ? [item.number, searchName(item.supplierName), item.supplierItemNumber].join('\n') : ''
    if (!item) faults.push({ row: number, reasons })
    else if (seen.has(key))
      faults.push({
        row: number,
        reasons: [stop('import.twice', { row: seen.get(key)! }, { place: `rows.${number}.number` })],
      })
    else items.push({ ...item, row: number })
    seen.set(key, number)
  }
  const suppliers = await suppliersCalled(
    call,
    items.filter(hasOffer).map(item => item.supplierName),
  )
  for (const item of items.filter(hasOffer))
    if (!suppliers.has(searchName(item.supplierName)))
      faults.push({
        row: item.row,
        reasons: [
          stop(
            'import.noSupplier',
            { supplier: item.supplierName.slice(0, 60) },
            { place: `rows.${item.row}.supplier` },
          ),
        ],
      })
  const load = !dryRun && faults.length === 0
  if (load) await insertAll(call, items, suppliers)
  return importResult(table, faults, load)
}

async function insertAll(
  call: Write,
  items: readonly Placed[],
  suppliers: ReadonlyMap<string, { readonly id: string }>,
): Promise<void> {
  const byNumber = new Map(items.map(item => [item.number, item]))
  const rows = [...byNumber.values()].map(item => ({
    id: randomUUID(),
    number: item.number,
    name: item.name,
    description: item.description,
    category: item.category,
    unit: item.unit,
    gtin: item.gtin,
    maker: item.maker,
    makerNumber: item.makerNumber,
    alsoCalled: item.alsoCalled,
    packs: json([...item.packs]),
    stocked: item.stocked,
    certified: item.certified,
    discontinuedOn: item.discontinuedOn,
  }))
  for (let start = 0; start < rows.length; start += 1000)
    await call
      .trx('items')
      .insert(rows.slice(start, start + 1000))
      .onConflict('number')
      .merge([
        'name',
        'description',
        'category',
        'unit',
        'gtin',
        'maker',
        'makerNumber',
        'alsoCalled',
        'packs',
        'stocked',
        'certified',
        'discontinuedOn',
      ])
  const ids = new Map(
    (
      await call
        .trx('items')
        .whereRaw('number = any(?)', [[...byNumber.keys()]])
        .select('id', 'number')
    ).map(row => [row.number, row.id]),
  )
  const offered = items.filter(hasOffer)
  const offers = offered.map(item => ({
    id: randomUUID(),
    itemId: ids.get(item.number)!,
    supplierId: suppliers.get(searchName(item.supplierName))!.id,
    supplierItem: item.supplierItemNumber,
    currency: item.currency,
    unit: item.soldIn,
    priceBase: item.priceBase,
    minimum: item.minimum,
    multiple: item.multiple,
    leadTimeDays: item.leadTimeDays,
    validFrom: call.today,
    validTo: item.validTo,
    agreement: item.agreement,
    incoterm: item.incoterm,
    incotermPlace: item.incotermPlace,
    countries: [...item.countries],
    freight: item.freight,
    inStock: item.inStock,
    tiers: json([...item.tiers]),
  }))
  const kept = new Map<string, string>()
  for (let start = 0; start < offers.length; start += 1000) {
    const saved = await call
      .trx('offers')
      .insert(offers.slice(start, start + 1000))
      .onConflict(call.trx.raw('(item_id, supplier_id, supplier_item) where agreement_line_id is null') as never)
      .merge([
        'currency',
        'unit',
        'priceBase',
        'minimum',
        'multiple',
        'leadTimeDays',
        'tiers',
        'validFrom',
        'validTo',
        'agreement',
        'incoterm',
        'incotermPlace',
        'countries',
        'freight',
        'inStock',
      ])
      .returning(['id', 'itemId', 'supplierId', 'supplierItem'])
    for (const row of saved) kept.set(offerKey(row), row.id)
  }
  // the prices of a file hold from today on, as those entered by hand do
  await keepPrices(
    call,
    offers.map(({ priceBase, ...offer }, at) => ({
      offerId: kept.get(offerKey(offer))!,
      fromDay: call.today,
      priceBase,
      tiers: offered[at]!.tiers,
    })),
    { origin: 'file', reason: '' },
  )
  await linkReplacements(call, items)
  await call.trx.raw(
    'insert into supply_categories (name) select distinct category from items where category <> ? on conflict do nothing',
    [''],
  )
}

const offerKey = (offer: { itemId: string; supplierId: string; supplierItem: string }): string =>
  `${offer.itemId} ${offer.supplierId} ${offer.supplierItem}`

/** Discontinued items point at what takes their place, by number; a number that nobody has is left out. */
async function linkReplacements(call: Write, items: readonly Placed[]): Promise<void> {
  const pairs = items
    .filter(item => item.replacedBy !== '' && item.replacedBy !== item.number)
    .map(item => ({ number: item.number, after: item.replacedBy }))
  if (pairs.length === 0) return
  await call.trx.raw(
    `update items set replaced_by = after.id from jsonb_to_recordset(?::jsonb) as pair (number text, after text) join items after on after.number = pair.after where items.number = pair.number`,
    [JSON.stringify(pairs)],
  )
}
