import type { ResponseOf } from '#contract/endpoint.ts'
import { type LoadDock, type LookUp, MOST_LINES } from '#contract/receive/handheld.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { countableUnits } from '#core/receive/facts.ts'
import { readScan } from '#core/receive/scan.ts'
import { isWork, LINE_KINDS } from '#core/request/kinds.ts'
import { found, type Read } from '#server/call.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { proposedTag } from '#server/receive/assetStore.ts'
import { countedLines } from '#server/receive/receivingStore.ts'

type DeviceLine = ResponseOf<typeof LoadDock>['lines'][number]
type Row = Omit<
  DeviceLine,
  'units' | 'blind' | 'becomes' | 'serial' | 'batch' | 'bestBefore' | 'tagRange' | 'gtins'
> & { gtin: string }

const GOODS = LINE_KINDS.filter(kind => !isWork(kind))

/** What a dock expects, soonest first, with all that a device needs to count it. */
export async function loadDock(call: Read, wanted?: string): Promise<ResponseOf<typeof LoadDock>> {
  const places = await call.trx('addresses').where({ open: true }).orderBy('name').select('id', 'name', 'dock')
  const placeId = found(places.find(place => place.id === wanted) ?? places[0], 'address').id
  const { rows } = await call.trx.raw<{ rows: Row[] }>(
    `select l.id as line_id, o.id as order_id, l.position, o.number as order, s.name as supplier, l.description, coalesce(i.number, '') as item, coalesce((select min(f.supplier_item) from offers f where f.item_id = l.item_id and f.supplier_id = o.supplier_id), '') as supplier_item,
       coalesce(nullif(i.maker_number, ''), l.details ->> 'makerNumber', '') as maker_number, coalesce(i.gtin, '') as gtin, coalesce(d.tracking, '{}') as tracking, coalesce(d.ssccs, '{}') as ssccs,
       l.unit, trim_scale(l.quantity)::text as ordered, trim_scale(greatest(0, l.quantity - l.proven))::text as open, coalesce(l.promised_date, l.need_by)::text as expected_on, d.id as despatch_id
     from order_lines l join orders o on o.id = l.order_id join suppliers s on s.id = o.supplier_id left join items i on i.id = l.item_id
       left join lateral (select (array_agg(x.id order by x.arrives_on))[1] as id, array_remove(array_agg(x.tracking), '') as tracking, array_agg(p ->> 'sscc') filter (where p ->> 'sscc' <> '') as ssccs from despatches x left join lateral jsonb_array_elements(x.packages) p on true where x.order_id = o.id and x.state = 'sent') d on true
     where o.state = any(:live) and l.kind = any(:goods) and l.proof = 'count' and l.proven < l.quantity and (coalesce(l.address_id, o.address_id) = :place or coalesce(l.address_id, o.address_id) is null)
     order by coalesce(l.promised_date, l.need_by, '9999-12-31'), o.number, l.position limit :most`,
    { live: [...ORDER_GROUPS.live], goods: GOODS, place: placeId, most: MOST_LINES + 1 },
  )
  const shown = rows.slice(0, MOST_LINES)
  const terms = await countedLines(call, shown.map(row => row.lineId)) // prettier-ignore
  const lines = shown.map(({ gtin, ...row }): DeviceLine => {
    const known = terms.get(row.lineId)!
    const { blind, becomes, serial, batch, bestBefore, tagRange } = known.terms.terms
    // who counts unseen is not told here either
    const figures = blind ? { ordered: '0', open: '0' } : {}
    const units = countableUnits(row.unit, known)
    return { ...row, ...figures, gtins: gtin === '' ? [] : [gtin], units, blind, becomes, serial, batch, bestBefore, tagRange } // prettier-ignore
  })
  const nextTags: Record<string, string | null> = {}
  for (const range of new Set(lines.filter(line => line.becomes === 'asset').map(line => line.tagRange)))
    nextTags[range] = await proposedTag(call, range)
  return {
    person: { id: call.actor.id, name: call.actor.name },
    placeId,
    places: places.map(place => ({ id: place.id, label: `${place.name}, ${place.dock}` })),
    lines,
    more: rows.length > MOST_LINES,
    nextTags,
    today: call.today,
  }
}

const MOST_FOUND = 50

/** What a scan means among all orders: open lines by any of their numbers, and orders by theirs, also those that are in. */
export async function lookUp(call: Read, q: string): Promise<ResponseOf<typeof LookUp>> {
  const scan = readScan(q, call.today)
  if (scan.reasons.length > 0) return { found: [], reasons: reasonsJson(scan.reasons) }
  const item = scan.gtin !== undefined ? `lpad(i.gtin, 14, '0') = :gtin and i.gtin <> ''` : `lower(i.number) = :typed or (lower(i.maker_number) = :typed and i.maker_number <> '')` // prettier-ignore
  const { rows } = await call.trx.raw<{ rows: Omit<ResponseOf<typeof LookUp>['found'][number], 'path'>[] }>(
    `with hits as (
       select l.id from order_lines l where not l.settled and l.item_id in (select i.id from items i where ${item})
       union select l.id from order_lines l where not l.settled and :typed <> '' and l.item_id in (select f.item_id from offers f where lower(f.supplier_item) = :typed and f.supplier_item <> '')
       union select l.id from orders o join order_lines l on l.order_id = o.id where lower(o.number) = :order
       union select l.id from despatches d join order_lines l on l.order_id = d.order_id where d.state = 'sent' and (lower(d.tracking) = :typed and d.tracking <> '' or d.packages @> :package::jsonb)
       limit 500)
     select o.id as order_id, l.id as line_id, o.number, s.name as supplier, l.description, trim_scale(greatest(0, l.quantity - l.proven))::text as open, l.unit
     from hits join order_lines l on l.id = hits.id join orders o on o.id = l.order_id join suppliers s on s.id = o.supplier_id
     where o.state <> 'draft' and ${visibleSql(call, 'delivery', 'o')} order by l.proven >= l.quantity, o.need_by, o.number, l.position limit ${MOST_FOUND}`,
    {
      ...visibleBindings(call),
      gtin: scan.gtin ?? '',
      typed: scan.gtin ? '' : scan.text,
      order: (scan.order ?? scan.text).toLowerCase(),
      package: JSON.stringify([{ sscc: scan.sscc ?? '-' }]),
    },
  )
  return { found: rows.map(row => ({ ...row, path: pathOf('delivery', row.orderId) })), reasons: [] }
}
