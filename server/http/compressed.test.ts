import { once } from 'node:events'
import { request as httpRequest, type IncomingMessage } from 'node:http'
import { brotliDecompressSync, gunzipSync } from 'node:zlib'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect } from 'chai'
import { buildWeb } from '#scripts/build.ts'
import { useWorld } from '#test-helpers/world.ts'

const WEB = fileURLToPath(new URL('../../dist/web', import.meta.url))

describe('what goes over the wire', () => {
  before(() => buildWeb())
  const world = useWorld()

  async function answerTo(path: string, encodings: string, cookie = ''): Promise<IncomingMessage> {
    const request = httpRequest(`${world.address}${path}`, {
      agent: false,
      headers: { cookie, 'accept-encoding': encodings },
    })
    request.end()
    return ((await once(request, 'response')) as [IncomingMessage])[0]
  }
  async function bytesOf(answer: IncomingMessage): Promise<Buffer> {
    const parts: Buffer[] = []
    for await (const part of answer) parts.push(part as Buffer)
    return Buffer.concat(parts)
  }

  it('answers are compressed as the browser takes them, and whole', async () => {
    const { cookie } = await world.as('Pilar')
    const plain = await bytesOf(await answerTo('/api/orders', 'identity', cookie))
    for (const [encoding, open] of [
      ['br', brotliDecompressSync],
      ['gzip', gunzipSync],
    ] as const) {
      const answer = await answerTo('/api/orders', encoding, cookie)
      expect(answer.headers['content-encoding']).to.equal(encoding)
      const bytes = await bytesOf(answer)
      expect(bytes.length).to.be.below(plain.length / 3)
      expect(JSON.parse(open(bytes).toString())).to.have.keys(JSON.parse(plain.toString()) as object)
    }
    const small = await answerTo('/health', 'br')
    expect(small.headers['content-encoding'], 'not worth it').to.equal(undefined)
    small.resume()
  })

  it('news go out at once, piece by piece', async () => {
    const { cookie } = await world.as('Pilar')
    const answer = await answerTo('/api/events?topics=desk', 'br, gzip', cookie)
    expect(answer.headers['content-type']).to.include('text/event-stream')
    expect(answer.headers['content-encoding']).to.equal(undefined)
    answer.destroy()
  })

  it('built files lie compressed beside the originals, and are kept for a year', async () => {
    const page = readFileSync(`${WEB}/index.html`, 'utf8')
    const script = /href="(\/assets\/first-[^"]+\.js)"/.exec(page)![1]!
    const original = readFileSync(`${WEB}${script}`)
    const answer = await answerTo(script, 'gzip, deflate, br')
    expect([answer.headers['content-encoding'], answer.headers['cache-control']]).to.deep.equal([
      'br',
      'public, max-age=31536000, immutable',
    ])
    expect(answer.headers['content-type']).to.match(/javascript/)
    expect(answer.headers['content-security-policy'], 'a script may be a worker').to.include("script-src 'self'")
    expect(brotliDecompressSync(await bytesOf(answer)).equals(original)).to.equal(true)
    expect((await bytesOf(await answerTo(script, 'identity'))).equals(original), 'for who cannot').to.equal(true)
    const entry = await answerTo('/order', 'br')
    expect(entry.headers['cache-control']).to.equal('no-cache')
    expect(entry.headers['content-security-policy']).to.include("script-src 'self'")
    entry.resume()
    const picture = await answerTo('/mark-48.png', 'br')
    expect([picture.headers['cache-control'], picture.headers['content-security-policy']]).to.deep.equal([
      'public, max-age=86400',
      undefined,
    ])
    picture.resume()
  })
})
