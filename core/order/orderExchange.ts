import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { CHARGE_KINDS, type ChargeItem, type ChargeKind } from '#core/order/charges.ts'
import { billed, isCancelledLine, proven } from '#core/order/measures.ts'
import { type ImportedOrderLine, readOrderRow } from '#core/order/orderImport.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What a file of orders calls itself, and the version of its shape; a newer one is refused. */
export const EXCHANGE_FORMAT = 'ivory-order/orders'
export const EXCHANGE_VERSION = 1

/** An order as it goes from one installation to another: figures as decimal texts, days as ISO. */
export interface ExchangeOrder {
  readonly number: string
  readonly title: string
  readonly currency: string
  readonly supplier: { readonly name: string; readonly vat: string }
  readonly charges: readonly {
    readonly kind: ChargeKind
    readonly words: string
    readonly amount: string
  }[]
  readonly lines: readonly ExchangeLine[]
}
export interface ExchangeLine {
  readonly position: number
  readonly description: string
  /** The number of the item there, its GTIN and the number that its supplier gives it; empty where there is none. */
  readonly item: string
  readonly gtin: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly needBy: string
  readonly place: string
  /** What pays for it there; empty where that is not said. */
  readonly account: string
  readonly received: string
  readonly billed: string
  readonly promised: string
}
export interface ExchangeFile {
  /** Who sends it: what names mean is kept for each sender. */
  readonly sender: string
  readonly orders: readonly ExchangeOrder[]
}

/** Names of another installation that mean something here. */
export const MAPPED_KINDS = ['supplier', 'item', 'account', 'place'] as const
export type MappedKind = (typeof MAPPED_KINDS)[number]
/** A name with what it stands for here: the number of a supplier or an item, an account as `centre|account|project`, the name of a place; empty: nothing. */
export type Mapping = ReadonlyMap<string, string>
export const mappingKey = (kind: MappedKind, theirs: string): string => `${kind} ${theirs.trim().toLowerCase()}`

/** A name of a file, and how many lines or orders use it. */
export interface ForeignName {
  readonly kind: MappedKind
  readonly theirs: string
  /** The number by which it is known anywhere: VAT of a supplier, GTIN of an item; empty where there is none. */
  readonly code: string
  /** What is said of it beside, in words. */
  readonly words: string
  readonly used: number
}

/** All names of a file, each once, by kind and then as they come. */
export function foreignNames({ orders }: ExchangeFile): ForeignName[] {
  const names = new Map<string, ForeignName>()
  const add = (kind: MappedKind, theirs: string, code = '', words = ''): void => {
    const key = mappingKey(kind, theirs)
    const known = names.get(key)
    names.set(key, {
      kind,
      theirs: known?.theirs ?? theirs,
      code: known?.code || code,
      words: known?.words || words,
      used: (known?.used ?? 0) + 1,
    })
  }
  for (const order of orders) {
    add('supplier', order.supplier.name, order.supplier.vat)
    for (const line of order.lines) {
      if (line.item !== '') add('item', line.item, line.gtin, line.description)
      add('account', line.account)
      if (line.place !== '') add('place', line.place)
    }
  }
  return MAPPED_KINDS.flatMap(kind => [...names.values()].filter(name => name.kind === kind))
}

/** Names without which an order cannot be taken over: who it is of and who pays. What an item or a place is may stay open. */
export const isNeeded = (kind: MappedKind): boolean => kind === 'supplier' || kind === 'account'

/** Lines of a file as rows of an import, with what its names mean here, or why they cannot be. `row`: counted over the file, from 1. */
export function exchangedRows(
  { orders }: ExchangeFile,
  mapping: Mapping,
  base: string,
): { readonly row: number; readonly order: string; readonly line?: ImportedOrderLine; readonly reasons: Reason[] }[] {
  let row = 0
  return orders.flatMap(order =>
    order.lines.map(line => {
      row++
      const ours = (kind: MappedKind, theirs: string): string => mapping.get(mappingKey(kind, theirs)) ?? ''
      const supplier = ours('supplier', order.supplier.name)
      const [costCentre = '', account = '', project = ''] = ours('account', line.account).split('|')
      const missing = [
        ...(supplier === '' ? [stop('exchange.noSupplier', { name: order.supplier.name.slice(0, 60) })] : []),
        ...(costCentre === '' ? [stop('exchange.noAccount', { name: line.account.slice(0, 60) })] : []),
      ]
      if (missing.length > 0) return { row, order: order.number, reasons: missing }
      const { needBy, quantity, unit, price, priceBase, received, billed: spent, promised, description } = line
      const cells = { order: order.number, supplier, currency: order.currency, item: ours('item', line.item), description, quantity, unit, price, price_base: priceBase, need_by: needBy, cost_centre: costCentre, account, project, place: ours('place', line.place), received, billed: spent, promised } // prettier-ignore
      return { row, order: order.number, ...readOrderRow(cells, row, base) }
    }),
  )
}

/** What is known of a line beside the order when it goes out. */
export interface SentBeside {
  readonly item: string
  readonly gtin: string
  readonly account: string
  readonly vat: string
}

/** A charge that has a line of its own leaves as the charge that it is, as long as it is not billed. */
const chargeOf = (line: OrderLine): Pick<ChargeItem, 'kind' | 'words' | 'amount'>[] =>
  line.charge === undefined || isCancelledLine(line) || !new Decimal(billed(line)).isZero()
    ? []
    : [{ kind: line.charge, words: line.description, amount: line.amount }]

/** An order as it goes out: lines of goods of which something is open, with how far they have come. */
export const exchangeOrder = (order: OrderFacts, beside: ReadonlyMap<string, SentBeside>): ExchangeOrder => ({
  number: order.number,
  title: order.title,
  currency: order.currency,
  supplier: { name: order.supplier, vat: [...beside.values()][0]?.vat ?? '' },
  charges: [...order.chargeItems, ...order.lines.flatMap(chargeOf)].map(({ kind, words, amount }) => ({
    kind,
    words,
    amount: formatAmount(amount, order.currency),
  })),
  lines: order.lines
    .filter(line => line.kind === 'goods' && !isCancelledLine(line))
    .map(line => ({
      position: line.position,
      description: line.description,
      item: beside.get(line.id)?.item ?? '',
      gtin: beside.get(line.id)?.gtin ?? '',
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      needBy: line.needBy ?? '',
      place: line.place,
      account: beside.get(line.id)?.account ?? '',
      received: proven(line),
      billed: billed(line),
      promised: line.promisedDate ?? '',
    })),
})

/** The kind of charge that a code of UNTDID 7161 or 5189 says; what is not known adds or takes off as it was said to. */
export function chargeOfCode(code: string, adds: boolean): ChargeKind {
  const known = (Object.keys(CHARGE_KINDS) as ChargeKind[]).find(
    kind => CHARGE_KINDS[kind].code === code && CHARGE_KINDS[kind].adds === adds,
  )
  return known ?? (adds ? 'other' : 'discount')
}
