import { once } from 'node:events'
import { get, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect } from 'chai'
import express from 'express'
import type { Actor } from '#server/call.ts'
import { UNNAMED } from '#server/house/house.ts'
import { News, topicsFor } from '#server/news/news.ts'
import { companyTopic, deskTopic, documentTopic, kindTopic } from '#server/news/tell.ts'

const TEAM: Actor = {
  id: 'ines',
  name: 'Ines',
  realm: 'team',
  supplierId: null,
  rights: new Set(['order.write']),
  roles: ['buyer'],
  costCentres: [],
  standsInFor: [{ id: 'marit', rights: new Set<string>(), kinds: null, limit: null }],
  locale: 'en-GB',
  timeZone: 'Europe/Amsterdam',
  email: 'ines@saltmere.example',
}
const THEIRS: Actor = { ...TEAM, realm: 'supplier', supplierId: 'nordhavn' }

describe('what somebody may listen to', () => {
  it('the team hears of documents and kinds under the names that it asked for', () => {
    expect([...topicsFor(TEAM, ['document:1', 'kind:order'])]).to.deep.equal([
      ['document:1', 'document:1'],
      ['kind:order', 'kind:order'],
    ])
  })

  it('a Desk is one’s own: of each audience that one belongs to, never another’s', () => {
    const topics = topicsFor(TEAM, ['desk', 'desk:person:joren'])
    expect([...topics.keys()]).to.have.members([
      deskTopic('person:ines'),
      deskTopic('person:marit'),
      deskTopic('role:buyer'),
      deskTopic('right:order.write'),
    ])
    expect(new Set(topics.values())).to.deep.equal(new Set(['desk']))
  })

  it('a supplier’s people hear only of their own company, whatever they ask for', () => {
    expect([...topicsFor(THEIRS, ['document:1', 'desk', 'company:other:document:1'])]).to.deep.equal([
      [companyTopic('nordhavn', 'document:1'), 'document:1'],
      [companyTopic('nordhavn', 'desk'), 'desk'],
      [companyTopic('nordhavn', 'company:other:document:1'), 'company:other:document:1'],
    ])
    expect([...topicsFor(TEAM, ['company:nordhavn:document:1'])]).to.deep.equal([])
  })
})

describe('the stream of news', () => {
  let news: News
  let server: Server
  let actor: Actor | undefined
  const streams: IncomingMessage[] = []

  beforeEach(async () => {
    actor = TEAM
    news = new News('postgres://nobody@127.0.0.1:9/none')
    const app = express()
    news.attach(
      app,
      () => Promise.resolve({ actor, house: UNNAMED, sessionId: 'one' }),
      (_reader, topics) => Promise.resolve(topics),
    )
    server = app.listen(0, '127.0.0.1')
    await once(server, 'listening')
  })
  afterEach(async () => {
    for (const stream of streams.splice(0)) stream.destroy()
    await news.stop()
    server.close()
  })

  async function listen(query: string, headers = {}): Promise<{ status: number; heard: () => string }> {
    const { port } = server.address() as AddressInfo
    const request = get(`http://127.0.0.1:${port}/api/events?${query}`, { agent: false, headers })
    const [response] = (await once(request, 'response')) as [IncomingMessage]
    request.on('error', () => undefined)
    response.on('error', () => undefined)
    let text = ''
    response.on('data', (part: Buffer) => {
      text += part.toString()
    })
    streams.push(response)
    await new Promise(resolve => setTimeout(resolve, 30))
    return { status: response.statusCode!, heard: () => text }
  }
  const settle = (): Promise<void> => new Promise(resolve => setTimeout(resolve, 30))

  it('tells each page once, in its own words, and no page of what it does not show', async () => {
    const one = await listen('topics=document:1,kind:order,desk')
    const other = await listen('topics=document:2')
    news.hear([documentTopic('1'), kindTopic('order'), deskTopic('person:ines'), documentTopic('9')])
    await settle()
    expect(one.heard().split('event: changed')).to.have.length(2)
    expect(JSON.parse(/data: (.*)/.exec(one.heard())![1]!)).to.have.members(['document:1', 'kind:order', 'desk'])
    expect(other.heard()).to.not.include('event:')
  })

  it('says to whoever comes too late that something was missed', async () => {
    const late = await listen(`topics=document:1&since=${Date.now() - 60_000}`)
    expect(late.heard()).to.include('event: missed')
    expect((await listen('topics=document:1')).heard()).to.not.include('event:')
    expect((await listen('topics=document:1&since=nonsense')).heard()).to.not.include('event:')
  })

  it('says up to when it told everything, so that a page that comes back asks from there', async () => {
    const before = Date.now()
    const one = await listen('topics=document:1')
    news.hear([documentTopic('1')])
    await settle()
    const id = Number(/id: (\d+)/.exec(one.heard())![1])
    expect(id).to.be.within(before, Date.now())
    const again = await listen('topics=document:1', { 'last-event-id': '1' })
    expect(again.heard()).to.include('event: missed')
  })

  it('is over when its session ends, or when its person has other rights; others go on', async () => {
    const one = await listen('topics=document:1')
    const ended = once(streams[0]!, 'end')
    news.hear(['session:two', 'person:joren'])
    await settle()
    news.hear([documentTopic('1')])
    await settle()
    expect(one.heard()).to.include('event: changed').and.not.include(' over')
    news.hear(['session:one'])
    await ended
    await listen('topics=document:1,session:two,person:joren')
    const again = once(streams[1]!, 'end')
    news.hear(['person:ines'])
    await again
  })

  it('is nobody’s without a session', async () => {
    actor = undefined
    expect((await listen('topics=document:1')).status).to.equal(401)
  })
})
