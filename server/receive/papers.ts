import type { Content } from 'pdfmake/interfaces.js'
import { create } from 'xmlbuilder2'
import type { QueryOf } from '#contract/endpoint.ts'
import type { AssetLabels } from '#contract/receive/assets.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { tidy } from '#core/money/decimal.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { unitLabel } from '#core/units/units.ts'
import { found, type Read } from '#server/call.ts'
import { writeLabels, writeParcelLabel } from '#server/formats/labelPdf.ts'
import { letterhead, pdfmake, QUIET, RULE } from '#server/formats/pdf.ts'
import { namespaces, when } from '#server/formats/ublOrder.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { readSettings } from '#server/house/house.ts'
import { type KnownOrder, knownOrder } from '#server/order/orderStore.ts'
import type { DebitRow } from '#server/receive/returnStore.ts'

const DESPATCH = 'urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2'

interface AdviceLine {
  readonly position: number
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly batch: string
  readonly bestBefore: string | null
  readonly serials: readonly string[]
}
interface Advice {
  readonly number: string
  readonly order: string
  readonly on: string
  readonly arrivesOn: string
  readonly carrier: string
  readonly tracking: string
  readonly note: string
  readonly from: string
  readonly to: string
  readonly packages: readonly { readonly kind: string; readonly sscc: string; readonly weight: string }[]
  readonly lines: readonly AdviceLine[]
}

/** Writes a despatch advice as UBL 2.1 DespatchAdvice. */
export function writeUblDespatch(advice: Advice): string {
  const party = (name: string) => ({ 'cac:Party': { 'cac:PartyName': { 'cbc:Name': name } } })
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      DespatchAdvice: {
        ...namespaces(DESPATCH),
        'cbc:UBLVersionID': '2.1',
        'cbc:ID': advice.number,
        'cbc:IssueDate': advice.on,
        ...when(advice.note, { 'cbc:Note': advice.note }),
        'cac:OrderReference': { 'cbc:ID': advice.order },
        'cac:DespatchSupplierParty': party(advice.from),
        'cac:DeliveryCustomerParty': party(advice.to),
        'cac:Shipment': {
          'cbc:ID': advice.tracking || '1',
          ...when(advice.carrier, {
            'cac:Consignment': {
              'cbc:ID': advice.tracking || '1',
              'cac:CarrierParty': { 'cac:PartyName': { 'cbc:Name': advice.carrier } },
            },
          }),
          'cac:Delivery': {
            ...when(advice.tracking, { 'cbc:TrackingID': advice.tracking }),
            'cac:EstimatedDeliveryPeriod': { 'cbc:EndDate': advice.arrivesOn },
          },
          'cac:TransportHandlingUnit': advice.packages.map((one, index) => ({
            'cbc:ID': one.sscc || String(index + 1),
            'cbc:TransportHandlingUnitTypeCode': one.kind,
            ...when(one.weight, {
              'cac:MeasurementDimension': {
                'cbc:AttributeID': 'AAB',
                'cbc:Measure': { '@unitCode': 'KGM', '#': one.weight },
              },
            }),
          })),
        },
        'cac:DespatchLine': advice.lines.map((line, index) => ({
          'cbc:ID': String(index + 1),
          'cbc:DeliveredQuantity': { '@unitCode': line.unit, '#': line.quantity },
          'cac:OrderLineReference': {
            'cbc:LineID': String(line.position),
            'cac:OrderReference': { 'cbc:ID': advice.order },
          },
          'cac:Item': {
            'cbc:Name': line.description,
            'cac:ItemInstance': instances(line),
          },
        })),
      },
    },
  ).end({ prettyPrint: true })
}

function instances({ batch, bestBefore, serials }: AdviceLine) {
  const lot = {
    ...when(bestBefore, { 'cbc:BestBeforeDate': bestBefore }),
  }
  const id = when(batch, { 'cac:LotIdentification': { 'cbc:LotNumberID': batch } })
  if (serials.length === 0) return Object.keys({ ...lot, ...id }).length > 0 ? [{ ...lot, ...id }] : []
  return serials.map(serial => ({ ...lot, 'cbc:SerialID': serial, ...id }))
}

