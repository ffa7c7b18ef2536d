import { expect } from 'chai'
import fc from 'fast-check'
import { minor } from '#core/money/amount.ts'
import type { AuctionEntry, Bid, LotRules } from '#core/source/auctionRules.ts'
import { checkLotRules } from '#core/source/checkLotRules.ts'
import { lotForSupplier, lotForTeam } from '#core/source/daySeen.ts'
import { mostFor, nextAtMost, placeBid, whyNotBid } from '#core/source/placeBid.ts'
import { afterEntry, type LotStanding, phaseAt, replayLot } from '#core/source/replayLot.ts'
import { bidder, bidOf, logOf, lotRules } from '#test-helpers/auctions.ts'

const order = (lot: LotStanding): string => lot.standing.map(one => one.supplierId).join('')
const endOf = (lot: LotStanding): number => lot.endsAt! / 1000
const codes = (rules: LotRules, lot: LotStanding, bid: Bid, seconds: number): string[] =>
  whyNotBid(rules, lot, bidder(bid.supplierId), bid, seconds * 1000).map(one => one.code)

describe('the standing of a lot', () => {
  const at = (...happened: Parameters<typeof logOf> extends [number, ...infer Rest] ? Rest : never) =>
    replayLot(lotRules(), logOf(600, ...happened))

  it('is led by the lowest bid; of equal ones by the earlier', () => {
    expect(order(at([1, bidOf('a', 100)], [2, bidOf('b', 90)], [3, bidOf('c', 90)]))).to.equal('bca')
    expect(at([1, bidOf('a', 100)], [2, bidOf('b', 90)]).standing.map(one => one.place)).to.deep.equal([1, 2])
  })

  it('counts the last bid of each, also where it is higher', () => {
    const lot = at([1, bidOf('a', 80)], [2, bidOf('b', 90)], [3, bidOf('a', 95)])
    expect(order(lot)).to.equal('ba')
    expect(lot.bids.map(one => one.turn)).to.deep.equal([1, 2, 3])
  })

  it('brings the bid before back when one is removed; without one the supplier has no place', () => {
    const twice = [[1, bidOf('a', 100)], [2, bidOf('b', 95)], [3, bidOf('a', 90)]] as const // prettier-ignore
    expect(order(at(...twice))).to.equal('ab')
    const removed = at(...twice, [4, 'removed', 'a90'])
    expect([order(removed), String(removed.standing[1]!.bid.total)]).to.deep.equal(['ba', '100'])
    expect(order(at(...twice, [4, 'removed', 'a90'], [5, 'removed', 'a100']))).to.equal('b')
  })

  it('leaves out who is suspended, and brings them back; a withdrawal takes all of before out, a later bid counts', () => {
    const two = [[1, bidOf('a', 80)], [2, bidOf('b', 90)]] as const // prettier-ignore
    expect(order(at(...two, [3, 'suspended', 'a']))).to.equal('b')
    expect(order(at(...two, [3, 'suspended', 'a'], [4, 'lifted', 'a']))).to.equal('ab')
    expect(order(at(...two, [3, 'withdrawn', 'a']))).to.equal('b')
    expect(order(at(...two, [3, 'withdrawn', 'a'], [4, bidOf('a', 95)]))).to.equal('ba')
  })

  it('hears only of its own lot', () => {
    const elsewhere: AuctionEntry = { kind: 'bid', lotId: 'other', at: 1000, bid: bidOf('a', 1) }
    expect(order(replayLot(lotRules(), [...logOf(600), elsewhere]))).to.equal('')
  })
})

