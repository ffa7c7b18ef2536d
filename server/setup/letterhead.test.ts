import { readFileSync } from 'node:fs'
import { expect } from 'chai'
import { OrderPdf } from '#contract/order/endpoints.ts'
import { Requisitions, RequisitionPdf } from '#contract/request/endpoints.ts'
import { ReadLetterhead, SaveMailSender, SetLogo } from '#contract/setup/letterhead.ts'
import { goodsLine, ordered } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

/** A picture as a browser makes it, and one that only begins like a picture. */
const SIGN = readFileSync('web/public/mark-48.png')
const BROKEN = Buffer.concat([SIGN.subarray(0, 60), Buffer.alloc(300, 7)])

describe('the letterhead', () => {
  const world = useWorld()
  const set = async (name: string, bytes: Buffer, who = 'Wren') => {
    const person = await world.as(who)
    return await person.call(SetLogo, { body: { fileId: (await person.upload(name, bytes)).body.id } })
  }

  it('has our sign on orders and requests as they are printed, until it is taken away', async () => {
    const [pilar, wren] = [await world.as('Pilar'), await world.as('Wren')]
    const order = await ordered(world, [await goodsLine(world, 'PT-1200', '2')])
    const { rows } = await pilar.do(Requisitions.page, { query: { view: 'all', limit: 1 } })
    const pictures = async (): Promise<boolean[]> =>
      Promise.all([
        pilar.bytes(OrderPdf, { id: order.id, revision: '0' }, {}),
        pilar.bytes(RequisitionPdf, { id: rows[0]!.id }, {}),
      ]).then(all => all.map(bytes => bytes.includes('/Subtype /Image')))
    expect(await pictures()).to.deep.equal([false, false])
    expect((await set('sign.png', SIGN)).status).to.equal(200)
    expect((await wren.do(ReadLetterhead)).logo).to.match(/^data:image\/png;base64,/)
    expect(await pictures()).to.deep.equal([true, true])
    await wren.do(SetLogo, { body: { fileId: null } })
    expect(await pictures()).to.deep.equal([false, false])
  })

  it('takes no sign that could not be printed when an order has to leave', async () => {
    expect((await set('sign.png', BROKEN)).codes).to.deep.equal(['picture.unreadable'])
    expect((await set('sign.csv', Buffer.from('a;b'))).codes).to.deep.equal(['picture.type'])
    expect((await set('sign.png', SIGN, 'Pilar')).status, 'who may not set up').to.equal(403)
    expect((await (await world.as('Wren')).do(ReadLetterhead)).logo).to.equal(null)
  })

  it('says as whom mails come and where answers go; of two who change it the second is told', async () => {
    const wren = await world.as('Wren')
    const mailed = async (): Promise<{ from: string; replyTo: string }> => {
      const order = await ordered(world, [await goodsLine(world, 'PT-1200', '2')])
      await sendAll(world)
      const { mails } = (await (await fetch(`http://127.0.0.1:${world.mail.httpPort}/mails`)).json()) as {
        mails: { from: string; replyTo: string; subject: string }[]
      }
      return mails.find(mail => mail.subject.includes(order.number))!
    }
    const before = await mailed()
    expect([before.from, before.replyTo]).to.satisfy(([from, to]: string[]) => from!.includes('Saltmere') && to === '')
    const { seen } = await wren.do(ReadLetterhead)
    const body = { name: 'Saltmere, purchasing', replyTo: 'buying@saltmere.example', seen }
    await wren.do(SaveMailSender, { body })
    const after = await mailed()
    expect(after.from).to.match(/^"?Saltmere, purchasing"? </)
    expect(after.replyTo).to.equal('buying@saltmere.example')
    expect((await wren.call(SaveMailSender, { body })).codes).to.deep.equal(['house.changed'])
    expect((await wren.call(SaveMailSender, { body: { ...body, replyTo: 'x\r\nBcc: y@z.example' } })).status).to.equal(
      400,
    )
  })
})
