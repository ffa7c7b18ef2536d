import { expect } from 'chai'
import { effectScope, nextTick, ref } from 'vue'
import { wait } from '#test-helpers/mounted.ts'
import { connected, documentTopic, kindTopic, startNews, useNews } from '#web/news/news.ts'

/** Longer than changes are gathered, and than a broken stream is waited for. */
const GATHERED = 500
const PATIENCE = 3100
/** Longer than what is newly shown may wait until it is asked for. */
const SETTLED = 300
/** For how long a page that is not looked at goes on listening. */
const REST = 5000

/** The browser's end of a stream of news, in the hand of the test. */
class Stream extends EventTarget {
  static readonly CLOSED = 2
  static readonly OPEN = 1
  static all: Stream[] = []
  static get now(): Stream {
    return Stream.all.at(-1)!
  }
  readyState: number = Stream.OPEN
  constructor(readonly url: string) {
    super()
    Stream.all.push(this)
  }
  close(): void {
    this.readyState = Stream.CLOSED
  }
  get asks(): { topics: string[]; since: string } {
    const query = new URL(this.url, 'http://here').searchParams
    return { topics: (query.get('topics') ?? '').split(',').filter(Boolean), since: query.get('since')! }
  }
  says(type: string, data: unknown = '', lastEventId = ''): void {
    this.dispatchEvent(Object.assign(new Event(type), { data: JSON.stringify(data), lastEventId }))
  }
  breaks(closed: boolean): void {
    this.readyState = closed ? Stream.CLOSED : 0
    this.dispatchEvent(new Event('error'))
  }
}

describe('news for pages', function () {
  this.timeout(60_000)
  const real = globalThis.EventSource
  const tab = Object.assign(new EventTarget(), { hidden: false })
  before(() => {
    Object.assign(globalThis, { EventSource: Stream, document: tab, window: new EventTarget() })
    startNews('2026-11-27T08:00:00.000Z')
  })
  after(() => {
    Stream.now.close()
    globalThis.EventSource = real
    Reflect.deleteProperty(globalThis, 'document')
    Reflect.deleteProperty(globalThis, 'window')
  })

  /** A page that shows something, and how often it asked again. */
  function page(...topics: string[]) {
    const scope = effectScope()
    const shown = ref(topics)
    const seen = { asked: 0, show: (...other: string[]) => (shown.value = other), leave: () => scope.stop() }
    scope.run(() =>
      useNews(shown, () => {
        seen.asked++
      }),
    )
    return seen
  }

  it('are asked for by topic, over one stream for all that is shown, from the server’s time on', async () => {
    const before = Stream.all.length
    const [list, sheet] = [page(kindTopic('order')), page(documentTopic('7'), documentTopic('8'))]
    await wait(SETTLED)
    expect(Stream.all.length - before).to.equal(1)
    expect(Stream.now.asks).to.deep.equal({
      topics: ['document:7', 'document:8', 'kind:order'],
      since: String(Date.parse('2026-11-27T08:00:00.000Z')),
    })
    sheet.show(documentTopic('9'))
    await nextTick()
    await wait(SETTLED)
    expect(Stream.now.asks.topics).to.deep.equal(['document:9', 'kind:order'])
    expect(Stream.all.at(-2)!.readyState).to.equal(Stream.CLOSED)
    list.leave()
    await wait(SETTLED)
    expect(Stream.now.asks.topics).to.deep.equal(['document:9'])
    sheet.leave()
    await wait(SETTLED)
  })

  it('make only that page ask again which shows what changed, once for several changes in a row', async () => {
    const [one, other] = [page(documentTopic('1')), page(documentTopic('2'))]
    await wait(SETTLED)
    for (let turn = 0; turn < 5; turn++) Stream.now.says('changed', ['document:1'], '1764230400001')
    Stream.now.says('changed', ['document:5'])
    expect(one.asked, 'not at once').to.equal(0)
    await wait(GATHERED)
    expect([one.asked, other.asked]).to.deep.equal([1, 0])
    Stream.now.says('changed', ['document:1', 'document:2'])
    await wait(GATHERED)
    expect([one.asked, other.asked]).to.deep.equal([2, 1])
    one.leave()
    other.leave()
    await wait(SETTLED)
  })

  it('go on where they ended: a stream that is opened anew asks from the last that was heard', async () => {
    const one = page(documentTopic('1'))
    await wait(SETTLED)
    Stream.now.says('beat', '', '1764230499999')
    one.show(documentTopic('3'))
    await nextTick()
    await wait(SETTLED)
    expect(Stream.now.asks.since).to.equal('1764230499999')
    Stream.now.says('missed')
    await wait(GATHERED)
    expect(one.asked, 'whoever may have missed something asks').to.equal(1)
    one.leave()
    await wait(SETTLED)
  })

  it('are not kept up for a page that nobody looks at, so that others have the connections; it asks for what it missed', async () => {
    const look = (hidden: boolean): void => {
      tab.hidden = hidden
      tab.dispatchEvent(new Event('visibilitychange'))
    }
    const one = page(documentTopic('1'))
    await wait(SETTLED)
    const first = Stream.now
    first.says('beat', '', '1764230555555')
    look(true)
    await wait(REST - 1000)
    expect(first.readyState, 'may be back in a moment').to.equal(Stream.OPEN)
    await wait(1100)
    expect(first.readyState).to.equal(Stream.CLOSED)
    one.show(documentTopic('4'))
    await wait(SETTLED)
    expect(Stream.now, 'opens none while it is hidden').to.equal(first)
    look(false)
    expect(Stream.now.asks).to.deep.equal({ topics: ['document:4'], since: '1764230555555' })
    window.dispatchEvent(new Event('pagehide'))
    expect(Stream.now.readyState, 'left').to.equal(Stream.CLOSED)
    window.dispatchEvent(new Event('pageshow'))
    expect(Stream.now.readyState, 'and come back to').to.equal(Stream.OPEN)
    look(true)
    look(false)
    await wait(REST + 100)
    expect(Stream.now.readyState, 'looked at again in time').to.equal(Stream.OPEN)
    one.leave()
    await wait(SETTLED)
  })

  it('that come for a page that is gone do nothing', async () => {
    const one = page(documentTopic('1'))
    await wait(SETTLED)
    Stream.now.says('changed', ['document:1'])
    one.leave()
    await wait(GATHERED)
    expect(one.asked).to.equal(0)
  })

  it('say when the server cannot be heard, and are tried again when it refused', async () => {
    const one = page(documentTopic('1'))
    await wait(SETTLED)
    const broken = Stream.now
    broken.breaks(true)
    expect(connected.value, 'not at once').to.equal(true)
    await wait(PATIENCE)
    expect(connected.value).to.equal(false)
    expect(Stream.now, 'opened again').to.not.equal(broken)
    expect(Stream.now.asks.topics).to.deep.equal(['document:1'])
    Stream.now.says('open')
    expect(connected.value).to.equal(true)
    const count = Stream.all.length
    Stream.now.breaks(false)
    Stream.now.readyState = Stream.OPEN
    await wait(PATIENCE)
    expect(connected.value, 'the browser has mended it').to.equal(true)
    expect(Stream.all.length).to.equal(count)
    one.leave()
    await wait(SETTLED)
  })
})