describe('the window of a lot', () => {
  it('is open from its first instant, and no more at its end', () => {
    const lot = replayLot(lotRules(), logOf(600))
    expect(phaseAt(lot, 0)).to.equal('open')
    expect(phaseAt(lot, 599_999)).to.equal('open')
    expect(phaseAt(lot, 600_000)).to.equal('over')
    expect(codes(lotRules(), lot, bidOf('a', 1), 599.999)).to.deep.equal([])
    expect(codes(lotRules(), lot, bidOf('a', 1), 600)).to.deep.equal(['bid.over'])
    expect(codes(lotRules(), replayLot(lotRules(), []), bidOf('a', 1), 0)).to.deep.equal(['bid.planned'])
  })

  it('stands still while it is paused, and goes on for as long as was left', () => {
    const paused = replayLot(lotRules(), logOf(600, [500, 'paused']))
    expect([paused.phase, paused.left, phaseAt(paused, 10_000_000)]).to.deep.equal(['paused', 100_000, 'paused'])
    expect(codes(lotRules(), paused, bidOf('a', 1), 510)).to.deep.equal(['bid.paused'])
    expect(endOf(replayLot(lotRules(), logOf(600, [500, 'paused'], [900, 'resumed'])))).to.equal(1000)
    expect(endOf(replayLot(lotRules(), logOf(600, [500, 'paused'], [600, 'extended', 50], [900, 'resumed'])))).to.equal(
      1050,
    )
    expect(replayLot(lotRules(), logOf(600, [700, 'paused'])).left).to.equal(0)
  })

  it('is made longer by hand, ended early, and opened again by nothing', () => {
    expect(endOf(replayLot(lotRules(), logOf(600, [1, 'extended', 60])))).to.equal(660)
    const ended = replayLot(lotRules(), logOf(600, [30, 'endedEarly']))
    expect([ended.phase, endOf(ended), phaseAt(ended, 0)]).to.deep.equal(['over', 30, 'over'])
  })
})

describe('late bids', () => {
  const extension = { withinSeconds: 120, bySeconds: 180, from: 'bid', places: 1, most: null } as const
  const end = (rule: Partial<NonNullable<LotRules['extension']>>, ...happened: readonly (readonly [number, Bid])[]) =>
    endOf(replayLot(lotRules({ extension: { ...extension, ...rule } }), logOf(600, ...happened)))

  it('move the end where they change who leads: within the last seconds, exactly that long before counts', () => {
    expect(end({}, [480, bidOf('a', 100)])).to.equal(660)
    expect(end({}, [479.999, bidOf('a', 100)])).to.equal(600)
  })

  it('move it from the bid or from the end, never back', () => {
    expect(end({}, [590, bidOf('a', 100)])).to.equal(770)
    expect(end({ from: 'end' }, [590, bidOf('a', 100)])).to.equal(780)
    expect(end({ bySeconds: 10 }, [500, bidOf('a', 100)])).to.equal(600)
  })

  it('move nothing where no watched place changes', () => {
    const first = [100, bidOf('a', 100)] as const
    expect(end({}, first, [550, bidOf('a', 90)])).to.equal(600)
    expect(end({}, first, [550, bidOf('b', 110)])).to.equal(600)
    expect(end({ places: 2 }, first, [550, bidOf('b', 110)])).to.equal(730)
    expect(end({ places: null }, first, [200, bidOf('b', 110)], [550, bidOf('c', 120)])).to.equal(730)
    expect(end({ places: 2 }, first, [200, bidOf('b', 110)], [550, bidOf('c', 120)])).to.equal(600)
  })

  it('do so as often as is allowed, and one that moves nothing does not count', () => {
    const rule = { most: 1 }
    expect(end(rule, [590, bidOf('a', 100)], [760, bidOf('b', 90)])).to.equal(770)
    expect(end(rule, [100, bidOf('a', 100)], [590, bidOf('c', 120)], [595, bidOf('b', 90)])).to.equal(775)
    const lot = replayLot(lotRules({ extension }), logOf(600, [590, bidOf('a', 100)], [760, bidOf('b', 90)]))
    expect([lot.extensions, endOf(lot)]).to.deep.equal([2, 940])
  })

  it('that are removed later leave the end where it is', () => {
    const log = logOf(
      600,
      [590, bidOf('a', 100)],
      [600, 'removed', 'a100'],
      [610, 'suspended', 'b'],
      [620, 'withdrawn', 'a'],
    )
    expect(endOf(replayLot(lotRules({ extension }), log))).to.equal(770)
  })
})

