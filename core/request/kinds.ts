import { type Reason, stop } from '#core/reasons.ts'
import type { MatchLevel } from '#core/source/defaults.ts'
import { table } from '#core/text/table.ts'

/** Kinds of request line (domain page, section 5); the kind decides which fields there are, how a line is proven and how it is matched. */
export const LINE_KINDS = ['goods', 'goodsByAmount', 'fixedPriceWork', 'workByRate', 'personalFee'] as const
export type LineKind = (typeof LINE_KINDS)[number]

/**
 * How a line is proven before its bill is paid: counted at a dock, accepted as it is reported, billed at once and accepted by what the bill reports,
 * or not at all.
 */
export const PROOFS = ['count', 'acceptWork', 'billFirst', 'none'] as const
export type Proof = (typeof PROOFS)[number]

export const LINE_FIELDS = [
  'item',
  'description',
  'quantity',
  'unit',
  'price',
  'expected',
  'deliverable',
  'instalments',
  'person',
  'maker',
  'incoterm',
  'deliverTo',
  'performedAt',
] as const
export type LineField = (typeof LINE_FIELDS)[number]

interface Kind {
  readonly fields: readonly LineField[]
  /** The unit of a fresh line (UN/ECE Recommendation 20): M4 is a monetary value, E48 a service unit. */
  readonly unit: string
  readonly proofs: readonly Proof[]
}

export const KINDS: Readonly<Record<LineKind, Kind>> = {
  goods: {
    fields: ['item', 'description', 'quantity', 'unit', 'price', 'maker', 'incoterm', 'deliverTo'],
    unit: 'C62',
    proofs: ['count', 'none'],
  },
  goodsByAmount: {
    fields: ['description', 'price', 'incoterm', 'deliverTo'],
    unit: 'M4',
    proofs: ['count', 'billFirst', 'none'],
  },
  fixedPriceWork: {
    fields: ['description', 'price', 'deliverable', 'instalments', 'performedAt'],
    unit: 'E48',
    proofs: ['acceptWork', 'billFirst', 'none'],
  },
  workByRate: {
    fields: ['description', 'quantity', 'unit', 'price', 'expected', 'performedAt'],
    unit: 'HUR',
    proofs: ['acceptWork', 'billFirst'],
  },
  personalFee: {
    fields: ['description', 'price', 'person', 'performedAt'],
    unit: 'E48',
    proofs: ['acceptWork', 'billFirst', 'none'],
  },
}

export const isWork = (kind: LineKind): boolean => kind !== 'goods' && kind !== 'goodsByAmount'

/** Lines whose quantity is money: goods by amount, and fixed-price work that is paid in instalments. Their price is one per one. */
export const countsMoney = (line: { readonly kind: LineKind; readonly unit: string }): boolean => line.unit === 'M4'

/** Which entry of the quantity ledger proves a line: goods are received, work is accepted. */
export const provenBy = (kind: LineKind): 'received' | 'accepted' => (isWork(kind) ? 'accepted' : 'received')

/** Whether a bill has to wait until the line is proven. provenFirst('billFirst') //=> false */
export const provenFirst = (proof: Proof): boolean => proof === 'count' || proof === 'acceptWork'

/** Whether a bill is posted only once the line is proven as far: work that is billed first waits for the acceptance of what it reports, too. */
export const waitsForProof = (line: {
  readonly kind: LineKind
  readonly proof: Proof
  readonly matchLevel?: MatchLevel
}): boolean =>
  (line.proof === 'count' && line.matchLevel !== '2') ||
  line.proof === 'acceptWork' ||
  (line.proof === 'billFirst' && isWork(line.kind))

/** How a kind is proven when nobody says otherwise. */
export const usualProof = (kind: LineKind): Proof => KINDS[kind].proofs[0]!

export interface ProofSources {
  /** Said on the line by somebody with the right to. */
  readonly line: Proof | null
  readonly category: Proof | null
  /** The supplier's default for how work is billed. */
  readonly supplierBilling: 'afterAcceptance' | 'direct' | null
}
export interface EffectiveProof {
  readonly proof: Proof
  readonly from: 'line' | 'category' | 'supplier' | 'kind'
}

/** The line's own wins over the category's, that over the supplier's, that over the kind's; what the kind does not know is passed over. */
export function effectiveProof(kind: LineKind, sources: ProofSources): EffectiveProof {
  const allowed = KINDS[kind].proofs
  if (sources.line && allowed.includes(sources.line)) return { proof: sources.line, from: 'line' }
  if (sources.category && allowed.includes(sources.category)) return { proof: sources.category, from: 'category' }
  if (sources.supplierBilling === 'direct' && isWork(kind) && allowed.includes('billFirst'))
    return { proof: 'billFirst', from: 'supplier' }
  return { proof: usualProof(kind), from: 'kind' }
}

/**
 * Fixed-price work in instalments counts its quantity in money, so that each instalment is accepted and billed exactly; without instalments it
 * is one piece of work at its amount. Goods by amount always count in money.
 */
export function moneyShape<
  L extends {
    readonly kind: LineKind
    readonly quantity: string
    readonly unit: string
    readonly price: string
    readonly priceBase: string
    readonly details?: LineDetails | undefined
  },
