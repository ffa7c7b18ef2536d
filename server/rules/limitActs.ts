import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadLimits, SaveLimits } from '#contract/rules/endpoints.ts'
import { formatAmount, minor, parseAmount } from '#core/money/amount.ts'
import type { Limits } from '#core/rules/limits.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'

/** Up to which amounts somebody decides alone. */
export async function limitsOf(call: Read, personId: string): Promise<Limits> {
  const rows = await call.trx('personLimits').where({ personId }).orderBy('kind')
  return Object.fromEntries(rows.map(row => [row.kind, minor(row.amount)]))
}

export async function readLimits(call: Read, id: string): Promise<ResponseOf<typeof ReadLimits>> {
  const person = found(await call.trx('people').where({ id, realm: 'team' }).first('version'), 'person')
  return { currency: call.base, version: person.version, limits: toJson(call, await limitsOf(call, id)) }
}

type LimitRows = BodyOf<typeof SaveLimits>['limits']
const toJson = (call: Read, limits: Limits): LimitRows =>
  Object.entries(limits).map(([kind, amount]) => ({ kind: kind as LimitRows[number]['kind'], amount: formatAmount(amount, call.base) })) // prettier-ignore

/** Limits as they were entered. @throws RuleBroken limit.negative */
export function readLimitRows(call: Read, rows: LimitRows): Limits {
  const limits = Object.fromEntries(rows.map(({ kind, amount }) => [kind, parseAmount(amount, call.base)]))
  if (Object.values(limits).some(amount => amount < 0n)) throw new RuleBroken(stop('limit.negative'))
  return limits
}

/** Writes limits in place of those that somebody has; what waits for them above what they may decide now stands still until it is passed on. */
export async function setLimits(
  call: Write,
  personId: string,
  { limits, version }: BodyOf<typeof SaveLimits>,
  askedBy?: string,
): Promise<Done> {
  const person = await hold(call, 'person', personId, version)
  const before = toJson(call, await limitsOf(call, personId))
  await call.trx('personLimits').where({ personId }).del()
  await insertMany(
    call.trx,
    'personLimits',
    Object.entries(readLimitRows(call, limits)).map(([kind, amount]) => ({
      personId,
      kind: kind as LimitRows[number]['kind'],
      amount,
    })),
  )
  const changes = { before, after: limits, ...(askedBy === undefined ? {} : { askedBy }) }
  await refreshAskedOf(call, personId)
  return await move(call, 'person', person, {}, { action: 'limitsSet', changes, reason: null })
}
