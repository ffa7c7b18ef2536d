import type { Content } from 'pdfmake/interfaces.js'
import { pdfmake, printedPrice as printed, QUIET, RULE } from '#server/formats/pdf.ts'
import type { OrderDocument } from '#server/formats/ublOrder.ts'
import type { PartyDocument } from '#server/house/house.ts'
import { unitLabel } from '#core/units/units.ts'

/** The order as a printed document. */
export function writeOrderPdf(order: OrderDocument): Promise<Buffer> {
  return pdfmake()
    .createPdf({
      info: { title: `Order ${order.number}, revision ${order.revision}` },
      pageMargins: [50, 50, 50, 60],
      defaultStyle: { font: 'Roboto', fontSize: 9.5, color: '#1B2431', lineHeight: 1.25 },
      footer: (page, pages) => ({
        text: `Order ${order.number}, revision ${order.revision}    page ${page} of ${pages}`,
        alignment: 'right',
        margin: [50, 20],
        color: QUIET,
        fontSize: 8,
      }),
      content: [
        {
          columns: [
            { text: order.buyer.name, bold: true },
            { text: address(order.buyer), alignment: 'right', color: QUIET },
          ],
        },
        { text: `Order ${order.number}`, fontSize: 20, margin: [0, 24, 0, 2] },
        {
          text:
            order.revision === 0
              ? `of ${order.issuedOn}`
              : `Revision ${order.revision} of ${order.issuedOn}. It replaces every earlier revision.`,
          color: order.revision === 0 ? QUIET : '#8F6414',
          margin: [0, 0, 0, 14],
        },
        { text: `To ${order.seller.name}\n${address(order.seller)}`, margin: [0, 0, 0, 12] },
        ...(order.note ? [{ text: order.note, margin: [0, 0, 0, 12] } satisfies Content] : []),
        lineTable(order),
        ...(order.agreement
          ? [{ text: `Called off agreement ${order.agreement}.`, margin: [0, 10, 0, 0] } satisfies Content]
          : []),
        { text: order.paymentTerms, margin: [0, 14, 0, 2] },
        { text: `Your contact: ${order.contact}`, color: QUIET },
      ],
    })
    .getBuffer()
}

const address = (party: PartyDocument): string =>
  [party.street, [party.postalCode, party.city].filter(Boolean).join(' '), party.country].filter(Boolean).join(', ')

function lineTable(order: OrderDocument): Content {
  const right = (text: string, bold = false) => ({ text, alignment: 'right' as const, bold })
  const head = ['', 'What', 'Needed by', 'Quantity', 'Unit price', `Amount, ${order.currency}`].map((text, index) => ({
    text,
    color: QUIET,
    alignment: index > 2 ? ('right' as const) : ('left' as const),
  }))
  const rows = order.lines.map(line => [
    String(line.position),
    {
      stack: [
        line.description,
        {
          text: [line.buyerItem, line.sellerItem && `your ${line.sellerItem}`, line.address, line.terms]
            .filter(Boolean)
            .join(', '),
          color: QUIET,
          fontSize: 8.5,
        },
      ],
    },
    line.needBy ?? '',
    right(`${line.quantity} ${unitLabel(line.unit)}`),
    right(line.priceBase === '1' ? printed(line.price) : `${printed(line.price)} per ${line.priceBase}`),
    right(line.amount),
  ])
  const charges = Number(order.charges) > 0 ? [['', 'Freight and charges', '', '', '', right(order.charges)]] : []
  const total = ['', { text: 'Net, before tax', bold: true }, '', '', '', right(order.total, true)]
  return {
    table: { headerRows: 1, widths: [14, '*', 60, 60, 62, 70], body: [head, ...rows, ...charges, total] },
    layout: {
      hLineColor: () => RULE,
      vLineWidth: () => 0,
      hLineWidth: index => (index === 0 ? 0 : 0.7),
      paddingTop: () => 5,
      paddingBottom: () => 5,
    },
  }
}
