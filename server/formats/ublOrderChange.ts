import { create } from 'xmlbuilder2'
import {
  agreementAndParties,
  clauseNotes,
  lineItem,
  namespaces,
  notes,
  type OrderDocument,
  parties,
  sums,
  writeUblOrder,
} from '#server/formats/ublOrder.ts'

const CHANGE = 'urn:oasis:names:specification:ubl:schema:xsd:OrderChange-2'
const CANCELLATION = 'urn:oasis:names:specification:ubl:schema:xsd:OrderCancellation-2'
/** UNCL 1229: what a change does with a line. */
const STATUS = { added: '1', gone: '2', changed: '3', none: '4' } as const

/** A revision as UBL 2.1: the first is an Order, each later one an OrderChange. */
export const writeUblRevision = (order: OrderDocument): string =>
  order.revision === 0 ? writeUblOrder(order) : writeUblOrderChange(order)

/**
 * Writes a later revision as UBL 2.1 OrderChange (OASIS UBL 2.1, 3.2.28): its number is the order's with the revision behind it, every line says what
 * became of it, lines that are gone are named with the quantity 0.
 */
export function writeUblOrderChange(order: OrderDocument): string {
  const gone = order.gone.map(line => ({ ...line, quantity: '0', amount: '0' }))
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      OrderChange: {
        ...namespaces(CHANGE),
        'cbc:UBLVersionID': '2.1',
        'cbc:ID': `${order.number}/${order.revision}`,
        'cbc:IssueDate': order.issuedOn,
        'cbc:SequenceNumberID': String(order.revision),
        ...notes([[order.reason, order.note].filter(Boolean).join('\n'), ...clauseNotes(order)]),
        'cbc:DocumentCurrencyCode': order.currency,
        'cbc:LineCountNumeric': String(order.lines.length + gone.length),
        'cac:OrderReference': { 'cbc:ID': order.number },
        ...agreementAndParties(order),
        ...sums(order),
        'cac:OrderLine': [
          ...order.lines.map(line => ({ 'cac:LineItem': lineItem(order, line, STATUS[line.change]) })),
          ...gone.map(line => ({ 'cac:LineItem': lineItem(order, line, STATUS.gone) })),
        ],
      },
    },
  ).end({ prettyPrint: true })
}

/** Writes that an order is cancelled as UBL 2.1 OrderCancellation (OASIS UBL 2.1, 3.2.27). */
export function writeUblOrderCancellation(order: OrderDocument, reason: string, on: string): string {
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      OrderCancellation: {
        ...namespaces(CANCELLATION),
        'cbc:UBLVersionID': '2.1',
        'cbc:ID': `${order.number}/X`,
        'cbc:IssueDate': on,
        'cbc:CancellationNote': reason,
        'cac:OrderReference': { 'cbc:ID': order.number, 'cbc:IssueDate': order.issuedOn },
        ...parties(order),
      },
    },
  ).end({ prettyPrint: true })
}
