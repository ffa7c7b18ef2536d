import 'fake-indexeddb/auto'
import { expect } from 'chai'
import Dexie from 'dexie'
import type { ActAnswer } from '#core/receive/handheld.ts'
import {
  actsOf,
  deviceId,
  dockOf,
  keepAct,
  keepDock,
  openStore,
  takeAnswers,
  tidyActs,
  type Dock,
} from '#web/handheld/device.ts'
import { sendKept, sendPhotos } from '#web/handheld/sending.ts'

const act = (quantity: string, madeAt = '2026-12-01T08:00:00.000Z') => ({ madeAt, personId: 'yuki', orderId: 'o', placeId: 'p', count: { lineId: 'l', quantity }, pieces: [], note: '', checkReason: '' }) // prettier-ignore
const taken = (key: string, number = 'G-1'): ActAnswer => ({ key, state: 'taken', number, reasons: [] })
let turn = 0
const fresh = (): string => `handheld-${++turn}`

describe('a handheld', () => {
  it('keeps every act in its order, with a key of its own, also when it is closed and opened', async () => {
    const name = fresh()
    const store = openStore(name)
    for (const quantity of ['1', '2', '3']) await keepAct(store, act(quantity))
    const device = await deviceId(store)
    store.close()
    const again = openStore(name)
    const acts = await actsOf(again)
    expect(acts.map(one => [one.sequence, one.count.quantity, one.state])).to.deep.equal([
      [1, '1', 'kept'],
      [2, '2', 'kept'],
      [3, '3', 'kept'],
    ])
    expect(new Set(acts.map(one => one.key)).size).to.equal(3)
    expect(await deviceId(again)).to.equal(device)
    expect((await keepAct(again, act('4'))).sequence).to.equal(4)
  })

  it('says so where its storage is full, keeps nothing by halves, and gives the number to the next', async () => {
    const store = openStore(fresh())
    await keepAct(store, act('1'))
    const full = (): void => {
      throw new Dexie.QuotaExceededError('The disk is full.')
    }
    store.acts.hook('creating', full)
    const said = await keepAct(store, act('2')).then(() => '', (error: unknown) => (error as Error).name) // prettier-ignore
    expect(said).to.equal('QuotaExceededError')
    store.acts.hook('creating').unsubscribe(full)
    expect((await actsOf(store)).map(one => one.count.quantity)).to.deep.equal(['1'])
    expect((await keepAct(store, act('3'))).sequence).to.equal(2)
  })

  it('puts another dock in place of the one that is loaded, and leaves the acts', async () => {
    const store = openStore(fresh())
    await keepAct(store, act('1'))
    const dock = (lineIds: string[]): Dock => ({ lines: lineIds.map(lineId => ({ lineId })), placeId: 'p', places: [], more: false, nextTags: {}, today: '2026-12-01', person: { id: 'yuki', name: 'Yuki' } }) as never // prettier-ignore
    await keepDock(store, dock(['a', 'b']), '2026-12-01T08:00:00.000Z')
    await keepDock(store, dock(['c']), '2026-12-01T09:00:00.000Z')
    expect((await store.lines.toArray()).map(line => line.lineId)).to.deep.equal(['c'])
    expect((await dockOf(store))!.loadedAt).to.equal('2026-12-01T09:00:00.000Z')
    expect(await actsOf(store)).to.have.length(1)
  })

  it('sends what is not sent in its order, asks again with the same keys where an answer was lost, and then is done', async () => {
    const store = openStore(fresh())
    for (let number = 1; number <= 60; number++) await keepAct(store, act(String(number)))
    const asked: string[][] = []
    let lost = true
    const post = async (_device: string, acts: readonly { key: string; count: { quantity: string } }[]) => {
      asked.push(acts.map(one => one.count.quantity))
      if (lost) {
        lost = false
        throw new TypeError('Failed to fetch')
      }
      return await Promise.resolve({ answers: acts.map(one => taken(one.key)) })
    }
    expect(await sendKept(store, post as never).catch((error: unknown) => (error as Error).message)).to.equal('Failed to fetch') // prettier-ignore
    expect((await actsOf(store)).every(one => one.state === 'kept')).to.equal(true)
    expect(await sendKept(store, post as never)).to.equal(true)
    expect(asked.map(some => some.length)).to.deep.equal([50, 50, 10])
    expect(asked[0]).to.deep.equal(asked[1])
    expect((await actsOf(store)).every(one => one.state === 'taken' && one.number === 'G-1')).to.equal(true)
    expect(await sendKept(store, post as never)).to.equal(true)
    expect(asked).to.have.length(3)
  })

  it('stops where nothing is answered, rather than ask for ever', async () => {
    const store = openStore(fresh())
    await keepAct(store, act('1'))
    let times = 0
    expect(await sendKept(store, (async () => { times++; return await Promise.resolve({ answers: [] }) }) as never)).to.equal(false) // prettier-ignore
    expect(times).to.equal(1)
  })

  it('forgets what is over after a while, and never what is not sent or not settled', async () => {
    const store = openStore(fresh())
    const old = '2026-11-01T08:00:00.000Z'
    const acts = [await keepAct(store, act('1', old)), await keepAct(store, act('2', old)), await keepAct(store, act('3', old)), await keepAct(store, act('4'))] // prettier-ignore
    await takeAnswers(store, [taken(acts[0]!.key), { ...taken(acts[1]!.key), state: 'settle' }, taken(acts[3]!.key), taken('of another device')]) // prettier-ignore
    await tidyActs(store, '2026-11-24T00:00:00.000Z')
    expect((await actsOf(store)).map(one => [one.count.quantity, one.state])).to.deep.equal([
      ['2', 'settle'],
      ['3', 'kept'],
      ['4', 'taken'],
    ])
  })

  it('sends the photos of a count once it was answered, each once; what is never taken does not hold up the others', async () => {
    const store = openStore(fresh())
    const photo = (name: string) => ({ name, type: 'image/jpeg', bytes: new Uint8Array([1, 2]).buffer })
    const kept = await keepAct(store, act('1'), [photo('a.jpg'), photo('b.jpg')])
    await keepAct(store, act('2'), [photo('later.jpg')])
    const sent: string[] = []
    let lost = true
    const post = async (one: { name: string; orderId: string }): Promise<void> => {
      await Promise.resolve()
      if (one.name === 'b.jpg' && lost) {
        lost = false
        throw new TypeError('Failed to fetch')
      }
      sent.push(`${one.name} ${one.orderId}`)
    }
    expect(await sendPhotos(store, post)).to.equal(0)
    expect(sent).to.deep.equal([])
    await takeAnswers(store, [taken(kept.key)])
    expect(await sendPhotos(store, post).catch((error: unknown) => (error as Error).message)).to.equal('Failed to fetch') // prettier-ignore
    await sendPhotos(store, post)
    expect([...sent].sort()).to.deep.equal(['a.jpg o', 'b.jpg o'])
    await sendPhotos(store, post)
    expect(sent).to.have.length(2)
    expect((await store.photos.toArray()).map(one => one.name)).to.deep.equal(['later.jpg'])
  })
})
