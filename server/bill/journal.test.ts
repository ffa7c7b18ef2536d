import { expect } from 'chai'
import { parse } from 'csv-parse/sync'
import { ReadTaxes } from '#contract/bill/taxes.ts'
import { ClosePeriod, JournalFile, ReadJournal, ReadLeftOpen, ReopenPeriod } from '#contract/bill/journal.ts'
import { Receive } from '#contract/receive/endpoints.ts'
import { nextMonth } from '#core/calendar/months.ts'
import { sumTexts } from '#core/money/text.ts'
import { billed, goodsLine, ordered, PLACE, posted, received, today } from '#test-helpers/steps.ts'
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

  it('says the VAT of what it posted, by country and rate, which is the input tax of its journal', async () => {
    const adaeze = await world.as('Adaeze')
    const month = today().slice(0, 7)
    const tax = async () => (await adaeze.do(ReadTaxes, { query: { month } })).rows
    const before = await tax()
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '9')])
    await received(world, order)
    const { id } = await billed(world, order)
    expect(await tax()).to.deep.equal(before)
    await posted(world, id)
    const rows = await tax()
    const [own] = rows.flatMap(row => row.documents.map(one => ({ ...one, row }))).filter(one => one.path.endsWith(id))
    const invoice = (await world.db('invoices').where({ id }).first())!
    expect([own!.row.category, own!.taxable, own!.tax]).to.deep.equal([invoice.taxes[0]!.category, invoice.taxes[0]!.taxable, invoice.taxes[0]!.tax]) // prettier-ignore
    const journal = await adaeze.do(ReadJournal, { query: { month } })
    const input = journal.accounts.find(one => one.account === 'input tax')
    expect(Number(sumTexts(rows.map(row => row.tax)))).to.be.closeTo(Number(input?.debit ?? 0) - Number(input?.credit ?? 0), 0.001) // prettier-ignore
    expect((await (await world.as('Joren')).call(ReadTaxes, { query: { month } })).status).to.equal(403)
  })

  it('is closed month by month by the controller, stays as it was, takes no receipt any more, and opens again with a reason', async () => {
    const adaeze = await world.as('Adaeze')
    const { rows } = await world.db.raw<{ rows: { month: string }[] }>(`select distinct to_char(at at time zone 'Europe/Amsterdam', 'YYYY-MM') as month from budget_entries order by 1`) // prettier-ignore
    const months = rows.map(row => row.month).filter(month => month < today().slice(0, 7))
    const close = (month: string) => adaeze.call(ClosePeriod, { params: { month } })
    const reopen = (month: string, reason = 'A bill was forgotten.') => adaeze.call(ReopenPeriod, { params: { month }, body: { reason } }) // prettier-ignore
    expect((await close(months[1]!)).codes).to.deep.equal(['period.earlierFirst'])
    expect((await close(today().slice(0, 7))).codes).to.include('period.notOver')
    for (let month = months[0]!; month < today().slice(0, 7); month = nextMonth(month)) expect((await close(month)).status, month).to.equal(200) // prettier-ignore
    const last = months.at(-1)!
    expect((await close(last)).codes).to.deep.equal(['period.closed'])
    expect((await (await world.as('Leonie')).call(ClosePeriod, { params: { month: last } })).status).to.equal(403)
    const sheet = await adaeze.do(ReadJournal, { query: { month: last } })
    expect([sheet.period.closed, sheet.period.same, sheet.differences]).to.deep.equal([true, true, []])
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '3')])
    const receive = async (receivedOn: string) => (await (await world.as('Yuki')).call(Receive, { params: { id: order.id }, body: { receivedOn, placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity: '1' }] } })).codes // prettier-ignore
    expect(await receive(`${last}-28`)).to.deep.equal(['receive.closedPeriod'])
    expect(await receive(today())).to.deep.equal([])
    expect((await reopen(months[0]!)).codes).to.deep.equal(['period.laterFirst'])
    expect((await reopen(last, ' x ')).status).to.equal(400)
    expect((await reopen(last)).status).to.equal(200)
    const again = await adaeze.do(ReadJournal, { query: { month: last } })
    expect([again.period.closed, again.period.same, again.period.reason]).to.deep.equal([false, null, 'A bill was forgotten.']) // prettier-ignore
    const both = await Promise.all([close(last), close(last)])
    expect(both.flatMap(one => [one.status, ...one.codes])).to.have.members([200, 422, 'period.closed'])
  })

  it('says what it leaves open: received and not billed by line, and billed and not received', async () => {
    const adaeze = await world.as('Adaeze')
    const month = today().slice(0, 7)
    const open = async () => await adaeze.do(ReadLeftOpen, { query: { month } })
    const before = await open()
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '40')])
    await received(world, order)
    const came = await open()
    const line = came.received.lines.find(one => one.order === order.number)
    expect(Number(came.received.total) - Number(before.received.total)).to.be.closeTo(Number(line!.amount), 0.001)
    for (const key of ['received', 'billed'] as const)
      expect(Number(sumTexts(came.accounts.map(one => one[key])))).to.equal(Number(came[key].total))
    await posted(world, (await billed(world, order)).id)
    const after = await open()
    expect(after.received.total).to.equal(before.received.total)
    expect(after.received.lines.some(one => one.order === order.number)).to.equal(false)
  })

  it('is for whoever sees all budgets, and takes no month that there is not', async () => {
    expect((await (await world.as('Joren')).call(ReadJournal, { query: {} })).status).to.equal(403)
    expect((await (await world.as('Adaeze')).call(ReadJournal, { query: { month: '2026-13' } })).status).to.equal(400)
  })
})
