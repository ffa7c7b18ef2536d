import { expect } from 'chai'
import { authenticator } from 'otplib'
import * as account from '#contract/account/endpoints.ts'
import type { Endpoint } from '#contract/endpoint.ts'
import { ReadCounts, ReadDesk } from '#contract/desk/endpoints.ts'
import { ReadSession, SignIn, SignOut } from '#contract/people/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { listen } from '#test-helpers/news.ts'
import { Client, useWorld } from '#test-helpers/world.ts'

const DEMO = 'kelp-and-krill'
const OTHER = 'nine lumpfish on a rope'

describe('an account', () => {
  const world = useWorld()
  const address = (name: string): string => `${name}@saltmere.example`

  /** Signs in as a browser does: the cookie is kept, whatever is still to come. */
  async function signIn(email: string, password: string): Promise<{ client: Client; pending: string | null }> {
    const response = await fetch(`${world.address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-ivory-order': '1', 'user-agent': 'A browser' },
      body: JSON.stringify({ email, password }),
    })
    expect(response.status, await response.clone().text()).to.equal(200)
    const { pending } = (await response.json()) as { pending: string | null }
    return { client: new Client(world.address, response.headers.getSetCookie()[0]!.split(';')[0]!), pending }
  }
  /** The session that an act gives in place of the one that asked for it; the old one opens nothing from then on. */
  async function renewed(client: Client, endpoint: Endpoint, body: object): Promise<Client> {
    const response = await fetch(`${world.address}/api${endpoint.path}`, {
      method: endpoint.method.toUpperCase(),
      headers: { cookie: client.cookie, 'content-type': 'application/json', 'x-ivory-order': '1' },
      body: JSON.stringify(body),
    })
    expect(response.status, await response.clone().text()).to.equal(200)
    expect((await client.do(ReadSession)).person, 'the session before').to.equal(null)
    return new Client(world.address, response.headers.getSetCookie()[0]!.split(';')[0]!)
  }
  const refused = async (client: Client, endpoint: Endpoint, input: object): Promise<readonly string[]> =>
    (await client.call(endpoint, input as never)).codes
  const nobody = (): Client => new Client(world.address, '')
  const actions = async (email: string): Promise<string[]> =>
    world
      .db('history')
      .join('people', 'people.id', 'history.documentId')
      .where({ email })
      .orderBy('sequence')
      .pluck<string[]>('action')
  const linkTo = async (email: string): Promise<string> => {
    const row = (await world
      .db('outbox')
      .whereRaw(`payload ->> 'to' = ? and payload ->> 'text' like '%/password/%'`, [email])
      .orderBy('createdAt', 'desc')
      .first('payload')) as { payload: { text: string } }
    return /\/password\/([\w-]+)/.exec(row.payload.text)![1]!
  }

  it('has sessions that its person sees and ends, one or all others', async () => {
    const { client: one } = await signIn(address('joren.vaskuil').toUpperCase(), DEMO)
    const { client: two } = await signIn(address('joren.vaskuil'), DEMO)
    const { client: three } = await signIn(address('joren.vaskuil'), DEMO)
    const { sessions } = await one.do(account.ReadAccount)
    expect(sessions.map(session => [session.agent, session.current]).sort()).to.deep.equal([
      ['A browser', false],
      ['A browser', false],
      ['A browser', true],
    ])
    const own = await two.do(account.ReadAccount)
    await one.do(account.EndSession, { params: { id: own.sessions.find(session => session.current)!.id } })
    expect(await refused(two, ReadDesk, {})).to.deep.equal(['session.none'])
    expect(await one.do(account.EndOtherSessions)).to.deep.equal({ ended: 1 })
    expect(await refused(three, ReadDesk, {})).to.deep.equal(['session.none'])
    expect((await one.call(ReadDesk)).status).to.equal(200)
  })

  it('takes no session of somebody else, and ends none', async () => {
    const { client: joren } = await signIn(address('joren.vaskuil'), DEMO)
    const ines = await world.as('Ines')
    const [session] = (await joren.do(account.ReadAccount)).sessions
    await ines.do(account.EndSession, { params: { id: session!.id } })
    expect((await joren.call(ReadDesk)).status).to.equal(200)
  })

  it('gets another password from who knows the present one; every other session ends', async () => {
    const yuki = (await world.db('people').where('name', 'like', 'Yuki %').first('email'))!
    const { client: one } = await signIn(yuki.email, DEMO)
    const { email } = await one.do(account.ReadAccount)
    const { client: two } = await signIn(email, DEMO)
    const change = (present: string, password: string) =>
      refused(one, account.ChangePassword, { body: { present, password } })
    expect(await change('wrong', OTHER)).to.deep.equal(['password.present'])
    expect(await change(DEMO, 'short')).to.deep.equal(['password.short'])
    expect(await change(DEMO, 'passwordpassword')).to.deep.equal(['password.common'])
    expect(await change(DEMO, ' '.repeat(14))).to.deep.equal(['password.blank'])
    expect(await change(DEMO, email)).to.deep.equal(['password.own'])
    await one.do(account.ChangePassword, { body: { present: DEMO, password: OTHER } })
    expect(await refused(two, ReadDesk, {})).to.deep.equal(['session.none'])
    expect((await one.call(ReadDesk)).status).to.equal(200)
    expect(await refused(nobody(), SignIn, { body: { email, password: DEMO } })).to.deep.equal(['session.wrong'])
    await signIn(email, OTHER)
    expect(await actions(email)).to.include.members(['signedIn', 'passwordChanged', 'signInRefused'])
  })

  it('is opened anew by a link that is mailed, works once and for an hour; nobody learns who has an account', async () => {
    const person = (await world.db('people').where('name', 'like', 'Pilar %').first('email'))!
    const { client: before } = await signIn(person.email, DEMO)
    const ask = (to: string) => nobody().call(account.AskReset, { body: { email: to } })
    expect((await ask('nobody@nowhere.example')).body).to.deep.equal((await ask(person.email)).body)
    const first = await linkTo(person.email)
    await ask(person.email)
    const token = await linkTo(person.email)
    expect(await refused(nobody(), account.ReadLink, { params: { token: first } })).to.deep.equal(['link.unknown'])
    expect(await nobody().do(account.ReadLink, { params: { token } })).to.deep.include({
      purpose: 'reset',
      email: person.email,
    })
    const use = (password: string) => nobody().call(account.UseLink, { params: { token }, body: { password } })
    expect((await use('short')).codes).to.deep.equal(['password.short'])
    expect((await use(OTHER)).status).to.equal(200)
    expect((await use(OTHER)).codes).to.deep.equal(['link.used'])
    expect(await refused(before, ReadDesk, {})).to.deep.equal(['session.none'])
    await signIn(person.email, OTHER)
    await ask(person.email)
    await world.db('oneTimeLinks').update({ expiresAt: '2020-01-01T00:00:00Z' })
    expect(await refused(nobody(), account.ReadLink, { params: { token: await linkTo(person.email) } })).to.deep.equal([
      'link.expired',
    ])
  })

  it('asks for a code where a second factor is set; each code is taken once', async () => {
    const person = (await world.db('people').where('name', 'like', 'Leonie %').first('email'))!
    let { client } = await signIn(person.email, DEMO)
    const { secret, uri, picture } = await client.do(account.StartSecondFactor)
    expect(uri).to.match(/^otpauth:\/\/totp\//)
    expect(picture).to.match(/^data:image\/png;base64,/)
    expect(await refused(client, account.ConfirmSecondFactor, { body: { secret, code: '000000' } })).to.deep.equal([
      'secondFactor.wrong',
    ])
    const code = authenticator.generate(secret)
    client = await renewed(client, account.ConfirmSecondFactor, { secret, code })
    expect((await client.do(account.ReadAccount)).secondFactorSince).to.be.a('string')
    expect(await refused(client, account.StartSecondFactor, {})).to.deep.equal(['secondFactor.there'])

    const { client: waiting, pending } = await signIn(person.email, DEMO)
    expect(pending).to.equal('code')
    expect(await refused(waiting, ReadCounts, {})).to.deep.equal(['session.none'])
    expect((await waiting.do(ReadSession)).pending).to.equal('code')
    expect(await refused(waiting, account.StartSecondFactor, {})).to.deep.equal(['session.none'])
    expect(await refused(waiting, account.ProveCode, { body: { code } }), 'used already').to.deep.equal([
      'secondFactor.wrong',
    ])
    await world.db('people').where({ email: person.email }).update({ codesUsed: 0n })
    const next = await renewed(waiting, account.ProveCode, { code: authenticator.generate(secret) })
    expect((await next.call(ReadCounts)).status).to.equal(200)

    const { client: guesser } = await signIn(person.email, DEMO)
    const answers: string[] = []
    for (let tried = 0; tried < 8; tried++)
      answers.push(...(await refused(guesser, account.ProveCode, { body: { code: '123456' } })))
    expect(answers.at(-1), 'guessing has an end').to.equal('session.tooMany')

    await world.db('people').where({ email: person.email }).update({ codesUsed: 0n })
    await next.do(account.EndSecondFactor, { body: { code: authenticator.generate(secret) } })
    expect((await signIn(person.email, DEMO)).pending).to.equal(null)
  })

  it('of a role that must have a second factor opens nothing until it is set', async () => {
    await world.db('settings').insert({
      key: 'signIn',
      value: JSON.stringify({ idleMinutes: 60, secondFactorRoles: ['treasurer'] }),
    })
    const person = (await world.db('people').where('name', 'like', 'Casimir %').first('email'))!
    const { client: waiting, pending } = await signIn(person.email, DEMO)
    expect(pending).to.equal('enrol')
    expect(await refused(waiting, ReadDesk, {})).to.deep.equal(['session.none'])
    const { secret } = await waiting.do(account.StartSecondFactor)
    const client = await renewed(waiting, account.ConfirmSecondFactor, { secret, code: authenticator.generate(secret) })
    expect((await client.call(ReadDesk)).status).to.equal(200)
    await world.db('people').where({ email: person.email }).update({ codesUsed: 0n })
    expect(
      await refused(client, account.EndSecondFactor, { body: { code: authenticator.generate(secret) } }),
    ).to.deep.equal(['secondFactor.due'])
    await world.db('settings').where({ key: 'signIn' }).delete()
  })

  it('is left when nobody has used it for as long as Setup says', async () => {
    const { client } = await signIn(address('joren.vaskuil'), DEMO)
    await world
      .db('settings')
      .insert({ key: 'signIn', value: JSON.stringify({ idleMinutes: 30, secondFactorRoles: [] }) })
    await world.db.raw(`update sessions set seen_at = now() - interval '29 minutes'`)
    expect((await client.call(ReadDesk)).status).to.equal(200)
    const last = (await world.db('sessions').orderBy('seenAt', 'desc').first('seenAt'))!
    expect(Date.now() - Date.parse(last.seenAt), 'seen now').to.be.below(60_000)
    await world.db.raw(`update sessions set seen_at = now() - interval '31 minutes'`)
    expect(await refused(client, ReadDesk, {})).to.deep.equal(['session.none'])
    await world.db('settings').where({ key: 'signIn' }).delete()
  })

  it('ends its streams with the session, and with other rights', async () => {
    const { client } = await signIn(address('joren.vaskuil'), DEMO)
    const stream = await listen(world, client, ['kind:supplier'])
    await client.do(SignOut)
    const over = await stream.next().then(
      () => 'news',
      (error: Error) => error.message,
    )
    expect(over).to.equal('The stream of news ended.')
  })

  it('hears only of documents that it may open', async () => {
    const ines = await world.as('Ines')
    const order = (await world.db('orders').where({ state: 'issued' }).first('id', 'version'))!
    expect((await ines.call(ReadOrder, { params: { id: order.id } })).status).to.equal(403)
    const invoice = (await world.db('invoices').first('id'))!
    const own = (await world
      .db('requisitions')
      .join('people', 'people.id', 'requisitions.requesterId')
      .where('people.name', 'like', 'Ines %')
      .first('requisitions.id'))! as { id: string }
    const stream = await listen(world, ines, [invoice.id, own.id].map(id => `document:${id}`).concat('kind:invoice'))
    const say = (topics: string[]) => world.db.raw('select pg_notify(?, ?)', ['ivory', JSON.stringify(topics)])
    await say([`document:${invoice.id}`, 'kind:invoice'])
    await say([`document:${own.id}`, `document:${invoice.id}`])
    expect(await stream.next()).to.deep.equal({ event: 'changed', topics: [`document:${own.id}`] })
    stream.stop()
  })
})

describe('what is a person’s own', () => {
  const world = useWorld()

  it('is how their dates and figures are written, from the next page on, and stands in their history', async () => {
    const pilar = await world.as('Pilar')
    await pilar.do(account.SavePersonal, { body: { locale: 'de-DE', timeZone: 'Europe/Berlin' } })
    const { person } = await pilar.do(ReadSession)
    expect([person?.locale, person?.timeZone]).to.deep.equal(['de-DE', 'Europe/Berlin'])
    const [last] = await world.db('history').where({ documentId: person!.id }).orderBy('sequence', 'desc').limit(1)
    expect([last?.action, last?.changes]).to.deep.equal([
      'changed',
      { after: { locale: 'de-DE', timeZone: 'Europe/Berlin' } },
    ])
    for (const body of [
      { locale: 'de-DE', timeZone: 'Mars/Olympus' },
      { locale: 'xx', timeZone: 'UTC' },
    ])
      expect((await pilar.call(account.SavePersonal, { body: body as never })).status).to.equal(400)
  })
})
