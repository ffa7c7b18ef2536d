import { expect } from 'chai'
import { ReadInvoice } from '#contract/bill/endpoints.ts'
import { ChangeOrder, OrderPdf, OrderUbl, Orders, ReadOrder } from '#contract/order/endpoints.ts'
import { RunFile } from '#contract/pay/endpoints.ts'
import { ReadDelivery } from '#contract/receive/endpoints.ts'
import { ReadSupplier } from '#contract/source/endpoints.ts'
import { writing } from '#server/call.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { refreshThread } from '#server/thread/refresh.ts'
import { PERSONAL_FEE } from '#core/request/personalFee.ts'
import { goodsLine, ordered } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('what only some may see', () => {
  const world = useWorld()

  it('whole account numbers are for who pays or proves; others see how they end, in Sheets and histories alike', async () => {
    const account = (await world.db('supplierBankAccounts').where({ state: 'proven' }).first('supplierId', 'iban'))!
    const sheet = async (who: string) =>
      JSON.stringify(await (await world.as(who)).do(ReadSupplier, { params: { id: account.supplierId } }))
    for (const who of ['Casimir', 'Adaeze', 'Henrik']) expect(await sheet(who), who).to.include(account.iban)
    for (const who of ['Pilar', 'Rasmus', 'Ines', 'Wren', 'Yuki']) {
      expect(await sheet(who), who).to.not.include(account.iban)
      expect(await sheet(who), who).to.include(`… ${account.iban.slice(-4)}`)
    }
    const invoice = (await world.db('invoices').where({ supplierId: account.supplierId }).first('id'))!
    expect(
      JSON.stringify(await (await world.as('Leonie')).do(ReadInvoice, { params: { id: invoice.id } })),
    ).to.not.include(account.iban)
    const run = (await world.db('paymentRuns').whereNot({ state: 'proposed' }).first('id'))!
    expect((await (await world.as('Leonie')).call(RunFile, { params: { id: run.id } })).status).to.equal(403)
    expect(await (await world.as('Casimir')).text(RunFile, { params: { id: run.id } })).to.include('<IBAN>')
  })

  it('whom a personal fee is for stays with those whom it concerns: on orders, deliveries, papers and in search', async () => {
    const fee = 'Dr Alma Reyes, opening talk'
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    await world.db('orderLines').where({ orderId: order.id }).update({ kind: 'personalFee', description: fee })
    const at = { params: { id: order.id } }
    const words = async (who: string) => [
      (await (await world.as(who)).do(ReadOrder, at)).lines[0]!.description,
      (await (await world.as(who)).do(ReadDelivery, at)).lines[0]!.description,
    ]
    expect(await words('Pilar'), 'a buyer').to.deep.equal([fee, fee])
    expect(await words('Yuki'), 'a receiver').to.deep.equal([PERSONAL_FEE, PERSONAL_FEE])
    expect(await words('Marit'), 'a budget holder').to.deep.equal([PERSONAL_FEE, PERSONAL_FEE])
    const ubl = async (who: string) => (await world.as(who)).text(OrderUbl, { params: { id: order.id, revision: 0 } })
    expect(await ubl('Yuki')).to.include(`>${PERSONAL_FEE}<`)
    expect(await ubl('Pilar')).to.not.include(`>${PERSONAL_FEE}<`)
    expect((await (await world.as('Yuki')).call(OrderPdf, { params: { id: order.id, revision: 0 } })).status).to.equal(
      200,
    )
    const sheet = await (await world.as('Pilar')).do(ReadOrder, at)
    await (
      await world.as('Pilar')
    ).do(ChangeOrder, {
      params: at.params,
      body: {
        ...{ version: sheet.version, title: sheet.title, message: '', charges: [], reason: 'Another evening.' },
        lines: sheet.lines.map(({ id, quantity, price, needBy }) => ({
          ...{ id, quantity, price, needBy },
          description: 'Dr Alma Reyes, closing talk',
        })),
      },
    })
    const whole = async (who: string): Promise<string> => JSON.stringify(await (await world.as(who)).do(ReadOrder, at))
    expect(await whole('Pilar'), 'the revision says it').to.include('closing talk')
    for (const who of ['Yuki', 'Marit', 'Leonie'])
      expect(await whole(who), `${who}, whatever stands on the Sheet`).to.not.match(/Alma|talk/)
    const found = await (await world.as('Yuki')).do(Orders.page, { query: { q: 'alma reyes' } })
    expect(found.rows).to.deep.equal([])
    const [mails, told] = [
      await world
        .db('outbox')
        .where({ documentId: order.id })
        .whereRaw(`payload ->> 'to' like '%@saltmere.example'`)
        .select('payload'),
      await world.db('deskEntries').where({ documentId: order.id }).select('details', 'audience'),
    ]
    expect(JSON.stringify([mails, told.filter(one => !one.audience.startsWith('person:'))])).to.not.match(/Alma|talk/)
    await world.db('orderLines').where({ orderId: order.id }).update({ kind: 'goods' })
    const setting = await settingOf(world.jobs)
    await world.db.transaction(trx => refreshThread(writing(trx, setting), { orderIds: [order.id] }))
  })
})
