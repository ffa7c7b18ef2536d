import '#contract/messages/later.ts'
import { say } from '#contract/messages/say.ts'
import { formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { minorDigits } from '#core/money/currency.ts'
import type { Read } from '#server/call.ts'
import { needVisible } from '#server/documents/visible.ts'
import {
  type CostingFile,
  writeCostingCsv,
  writeCostingPdf,
  writeCostingWorkbook,
} from '#server/formats/costingFiles.ts'
import { readSetting } from '#server/house/house.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { costed } from '#server/build/costed.ts'
import { knownCosting } from '#server/build/costingStore.ts'

/** A costing as a file, as it is kept. */
export async function exportCosting(call: Read, id: string, format: 'csv' | 'xlsx' | 'pdf'): Promise<FileAnswer> {
  await needVisible(call, 'costing', id)
  const costing = await knownCosting(call, id)
  const { figures, rows } = await costed(costing)
  const { currency, builds } = costing.row.settings
  const file: CostingFile = {
    number: costing.row.number,
    title: costing.row.title,
    currency,
    builds,
    pricedOn: costing.row.pricedOn,
    total: formatAmount(figures.total, currency),
    each: new Decimal(figures.each).div(new Decimal(10).pow(minorDigits(currency))).toFixed(minorDigits(currency)),
    excess: formatAmount(figures.excess, currency),
    inOn: figures.inOn,
    unpriced: figures.unpriced,
    rows: rows.map(({ notes, ...row }) => ({ ...row, said: notes.map(one => say(one.code, one.details)).join(' ') })),
  }
  const name = `${costing.row.number}.${format}`
  if (format === 'csv') return { name, mediaType: 'text/csv; charset=utf-8', bytes: writeCostingCsv(file) }
  if (format === 'xlsx')
    return {
      name,
      mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      bytes: await writeCostingWorkbook(file),
    }
  const house = { name: call.house.name, logo: (await readSetting(call, 'logo')) ?? null }
  return { name, mediaType: 'application/pdf', bytes: await writeCostingPdf(file, house) }
}