>(line: L): L {
  const money =
    line.kind === 'goodsByAmount' || (line.kind === 'fixedPriceWork' && (line.details?.instalments?.length ?? 0) > 0)
  if (money && line.unit !== 'M4') return { ...line, quantity: line.price, unit: 'M4', price: '1', priceBase: '1' }
  if (!money && line.unit === 'M4')
    return { ...line, quantity: '1', unit: KINDS[line.kind].unit, price: line.quantity, priceBase: '1' }
  return line
}

export interface Instalment {
  readonly title: string
  /** In the line's currency, as decimal text. */
  readonly amount: string
  readonly due: string
}
export const TAX_STATUSES = ['selfEmployed', 'employed', 'foreign'] as const
/** A fee's own data: seen by the requester, those who decide and those with the right to personal data. */
export interface FeeFor {
  readonly name: string
  readonly taxStatus: (typeof TAX_STATUSES)[number] | ''
  readonly taxNumber: string
}
export interface LineDetails {
  readonly deliverable?: string
  readonly instalments?: readonly Instalment[]
  /** Units that are thought to be needed; the quantity is the ceiling. */
  readonly expected?: string
  readonly person?: FeeFor
  readonly maker?: string
  readonly makerNumber?: string
  /** Of an order's line that stands for one of its charges, freight for example: which. */
  readonly charge?: string
}

interface Convertible {
  readonly kind: LineKind
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly itemId: string | null
  readonly offerId: string | null
  readonly details: LineDetails
  readonly proof: Proof | null
}

/**
 * Makes another kind of a line and keeps what still fits: text, supplier, place, day, accounts and project always; figures where both kinds
 * have them; an amount becomes the unit price of one and the other way round. Says which fields were left behind.
 *
 * changeKind({ kind: 'goods', quantity: '3', price: '20', … }, 'goodsByAmount', '60') //=> { line: { quantity: '60', unit: 'M4', price: '1' }, lost: [] }
 */
export function changeKind<L extends Convertible>(
  line: L,
  to: LineKind,
  amount: string,
): { line: L; lost: LineField[] } {
  if (line.kind === to) return { line, lost: [] }
  const [from, next] = [KINDS[line.kind], KINDS[to]]
  const counted = next.fields.includes('quantity')
  const both = counted && from.fields.includes('quantity')
  const figures = both
    ? {
        quantity: line.quantity,
        price: line.price,
        priceBase: line.priceBase,
        unit: to === 'workByRate' && !['HUR', 'DAY'].includes(line.unit) ? next.unit : line.unit,
      }
    : to === 'goodsByAmount'
      ? { quantity: amount, price: '1', priceBase: '1', unit: 'M4' }
      : { quantity: '1', price: amount, priceBase: '1', unit: next.unit }
  const goods = next.fields.includes('item')
  const details: LineDetails = Object.fromEntries(
    Object.entries(line.details).filter(([key]) =>
      (next.fields as readonly string[]).includes(DETAIL_FIELDS[key] ?? key),
    ),
  )
  const had = (field: LineField): boolean =>
    field === 'item'
      ? line.itemId !== null
      : field === 'maker'
        ? Boolean(line.details.maker ?? line.details.makerNumber)
        : field in line.details
  const lost = from.fields.filter(
    field =>
      !next.fields.includes(field) && (field === 'item' || Object.values(DETAIL_FIELDS).includes(field)) && had(field),
  )
  const proof = line.proof && next.proofs.includes(line.proof) ? line.proof : null
  return {
    line: {
      ...line,
      kind: to,
      ...figures,
      itemId: goods ? line.itemId : null,
      offerId: goods ? line.offerId : null,
      details,
      proof,
    },
    lost,
  }
}

const DETAIL_FIELDS: Readonly<Record<string, LineField>> = table({
  deliverable: 'deliverable',
  instalments: 'instalments',
  expected: 'expected',
  person: 'person',
  maker: 'maker',
  makerNumber: 'maker',
})

/** What is wrong with the fields that only this kind has; places are `lines.<position>.<field>`. */
export function checkDetails(
  line: { readonly position: number; readonly kind: LineKind; readonly details: LineDetails },
  amount: string,
  same: (a: readonly string[], total: string) => boolean,
): Reason[] {
  const at = (field: string): { place: string } => ({ place: `lines.${line.position}.${field}` })
  const { instalments, person } = line.details
  if (line.kind === 'fixedPriceWork' && instalments && instalments.length > 0) {
    if (
      instalments.some(one => one.title.trim() === '' || !/^\d+(\.\d+)?$/.test(one.amount) || Number(one.amount) <= 0)
    )
      return [stop('line.instalment', {}, at('instalments'))]
    return same(
      instalments.map(one => one.amount),
      amount,
    )
      ? []
      : [stop('line.instalmentsAdd', { amount }, at('instalments'))]
  }
  if (line.kind !== 'personalFee') return []
  const reasons: Reason[] = []
  if (!person || person.name.trim() === '') reasons.push(stop('line.feeFor', {}, at('person')))
  if (!person || person.taxStatus === '') reasons.push(stop('line.taxStatus', {}, at('person')))
  return reasons
}