export async function despatchUbl(call: Read, id: string): Promise<FileAnswer> {
  const row = found(await call.trx('despatches').where({ id }).first(), 'despatch')
  const order = await knownOrder(call, row.orderId)
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const xml = writeUblDespatch({
    number: row.supplierNumber || row.number,
    order: order.number,
    on: row.despatchedOn,
    arrivesOn: row.arrivesOn,
    carrier: row.carrier,
    tracking: row.tracking,
    note: row.note,
    from: order.supplier,
    to: call.house.name,
    packages: row.packages,
    lines: row.lines.map(one => ({ ...one, position: lines.get(one.lineId)!.position, description: lines.get(one.lineId)!.description, unit: lines.get(one.lineId)!.unit })), // prettier-ignore
  })
  return { name: `${row.number}.xml`, mediaType: 'application/xml', bytes: Buffer.from(xml) }
}

/** The note that goes with goods that go back, the label for what they are packed in, the debit note, or what goes back as a despatch advice of ours. */
export async function returnPaper(
  call: Read,
  id: string,
  paper: 'note' | 'label' | 'debit' | 'ubl',
): Promise<FileAnswer> {
  const row = found(await call.trx('goodsReturns').where({ id }).first(), 'goodsReturn')
  const order = await knownOrder(call, row.orderId)
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const parts = new Map((await call.trx('receiptLines').whereIn('id', row.lines.map(one => one.partId))).map(part => [part.id, part])) // prettier-ignore
  const pieces = await call.trx('assets').whereIn('id', row.lines.flatMap(one => [...one.pieces])).select('id', 'serial') // prettier-ignore
  const goes = row.lines.map((one): AdviceLine => {
    const line = lines.get(one.lineId)!
    const part = parts.get(one.partId)
    return { position: line.position, description: line.description, quantity: one.quantity, unit: line.unit, batch: part?.batch ?? '', bestBefore: part?.bestBefore ?? null, serials: pieces.filter(piece => one.pieces.includes(piece.id)).map(piece => piece.serial).filter(Boolean) } // prettier-ignore
  })
  if (paper === 'ubl') {
    const on = row.sentAt?.slice(0, 10) ?? call.today
    const xml = writeUblDespatch({ number: row.number, order: order.number, on, arrivesOn: row.pickUpOn ?? on, carrier: row.carrier, tracking: row.supplierNumber, note: row.reason, from: call.house.name, to: order.supplier, packages: [], lines: goes }) // prettier-ignore
    return { name: `${row.number}.xml`, mediaType: 'application/xml', bytes: Buffer.from(xml) }
  }
  if (paper === 'debit' && row.debitNumber === null)
    throw new RuleBroken(stop('return.noDebit', { number: row.number }))
  const wish = row.wish === 'replacement' ? 'Please send a replacement.' : 'Please credit it.'
  const yours = row.supplierNumber ? `, your number ${row.supplierNumber}` : ''
  if (paper === 'label') {
    const about = [`Goods that go back, order ${order.number}`, row.supplierNumber && `Your number ${row.supplierNumber}`, row.carrier && `By ${row.carrier}`, row.pickUpOn && `To be picked up on ${row.pickUpOn}`].filter(Boolean) as string[] // prettier-ignore
    const { name, street } = await ownAddress(call)
    const bytes = await writeParcelLabel({ number: row.number, from: `${name}\n${street}`, to: order.supplier, about }) // prettier-ignore
    return { name: `${row.number}-label.pdf`, mediaType: 'application/pdf', bytes, inline: true }
  }
  if (paper === 'debit')
    return await debitNote(call, order, { number: row.debitNumber!, reason: row.reason, net: row.debitNet, yours, wish, lines: row.debit }) // prettier-ignore
  return await writePaper(
    call,
    row.number,
    `Goods that go back: ${row.number}`,
    `${order.supplier}, order ${order.number}${yours}`,
    row.reason,
    [
      // prettier-ignore
      table('Batch, serial numbers', goes.map(one => [String(one.position), one.description, `${one.quantity} ${unitLabel(one.unit)}`, [one.batch, ...one.serials].filter(Boolean).join(', ')])), // prettier-ignore
      { text: wish, margin: [0, 10, 0, 0] },
    ],
  )
}

