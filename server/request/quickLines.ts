import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { QuickLineJson, ReadQuickLines } from '#contract/request/endpoints.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { fiscalYearOf } from '#core/calendar/days.ts'
import { plainLetters } from '#core/source/names.ts'
import { type QuickPart, quickLines, readQuickLine } from '#core/request/quickLine.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { convertQuantity, unitLabel } from '#core/units/units.ts'
import type { Read } from '#server/call.ts'
import { accountLabel, type AccountRow } from '#server/ledger/budgetStore.ts'
import { usualChoices } from '#server/request/choices.ts'
import { readItem } from '#server/request/items.ts'
import { searchCatalogue } from '#server/request/itemSearchStore.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'

type Part = QuickLineJson['parts'][number]
type Reading = Part['readings'][number]
/** Lines of one block that are looked up; the rest says how many it is. */
const MOST_LINES = 60
const MOST_READINGS = 6

/** Understands a block of lines: what is clear becomes a line, what is not comes back with its choices. */
export async function readQuickLines(
  call: Read,
  body: BodyOf<typeof ReadQuickLines>,
): Promise<ResponseOf<typeof ReadQuickLines>> {
  const texts = quickLines(body.text)
  const known = await knownThings(call)
  const lines: QuickLineJson[] = []
  const from = body.from ?? 0
  for (const [place, text] of texts.slice(from, from + MOST_LINES).entries()) {
    const index = from + place
    const chosen = (kind: string): string | undefined => body.choices[`${index}.${kind}`]
    lines.push(await resolve(call, text, known, chosen))
  }
  return { lines, left: Math.max(0, texts.length - from - MOST_LINES) }
}

interface Known {
  readonly addresses: { id: string; name: string; dock: string; city: string; code: string }[]
  readonly accounts: AccountRow[]
  readonly usual: { accountId: string | null; addressId: string | null }
}

async function knownThings(call: Read): Promise<Known> {
  return {
    addresses: await call
      .trx('addresses')
      .where({ open: true })
      .whereRaw("'delivery' = any(purposes)")
      .orderBy('name')
      .select<Known['addresses']>('id', 'name', 'dock', 'city', 'code'),
    accounts: await call
      .trx('budgetAccounts')
      .where({ open: true })
      .orderBy(['costCentre', 'naturalAccount', 'fiscalYear', 'project']),
    usual: await usualChoices(call),
  }
}