describe('a bid', () => {
  const standing = (...happened: readonly (readonly [number, Bid])[]) => replayLot(lotRules(), logOf(600, ...happened))
  const step = { kind: 'amount', amount: minor(10), against: 'own' } as const

  it('is not taken from who is suspended, has not accepted the terms, or may not be dealt with', () => {
    const lot = replayLot(lotRules(), logOf(600, [1, 'suspended', 'a']))
    expect(codes(lotRules(), lot, bidOf('a', 10), 2)).to.deep.equal(['bid.suspended'])
    const why = (changed: Parameters<typeof bidder>[1]) =>
      whyNotBid(lotRules(), standing(), bidder('b', changed), bidOf('b', 10), 2000).map(one => one.code)
    expect(why({ accepted: false })).to.deep.equal(['bid.termsFirst'])
    expect(why({ reasons: [{ code: 'order.supplier.barred', level: 'stop', details: {} }] })).to.deep.equal([
      'order.supplier.barred',
    ])
  })

  it('is above zero, of a size that can be, and adds up from its lines', () => {
    const lines = (...amounts: number[]) => new Map(amounts.map((amount, index) => [`l${index}`, minor(amount)]))
    expect(codes(lotRules(), standing(), bidOf('a', 0), 1)).to.deep.equal(['bid.aboveZero'])
    expect(codes(lotRules(), standing(), bidOf('a', -5), 1)).to.deep.equal(['bid.aboveZero'])
    expect(codes(lotRules(), standing(), bidOf('a', 1e14), 1)).to.deep.equal(['bid.tooLarge'])
    expect(codes(lotRules(), standing(), bidOf('a', 1e14 - 1), 1)).to.deep.equal([])
    expect(codes(lotRules(), standing(), { ...bidOf('a', 30), lines: lines(10, 20) }, 1)).to.deep.equal([])
    expect(codes(lotRules(), standing(), { ...bidOf('a', 31), lines: lines(10, 20) }, 1)).to.deep.equal([
      'bid.doesNotAdd',
    ])
    expect(codes(lotRules(), standing(), { ...bidOf('a', 10), lines: lines(10, 0) }, 1)).to.deep.equal([
      'bid.lineAboveZero',
    ])
  })

  it('is at most the ceiling, in all and line by line; exactly that is enough', () => {
    const rules = lotRules({ ceiling: minor(100), lineCeilings: new Map([['l0', minor(40)]]) })
    expect(codes(rules, standing(), bidOf('a', 100), 1)).to.deep.equal([])
    expect(codes(rules, standing(), bidOf('a', 101), 1)).to.deep.equal(['bid.aboveCeiling'])
    const of = (first: number, second: number) => ({ ...bidOf('a', first + second), lines: new Map([['l0', minor(first)], ['l1', minor(second)]]) }) // prettier-ignore
    expect(codes(rules, standing(), of(40, 60), 1)).to.deep.equal([])
    expect(codes(rules, standing(), of(41, 50), 1)).to.deep.equal(['bid.lineAboveCeiling'])
  })

  it('is lower by the step than one’s own last, met exactly is enough; the first needs none', () => {
    const lot = standing([1, bidOf('a', 100)], [2, bidOf('b', 50)])
    expect(codes(lotRules({ step }), lot, bidOf('a', 90), 3)).to.deep.equal([])
    expect(codes(lotRules({ step }), lot, bidOf('a', 91), 3)).to.deep.equal(['bid.stepMissed'])
    expect(codes(lotRules({ step }), lot, bidOf('c', 500), 3)).to.deep.equal([])
  })

  it('is lower by the step than the best, where the step says so; then nobody needs one while nobody stands', () => {
    const rules = lotRules({ step: { ...step, against: 'best' } })
    const lot = standing([1, bidOf('a', 100)], [2, bidOf('b', 50)])
    expect(codes(rules, lot, bidOf('a', 40), 3)).to.deep.equal([])
    expect(codes(rules, lot, bidOf('a', 41), 3)).to.deep.equal(['bid.stepMissed'])
    expect(codes(rules, standing(), bidOf('a', 500), 3)).to.deep.equal([])
    expect(whyNotBid(rules, lot, bidder('a'), bidOf('a', 41), 3000)[0]!.details).to.deep.equal({ most: 'EUR 0.40' })
    const hidden = lotRules({ ...rules, shows: { place: true, best: false, bidders: true } })
    const [reason] = whyNotBid(hidden, lot, bidder('a'), bidOf('a', 41), 3000)
    expect([reason!.code, reason!.details]).to.deep.equal(['bid.stepMissedHidden', {}])
  })

  it('is held against per cent without rounding', () => {
    const rules = lotRules({ step: { kind: 'percent', percent: '0.5', against: 'own' } })
    const lot = standing([1, bidOf('a', 999)])
    // 999 less 0.5 per cent is 994.005
    expect(mostFor(rules.step, lot, 'a')!.toString()).to.equal('994.005')
    expect(codes(rules, lot, bidOf('a', 994), 2)).to.deep.equal([])
    expect(codes(rules, lot, bidOf('a', 995), 2)).to.deep.equal(['bid.stepMissed'])
    expect(nextAtMost(rules, lot, 'a')).to.equal('9.94')
    expect(nextAtMost(lotRules({ ...rules, ceiling: minor(500) }), lot, 'a')).to.equal('5.00')
    expect(nextAtMost(lotRules({ ...rules, ceiling: minor(2000) }), lot, 'a')).to.equal('9.94')
    expect(nextAtMost(rules, lot, 'b')).to.equal('')
    expect(nextAtMost(lotRules({ ceiling: minor(2000) }), lot, 'b')).to.equal('20.00')
  })

  it('that comes twice is taken once; a refused one leaves nothing behind', () => {
    const bid = bidOf('a', 100, 'press')
    const first = placeBid(lotRules(), standing(), bidder('a'), bid, 1000)
    if (!first.ok) throw new Error('It is taken.')
    const again = placeBid(lotRules(), first.lot, bidder('a'), bid, 700_000)
    expect(again.ok && [again.lot === first.lot, again.entry.at]).to.deep.equal([true, 1000])
    const rules = lotRules({
      step,
      extension: { withinSeconds: 60, bySeconds: 60, from: 'end', places: 1, most: null },
    })
    expect(placeBid(rules, first.lot, bidder('a'), bidOf('a', 95), 590_000).ok).to.equal(false)
    expect(endOf(first.lot)).to.equal(600)
    const late = placeBid(rules, first.lot, bidder('b'), bidOf('b', 95), 590_000)
    expect(late.ok && [endOf(late.lot), late.entry]).to.deep.equal([
      660,
      { kind: 'bid', lotId: 'lot', at: 590_000, bid: bidOf('b', 95) },
    ])
  })
})