/** The debit note of goods that were taken for less than was ordered. */
export async function inspectionDebit(call: Read, id: string): Promise<FileAnswer> {
  const row = found(await call.trx('inspections').where({ id }).first(), 'inspection')
  if (row.debitNumber === null) throw new RuleBroken(stop('return.noDebit', { number: row.number }))
  const order = await knownOrder(call, row.orderId)
  const line = order.lines.find(one => one.id === row.orderLineId)!
  const lines = [{ position: line.position, description: `${line.description}, ${tidy(row.deductPercent)} % less`, quantity: tidy(row.deducted), unit: line.unit, net: row.debitNet.toString() }] // prettier-ignore
  return await debitNote(call, order, { number: row.debitNumber, reason: row.reason, net: row.debitNet, yours: '', wish: '', lines }) // prettier-ignore
}

type DebitLines = readonly Pick<DebitRow, 'position' | 'description' | 'quantity' | 'unit' | 'net'>[]

async function debitNote(
  call: Read,
  order: Pick<KnownOrder, 'number' | 'supplier' | 'currency'>,
  { number, reason, net, yours, wish, lines }: { number: string; reason: string; net: bigint; yours: string; wish: string; lines: DebitLines }, // prettier-ignore
): Promise<FileAnswer> {
  const money = (amount: bigint): string => formatAmount(minor(amount), order.currency)
  return await writePaper(
    call,
    number,
    `Debit note ${number}`,
    `${order.supplier}, order ${order.number}${yours}`,
    reason,
    [
      // prettier-ignore
      table('Net', lines.map(one => [String(one.position), one.description, `${one.quantity} ${unitLabel(one.unit)}`, money(BigInt(one.net))])), // prettier-ignore
      { text: `${order.currency} ${money(net)} net, taken off your invoices`, bold: true, margin: [0, 10, 0, 0] },
      ...(wish === '' ? [] : [{ text: wish, margin: [0, 10, 0, 0] as [number, number, number, number] }]),
    ],
  )
}

const table = (last: string, body: readonly string[][]): Content => ({
  table: { headerRows: 1, widths: [24, '*', 90, 120], body: [['', 'What', 'How much', last], ...body] },
  layout: { hLineColor: () => RULE, vLineWidth: () => 0 },
})

/** Who we are and where, as it stands on paper. */
async function ownAddress(call: Read): Promise<{ name: string; street: string; logo: string | null }> {
  const { company, logo = null } = await readSettings(call, ['company', 'logo'])
  const street = [company?.street, [company?.postalCode, company?.city].filter(Boolean).join(' ')].filter(Boolean).join('\n') // prettier-ignore
  return { name: company?.name ?? call.house.name, street, logo }
}

/** A paper with our letterhead. */
async function writePaper(
  call: Read,
  number: string,
  title: string,
  about: string,
  reason: string,
  content: readonly Content[],
): Promise<FileAnswer> {
  const { name, street, logo } = await ownAddress(call)
  const bytes = await pdfmake()
    .createPdf({
      info: { title: number },
      pageMargins: [50, 50, 50, 60],
      defaultStyle: { font: 'Roboto', fontSize: 9.5, color: '#1B2431', lineHeight: 1.25 },
      content: [
        letterhead({ name, logo }, street),
        { text: title, fontSize: 20, margin: [0, 24, 0, 2] },
        { text: about, color: QUIET, margin: [0, 0, 0, 12] },
        { text: reason, margin: [0, 0, 0, 12] },
        ...content,
      ],
    })
    .getBuffer()
  return { name: `${number}.pdf`, mediaType: 'application/pdf', bytes, inline: true }
}

/** Labels of pieces with their tags. */
export async function assetLabels(call: Read, query: QueryOf<typeof AssetLabels>): Promise<FileAnswer> {
  const rows = await call
    .trx('assets')
    .whereIn('id', query.ids.split(','))
    .orderBy('tag')
    .select('tag', 'number', 'description', 'serial')
  const bytes = await writeLabels(
    call.house.name,
    rows.map(row => ({ code: row.tag ?? row.number, title: row.description, below: row.serial })),
    query.symbol,
    query.layout,
  )
  return { name: 'labels.pdf', mediaType: 'application/pdf', bytes, inline: true }
}
