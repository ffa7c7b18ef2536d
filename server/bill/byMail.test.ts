import { expect } from 'chai'
import JSZip from 'jszip'
import nodemailer from 'nodemailer'
import { readInvoiceMail } from '#server/bill/mailActs.ts'
import { plainInvoice } from '#test-helpers/invoices.ts'
import { goodsLine, ordered, received, today } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

describe('invoices by mail', () => {
  const world = useWorld()
  const send = async (
    from: string,
    files: { filename: string; content: string | Buffer }[],
    messageId?: string,
  ): Promise<string> => {
    const transport = nodemailer.createTransport({ host: '127.0.0.1', port: world.mail.smtpPort, ignoreTLS: true })
    await transport.sendMail({ from, to: 'invoices@saltmere.example', subject: 'November', text: 'As agreed.', attachments: files, ...(messageId ? { messageId } : {}) }) // prettier-ignore
    transport.close()
    for (let tries = 0; tries < 60; tries++) {
      const row = await world
        .db('mailsIn')
        .where({ outcome: null })
        .where('recipient', 'like', 'invoices@%')
        .first('id')
      if (row) {
        await readInvoiceMail(world.jobs, row.id)
        return (await world.db('mailsIn').where({ id: row.id }).first('outcome'))!.outcome!
      }
      await new Promise(resolve => setTimeout(resolve, 50))
    }
    return 'nothing came'
  }
  const answers = async (to: string): Promise<string[]> => {
    await sendAll(world)
    const { mails } = (await (await fetch(`http://127.0.0.1:${world.mail.httpPort}/?to=${encodeURIComponent(to)}`)).json()) as { mails: { subject: string; text: string }[] } // prettier-ignore
    return mails.filter(mail => mail.subject.includes('November')).map(mail => mail.text)
  }

  it('are read of whom the supplier named, each by itself, and the sender is told what became of each', async () => {
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '10')])
    await received(world, order)
    const { supplierId } = (await world.db('orders').where({ id: order.id }).first('supplierId'))!
    const vat = (await world.db('supplierIdentifiers').where({ supplierId, scheme: 'vat' }).first('value'))!.value
    const person = (await world.db('people').where({ supplierId, active: true }).first('email'))!
    const xml = (number: string, of = vat) => plainInvoice({ number, order: order.number, vat: of, quantity: '1', price: Number(order.lines[0]!.price).toFixed(2), net: Number(order.lines[0]!.price).toFixed(2), orderLine: '1', issueDate: today() }) // prettier-ignore
    const other = (await world.db('supplierIdentifiers').where({ scheme: 'vat' }).whereNot({ supplierId }).first('value'))!.value // prettier-ignore
    const zip = await new JSZip().file('b.xml', xml('MAIL-2')).generateAsync({ type: 'nodebuffer' })
    const files = [
      { filename: 'a.xml', content: xml('MAIL-1') },
      { filename: 'more.zip', content: zip },
      { filename: 'again.xml', content: xml('mail 1') },
      { filename: 'theirs.xml', content: xml('MAIL-4', other) },
      { filename: 'letter.txt', content: 'Best wishes' },
    ]
    expect(await send(person.email, files, '<one@mail.example>')).to.equal('read')
    const numbers = await world.db('invoices').where({ supplierId }).where('supplierNumber', 'like', 'MAIL-%').orderBy('supplierNumber').select('supplierNumber') // prettier-ignore
    expect(numbers.map(row => row.supplierNumber)).to.deep.equal(['MAIL-1', 'MAIL-2'])
    const [answer] = await answers(person.email)
    for (const said of ['a.xml: MAIL-1', 'b.xml: MAIL-2', 'again.xml:', 'theirs.xml: It is the invoice of another company', 'letter.txt:']) expect(answer).to.include(said) // prettier-ignore
    // delivered twice it is the same mail
    expect(await send(person.email, files, '<one@mail.example>')).to.equal('nothing came')
  })

  it('of somebody unknown are left and told nobody; without a document the sender hears it', async () => {
    expect(await send('thief@elsewhere.example', [{ filename: 'a.xml', content: '<Invoice/>' }])).to.equal(
      'unknownSender',
    )
    expect(await answers('thief@elsewhere.example')).to.deep.equal([])
    const person = (await world.db('people').whereNotNull('supplierId').where({ active: true }).orderBy('email').first('email'))! // prettier-ignore
    expect(await send(person.email, [])).to.equal('nothing')
    expect((await answers(person.email))[0]).to.match(/no e-invoice|keine E-Rechnung/)
  })
})
