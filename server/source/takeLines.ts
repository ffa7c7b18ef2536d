import type { BodyOf } from '#contract/endpoint.ts'
import type { TakeLines } from '#contract/source/events.ts'
import { needsRight } from '#core/acts/actor.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { eventColumns, readEventLine } from '#core/source/eventLineImport.ts'
import type { Done, Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { refuse } from '#server/documents/obey.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { addLines } from '#server/source/eventActs.ts'
import { heldEvent, type NewEventLine } from '#server/source/eventStore.ts'

/** Lines that one event can have. */
const MOST_LINES = 1000
/** Rows that are named as wrong at once. */
const MOST_FAULTS = 50

/** Lines from a workbook, a delimited file or what was pasted; all of them, or none and why. */
export async function takeLines(
  call: Write,
  id: string,
  body: BodyOf<typeof TakeLines>,
): Promise<Done & { lines: number }> {
  const event = await heldEvent(call, id, body.version)
  refuse(needsRight(call.actor, 'event.write'))
  const bytes = body.fileId === null ? Buffer.from(body.pasted, 'utf8') : await ownContent(call, body.fileId)
  const { headings, rows } = await compute('cellsOf', { bytes: new Uint8Array(bytes), days: true })
  const columns = eventColumns(headings)
  if (!columns.has('description') || !columns.has('quantity')) throw new RuleBroken(stop('lines.headings'))
  if (rows.length + event.lines.length > MOST_LINES) throw new RuleBroken(stop('lines.tooMany', { most: MOST_LINES }))
  const read = rows.map((row, index) => readEventLine(row, columns, index + 2))
  const faults = read.flatMap(one => ('reasons' in one ? one.reasons : []))
  if (faults.length > 0) throw new RuleBroken(faults.slice(0, MOST_FAULTS))
  if (read.length === 0) throw new RuleBroken(stop('lines.none'))
  const items = await itemsOf(call, read.map(one => ('line' in one ? one.line.item : ''))) // prettier-ignore
  const lines = read.flatMap((one): NewEventLine[] => {
    if (!('line' in one)) return []
    const { item, ...line } = one.line
    const known = items.get(item)
    return [
      {
        ...line,
        itemId: known?.id ?? null,
        category: line.category || (known?.category ?? ''),
        addressId: null,
        incoterm: null,
        incotermPlace: '',
        referenceFrom: line.reference === '' ? null : 'estimate',
        requisitionLineId: null,
        accountId: null,
        texts: {},
      },
    ]
  })
  return { ...(await addLines(call, event, lines)), lines: lines.length }
}

async function itemsOf(
  call: Write,
  numbers: readonly string[],
): Promise<Map<string, { id: string; category: string }>> {
  const wanted = [...new Set(numbers.filter(Boolean))]
  const rows = await call.trx('items').whereIn('number', wanted).select('id', 'number', 'category')
  return new Map(rows.map(row => [row.number, row]))
}
