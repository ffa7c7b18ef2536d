import { expect } from 'chai'
import nodemailer, { type SendMailOptions } from 'nodemailer'
import { ReadMyDecisions, ReadWay, UseWay } from '#contract/decide/endpoints.ts'
import { ActOnRequisition, ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { KeepPreference } from '#contract/people/preferences.ts'
import { inTransaction } from '#server/jobs/parts.ts'
import { sendDigests } from '#server/mail/digest.ts'
import { draft, goodsLine, standIn } from '#test-helpers/steps.ts'
import { Client, readAnswers, sendAll, useWorld } from '#test-helpers/world.ts'

interface Mail {
  readonly from: string
  readonly to: string
  readonly replyTo: string
  readonly subject: string
  readonly text: string
}

describe('deciding by mail', () => {
  const world = useWorld()
  const submitted = async (title: string, reason = ''): Promise<string> => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '10')], title)
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version, checkReason: reason } })
    return id
  }
  const sheet = async (id: string) => (await world.as('Joren')).do(ReadRequisition, { params: { id } })
  const mailbox = async (who: string): Promise<Mail[]> => {
    await sendAll(world)
    const { email } = (await world.db('people').where('name', 'like', `${who} %`).first('email'))!
    const answer = await fetch(`http://127.0.0.1:${world.mail.httpPort}/?to=${encodeURIComponent(email)}`)
    return ((await answer.json()) as { mails: Mail[] }).mails
  }
  const about = async (who: string, title: string): Promise<Mail> =>
    (await mailbox(who)).find(mail => mail.subject.includes(title))!
  const linkIn = (mail: Mail, word: string): string => new RegExp(`${word}: \\S*/answer/(\\S+)`).exec(mail.text)![1]!
  /** Nobody is signed in where the mail is read. */
  const anyone = async () => new Client(world.address, '')
  const look = async (token: string) => (await anyone()).call(ReadWay, { params: { token } })
  const use = async (token: string, answer: 'approve' | 'reject' | 'ask', reason = '') =>
    (await anyone()).call(UseWay, { params: { token }, body: { answer, reason } })
  const reply = async (mail: Mail, body: SendMailOptions, from?: string): Promise<string[]> => {
    const transport = nodemailer.createTransport({ host: '127.0.0.1', port: world.mail.smtpPort, ignoreTLS: true })
    await transport.sendMail({ from: from ?? mail.to, to: mail.replyTo, subject: `Re: ${mail.subject}`, ...body })
    transport.close()
    return await readAnswers(world)
  }
  const quoted = (mail: Mail): string =>
    `\n\nOn Monday, Ivory Order <${mail.from}> wrote:\n${mail.text.replace(/^/gm, '> ')}`

  it('says what is needed to decide, and how, without a picture', async () => {
    const id = await submitted('Said in a mail')
    const mail = await about('Marit', 'Said in a mail')
    const { lines, budgets, total } = await sheet(id)
    expect(mail.text).to.include('Joren Vaskuil asks for Said in a mail').and.include(lines[0]!.description)
    expect(mail.text.replaceAll(/[  ,]/g, '')).to.include(total).and.include(budgets[0]!.after)
    expect(mail.replyTo).to.match(/^decide\+[0-9a-f]{32}-m-[0-9a-f]{20}@/)
    expect(mail.replyTo.split('@')[0]!.length).to.be.at.most(64)
    expect(linkIn(mail, 'Approve')).to.not.equal(linkIn(mail, 'Reject'))
  })

  it('by a link: looking decides nothing, a press decides, once', async () => {
    const id = await submitted('Decided by a link')
    const token = linkIn(await about('Marit', 'Decided by a link'), 'Approve')
    for (let times = 0; times < 3; times++) {
      const shown = await look(token)
      expect(shown.body.reasons).to.deep.equal([])
      expect([shown.body.offers, shown.body.title, shown.body.person]).to.deep.equal(['approve', 'Decided by a link', 'Marit Oland']) // prettier-ignore
    }
    expect((await sheet(id)).state).to.equal('waiting')
    const both = await Promise.all([use(token, 'approve'), use(token, 'approve')])
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 422])
    const { state, history, steps } = await sheet(id)
    expect(state).to.equal('approved')
    expect(history.find(one => one.action === 'approve')).to.deep.include({ actor: 'Marit Oland', channel: 'mail' })
    expect(steps[0]).to.deep.include({ channel: 'mail' })
    expect((await use(token, 'approve')).codes).to.deep.equal(['way.used'])
    const dead = await look(token)
    expect(dead.body.reasons.map(one => one.code)).to.deep.equal(['way.used'])
    expect([dead.body.lines, dead.body.budgets]).to.deep.equal([[], []])
  })

  it('not by a link that was altered, nor by one for something else', async () => {
    const id = await submitted('Altered')
    const mail = await about('Marit', 'Altered')
    const token = linkIn(mail, 'Reject')
    for (const wrong of [
      token.replace('-n-', '-y-'),
      `${token.slice(0, -1)}${token.endsWith('0') ? '1' : '0'}`,
      'x',
      `${token}0`,
      `0${token.slice(1)}`.replace(/^0/, token.startsWith('0') ? '1' : '0'),
    ])
      // prettier-ignore
      expect((await use(wrong, 'approve')).codes, wrong).to.deep.equal(['way.unknown'])
    expect((await use(token, 'reject')).codes).to.deep.equal(['decide.noReason'])
    expect((await use(token, 'reject', 'Not this year.')).status).to.equal(200)
    expect((await sheet(id)).state).to.equal('rejected')
  })

  it('not in the session of somebody else, to whom the mail was passed on', async () => {
    const id = await submitted('Passed on to Dov')
    const token = linkIn(await about('Marit', 'Passed on to Dov'), 'Approve')
    const dov = await world.as('Dov')
    const shown = await dov.do(ReadWay, { params: { token } })
    expect([shown.reasons.map(one => one.code), shown.lines]).to.deep.equal([['way.notYours'], []])
    const pressed = await dov.call(UseWay, { params: { token }, body: { answer: 'approve', reason: '' } })
    expect(pressed.codes).to.deep.equal(['way.notYours'])
    expect((await sheet(id)).state).to.equal('waiting')
    expect((await (await world.as('Marit')).call(UseWay, { params: { token }, body: { answer: 'approve', reason: '' } })).status).to.equal(200) // prettier-ignore
  })

  it('not after the request was decided elsewhere, withdrawn or changed, nor after its time', async () => {
    const id = await submitted('Changed meanwhile')
    const first = linkIn(await about('Marit', 'Changed meanwhile'), 'Approve')
    const joren = await world.as('Joren')
    await joren.do(ActOnRequisition, { params: { id }, body: { version: (await sheet(id)).version, action: 'change' } })
    expect((await use(first, 'approve')).codes).to.deep.equal(['way.decided'])
    await joren.do(SubmitRequisition, { params: { id }, body: { version: (await sheet(id)).version } })
    expect((await use(first, 'approve')).codes, 'asked anew').to.deep.equal(['way.decided'])
    expect((await sheet(id)).state).to.equal('waiting')
    const again = await submitted('Out of time')
    const token = linkIn(await about('Marit', 'Out of time'), 'Approve')
    await world
      .db('decisionWays')
      .update({ expiresAt: new Date(Date.now() - 1000).toISOString() })
      .whereNull('usedAt')
    expect((await use(token, 'approve')).codes).to.deep.equal(['way.expired'])
    expect((await look(token)).body.reasons.map(one => one.code)).to.deep.equal(['way.expired'])
    expect((await sheet(again)).state).to.equal('waiting')
  })

  it('by a link in what comes together in the morning, with what is needed to decide beside it', async () => {
    const marit = await world.as('Marit')
    const wish = (when: 'daily' | 'atOnce') =>
      marit.do(KeepPreference, { body: { key: 'mails', subject: '', value: { when, quietFrom: '', quietTo: '' } } })
    await wish('daily')
    const id = await submitted('Decided in the morning')
    expect(await about('Marit', 'Decided in the morning'), 'not by itself').to.equal(undefined)
    const tomorrow = new Date(Date.now() + 30 * 3_600_000).toISOString()
    await inTransaction({ ...world.jobs, clock: () => tomorrow }, sendDigests)
    const mail = (await mailbox('Marit')).find(one => one.text.includes('Decided in the morning'))!
    const { lines } = await sheet(id)
    expect(mail.text).to.include(lines[0]!.description).and.include('decides once')
    expect((await use(linkIn(mail, 'Approve'), 'approve')).status).to.equal(200)
    expect((await sheet(id)).state).to.equal('approved')
    expect((await use(linkIn(mail, 'Reject'), 'reject', 'No.')).codes, 'both are used with one').to.deep.equal([
      'way.used',
    ])
    await wish('atOnce')
  })

  it('by an answer: its first word counts, what is quoted does not', async () => {
    const id = await submitted('Answered with yes')
    const mail = await about('Marit', 'Answered with yes')
    expect(await reply(mail, { text: `Yes, good idea.${quoted(mail)}` })).to.deep.equal(['approve'])
    const { state, history } = await sheet(id)
    expect(state).to.equal('approved')
    expect(history.find(one => one.action === 'approve')?.reason).to.equal('good idea.')
    expect((await about('Marit', 'Done: ')).text).to.include('is approved by you')
    const no = await submitted('Answered with no')
    const other = await about('Marit', 'Answered with no')
    expect(await reply(other, { text: `No${quoted(other)}` })).to.deep.equal(['way.noReason'])
    expect(await reply(other, { html: `<p>no, <b>too dear</b></p><blockquote>yes</blockquote>` })).to.deep.equal([
      'reject',
    ])
    expect((await sheet(no)).state).to.equal('rejected')
    expect(await reply(other, { text: 'yes' })).to.deep.equal(['way.used'])
    const told = (await mailbox('Marit')).filter(one => one.subject.startsWith('Not done: '))
    expect(told.some(one => one.text.includes('each mail decides once'))).to.equal(true)
  })

  it('not by an answer from elsewhere, by a program, or in words that say nothing', async () => {
    const id = await submitted('Answered by others')
    const mail = await about('Marit', 'Answered by others')
    expect(await reply(mail, { text: 'yes' }, 'marit.oland@elsewhere.example')).to.deep.equal(['way.otherSender'])
    expect(await reply(mail, { text: 'yes', headers: { 'auto-submitted': 'auto-replied' } })).to.deep.equal(['way.automatic']) // prettier-ignore
    expect(await reply(mail, { text: 'Thank you, I will look at it.' })).to.deep.equal(['way.unread'])
    expect(await reply({ ...mail, replyTo: mail.replyTo.replace('-m-', '-y-') }, { text: 'yes' })).to.deep.equal(['way.unknown']) // prettier-ignore
    expect((await sheet(id)).state).to.equal('waiting')
    const told = (await mailbox('Marit')).filter(one => one.subject.startsWith('Not done') && one.subject.includes('Answered by others')) // prettier-ignore
    expect(told.length).to.equal(2)
    expect((await mailbox('Dov')).filter(one => one.subject.includes('Answered by others'))).to.deep.equal([])
  })

  it('also with a signature of five megabytes or a bomb hanging on it; delivered twice it counts once', async () => {
    const id = await submitted('Heavy answers')
    const mail = await about('Marit', 'Heavy answers')
    const bomb = { filename: 'bomb.zip', content: Buffer.alloc(5_000_000, 7) }
    expect(await reply(mail, { text: `question: how many spare seals?\n-- \n${'Marit '.repeat(800_000)}`, attachments: [bomb] })).to.deep.equal(['ask']) // prettier-ignore
    const { questions } = await sheet(id)
    expect(questions.map(one => [one.by, one.question])).to.deep.equal([['Marit Oland', 'how many spare seals?']])
    const nested = Array.from({ length: 4000 }, (_, n) => `--b${n}\r\nContent-Type: multipart/mixed; boundary=b${n + 1}\r\n\r\n`).join('') // prettier-ignore
    const raw = `From: ${mail.to}\r\nTo: ${mail.replyTo}\r\nMessage-ID: <nested@x>\r\nContent-Type: multipart/mixed; boundary=b0\r\n\r\n${nested}`
    const transport = nodemailer.createTransport({ host: '127.0.0.1', port: world.mail.smtpPort, ignoreTLS: true })
    for (let times = 0; times < 2; times++) await transport.sendMail({ envelope: { from: mail.to, to: [mail.replyTo] }, raw }) // prettier-ignore
    transport.close()
    expect(await readAnswers(world)).to.have.length(1)
    await new Promise(resolve => setTimeout(resolve, 300))
    expect(await world.db('mailsIn').where({ outcome: null }).pluck('id')).to.deep.equal([])
    expect((await sheet(id)).state).to.equal('waiting')
  })

  it('reaches whoever stands in, whose answer counts as theirs, in whose place', async () => {
    const end = await standIn(world, 'Marit', 'Henrik')
    const id = await submitted('For the stand-in')
    expect((await mailbox('Marit')).some(mail => mail.subject.includes('For the stand-in'))).to.equal(false)
    const mail = await about('Henrik', 'For the stand-in')
    expect(mail.text).to.include('in place of Marit Oland')
    expect(await reply(mail, { text: 'approved' })).to.deep.equal(['approve'])
    const [step] = (await sheet(id)).steps
    expect(step).to.deep.include({ decidedBy: 'Henrik Solvang-Abe', inPlaceOf: 'Marit Oland', channel: 'mail' })
    await end()
    const late = await submitted('Ended meanwhile')
    const again = await standIn(world, 'Marit', 'Henrik')
    await again()
    expect((await about('Marit', 'Ended meanwhile')).text).to.include('Approve: ')
    expect((await sheet(late)).state).to.equal('waiting')
  })

  it('is only a link for those who want no more', async () => {
    const value = { when: 'atOnce' as const, quietFrom: '', quietTo: '', decisions: 'short' as const }
    const marit = await world.as('Marit')
    await marit.do(KeepPreference, { body: { key: 'mails', subject: '', value } })
    await submitted('Short and good')
    const mail = await about('Marit', 'Short and good')
    expect(mail.text).to.not.include('/answer/')
    expect(mail.text).to.include('/decide/')
    expect(mail.replyTo).to.not.include('decide+')
    await marit.do(KeepPreference, { body: { key: 'mails', subject: '', value: { ...value, decisions: 'full' } } })
    expect((await marit.do(ReadMyDecisions, { query: { part: 'mine' } })).counts.mine).to.be.above(0)
  })

  it('goes on when the mail server was away: nothing is lost, nothing comes twice', async () => {
    world.mail.faults.down = true
    const id = await submitted('While it rested')
    await sendAll(world).catch(() => undefined)
    world.mail.faults.down = false
    const mail = await about('Marit', 'While it rested')
    expect((await mailbox('Marit')).filter(one => one.subject === mail.subject)).to.have.length(1)
    expect((await use(linkIn(mail, 'Approve'), 'approve')).status).to.equal(200)
    expect((await sheet(id)).state).to.equal('approved')
  })
})
