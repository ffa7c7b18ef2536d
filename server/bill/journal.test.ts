import { expect } from 'chai'
import { parse } from 'csv-parse/sync'
import { JournalFile, ReadJournal } from '#contract/bill/journal.ts'
import { sumTexts } from '#core/money/text.ts'
import { billed, goodsLine, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('the journal of a month', () => {
  const world = useWorld()

  it('re-adds to the ledger in every month of the demo, and has what is posted now', async () => {
    const adaeze = await world.as('Adaeze')
    const month = today().slice(0, 7)
    const before = await adaeze.do(ReadJournal, { query: { month } })
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
    await received(world, order)
    const bill = await billed(world, order)
    await posted(world, bill.id)
    const after = await adaeze.do(ReadJournal, { query: { month } })
    expect([after.differences, after.documents]).to.deep.equal([[], before.documents + 1])
    for (let index = 1; index < 14; index++) {
      const then = new Date(Date.UTC(Number(month.slice(0, 4)), Number(month.slice(5)) - 1 - index, 1))
      const past = await adaeze.do(ReadJournal, { query: { month: then.toISOString().slice(0, 7) } })
      expect(past.differences, past.month).to.deep.equal([])
    }
    const text = (await adaeze.bytes(JournalFile, {}, { month })).toString()
    const rows = parse(text, { columns: true }) as { document: string; account: string; debit: string; credit: string }[] // prettier-ignore
    expect(rows).to.have.length(after.lines)
    expect(sumTexts(rows.map(row => row.debit || '0'))).to.equal(sumTexts(rows.map(row => row.credit || '0')))
    expect(Number(sumTexts(rows.map(row => row.debit || '0')))).to.equal(Number(after.total))
  })

  it('is for whoever sees all budgets, and takes no month that there is not', async () => {
    expect((await (await world.as('Joren')).call(ReadJournal, { query: {} })).status).to.equal(403)
    expect((await (await world.as('Adaeze')).call(ReadJournal, { query: { month: '2026-13' } })).status).to.equal(400)
  })
})
