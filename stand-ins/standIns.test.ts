import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import nodemailer from 'nodemailer'
import { type Bank, startBank } from '#stand-ins/bank.ts'
import { type MailServer, startMailServer } from '#stand-ins/mailServer.ts'
import { playScans, readScans } from '#stand-ins/scanner.ts'

const transfer = (id: string, amount: string, iban: string): string =>
  `<CdtTrfTxInf><PmtId><EndToEndId>${id}</EndToEndId></PmtId><Amt><InstdAmt Ccy="EUR">${amount}</InstdAmt></Amt><CdtrAcct><Id><IBAN>${iban}</IBAN></Id></CdtrAcct></CdtTrfTxInf>`
const paymentFile = (id: string, transfers: string): string =>
  `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.001.001.09"><CstmrCdtTrfInitn><GrpHdr><MsgId>${id}</MsgId></GrpHdr><PmtInf><PmtInfId>${id}-EUR</PmtInfId><ReqdExctnDt><Dt>2026-11-24</Dt></ReqdExctnDt>${transfers}</PmtInf></CstmrCdtTrfInitn></Document>`

describe('the bank that ships with it', () => {
  let bank: Bank
  const folder = mkdtempSync(join(tmpdir(), 'ivory-bank-test-'))
  const at = (path: string): string => `http://127.0.0.1:${bank.port}${path}`
  const put = (name: string, body: string): Promise<Response> => fetch(at(`/payments/${name}`), { method: 'PUT', body })
  const answers = async (): Promise<string[]> =>
    ((await (await fetch(at('/answers'))).json()) as { answers: string[] }).answers

  before(async () => {
    bank = await startBank(folder, 0)
  })
  after(async () => {
    await bank.stop()
    rmSync(folder, { recursive: true, force: true })
  })

  it('takes a payment file and answers with a status and a statement', async () => {
    const file = paymentFile('P-1', transfer('P-1-1', '85.00', 'NO0899000001089'))
    expect((await put('P-1', file)).status).to.equal(202)
    expect(await answers()).to.deep.equal(['P-1-STATEMENT', 'P-1-STATUS'])
    const statement = await (await fetch(at('/answers/P-1-STATEMENT'))).text()
    expect(statement).to.include('camt.053.001.08').and.include('P-1-1').and.include('85.00')
    expect(await (await fetch(at('/answers/P-1-STATUS'))).text()).to.include('pain.002.001.10')
  })

  it('takes the same file twice as one', async () => {
    const before = await (await fetch(at('/answers/P-1-STATEMENT'))).text()
    expect((await put('P-1', paymentFile('P-1', transfer('P-1-1', '99.00', 'NO0899000001089')))).status).to.equal(202)
    expect(await (await fetch(at('/answers/P-1-STATEMENT'))).text()).to.equal(before)
  })

  it('refuses some accounts, so that a demo has refusals', async () => {
    await put('P-2', paymentFile('P-2', transfer('P-2-1', '10.00', 'NL40BANK0000592404')))
    expect(await (await fetch(at('/answers/P-2-STATUS'))).text())
      .to.include('RJCT')
      .and.include('AC04')
  })

  it('can be down, or forget to answer, and has the file all the same', async () => {
    bank.faults.down = true
    expect((await fetch(at('/answers'))).status).to.equal(503)
    bank.faults.down = false
    bank.faults.forgetToAnswer = 1
    const file = paymentFile('P-3', transfer('P-3-1', '5.00', 'NO0899000001089'))
    expect(
      await put('P-3', file).then(
        () => 'answered',
        () => 'broke off',
      ),
    ).to.equal('broke off')
    expect(await answers()).to.include('P-3-STATUS')
  })

  it('knows no other addresses', async () => {
    for (const path of ['/', '/payments', '/answers/..%2F..%2Fetc%2Fpasswd', '/answers/NONE'])
      expect((await fetch(at(path))).status, path).to.equal(404)
    expect((await put('no%20name', 'x')).status).to.equal(404)
    expect((await put('P-9', '<broken')).status).to.equal(400)
  })
})

describe('the mail server that ships with it', () => {
  let server: MailServer
  const folder = mkdtempSync(join(tmpdir(), 'ivory-mail-test-'))
  const mail = {
    from: 'a@x.example',
    to: 'orders@y.example',
    subject: 'Order O-1',
    text: 'As agreed.',
    messageId: '<one@x.example>',
  }
  const send = (): Promise<unknown> => nodemailer.createTransport(`smtp://127.0.0.1:${server.smtpPort}`).sendMail(mail)

  before(async () => {
    server = await startMailServer(folder, { smtp: 0, http: 0 })
  })
  after(async () => {
    await server.stop()
    rmSync(folder, { recursive: true, force: true })
  })

  it('takes mails and shows them by whom they are to', async () => {
    await send()
    const shown = (await (await fetch(`http://127.0.0.1:${server.httpPort}/mails?to=orders@y`)).json()) as {
      mails: { subject: string }[]
    }
    expect(shown.mails.map(one => one.subject)).to.deep.equal(['Order O-1'])
    const others = (await (await fetch(`http://127.0.0.1:${server.httpPort}/mails?to=nobody`)).json()) as {
      mails: unknown[]
    }
    expect(others.mails).to.deep.equal([])
  })

  it('takes one mail once, however often it comes, also when it forgot to say so', async () => {
    const before = await server.count()
    await send()
    server.faults.forgetToAnswer = 1
    await send().catch(() => undefined)
    expect(await server.count()).to.equal(before)
  })

  it('can be down', async () => {
    server.faults.down = true
    expect(
      await send().then(
        () => 'sent',
        () => 'failed',
      ),
    ).to.equal('failed')
    server.faults.down = false
  })
})

describe('the scanner that ships with it', () => {
  it('plays a list as keys with Enter behind each scan; reads twice or cuts off where it is told to', async () => {
    const scans = readScans('# dock 2\n\n(01)04012345678901<GS>21S9\r\nO-4711\n  AB-7  ')
    expect(scans).to.deep.equal(['(01)04012345678901\u001d21S9', 'O-4711', 'AB-7'])
    const typed: string[] = []
    const keyboard = {
      type: (text: string) => Promise.resolve(void typed.push(text)),
      press: (key: string) => Promise.resolve(void typed.push(key)),
    }
    expect(await playScans(scans, keyboard, { twice: [2], cutOff: { 3: 2 }, pause: 1 })).to.equal(4)
    expect(typed).to.deep.equal([scans[0], 'Enter', 'O-4711', 'Enter', 'O-4711', 'Enter', 'AB', 'Enter'])
  })
})