describe('what is seen of a lot', () => {
  const log = logOf(
    600,
    [1, bidOf('a', 10_000)],
    [2, bidOf('b', 9_000)],
    [3, bidOf('c', 9_500)],
    [4, 'removed', 'c9500'],
  )
  const see = (rules: LotRules, who: string, seconds = 10) =>
    lotForSupplier(rules, replayLot(rules, log), who, seconds * 1000)

  it('are one’s own bids and what the rules show of the others', () => {
    expect(see(lotRules(), 'a')).to.deep.include({
      place: 2,
      best: '90.00',
      bidders: 2,
      phase: 'open',
      suspended: false,
    })
    expect(see(lotRules(), 'a').own).to.deep.equal([{ id: 'a10000', total: '100.00', at: 1000, out: false }])
    expect(see(lotRules(), 'c')).to.deep.include({ place: null, bidders: 2 })
    expect(see(lotRules(), 'c').own[0]!.out).to.equal(true)
    const nothing = lotRules({ shows: { place: false, best: false, bidders: false } })
    expect(see(nothing, 'a')).to.deep.include({ place: null, best: null, bidders: null })
  })

  it('is in a sealed lot nothing of others, and for us nothing before the end', () => {
    const rules = lotRules({ sealed: true })
    expect(see(rules, 'a')).to.deep.include({ place: null, best: null, bidders: null })
    const team = (seconds: number) => lotForTeam(rules, replayLot(rules, log), seconds * 1000)
    expect([team(599.999).standing, team(599.999).bids]).to.deep.equal([[], []])
    expect(team(600).standing.map(one => [one.supplierId, one.place, one.total])).to.deep.equal([['b', 1, '90.00'], ['a', 2, '100.00']]) // prettier-ignore
    expect(team(600).bids).to.have.length(3)
    const open = lotForTeam(lotRules(), replayLot(lotRules(), log), 5000)
    expect(open.bids.map(one => one.out)).to.deep.equal([false, false, true])
  })
})

