import { expect } from 'chai'
import { ReadDelivery, Receive } from '#contract/receive/endpoints.ts'
import { answer, cut, useNetwork } from '#test-helpers/mounted.ts'
import { api, Offline, pathOf, Refused } from '#web/api.ts'

const ID = '3f0d2a8e-1111-4222-8333-944445555666'
const body = { receivedOn: '2026-11-27', placeId: ID, note: '', lines: [{ lineId: ID, quantity: '3' }] }

describe('calls to the server', () => {
  const { asked, answers } = useNetwork()
  const receive = (): Promise<unknown> => api(Receive, { params: { id: ID }, body })
  const failure = async (work: () => Promise<unknown>): Promise<unknown> => {
    try {
      return await work()
    } catch (error) {
      return error
    }
  }

  it('go to the path of the endpoint, with what is given and nothing else', () => {
    expect(pathOf(ReadDelivery, { id: 'a/b' })).to.equal('/api/deliveries/a%2Fb')
    expect(pathOf(ReadDelivery, { id: '1' }, { q: 'two words', view: '', after: undefined, limit: 5 })).to.equal(
      '/api/deliveries/1?q=two+words&limit=5',
    )
  })

  it('that read carry no key and no body; those that change carry a new key each time', async () => {
    answers(() => answer({ id: ID }))
    await api(ReadDelivery, { params: { id: ID } })
    await receive()
    await receive()
    expect(asked.map(call => [call.method, call.key === undefined, call.body === undefined])).to.deep.equal([
      ['GET', true, true],
      ['POST', false, false],
      ['POST', false, false],
    ])
    expect(asked[1]!.key).to.not.equal(asked[2]!.key)
    expect(asked[1]!.body).to.deep.equal(body)
  })

  it('that a line cuts off are tried again with the same key, so that they count once', async () => {
    answers((_, count) => (count < 3 ? cut() : answer({ id: ID })))
    expect(await receive()).to.deep.equal({ id: ID })
    expect(asked).to.have.length(3)
    expect(new Set(asked.map(call => call.key)).size).to.equal(1)
    expect(new Set(asked.map(call => JSON.stringify(call.body))).size).to.equal(1)
  })

  it('end as offline when nothing answers, with the cause', async () => {
    answers(cut)
    const error = await failure(receive)
    expect(error).to.be.instanceOf(Offline)
    expect((error as Offline).cause).to.be.instanceOf(TypeError)
    expect(asked).to.have.length(4)
  })

  it('that are refused are not tried again, and bring the reasons', async () => {
    const reasons = [{ code: 'receive.overTolerance', level: 'stop', details: {} }]
    answers(() => answer({ reasons }, 422))
    const error = (await failure(receive)) as Refused
    expect(error).to.be.instanceOf(Refused)
    expect([error.status, error.reasons, error.message]).to.deep.equal([422, reasons, 'receive.overTolerance'])
    expect(asked).to.have.length(1)
  })

  it('wait out a database that is away, and say so when it stays away', async () => {
    const away = [{ code: 'server.databaseAway', level: 'stop', details: {} }]
    answers((_, count) => (count === 1 ? answer({ reasons: away }, 503) : answer({ id: ID })))
    expect(await receive()).to.deep.equal({ id: ID })
    answers(() => answer({ reasons: away }, 503))
    const error = (await failure(receive)) as Refused
    expect([error.status, error.reasons]).to.deep.equal([503, away])
    expect(asked).to.have.length(4)
  })

  it('that are answered by something that is not ours say which fault it was', async () => {
    answers(() => new Response('<h1>Bad gateway</h1>', { status: 502 }))
    const error = (await failure(receive)) as Refused
    expect(error.reasons).to.deep.equal([{ code: 'server.failed', level: 'stop', details: { reference: '502' } }])
  })

  it('that nobody waits for any more are not tried again', async () => {
    const waiting = new AbortController()
    answers(() => {
      waiting.abort()
      return cut()
    })
    const error = await failure(() => api(ReadDelivery, { params: { id: ID }, signal: waiting.signal }))
    expect(error).to.be.instanceOf(TypeError)
    expect(asked).to.have.length(1)
  })
})
