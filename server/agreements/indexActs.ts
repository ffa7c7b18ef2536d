import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { PriceIndices, SaveIndex } from '#contract/agreements/agreements.ts'
import { sameDecimal } from '#core/money/decimal.ts'
import { Decimal } from '#core/money/decimal.ts'
import { stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
import { agreementsToWatch, watchAgreement } from '#server/agreements/watchAgreements.ts'
import { indexValues } from '#server/ledger/agreedTermsStore.ts'
import { randomUUID } from 'node:crypto'

/** Indices with all that was ever published of each month; what was replaced stays readable. */
export async function readIndices(call: Read): Promise<ResponseOf<typeof PriceIndices>> {
  const indices = await call.trx('priceIndices').orderBy('code')
  const values = await call
    .trx('indexValues')
    .join('people', 'people.id', 'indexValues.byId')
    .orderBy(['indexCode', { column: 'month', order: 'desc' }, { column: 'indexValues.at', order: 'desc' }])
    .select<{ indexCode: string; month: string; value: string; at: string; by: string }[]>('indexCode', 'month', 'value', 'indexValues.at', 'people.name as by') // prettier-ignore
  const own = groupBy(values, row => row.indexCode)
  return {
    indices: indices.map(({ code, name, source, version }) => ({
      code,
      name,
      source,
      version,
      values: (own.get(code) ?? []).map(({ indexCode: _code, ...value }, at, all) => ({
        ...value,
        replaced: all[at - 1]?.month === value.month,
      })),
    })),
  }
}

/** Keeps an index and values of months. A value that differs from the one before takes its place from now on; prices that follow it change from today, never for orders that were made. */
export async function saveIndex(
  call: Write,
  code: string,
  body: BodyOf<typeof SaveIndex>,
): Promise<ResponseOf<typeof SaveIndex>> {
  refuse(
    body.values.flatMap((one, at) =>
      one.month.endsWith('-01') && new Decimal(one.value).gt(0)
        ? []
        : [stop('index.value', {}, { place: `values.${at}` })],
    ),
  )
  const [kept] = await call
    .trx('priceIndices')
    .insert({ id: randomUUID(), code, name: body.name, source: body.source, changedAt: call.now })
    .onConflict('code')
    .merge(['name', 'source', 'changedAt'])
    .returning('id')
  const there = new Map((await indexValues(call, [code])).map(one => [one.month, one.value]))
  const fresh = body.values.filter(one => !sameDecimal(there.get(one.month) ?? '0', one.value))
  if (fresh.length > 0)
    await call
      .trx('indexValues')
      .insert(
        fresh.map(one => ({ indexCode: code, month: one.month, value: one.value, byId: call.actor.id, at: call.now })),
      )
  await record(call, { kind: 'priceIndex', id: kept!.id, action: 'saved', changes: { code, values: fresh } })
  for (const id of await agreementsToWatch(call)) await watchAgreement(call, id)
  return { code, kept: fresh.length }
}