describe('rules of a lot', () => {
  const of = (changed: Partial<LotRules>): string[] => checkLotRules(lotRules(changed)).map(one => one.code)
  const extension = { withinSeconds: 60, bySeconds: 60, from: 'bid', places: 1, most: null } as const

  it('make sense: figures above zero, a step that is part of a price, and nothing that tells what is sealed', () => {
    expect(of({})).to.deep.equal([])
    expect(of({ ceiling: minor(0) })).to.deep.equal(['lot.ceilingAboveZero'])
    expect(of({ ceiling: minor(1), lineCeilings: new Map([['l', minor(-1)]]) })).to.deep.equal(['lot.ceilingAboveZero'])
    expect(of({ lineCeilings: new Map([['l', minor(0)]]) })).to.deep.equal(['lot.ceilingAboveZero'])
    expect(of({ step: { kind: 'amount', amount: minor(0), against: 'own' } })).to.deep.equal(['lot.stepAboveZero'])
    for (const percent of ['0', '100', '-1', 'much', '1e2'])
      expect(of({ step: { kind: 'percent', percent, against: 'own' } }), percent).to.deep.equal(['lot.stepPercent'])
    for (const percent of ['0.000001', '99.999'])
      expect(of({ step: { kind: 'percent', percent, against: 'best' } }), percent).to.deep.equal([])
    expect(of({ sealed: true, step: { kind: 'amount', amount: minor(1), against: 'best' } })).to.deep.equal(['lot.stepTellsSealed']) // prettier-ignore
    expect(of({ sealed: true, step: { kind: 'amount', amount: minor(1), against: 'own' } })).to.deep.equal([])
  })

  it('extend by whole seconds up to a day, by places and times that there are', () => {
    expect(of({ extension })).to.deep.equal([])
    for (const seconds of [0, 1.5, 86_401])
      expect(of({ extension: { ...extension, bySeconds: seconds } }), String(seconds)).to.deep.equal([
        'lot.extensionSeconds',
      ])
    expect(of({ extension: { ...extension, withinSeconds: 86_400 } })).to.deep.equal([])
    expect(of({ extension: { ...extension, withinSeconds: 0 } })).to.deep.equal(['lot.extensionSeconds'])
    expect(of({ extension: { ...extension, places: 1000, most: 1000 } })).to.deep.equal([])
    expect(of({ extension: { ...extension, places: 1001, most: 1001 } })).to.deep.equal([
      'lot.extensionPlaces',
      'lot.extensionMost',
    ])
    expect(of({ extension: { ...extension, places: 0 } })).to.deep.equal(['lot.extensionPlaces'])
    expect(of({ extension: { ...extension, most: 0 } })).to.deep.equal(['lot.extensionMost'])
    expect(of({ extension: { ...extension, places: null, most: 1 } })).to.deep.equal([])
  })
})

