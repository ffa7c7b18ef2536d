import { expect } from 'chai'
import { ReadSession } from '#contract/people/endpoints.ts'
import { freePort } from '#scripts/cluster.ts'
import { type Running, startWebServer } from '#server/app/webServer.ts'
import { type SignOnProvider, startSignOnProvider } from '#test-helpers/signOnProvider.ts'
import { Client, useWorld } from '#test-helpers/world.ts'

describe('the single sign-on', () => {
  const world = useWorld()
  let provider: SignOnProvider
  let running: Running
  let at = ''
  before(async () => {
    provider = await startSignOnProvider()
    const port = await freePort()
    at = `http://127.0.0.1:${port}`
    const singleSignOn = { issuer: provider.issuer, clientId: 'ivory', clientSecret: 'secret', name: 'House pass' }
    running = await startWebServer({
      ...world.jobs.settings,
      databaseUrl: world.url,
      port,
      publicUrl: at,
      singleSignOn,
    })
  })
  after(async () => {
    await running.stop()
    await provider.stop()
  })

  const cookieOf = (response: Response, name: string): string =>
    response.headers
      .getSetCookie()
      .find(one => one.startsWith(`${name}=`))
      ?.split(';')[0] ?? ''
  const go = (url: string, cookie = ''): Promise<Response> => fetch(url, { redirect: 'manual', headers: { cookie } })

  /** To the provider and back, as a browser goes; says where one ends and with which session. */
  async function journey(change: (back: URL) => URL = back => back): Promise<{ end: string; session: string }> {
    const begun = await go(`${at}/api/sign-in/single`)
    expect(begun.status).to.equal(303)
    const there = await go(begun.headers.get('location')!)
    const back = await go(change(new URL(there.headers.get('location')!)).href, cookieOf(begun, 'ivory_sign_on'))
    return { end: back.headers.get('location')!, session: cookieOf(back, 'ivory_session') }
  }
  const who = async (session: string): Promise<string | undefined> =>
    (await new Client(at, session).do(ReadSession)).person?.email

  it('is offered by name, and lets in whose verified address has an account, bound to them from then on', async () => {
    const nobody = await new Client(at, '').do(ReadSession)
    expect(nobody.single).to.equal('House pass')
    const joren = (await world.db('people').where('name', 'like', 'Joren %').first('id', 'email'))!
    provider.person = { sub: 'j-1', email: joren.email.toUpperCase(), email_verified: true }
    const first = await journey()
    expect([first.end, await who(first.session)]).to.deep.equal(['/', joren.email])
    provider.person = { sub: 'j-1' }
    expect(await who((await journey()).session), 'by who they are, without an address').to.equal(joren.email)
    provider.person = { sub: 'another', email: joren.email, email_verified: true }
    expect((await journey()).end, 'somebody else with the same address').to.equal('/sign-in?single=unknown')
  })

  it('lets nobody in whose address is not verified, unknown, closed, or a supplier’s', async () => {
    const ines = (await world.db('people').where('name', 'like', 'Ines %').first('email'))!
    const supplier = (await world.db('people').where({ realm: 'supplier', active: true }).first('email'))!
    for (const person of [
      { sub: 'x', email: ines.email, email_verified: false },
      { sub: 'x', email: 'nobody@nowhere.example', email_verified: true },
      { sub: 'x', email: supplier.email, email_verified: true },
      { sub: 'x' },
    ]) {
      provider.person = person
      expect(await journey(), JSON.stringify(person)).to.deep.equal({ end: '/sign-in?single=unknown', session: '' })
    }
  })

  it('takes no answer that is not its own: another state, nonce or audience, a made-up code, or no journey', async () => {
    const ines = (await world.db('people').where('name', 'like', 'Ines %').first('email'))!
    provider.person = { sub: 'i-1', email: ines.email, email_verified: true }
    const changed = (name: string) => (back: URL) => (back.searchParams.set(name, 'made-up'), back)
    const failed = { end: '/sign-in?single=failed', session: '' }
    expect(await journey(changed('state'))).to.deep.equal(failed)
    expect(await journey(changed('code'))).to.deep.equal(failed)
    for (const wrong of ['nonce', 'audience'] as const) {
      provider.wrong = wrong
      expect(await journey(), wrong).to.deep.equal(failed)
    }
    provider.wrong = ''
    const alone = await go(`${at}/api/sign-in/single/back?code=x&state=y`)
    expect(alone.headers.get('location')).to.equal('/sign-in?single=failed')
    expect((await journey()).end).to.equal('/')
  })
})
