import { expect } from 'chai'
import exceljs from 'exceljs'
import { ActOnOrder, ChangeOrder, ReadOrder } from '#contract/order/endpoints.ts'
import {
  ApplyReturn,
  ChangeReturn,
  MakeWorkbook,
  ReadReturn,
  TakeWorkbook,
  WorkbookFile,
} from '#contract/order/workbook.ts'
import { addDays } from '#core/calendar/days.ts'
import { runLongJob } from '#server/jobs/longJobs.ts'
import { goodsLine, ordered, today, type Issued } from '#test-helpers/steps.ts'
import { type Client, useWorld } from '#test-helpers/world.ts'

/** Columns of the sheet by their headings. */
type Row = Record<string, string | number | Date>

describe('the workbook of orders', () => {
  const world = useWorld()
  const day = (after: number): string => addDays(today(), after)

  async function fetched(client: Client, orders: readonly Issued[]): Promise<exceljs.Workbook> {
    const { id } = await client.do(MakeWorkbook, { body: { orderIds: orders.map(one => one.id) } })
    const book = new exceljs.Workbook()
    await book.xlsx.load((await client.bytes(WorkbookFile, { id }, {})) as never)
    return book
  }
  /** Changes rows by the number of their order; `mix`: what else is done to the sheet. */
  function edit(
    book: exceljs.Workbook,
    changes: Record<string, Row>,
    mix: (sheet: exceljs.Worksheet) => void = () => undefined,
  ): void {
    // prettier-ignore
    const sheet = book.getWorksheet('Lines')!
    const headings = (sheet.getRow(1).values as string[]).map(String)
    sheet.eachRow((row, at) => {
      const change = at === 1 ? undefined : changes[String(row.getCell(headings.indexOf('Order')).value)]
      for (const [heading, value] of Object.entries(change ?? {})) row.getCell(headings.indexOf(heading)).value = value
    })
    mix(sheet)
  }
  async function given(client: Client, book: exceljs.Workbook): Promise<string> {
    const { body } = await client.upload('orders.xlsx', Buffer.from(await book.xlsx.writeBuffer()))
    return (await client.do(TakeWorkbook, { body: { fileId: body.id } })).id
  }
  const read = async (client: Client, id: string) => await client.do(ReadReturn, { params: { id } })
  async function apply(client: Client, id: string): Promise<void> {
    const { version } = await read(client, id)
    const { jobId } = await client.do(ApplyReturn, { params: { id }, body: { version, reason: 'Pushed back.' } })
    await runLongJob(world.jobs, jobId)
  }
  const order = async (quantity: string, answer = true) => await ordered(world, [await goodsLine(world, 'PS-1200', quantity)], { answer }) // prettier-ignore

  it('opens what this person may change, locks the rest, and explains itself', async () => {
    const pilar = await world.as('Pilar')
    const book = await fetched(pilar, [await order('4')])
    const sheet = book.getWorksheet('Lines')!
    const headings = (sheet.getRow(1).values as string[]).map(String)
    const cell = (heading: string) => sheet.getRow(2).getCell(headings.indexOf(heading))
    expect(cell('Quantity').protection.locked).to.equal(false)
    expect(cell('Supplier').protection?.locked ?? true).to.equal(true)
    expect(sheet.getColumn(1).hidden).to.equal(true)
    expect(book.getWorksheet('How to')!.getCell('A1').text).to.match(/tinted/)
    expect(cell('Do').dataValidation?.type).to.equal('list')
    const marit = await world.as('Marit')
    const locked = (await fetched(marit, [await order('4')])).getWorksheet('Lines')!
    expect(locked.getRow(2).getCell(headings.indexOf('Quantity')).protection?.locked ?? true).to.equal(true)
  })

  it('lays out what it would change, with conflicts and refusals, and does what is ready: one mail to each supplier', async () => {
    const pilar = await world.as('Pilar')
    const orders = [await order('4'), await order('5'), await order('6'), await order('7')]
    const [later, conflict, refused, closed] = orders as [Issued, Issued, Issued, Issued]
    const book = await fetched(pilar, orders)
    const before = await pilar.do(ReadOrder, { params: { id: conflict.id } })
    await pilar.do(ChangeOrder, {
      params: { id: conflict.id },
      body: {
        version: before.version,
        title: before.title,
        message: before.message,
        charges: before.charges,
        reason: 'Meanwhile.',
        lines: before.lines.map(line => ({ id: line.id, description: line.description, quantity: '3', price: line.price, needBy: line.needBy })), // prettier-ignore
      },
    })
    edit(
      book,
      {
        [later.number]: { 'Needed by': new Date(`${day(90)}T00:00:00Z`), Promised: day(95) },
        [conflict.number]: { Quantity: 2 },
        [refused.number]: { Quantity: 60 },
        [closed.number]: { Do: 'close the order' },
      },
      sheet => {
        // sorted the other way round, and a formula where a figure was
        const last = sheet.rowCount
        const rows = Array.from({ length: last - 1 }, (_one, at) => sheet.getRow(at + 2).values)
        for (const [at, values] of rows.reverse().entries()) sheet.getRow(at + 2).values = values as never
      },
    )
    const id = await given(pilar, book)
    const state = async () => new Map((await read(pilar, id)).rows.map(row => [row.order, `${row.state} ${row.reasons.map(one => one.code).join()}`.trim()])) // prettier-ignore
    expect(await state()).to.deep.equal(
      new Map([
        [closed.number, 'ready'],
        [refused.number, 'refused order.overRequested'],
        [conflict.number, 'conflict'],
        [later.number, 'ready'],
      ]),
    )
    const rows = (await read(pilar, id)).rows
    const at = (number: string): number => rows.find(row => row.order === number)!.row
    expect(rows.find(row => row.order === conflict.number)!.changes).to.deep.equal([{ field: 'quantity', before: '5', after: '2', now: '3' }]) // prettier-ignore
    const { version } = await read(pilar, id)
    await pilar.do(ChangeReturn, {
      params: { id },
      body: { version, rows: [{ row: at(conflict.number), choice: 'file' }, { row: at(refused.number), values: { quantity: '5,5' } }] }, // prettier-ignore
    })
    expect([...(await state()).values()]).to.deep.equal(['ready', 'ready', 'ready', 'ready'])
    const mails = async (): Promise<number> => Number((await world.db('outbox').where({ kind: 'mail' }).count('* as count').first<{ count: string }>())!.count) // prettier-ignore
    const sent = await mails()
    await apply(pilar, id)
    const settled = await read(pilar, id)
    expect(settled.outcome).to.deep.equal({ orders: 4, lines: 4, failed: 0, mails: 1 })
    expect((await mails()) - sent).to.equal(1)
    const sheet = async (one: Issued) => await pilar.do(ReadOrder, { params: { id: one.id } })
    expect([(await sheet(later)).lines[0]!.needBy, (await sheet(later)).lines[0]!.promisedDate, (await sheet(later)).revision]).to.deep.equal([day(90), day(95), 1]) // prettier-ignore
    expect((await sheet(conflict)).lines[0]!.quantity).to.equal('2')
    expect((await sheet(refused)).lines[0]!.quantity).to.equal('5.5')
    expect((await sheet(closed)).state).to.equal('closed')
    const again = await given(pilar, book)
    expect((await read(pilar, again)).rows.filter(row => row.state !== 'same').map(row => `${row.order} ${row.state}`)).to.deep.equal([`${closed.number} refused`, `${refused.number} conflict`]) // prettier-ignore
  })

  it('takes nothing that is not its own: lost keys, doubled rows, other workbooks, days that can be read two ways', async () => {
    const pilar = await world.as('Pilar')
    const [first, second] = [await order('4'), await order('5')]
    const book = await fetched(pilar, [first, second])
    edit(book, { [first.number]: { 'Needed by': '03/04/2027' }, [second.number]: { Buyer: 'Nobody Here' } }, sheet => {
      sheet.addRow(sheet.getRow(2).values as never).getCell(1).value = ''
      const twice = sheet.addRow(sheet.getRow(3).values as never)
      twice.getCell((sheet.getRow(1).values as string[]).indexOf('Quantity')).value = 1
    })
    const { rows } = await read(pilar, await given(pilar, book))
    expect(rows.map(row => row.reasons.map(one => one.code).join())).to.deep.equal(['workbook.dayTwice', 'workbook.twice', 'workbook.noKey', 'workbook.twice']) // prettier-ignore
    const other = new exceljs.Workbook()
    other.addWorksheet('Lines').addRow(['Key', 'Quantity'])
    const { body } = await pilar.upload('other.xlsx', Buffer.from(await other.xlsx.writeBuffer()))
    expect((await pilar.call(TakeWorkbook, { body: { fileId: body.id } })).codes).to.deep.equal(['workbook.unknown'])
  })

  it('judges by the rights of whoever gives it back, and hides it from everybody else', async () => {
    const [pilar, rasmus] = [await world.as('Pilar'), await world.as('Rasmus')]
    const one = await order('4')
    const book = await fetched(pilar, [one])
    edit(book, { [one.number]: { Buyer: 'Rasmus Tielemann' } })
    const id = await given(rasmus, book)
    expect((await read(rasmus, id)).madeBy).to.equal('Pilar Quenneville')
    expect((await pilar.call(ReadReturn, { params: { id } })).status).to.equal(404)
    await apply(rasmus, id)
    expect((await pilar.do(ReadOrder, { params: { id: one.id } })).buyer).to.equal('Rasmus Tielemann')
    const marit = await world.as('Marit')
    const { body } = await marit.upload('orders.xlsx', Buffer.from(await book.xlsx.writeBuffer()))
    expect((await marit.call(TakeWorkbook, { body: { fileId: body.id } })).codes).to.deep.equal(['right.missing'])
  })

  it('leaves what was refused when it was done, says why, and can be gone on with', async () => {
    const pilar = await world.as('Pilar')
    const [gone, fine] = [await order('4'), await order('5')]
    const book = await fetched(pilar, [gone, fine])
    edit(book, { [gone.number]: { Quantity: 3 }, [fine.number]: { Do: 'cancel the order' } })
    const id = await given(pilar, book)
    const { version } = await read(pilar, id)
    const { jobId } = await pilar.do(ApplyReturn, { params: { id }, body: { version, reason: 'Less is needed.' } })
    const sheet = await pilar.do(ReadOrder, { params: { id: gone.id } })
    await pilar.do(ActOnOrder, { params: { id: gone.id }, body: { version: sheet.version, action: 'close', reason: 'Enough.', needRemains: false } }) // prettier-ignore
    await runLongJob(world.jobs, jobId)
    const after = await read(pilar, id)
    expect([after.state, ...after.rows.map(row => row.state)].sort()).to.deep.equal(['open', 'refused', 'settled'])
    expect((await pilar.do(ReadOrder, { params: { id: fine.id } })).state).to.equal('cancelled')
  })
})