describe('any history of a lot', () => {
  const supplier = fc.constantFrom('a', 'b', 'c')
  const acts = fc.array(
    fc.record({
      wait: fc.integer({ min: 0, max: 40_000 }),
      what: fc.constantFrom(
        'bid',
        'bid',
        'bid',
        'removed',
        'suspended',
        'lifted',
        'withdrawn',
        'paused',
        'resumed',
        'extended',
      ),
      who: supplier,
      total: fc.integer({ min: 1, max: 60 }),
    }),
    { maxLength: 40 },
  )
  const rulesOf = fc.record({
    extension: fc.option(
      fc.record({
        withinSeconds: fc.integer({ min: 1, max: 90 }),
        bySeconds: fc.integer({ min: 1, max: 90 }),
        from: fc.constantFrom('bid' as const, 'end' as const),
        places: fc.constantFrom(null, 1, 2),
        most: fc.constantFrom(null, 1, 3),
      }),
    ),
    step: fc.constantFrom<LotRules['step']>({ kind: 'none' }, { kind: 'amount', amount: minor(2), against: 'own' }, { kind: 'amount', amount: minor(2), against: 'best' }), // prettier-ignore
    sealed: fc.boolean(),
    best: fc.boolean(),
  })

  /** What the acts lead to when each is taken as the server takes it: one that is not possible leaves nothing. */
  function lived(rules: LotRules, wanted: { wait: number; what: string; who: string; total: number }[]) {
    const log = logOf(300)
    const ends: number[] = []
    let lot = replayLot(rules, log)
    let at = 0
    let number = 0
    for (const { wait, what, who, total } of wanted) {
      at += wait
      const entry = entryFor(rules, lot, { what, who, total, at, id: `n${++number}` })
      if (entry === null) continue
      log.push(entry)
      lot = afterEntry(rules, lot, entry)
      if (lot.phase === 'open') ends.push(lot.endsAt!)
    }
    return { log, lot, at, ends }
  }
  function entryFor(
    rules: LotRules,
    lot: LotStanding,
    one: { what: string; who: string; total: number; at: number; id: string },
  ): AuctionEntry | null {
    // prettier-ignore
    const common = { lotId: 'lot', at: one.at }
    const phase = phaseAt(lot, one.at)
    if (phase === 'over') return null
    if (one.what === 'bid') {
      const placed = placeBid(rules, lot, bidder(one.who), bidOf(one.who, one.total * 1_000_003, one.id), one.at)
      return placed.ok ? placed.entry : null
    }
    const last = lot.bids.filter(bid => !bid.out).at(-1)
    if (one.what === 'removed') return last ? { ...common, kind: 'removed', bidId: last.id } : null
    if (one.what === 'paused') return phase === 'open' ? { ...common, kind: 'paused' } : null
    if (one.what === 'resumed') return phase === 'paused' ? { ...common, kind: 'resumed' } : null
    if (one.what === 'extended') return { ...common, kind: 'extended', bySeconds: 5 }
    return { ...common, kind: one.what as 'suspended', supplierId: one.who }
  }
  const ruled = ({ best, ...rest }: { best: boolean } & Pick<LotRules, 'extension' | 'step' | 'sealed'>): LotRules =>
    lotRules({ ...rest, shows: { place: true, best, bidders: true } })

  it('re-computes to the same standing and clock as it was lived', () => {
    fc.assert(
      fc.property(rulesOf, acts, (some, wanted) => {
        const rules = ruled(some)
        const { log, lot } = lived(rules, wanted)
        expect(replayLot(rules, log)).to.deep.equal(lot)
        // the same from any point on
        const half = log.slice(0, log.length >> 1)
        expect(log.slice(half.length).reduce((now, entry) => afterEntry(rules, now, entry), replayLot(rules, half))).to.deep.equal(lot) // prettier-ignore
      }),
    )
  })

  it('never moves the end back while it runs, and has every place once, better or earlier first', () => {
    fc.assert(
      fc.property(rulesOf, acts, (some, wanted) => {
        const { lot, ends } = lived(ruled(some), wanted)
        expect(ends).to.deep.equal([...ends].sort((a, b) => a - b))
        for (const [index, one] of lot.standing.entries()) {
          expect([one.place, one.bid.out, lot.suspended.has(one.supplierId)]).to.deep.equal([index + 1, false, false])
          const next = lot.standing[index + 1]
          if (next) expect(one.bid.total < next.bid.total || (one.bid.total === next.bid.total && one.bid.turn < next.bid.turn)).to.equal(true) // prettier-ignore
        }
        expect(new Set(lot.standing.map(one => one.supplierId)).size).to.equal(lot.standing.length)
      }),
    )
  })

  it('never tells a supplier what another bid, but for the best where that is shown; nor us what is sealed', () => {
    fc.assert(
      fc.property(rulesOf, acts, supplier, (some, wanted, who) => {
        const rules = ruled(some)
        const { lot, at } = lived(rules, wanted)
        const seen = JSON.stringify(lotForSupplier(rules, lot, who, at))
        const text = (bid: { total: bigint }): string => `"${(Number(bid.total) / 100).toFixed(2)}"`
        const own = new Set(lot.bids.filter(bid => bid.supplierId === who).map(text))
        const mayKnow = new Set([
          ...own,
          ...(rules.shows.best && !rules.sealed && lot.standing[0] ? [text(lot.standing[0].bid)] : []),
        ])
        for (const bid of lot.bids) if (!mayKnow.has(text(bid))) expect(seen).to.not.include(text(bid))
        const [reason] = whyNotBid(rules, lot, bidder(who), bidOf(who, 1e13), at)
        if (!rules.shows.best && reason) for (const bid of lot.bids) if (!own.has(text(bid))) expect(JSON.stringify(reason)).to.not.include(text(bid).slice(1, -1)) // prettier-ignore
        if (rules.sealed && phaseAt(lot, at) !== 'over') {
          const { standing, bids } = lotForTeam(rules, lot, at)
          expect([standing, bids]).to.deep.equal([[], []])
        }
      }),
    )
  })
})
