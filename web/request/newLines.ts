import type { LineBody } from '#contract/request/lines.ts'
import { KINDS, type LineKind } from '#core/request/kinds.ts'
import type { EditedLine } from '#web/request/useDraft.ts'

type NewLine = Omit<EditedLine, 'id'>
const LONGEST = 300
/** What a line says as long as nobody says otherwise. */
const BLANK = {
  itemId: null,
  offerId: null,
  priceBase: '1',
  category: '',
  incoterm: null,
  incotermPlace: '',
  routes: ['orderNow'],
  routeReason: '',
  proof: null,
  freight: '',
  details: {},
  agreementLineId: null,
} satisfies Partial<NewLine>

/** A fresh line takes place, day and account from the one before it, else what this person usually writes. */
export function freshLine(
  kind: LineKind,
  before: EditedLine | undefined,
  usual: { readonly addressId: string | null; readonly accountId: string | null } | undefined,
  base: string,
): NewLine {
  const byAmount = kind === 'goodsByAmount'
  const own = usual?.accountId ? [{ accountId: usual.accountId, share: '100' }] : []
  return {
    ...BLANK,
    kind,
    description: '',
    quantity: byAmount ? '' : '1',
    unit: KINDS[kind].unit,
    price: byAmount ? '1' : '',
    currency: base as 'EUR',
    supplierId: kind === 'personalFee' ? null : (before?.supplierId ?? null),
    needBy: before?.needBy ?? null,
    addressId: before?.addressId ?? usual?.addressId ?? null,
    splits: before?.splits.length ? before.splits.map(split => ({ ...split })) : own,
    splitBy: before?.splitBy ?? 'percent',
  }
}

/** Carriage that the term leaves to us, to be bought by amount from whoever carries it. */
export const freightLine = (of: EditedLine, base: string): NewLine => ({
  ...BLANK,
  kind: 'goodsByAmount',
  description: `Carriage: ${of.description}`.slice(0, LONGEST),
  quantity: '',
  unit: 'M4',
  price: '1',
  currency: base as 'EUR',
  supplierId: null,
  needBy: of.needBy,
  addressId: of.addressId,
  splits: of.splits.map(split => ({ ...split })),
  splitBy: of.splitBy === 'quantity' || of.splitBy === 'amount' ? 'share' : of.splitBy,
  routes: ['orderNow', 'askForQuotes'],
})

/** A line of the quick field, with what it does not say. */
export const quickLine = (line: Omit<LineBody, 'id'>): NewLine => ({
  ...BLANK,
  ...line,
  agreementLineId: null,
  category: line.category ?? '',
  splitBy: line.splitBy ?? 'percent',
  incoterm: null,
  incotermPlace: '',
  routes: line.routes ?? ['orderNow'],
  routeReason: '',
  proof: null,
  freight: '',
  details: line.details ?? {},
  splits: line.splits.map(split => ({ ...split, share: '100' })),
})

/** What a request without a name is called after its first lines. */
export const titleOf = (lines: readonly { readonly description: string }[]): string =>
  lines.length === 1 ? lines[0]!.description : `${lines[0]!.description} and ${lines.length - 1} more`
