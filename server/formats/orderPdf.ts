import type { Content } from 'pdfmake/interfaces.js'
import { write, writtenDay, writtenFigure, writeUnit } from '#contract/messages/translate.ts'
import { CHARGE_KINDS, type ChargeKind } from '#core/order/charges.ts'
import { addressText } from '#core/text/address.ts'
import { letterhead, padDecimals, pdfmake, QUIET, RULE } from '#server/formats/pdf.ts'
import type { DocumentLine, OrderDocument } from '#server/formats/ublOrder.ts'

/** The order as a printed document, in the language of whoever gets it, with days, figures and addresses as they are written there. */
export function writeOrderPdf(order: OrderDocument): Promise<Buffer> {
  const say = write(order.language)
  const { number, revision } = order
  const day = writtenDay(order.issuedOn, localeOf(order))
  return pdfmake()
    .createPdf({
      info: { title: say('Order {number}, revision {revision}', { number, revision }) },
      language: order.language,
      pageMargins: [50, 50, 50, 60],
      defaultStyle: { font: 'Roboto', fontSize: 9.5, color: '#1B2431', lineHeight: 1.25 },
      footer: (page, pages) => ({
        text: `${say('Order {number}, revision {revision}', { number, revision })}    ${say('page {page} of {pages}', { page, pages })}`,
        alignment: 'right',
        margin: [50, 20],
        color: QUIET,
        fontSize: 8,
      }),
      content: [
        letterhead({ name: order.buyer.name, logo: order.logo }, addressText(order.buyer)),
        { text: say('Order {number}', { number }), fontSize: 20, margin: [0, 24, 0, 2] },
        {
          text:
            revision === 0
              ? say('of {day}', { day })
              : say('Revision {revision} of {day}. It replaces every earlier revision.', { revision, day }),
          color: revision === 0 ? QUIET : '#8F6414',
          margin: [0, 0, 0, 14],
        },
        {
          text: `${say('To {name}', { name: order.seller.name })}\n${addressText(order.seller)}`,
          margin: [0, 0, 0, 12],
        },
        ...(order.note ? [{ text: order.note, margin: [0, 0, 0, 12] } satisfies Content] : []),
        lineTable(order),
        ...(order.agreement
          ? [
              {
                text: say('Called off agreement {number}.', { number: order.agreement }),
                margin: [0, 10, 0, 0],
              } satisfies Content,
            ]
          : []),
        { text: order.paymentTerms, margin: [0, 14, 0, 2] },
        ...order.clauses.map(
          one =>
            ({
              stack: [
                { text: say('{name}, version {version}', { name: one.name, version: one.version }), bold: true },
                one.text,
              ],
              fontSize: 8.5,
              margin: [0, 8, 0, 0],
            }) satisfies Content,
        ),
        { text: say('Your contact: {name}', { name: order.contact }), color: QUIET, margin: [0, 10, 0, 0] },
      ],
    })
    .getBuffer()
}

const localeOf = (order: OrderDocument): string =>
  order.language !== 'en' && order.seller.country ? `${order.language}-${order.seller.country}` : order.language

function lineTable(order: OrderDocument): Content {
  const say = write(order.language)
  const figure = (text: string): string => writtenFigure(text, localeOf(order))
  const price = (text: string): string => figure(padDecimals(text))
  const right = (text: string, bold = false) => ({ text, alignment: 'right' as const, bold })
  const titles = [
    '',
    say('What'),
    say('Needed by'),
    say('Quantity'),
    say('Unit price'),
    say('Amount, {currency}', { currency: order.currency }),
  ]
  const delivery = (one: NonNullable<DocumentLine['schedule']>[number], unit: string): string => {
    const said = {
      quantity: figure(one.quantity),
      unit: writeUnit(order.language, unit),
      day: writtenDay(one.date, localeOf(order)),
      place: one.place,
    }
    return one.place ? say('{quantity} {unit} by {day}, to {place}', said) : say('{quantity} {unit} by {day}', said)
  }
  const head = titles.map((text, index) => ({
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
          text: [
            line.buyerItem,
            line.sellerItem && say('your {number}', { number: line.sellerItem }),
            line.address,
            line.terms,
          ]
            .filter(Boolean)
            .join(', '),
          color: QUIET,
          fontSize: 8.5,
        },
        ...(line.schedule ?? []).map(one => ({
          text: delivery(one, line.unit),
          fontSize: 8.5,
        })),
      ],
    },
    line.schedule?.length
      ? say('in {count} deliveries', { count: line.schedule.length })
      : line.needBy
        ? writtenDay(line.needBy, localeOf(order))
        : '',
    right(`${figure(line.quantity)} ${writeUnit(order.language, line.unit)}`),
    right(
      line.priceBase === '1'
        ? price(line.price)
        : say('{price} per {quantity}', { price: price(line.price), quantity: figure(line.priceBase) }),
    ),
    right(figure(line.amount)),
  ])
  const named: Readonly<Record<ChargeKind, string>> = {
    freight: say('Freight'),
    packing: say('Packing'),
    insurance: say('Insurance'),
    handling: say('Handling'),
    other: say('Charge'),
    discount: say('Discount'),
  }
  const charges = order.charges.map(({ kind, words, percent, amount }) => [
    '',
    [words || named[kind], percent && `${figure(percent)} %`].filter(Boolean).join(', '),
    '',
    '',
    '',
    right(figure(CHARGE_KINDS[kind].adds ? amount : `-${amount}`)),
  ])
  const total = ['', { text: say('Net, before tax'), bold: true }, '', '', '', right(figure(order.total), true)]
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