const plain = (text: string): string =>
  plainLetters(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .replace(/\bthe\b/g, '')
    .trim()
const reading = (value: string, label: string, more: Partial<Reading> = {}): Reading => ({
  value,
  label,
  unit: null,
  currency: null,
  ...more,
})
const part = (from: QuickPart, readings: readonly Reading[]): Part => ({
  kind: from.kind,
  text: from.text,
  assumed: from.assumed ?? false,
  readings: readings.slice(0, MOST_READINGS),
})

/** The reading that holds: the only one, or the one that was chosen. */
function held(
  parts: readonly Part[],
  kind: Part['kind'],
  chosen: (kind: string) => string | undefined,
): Reading | undefined {
  const one = parts.find(other => other.kind === kind)
  return (
    one?.readings.find(other => other.value === chosen(kind)) ??
    (one?.readings.length === 1 ? one.readings[0] : undefined)
  )
}

async function resolve(
  call: Read,
  text: string,
  known: Known,
  chosen: (kind: string) => string | undefined,
): Promise<QuickLineJson> {
  const read = readQuickLine(text, call.today)
  const reasons: Reason[] = [...read.reasons]
  const of = (kind: Part['kind']): QuickPart | undefined => read.parts.find(one => one.kind === kind)
  const day = of('date')?.readings[0]?.value ?? call.today
  const parts: Part[] = []
  for (const one of read.parts) {
    if (one.kind === 'quantity') parts.push(part(one, quantityReadings(one)))
    else if (one.kind === 'item') parts.push(part(one, await itemReadings(call, one, of('quantity'))))
    else if (one.kind === 'place') parts.push(part(one, placeReadings(one, known)))
    else if (one.kind === 'account')
      parts.push(
        part(
          one,
          accountReadings(
            one,
            known,
            fiscalYearOf(day, call.house.fiscalYearFrom),
            of('project')?.readings[0]?.value ?? null,
          ),
        ),
      )
    else if (one.kind === 'supplier') parts.push(part(one, await supplierReadings(call, one)))
    else
      parts.push(
        part(
          one,
          one.readings.map(other => reading(other.value, other.value, { currency: other.currency ?? null })),
        ),
      )
  }
  for (const one of parts)
    if (one.readings.length === 0 && !reasons.some(reason => reason.place === one.kind))
      reasons.push(stop('quick.notFound', { text: one.text, kind: one.kind }, { place: one.kind }))
  const unsure = parts.some(one => held(parts, one.kind, chosen) === undefined)
  const line = reasons.length > 0 || unsure ? null : await toLine(call, parts, known, chosen, reasons)
  return { text, parts, reasons: reasonsJson(reasons), line }
}

const quantityReadings = (from: QuickPart): Reading[] =>
  from.readings.map(one =>
    reading(
      one.item === undefined ? `${one.value}${one.unit ? ` ${one.unit}` : ''}` : `${one.value} of ${one.item}`,
      one.item === undefined
        ? `${one.value}${one.unit ? ` ${unitLabel(one.unit)}` : ''}`
        : `${one.value} × ${one.item}`,
      { unit: one.unit ?? null },
    ),
  )

/** Items that the words may mean: exactly named first and alone, else the best of the catalogue. */
async function itemReadings(call: Read, from: QuickPart, quantity: QuickPart | undefined): Promise<Reading[]> {
  const texts = [from.text, ...(quantity?.readings.flatMap(one => (one.item ? [one.item] : [])) ?? [])]
  const hits = []
  for (const text of texts) hits.push(...(await searchCatalogue(call, { q: text }, false)).items)
  const exact = hits.filter(item =>
    texts.some(text => plain(item.name) === plain(text) || plain(item.number) === plain(text)),
  )
  const seen = new Map((exact.length > 0 ? exact : hits).map(item => [item.id, item]))
  const list = [...seen.values()]
  const all = list.filter(item =>
    texts.some(text =>
      plain(text)
        .split(' ')
        .every(word => plain(`${item.name} ${item.number}`).includes(word)),
    ),
  )
  return (all.length > 0 ? all : list).map(item =>
    reading(item.id, `${item.name}, ${item.number}`, { unit: item.unit }),
  )
}

function placeReadings(from: QuickPart, known: Known): Reading[] {
  const words = plain(from.readings[0]!.value).split(' ').filter(Boolean)
  return known.addresses
    .filter(one => words.every(word => plain(`${one.name} ${one.dock} ${one.city} ${one.code}`).includes(word)))
    .map(one => reading(one.id, `${one.name}, ${one.dock}`))
}

function accountReadings(from: QuickPart, known: Known, year: number, project: string | null): Reading[] {
  const [costCentre, natural] = from.readings[0]!.value.split('/')
  const mine = known.accounts.filter(
    one => one.costCentre === costCentre && one.naturalAccount === natural && one.fiscalYear === year,
  )
  return (project ? mine.filter(one => one.project === project) : mine).map(one => reading(one.id, accountLabel(one)))
}

async function supplierReadings(call: Read, from: QuickPart): Promise<Reading[]> {
  const like = `%${from.readings[0]!.value.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`
  const rows = await call
    .trx('suppliers')
    .whereNull('mergedInto')
    .whereIn('state', ['active', 'proposed', 'onboarding'])
    .whereRaw('(lower(name) like ? or search_name like ?)', [like, like])
    .orderBy('name')
    .limit(MOST_READINGS)
    .select<{ id: string; name: string }[]>('id', 'name')
  return rows.map(row => reading(row.id, row.name))
}

/** The line, once everything is clear. A quantity in another unit is converted exactly or refused. */
async function toLine(
  call: Read,
  parts: readonly Part[],
  known: Known,
  chosen: (kind: string) => string | undefined,
  reasons: Reason[],
): Promise<QuickLineJson['line']> {
  const get = (kind: Part['kind']): Reading | undefined => held(parts, kind, chosen)
  const item = await readItem(call, get('item')!.value)
  const supplier = get('supplier')
  const offer = item.offers.find(
    one =>
      one.supplierState === 'active' &&
      (one.validTo === null || one.validTo >= call.today) &&
      (!supplier || one.supplierId === supplier.value),
  )
  const account = get('account')?.value ?? known.usual.accountId
  const said = get('quantity')!
  const count = said.value.split(' ')[0]!
  const unit = offer?.unit ?? item.unit
  const price = get('price')
  try {
    return {
      kind: 'goods',
      itemId: item.id,
      offerId: offer?.id ?? null,
      description: item.name,
      quantity: said.unit === null ? count : convertQuantity(count, said.unit, unit),
      unit,
      price: price?.value ?? offer?.tiers[0]?.price ?? '0',
      priceBase: offer?.priceBase ?? '1',
      currency: (price?.currency ?? offer?.currency ?? call.base) as LineBody['currency'],
      supplierId: offer?.supplierId ?? supplier?.value ?? null,
      needBy: get('date')?.value ?? null,
      addressId: get('place')?.value ?? known.usual.addressId,
      splits: account ? [{ accountId: account, share: '1' }] : [],
    }
  } catch (error) {
    if (!(error instanceof RuleBroken)) throw error
    reasons.push(...error.reasons.map(reason => ({ ...reason, place: 'quantity' })))
    return null
  }
}
