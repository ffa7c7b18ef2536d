import { ReadInvoiceFiles } from '#contract/bill/endpoints.ts'
import { checkInvoice } from '#core/bill/en16931.ts'
import { linkProposals, type LooseLine, type OpenLine } from '#core/bill/linkProposals.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { vatOf } from '#demo/world.ts'
import { type Figure, figure } from '#bench/figures.ts'
import { pdfmake } from '#server/formats/pdf.ts'
import { invoiceLine, invoiceXml, plainCii, plainInvoice } from '#test-helpers/invoices.ts'
import { goodsLine, type Issued, ordered, received, today } from '#test-helpers/steps.ts'
import type { World } from '#test-helpers/world.ts'

const LARGE = 5000
const SMALL = 10
/** Milliseconds that the rules may take: of an invoice with five thousand lines, and of one with ten. */
const LARGE_LIMIT = 250
const SMALL_LIMIT = 2

/** An invoice of so many lines, as XML. */
function manyLines(count: number): string {
  const lines = Array.from({ length: count }, (_line, at) => invoiceLine(String(at + 1), '10', 'C62', '1.50', '1', '15.00', 'E', '0', `Part ${at + 1}`)).join('') // prettier-ignore
  const sum = (15 * count).toFixed(2)
  const amount = (name: string, value: string): string => `<cbc:${name} currencyID="EUR">${value}</cbc:${name}>`
  const totals = `<cac:TaxTotal>${amount('TaxAmount', '0.00')}<cac:TaxSubtotal>${amount('TaxableAmount', sum)}${amount('TaxAmount', '0.00')}<cac:TaxCategory><cbc:ID>E</cbc:ID><cbc:Percent>0</cbc:Percent><cbc:TaxExemptionReason>exempt</cbc:TaxExemptionReason></cac:TaxCategory></cac:TaxSubtotal></cac:TaxTotal><cac:LegalMonetaryTotal>${amount('LineExtensionAmount', sum)}${amount('TaxExclusiveAmount', sum)}${amount('TaxInclusiveAmount', sum)}${amount('PayableAmount', sum)}</cac:LegalMonetaryTotal>` // prettier-ignore
  return invoiceXml({ lines, totals, extra: '' })
}

/** The rules alone, of an invoice with five thousand lines and one with ten: the slowest of twenty against what is allowed. */
export function checkRules(): Promise<Figure> {
  const longest = (count: number): number => {
    const invoice = readEInvoice(manyLines(count))
    const times = Array.from({ length: 25 }, () => {
      const start = performance.now()
      const violations = checkInvoice(invoice, '2026-11-26', ['german', 'peppol'])
      if (violations.some(one => one.set === 'en16931')) throw new Error(violations[0]!.rule)
      return performance.now() - start
    })
    // the first few are still being compiled
    return Math.max(...times.slice(5))
  }
  const [large, small] = [longest(LARGE), longest(SMALL)]
  const one = figure('bill.check', large, LARGE_LIMIT, 1)
  return Promise.resolve({ ...one, ok: one.ok && small <= SMALL_LIMIT, note: `${SMALL} lines ${small.toFixed(2)} ms (${SMALL_LIMIT}); all sets of rules` }) // prettier-ignore
}

const LOOSE = 200
const OPEN = 5000
const LINK_LIMIT = 1000
const THINGS = ['pump', 'valve', 'seal', 'probe', 'filter', 'lamp', 'hose', 'tank', 'brush', 'feed']

/** Lines without a reference against open ones of their supplier that are alike in words, price and quantity: the slowest of five. */
export function linkLines(): Promise<Figure> {
  const words = (at: number): string => `${THINGS[at % 10]} ${THINGS[(at * 7 + 3) % 10]} type ${at % 400} for basin ${at % 23}` // prettier-ignore
  const open = Array.from({ length: OPEN }, (_line, at): OpenLine => ({ id: `o${at}`, order: `O-${at % 900}`, position: 1 + (at % 5), words: words(at), supplierItem: at % 3 ? '' : `S-${at}`, item: `I-${at}`, units: new Map([['C62', '1']]), open: String(1 + (at % 17)), proven: String(at % 9), price: (10 + (at % 190) / 4).toFixed(2) })) // prettier-ignore
  const loose = Array.from({ length: LOOSE }, (_line, row): LooseLine => {
    const like = open[row * 25]!
    return { id: `l${row}`, words: like.words.split(' ').reverse().join(' '), sellerItem: '', buyerItem: '', order: '', orderLine: '', unit: 'C62', quantity: like.open, price: like.price } // prettier-ignore
  })
  let found = 0
  const times = Array.from({ length: 5 }, () => {
    const start = performance.now()
    found = linkProposals(loose, open).filter(one => open[Number(one.lineId.slice(1)) * 25]!.words === open[Number(one.orderLineId.slice(1))]!.words).length // prettier-ignore
    return performance.now() - start
  })
  const one = figure('bill.link-proposals', Math.max(...times), LINK_LIMIT, 1)
  return Promise.resolve({ ...one, note: `${found} of ${LOOSE} lines proposed for a line of the same words` })
}

const EACH_LIMIT = 40
const OF_AN_ORDER = 10

/** Mixed e-invoices (UBL, CII, PDF) uploaded, read, checked, matched and stored, one after the other: milliseconds of each, and what stays in memory. */
export async function readThousand(world: World, _runs: number, small: boolean): Promise<Figure> {
  const count = small ? 60 : 1000
  const orders: Issued[] = []
  for (let at = 0; at < count / OF_AN_ORDER; at++) {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', String(OF_AN_ORDER))])
    await received(world, order)
    orders.push(order)
  }
  const clerk = await world.as('Leonie')
  const fileIds: string[] = []
  for (let at = 0; at < count; at++) {
    const parts = { number: `RK-${at}`, order: orders[at % orders.length]!.number, vat: vatOf('nordhavn'), quantity: '1', price: '85.00', net: '85.00', orderLine: '1', issueDate: today() } // prettier-ignore
    const [name, bytes] = at % 3 === 0 ? ['a.xml', plainInvoice(parts)] as const : at % 3 === 1 ? ['b.xml', plainCii(parts)] as const : ['c.pdf', await inPdf(plainCii(parts))] as const // prettier-ignore
    fileIds.push((await clerk.upload(name, bytes)).body.id)
  }
  const before = process.memoryUsage().rss
  let taken = 0
  const start = performance.now()
  for (let at = 0; at < count; at += 50) {
    const { results } = await clerk.do(ReadInvoiceFiles, { body: { fileIds: fileIds.slice(at, at + 50) } })
    taken += results.filter(one => one.state !== 'refused').length
  }
  const each = (performance.now() - start) / count
  const grown = (process.memoryUsage().rss - before) / 1024 / 1024
  const one = figure('bill.read-1k', each, EACH_LIMIT, 1)
  return { ...one, ok: one.ok && taken === count, note: `${taken} of ${count} taken, a third of them PDFs; ${grown.toFixed(0)} MB more` } // prettier-ignore
}

async function inPdf(xml: string): Promise<Buffer> {
  const src = `data:application/xml;base64,${Buffer.from(xml).toString('base64')}`
  return await pdfmake().createPdf({ defaultStyle: { font: 'Roboto' }, content: ['An invoice'], files: { data: { src, name: 'factur-x.xml' } } } as never).getBuffer() // prettier-ignore
}
