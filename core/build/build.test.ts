import { expect } from 'chai'
import fc from 'fast-check'
import { buyPart } from '#core/build/buyPart.ts'
import type { ActorFacts } from '#core/acts/actor.ts'
import {
  type CostingAction,
  costingActions,
  linkOpens,
  moveCosting,
  whyNotCosting,
  whyNotShareUntil,
} from '#core/build/costingActs.ts'
import { costingRows } from '#core/build/costingRows.ts'
import { offersOfPart } from '#core/build/offersOfPart.ts'
import { partsToAsk, partsToRequest } from '#core/build/turnInto.ts'
import { changesBetween } from '#core/build/compareDays.ts'
import { type CostedBuild, costBuild, excessOf, excessValue } from '#core/build/costBuild.ts'
import { betterNear, costCurve, curveSteps } from '#core/build/curve.ts'
import { explode } from '#core/build/explode.ts'
import type { BuildFacts, BuildItem } from '#core/build/facts.ts'
import { fewestSuppliers } from '#core/build/fewestSuppliers.ts'
import { buildFigures, drivers, excesses } from '#core/build/figures.ts'
import {
  allowedSteps,
  type BuildOffer,
  costOf,
  packingOf,
  prepareOffer,
  type PreparedOffer,
} from '#core/build/offers.ts'
import { groupOf } from '#core/build/offerGroup.ts'
import { partNotes } from '#core/build/partNotes.ts'
import type { PartLine } from '#core/build/partsList.ts'
import { partKey } from '#core/build/partsList.ts'
import { needAt, needIn } from '#core/build/need.ts'
import { prepareBuild } from '#core/build/prepareBuild.ts'
import { type BuildSettings, firstSettings, type PartSettings, whyNotSettings } from '#core/build/settings.ts'
import { regionOf } from '#core/build/regions.ts'
import { stepsText } from '#core/build/steps.ts'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'

const DAY = '2026-12-01'
const offer = (with_: Partial<BuildOffer> = {}): BuildOffer => ({
  id: 'o1',
  itemId: 'i1',
  supplierId: 's1',
  unit: 'C62',
  holds: '1',
  currency: 'EUR',
  priceBase: '1',
  minimum: '1',
  multiple: '1',
  leadTimeDays: 5,
  validFrom: '2026-01-01',
  validTo: null,
  tiers: [{ from: '1', price: '2' }],
  fee: '',
  stock: '',
  country: 'NL',
  ...with_,
})
const line = (with_: Partial<PartLine> = {}): PartLine => ({
  parent: null,
  number: '',
  maker: '',
  makerNumber: '',
  gtin: '',
  description: 'Seal ring',
  quantity: '1',
  unit: 'C62',
  places: '',
  remarks: '',
  itemId: 'i1',
  ...with_,
})
const item = (with_: Partial<BuildItem> = {}): BuildItem => ({
  id: 'i1',
  number: 'SR-12',
  name: 'Seal ring 12 mm',
  unit: 'C62',
  category: 'Fasteners',
  packs: [],
  discontinued: false,
  replacedBy: null,
  ...with_,
})
const supplier = (id: string, score = ''): BuildFacts['suppliers'][number] => ({ id, name: id, score })
const facts = (with_: Partial<BuildFacts> = {}): BuildFacts => ({
  lines: [line()],
  items: [item()],
  offers: [offer()],
  suppliers: [supplier('s1'), supplier('s2'), supplier('s3')],
  rates: { EUR: '1', NOK: '0.086', USD: '0.92' },
  pricedOn: DAY,
  calendar: PLAIN_CALENDAR,
  ...with_,
})
const settings = (with_: Partial<BuildSettings> = {}): BuildSettings => ({ ...firstSettings('EUR'), ...with_ })
const I1 = 'item i1'
const cost = (
  builds: number,
  of: Partial<BuildFacts> = {},
  with_: Partial<BuildSettings> = {},
  own: PartSettings = {},
): CostedBuild & { first: CostedBuild['parts'][number] } => {
  const costed = costBuild(prepareBuild(facts(of), settings(with_), { [I1]: own }), builds)
  return { ...costed, first: costed.parts[0]! }
}
const taken = (costed: CostedBuild): string[] => costed.parts[0]!.buys.map(one => one.prepared.offer.id)
const ready = (one: BuildOffer, stockedOnly = false): PreparedOffer =>
  prepareOffer(one, 0, { rate: { from: '1', to: '1' }, currency: 'EUR', digits: 0, stockedOnly })!

describe('build costing: need', () => {
  it('is builds times quantity and wastage, rounded up once for all places of a part', () => {
    const lines = [line({ quantity: '1' }), line({ quantity: '1.06' })]
    // 48 × 2.06 × 1.03 = 101.8464
    expect(cost(48, { lines }, { wastage: { percent: '3', pieces: '0' } }).first.need).to.equal(102)
    expect(cost(48, { lines }, { wastage: { percent: '3', pieces: '2' } }).first.need).to.equal(104)
  })

  it('takes halves of a piece in pairs, and what is measured to the thousandth', () => {
    expect(cost(3, { lines: [line({ quantity: '0.5' })] }).first.need).to.equal(2)
    const pipe = {
      lines: [line({ quantity: '1.2345', unit: 'MTR' })],
      items: [item({ unit: 'MTR' })],
      offers: [offer({ unit: 'MTR' })],
    }
    expect(cost(1, pipe).first.need).to.equal(1235)
    expect(cost(2, pipe).first.need).to.equal(2469)
  })

  it('converts units of the list exactly, and says where it cannot', () => {
    const mm = {
      lines: [line({ quantity: '1500', unit: 'MMT' })],
      items: [item({ unit: 'MTR' })],
      offers: [offer({ unit: 'MTR' })],
    }
    expect(cost(4, mm).first.need).to.equal(6000)
    expect(cost(4, { lines: [line({ unit: 'KGM' })] }).first.noPrice).to.equal('units')
    const boxes = { lines: [line({ unit: 'BX' })], items: [item({ packs: [{ unit: 'BX', holds: '12' }] })] }
    expect(cost(2, boxes).first.need).to.equal(24)
  })

  it('uses what lies in the house first, where that is wanted', () => {
    const { first, total } = cost(10, {}, {}, { onHand: '4' })
    expect([first.need, first.fromStock, first.quantity, total]).to.deep.equal([10, 4, 6, 1200n])
    expect(cost(10, {}, {}, { onHand: '40' }).total).to.equal(0n)
    expect(cost(10, {}, { ownStock: false }, { onHand: '4' }).first.quantity).to.equal(10)
  })

  it('takes wastage of the category before that of the whole, and of the part before both', () => {
    const wastageByCategory = { Fasteners: { percent: '10', pieces: '0' } }
    const wastage = { percent: '50', pieces: '0' }
    expect(cost(10, {}, { wastage, wastageByCategory }).first.need).to.equal(11)
    expect(
      cost(10, {}, { wastage, wastageByCategory }, { wastage: { percent: '0', pieces: '3' } }).first.need,
    ).to.equal(13)
  })

  it('is the same beyond what plain numbers hold, and ends where nothing can be computed', () => {
    const of = { each: 3n * 10n ** 12n, once: 1n, over: 10n ** 12n, grain: 1n, onHand: 0n }
    expect(needAt(needIn(of), 7_000)).to.equal(21_001)
    expect(needAt(needIn({ ...of, once: 0n }), 7_000)).to.equal(21_000)
    expect(needAt(needIn({ ...of, each: 10n ** 30n }), 7)).to.equal(Infinity)
    expect(cost(1_000_000_000, { lines: [line({ quantity: '5000000' })] }).first.noPrice).to.equal('tooMuch')
    expect(cost(1_000_000_000).total).to.equal(200_000_000_000n)
  })

  it('is nothing for a quantity of nothing, and unknown without one', () => {
    expect(cost(5, { lines: [line({ quantity: '0' })] }).total).to.equal(0n)
    expect(explode([line({ quantity: null })]).unclear).to.deep.equal([0])
  })
})

describe('build costing: what is bought', () => {
  it('keeps to minimum and multiple, and buys more where a higher tier makes it cheaper', () => {
    expect(cost(7, { offers: [offer({ minimum: '10', multiple: '4' })] }).first.quantity).to.equal(12)
    const tiers = [
      { from: '1', price: '2' },
      { from: '100', price: '1' },
    ]
    expect(cost(49, { offers: [offer({ tiers })] }).first).to.deep.include({ quantity: 49, cost: 9800 })
    // at 50 both cost 100.00: the smaller quantity
    expect(cost(50, { offers: [offer({ tiers })] }).first).to.deep.include({ quantity: 50, cost: 10_000 })
    expect(cost(51, { offers: [offer({ tiers })] }).first).to.deep.include({ quantity: 100, cost: 10_000 })
    expect(cost(51, { offers: [offer({ tiers })] }, { excess: false }).first.quantity).to.equal(51)
  })

  it('looks at higher tiers beyond the next one', () => {
    const tiers = [
      { from: '1', price: '10' },
      { from: '20', price: '9.9' },
      { from: '30', price: '1' },
    ]
    expect(cost(5, { offers: [offer({ tiers })] }).first).to.deep.include({ quantity: 30, cost: 3000 })
  })

  it('counts carriage of an order line once, converts at the rates of its day, and rounds a line once', () => {
    const abroad = offer({ currency: 'NOK', tiers: [{ from: '1', price: '3.33' }], fee: '10' })
    // (7 × 3.33 + 10) × 0.086 = 2.86466
    expect(cost(7, { offers: [abroad] }).total).to.equal(286n)
    // in NOK: (7 × 2 EUR) ÷ 0.086 = 162.790…
    expect(cost(7, {}, { currency: 'NOK' }).total).to.equal(16_279n)
    expect(cost(7, { offers: [offer({ currency: 'JPY' })] }).first.noPrice).to.equal('rate')
    // a costing in a currency without a rate has no price at all, rather than a wrong one
    expect(cost(7, {}, { currency: 'CHF' }).first.noPrice).to.equal('rate')
    expect(cost(1, { offers: [offer({ tiers: [{ from: '1', price: '0.005' }] })] }).total).to.equal(1n)
    expect(cost(1, { offers: [offer({ tiers: [{ from: '1', price: '0.0049' }] })] }).total).to.equal(0n)
  })

  it('buys by the pack that an offer is sold in', () => {
    const reel = offer({ unit: 'XRL', holds: '500', tiers: [{ from: '1', price: '20' }] })
    const parts = { offers: [offer({ id: 'loose', tiers: [{ from: '1', price: '0.05' }] }), reel] }
    expect(taken(cost(399, parts))).to.deep.equal(['loose'])
    // 401 loose ones cost 20.05, the reel 20.00
    expect(cost(401, parts).first).to.deep.include({ quantity: 500, cost: 2000 })
    expect(taken(cost(10, parts, { packing: 'reel' }))).to.deep.equal(['o1'])
    expect(cost(10, parts, { packing: 'tray' }).first.noPrice).to.equal('packing')
    expect([packingOf('MTR', 'MTR'), packingOf('XPU', 'C62'), packingOf('BX', 'C62')]).to.deep.equal([
      'loose',
      'tray',
      'pack',
    ])
    expect(cost(10, { offers: [reel] }, { excess: false }).first.noPrice).to.equal('excess')
    expect(cost(1000, { offers: [reel] }, { excess: false }).first.quantity).to.equal(1000)
  })

  const three = [
    offer({ id: 'dear', supplierId: 's1', tiers: [{ from: '1', price: '3' }], leadTimeDays: 2, country: 'NO' }),
    offer({ id: 'cheap', supplierId: 's2', tiers: [{ from: '1', price: '2' }], leadTimeDays: 20, country: 'CN' }),
    offer({ id: 'middle', supplierId: 's3', tiers: [{ from: '1', price: '2.5' }], leadTimeDays: 10, country: 'NL' }),
  ]
  const suppliers = [supplier('s1', '80'), supplier('s2', ''), supplier('s3', '95.5')]
  it('follows the policy', () => {
    const of = { offers: three, suppliers }
    expect(taken(cost(1, of))).to.deep.equal(['cheap'])
    expect(taken(cost(1, of, { policy: 'preferred', preferred: ['s1', 's3'] }))).to.deep.equal(['middle'])
    expect(taken(cost(1, of, { policy: 'preferred', preferred: ['s9'] }))).to.deep.equal(['cheap'])
    expect(taken(cost(1, of, { policy: 'earliest' }))).to.deep.equal(['dear'])
    expect(taken(cost(1, of, { policy: 'bestScore' }))).to.deep.equal(['middle'])
    expect(taken(cost(1, of, {}, { policy: 'earliest' }))).to.deep.equal(['dear'])
  })

  it('keeps to countries, to the day by which all has to be in, and to what lies there', () => {
    const of = { offers: three, suppliers }
    expect(taken(cost(1, of, { countries: ['NO', 'NL'] }))).to.deep.equal(['middle'])
    expect(cost(1, of, { countries: ['DE'] }).first.noPrice).to.equal('country')
    // ten business days after 1 December is 15 December
    expect(taken(cost(1, of, { inBy: '2026-12-15' }))).to.deep.equal(['middle'])
    expect(taken(cost(1, of, { inBy: '2026-12-14' }))).to.deep.equal(['dear'])
    expect(cost(1, of, { inBy: '2026-12-02' }).first.noPrice).to.equal('late')
    const stocked = three.map(one => ({ ...one, stock: one.id === 'dear' ? '5' : '' }))
    expect(taken(cost(5, { offers: stocked }, { stockedOnly: true }))).to.deep.equal(['dear'])
    expect(cost(6, { offers: stocked }, { stockedOnly: true }).first.noPrice).to.equal('stock')
  })

  it('keeps what was chosen by hand, within no limits, until it cannot be ordered any more', () => {
    const of = { offers: three, suppliers }
    expect(taken(cost(1, of, { countries: ['NL'] }, { offerId: 'dear' }))).to.deep.equal(['dear'])
    const gone = three.map(one => (one.id === 'dear' ? { ...one, validTo: '2026-11-30' } : one))
    expect(taken(cost(1, { offers: gone }, {}, { offerId: 'dear' }))).to.deep.equal(['cheap'])
    const prepared = prepareBuild(facts({ offers: gone }), settings(), { [I1]: { offerId: 'dear' } })
    expect(partNotes(prepared, costBuild(prepared, 1), 0).map(one => one.code)).to.deep.equal(['build.handGone'])
  })

  it('prefers the earlier of two preferred suppliers where they cost the same, else the first offer', () => {
    const same = [offer({ id: 'a', supplierId: 's1' }), offer({ id: 'b', supplierId: 's2' })]
    expect(taken(cost(3, { offers: same }))).to.deep.equal(['a'])
    expect(taken(cost(3, { offers: same }, { policy: 'preferred', preferred: ['s2', 's1'] }))).to.deep.equal(['b'])
  })

  it('does not take offers that have ended, have not begun or cost more digits than can be computed with', () => {
    expect(cost(1, { offers: [offer({ validTo: '2026-11-30' })] }).first.noPrice).to.equal('notNow')
    expect(cost(1, { offers: [offer({ validFrom: '2026-12-02' })] }).first.noPrice).to.equal('notNow')
    expect(cost(1, { offers: [offer({ validTo: DAY })] }).first.noPrice).to.equal(null)
    expect(cost(1, { offers: [offer({ holds: '0.0833333333' })] }).first.noPrice).to.equal('units')
    expect(cost(1, { offers: [offer({ holds: '0' })] }).first.noPrice).to.equal('units')
    expect(cost(1, { offers: [] }).first.noPrice).to.equal('noOffer')
    expect(cost(1, { lines: [line({ itemId: null })] }).first.noPrice).to.equal('noItem')
  })

  it('sorts tiers out of order, and of two at one quantity takes the later', () => {
    const tiers = [
      { from: '10', price: '1' },
      { from: '1', price: '3' },
      { from: '1', price: '2' },
    ]
    expect(cost(2, { offers: [offer({ tiers })] }).total).to.equal(400n)
    const prepared = prepareBuild(facts({ offers: [offer({ tiers })] }), settings(), {})
    expect(partNotes(prepared, costBuild(prepared, 2), 0).map(one => one.code)).to.deep.equal(['build.tiersOdd'])
  })

  it('splits a need where no single offer covers it, as cheaply as can be', () => {
    const stocked = [
      offer({ id: 'a', stock: '6', tiers: [{ from: '1', price: '2' }] }),
      offer({ id: 'b', stock: '8', tiers: [{ from: '1', price: '3' }] }),
      offer({ id: 'c', stock: '8', minimum: '8', multiple: '8', tiers: [{ from: '1', price: '2.5' }] }),
    ]
    const { first } = cost(10, { offers: stocked }, { stockedOnly: true })
    expect(first.buys.map(one => [one.prepared.offer.id, one.quantity])).to.deep.equal([
      ['a', 6],
      ['b', 4],
    ])
    expect(first.cost).to.equal(2400)
    expect(cost(23, { offers: stocked }, { stockedOnly: true }).first.noPrice).to.equal('stock')
  })
})

/** Every quantity of every offer that could cover the need, looked at one by one. */
function cheapestByTrying(offers: readonly BuildOffer[], need: number): { cost: number; quantity: number; id: string } {
  let best: { cost: number; quantity: number; id: string } | undefined
  for (const one of offers)
    for (let quantity = need; quantity <= 80; quantity++) {
      const multiple = Number(one.multiple)
      if (quantity < Number(one.minimum) || quantity % multiple !== 0) continue
      const tier = [...one.tiers].reverse().find(tier => Number(tier.from) <= quantity) ?? one.tiers[0]!
      const cents = Math.round(quantity * Math.round(Number(tier.price) * 100) + Number(one.fee || '0') * 100)
      if (!best || cents < best.cost || (cents === best.cost && quantity < best.quantity))
        best = { cost: cents, quantity, id: one.id }
    }
  return best!
}
const anyOffer = (id: string, stocked: boolean): fc.Arbitrary<BuildOffer> =>
  fc
    .record({
      minimum: fc.integer({ min: 1, max: 12 }).map(String),
      multiple: fc.integer({ min: 1, max: 5 }).map(String),
      fee: fc.constantFrom('', '3', '12.5'),
      prices: fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 4 }),
      froms: fc.uniqueArray(fc.integer({ min: 2, max: 60 }), { minLength: 3, maxLength: 3 }),
      stock: fc.integer({ min: 0, max: 14 }),
    })
    .map(one => ({
      ...offer({
        id,
        supplierId: id,
        minimum: one.minimum,
        multiple: one.multiple,
        fee: one.fee,
        stock: stocked ? String(one.stock) : '',
      }),
      tiers: one.prices.map((price, index) => ({
        from: String(index === 0 ? 1 : [...one.froms].sort((a, b) => a - b)[index - 1]!),
        price: (price / 100).toFixed(2),
      })),
    }))
const someOffers = (stocked = false): fc.Arbitrary<BuildOffer[]> =>
  fc.tuple(anyOffer('a', stocked), anyOffer('b', stocked), anyOffer('c', stocked)).map(list => [...list])

describe('build costing: laws', () => {
  it('a part costs what trying every quantity of every offer finds', () => {
    fc.assert(
      fc.property(someOffers(), fc.integer({ min: 1, max: 40 }), (offers, need) => {
        const { first } = cost(need, { offers })
        const best = cheapestByTrying(offers, need)
        expect([first.cost, first.quantity, first.buys[0]!.prepared.offer.id]).to.deep.equal([
          best.cost,
          best.quantity,
          best.id,
        ])
      }),
      { numRuns: 400 },
    )
  })

  it('a split costs what trying every split finds', () => {
    const trySplits = (offers: readonly PreparedOffer[], need: number): number => {
      if (need <= 0) return 0
      const [one, ...rest] = offers
      if (!one) return Infinity
      let best = trySplits(rest, need)
      for (let quantity = allowedSteps(one, 1); quantity <= one.most; quantity += one.multiple)
        best = Math.min(best, costOf(one, quantity) + trySplits(rest, need - quantity))
      return best
    }
    fc.assert(
      fc.property(someOffers(true), fc.integer({ min: 1, max: 30 }), (offers, need) => {
        const prepared = offers.map(one => ready(one, true))
        const single = prepared.some(one => allowedSteps(one, need) <= one.most)
        fc.pre(!single)
        const buys = buyPart({ groups: [groupOf(prepared)], excess: true }, need)
        const best = trySplits(prepared, need)
        expect(buys === null ? Infinity : buys.reduce((sum, one) => sum + one.cost, 0)).to.equal(best)
      }),
      { numRuns: 300 },
    )
  })

  it('the curve is the single computation at every point', () => {
    fc.assert(
      fc.property(
        someOffers(),
        someOffers(true),
        fc.constantFrom('0.5', '1', '3', '7'),
        fc.boolean(),
        (offers, others, quantity, whereCheaper) => {
          const own = others.map(one => ({ ...one, id: `x${one.id}`, itemId: 'i2' }))
          const of = facts({
            lines: [line({ quantity }), line({ itemId: 'i2', quantity: '2' })],
            items: [item(), item({ id: 'i2' })],
            offers: [...offers, ...own],
          })
          const prepared = prepareBuild(of, settings({ alternates: whereCheaper ? 'whereCheaper' : 'whereMissing' }), {
            [I1]: { onHand: '3', alternates: ['i2'] },
            'item i2': { stockedOnly: true },
          })
          const { totals } = costCurve(prepared, 30)
          expect(totals).to.deep.equal(totals.map((_one, at) => Number(costBuild(prepared, at + 1).total)))
        },
      ),
      { numRuns: 60 },
    )
  })

  it('the sum is that of the parts, excess what is bought beyond the need, and no more builds ever cost less of the same list', () => {
    fc.assert(
      fc.property(someOffers(), fc.integer({ min: 1, max: 40 }), (offers, builds) => {
        const costed = cost(builds, { offers })
        expect(costed.total).to.equal(costed.parts.reduce((sum, part) => sum + BigInt(part.cost), 0n))
        expect(excessOf(costed.first)).to.equal(costed.first.quantity - costed.first.need)
        expect(excessValue(costed.first)).to.be.at.most(costed.first.cost)
        expect(Number(cost(builds + 1, { offers }).total)).to.be.at.least(Number(costed.total))
      }),
    )
  })
})

describe('build costing: lists of several levels', () => {
  const skid = [
    line({ number: 'SKID', itemId: null, quantity: '1' }),
    line({ parent: 0, number: 'PUMP-ASSY', itemId: null, quantity: '2' }),
    line({ parent: 1, quantity: '3' }),
    line({ parent: 0, quantity: '4' }),
    line({ parent: 0, number: 'Spare', itemId: null, quantity: '1' }),
    line({ parent: 4, number: 'PUMP-ASSY', itemId: null, quantity: '1' }),
  ]
  it('takes assemblies apart, multiplies down, and buys the same part of all places together', () => {
    const { parts } = explode(skid)
    // 2 × 3 + 4, and 3 of the spare assembly, whose parts are listed elsewhere
    expect(parts.map(part => [part.key, part.uses.map(use => Number(use.perBuild))])).to.deep.equal([[I1, [6, 4, 3]]])
    expect(cost(2, { lines: skid }).total).to.equal(5200n)
  })

  it('buys an assembly whole where that is said', () => {
    const { parts } = explode(skid, at => partKey(skid[at]!) !== 'number pump-assy')
    expect(parts.map(part => [part.key, part.uses.map(use => Number(use.perBuild))])).to.deep.equal([
      ['number pump-assy', [2, 1]],
      [I1, [4]],
    ])
  })

  it('names circles and counts nothing in them', () => {
    const inItself = [
      line({ number: 'A', itemId: null }),
      line({ parent: 0, number: 'B', itemId: null }),
      line({ parent: 1, number: 'A', itemId: null }),
      line({ parent: 1 }),
    ]
    const found = explode(inItself)
    expect(found.circles).to.deep.equal([[0, 1, 2]])
    expect(found.parts.map(part => part.key)).to.deep.equal([I1])
    expect(explode([line({ parent: 1 }), line({ parent: 0 })]).circles).to.deep.equal([[0, 1, 0]])
    expect(explode([line({ parent: 0 })]).circles).to.deep.equal([[0, 0]])
  })

  it('refuses what would be taken apart without end', () => {
    const deep = Array.from({ length: 22 }, (_one, level) =>
      [0, 1].map(() => line({ parent: level === 0 ? null : (level - 1) * 2, number: `L${level}`, itemId: null })),
    ).flat()
    expect(() => explode(deep)).to.throw('build.tooMany')
  })

  it('tells parts by item, number, maker’s number or words', () => {
    expect(partKey(line({ itemId: null, number: ' Ab  1 ' }))).to.equal('number ab 1')
    expect(partKey(line({ itemId: null, maker: 'Orrin', makerNumber: 'X9' }))).to.equal('maker orrin x9')
    expect(partKey(line({ itemId: null }))).to.equal('words seal ring')
  })
})

describe('build costing: alternates', () => {
  const of = {
    items: [item(), item({ id: 'i2', name: 'Seal ring, cut' })],
    offers: [
      offer({ minimum: '2000', multiple: '100', tiers: [{ from: '1', price: '0.31' }] }),
      offer({ id: 'o2', itemId: 'i2', tiers: [{ from: '1', price: '1.1' }] }),
    ],
  }
  const own = { alternates: ['i2'] }
  it('stand in where the first cannot be had, or wherever they are cheaper, or are only told', () => {
    expect(taken(cost(12, of, {}, own))).to.deep.equal(['o1'])
    expect(taken(cost(12, of, { alternates: 'whereCheaper' }, own))).to.deep.equal(['o2'])
    expect(taken(cost(12, { ...of, offers: of.offers.slice(1) }, {}, own))).to.deep.equal(['o2'])
    expect(cost(12, { ...of, offers: of.offers.slice(1) }, { alternates: 'never' }, own).first.noPrice).to.equal(
      'noOffer',
    )
    expect(taken(cost(12, of, {}, { ...own, itemId: 'i2' }))).to.deep.equal(['o2'])
  })

  it('are bought together with the part that they are anyway', () => {
    const lines = [line(), line({ itemId: 'i2', quantity: '3' })]
    const both = prepareBuild(facts({ ...of, lines }), settings(), { [I1]: { itemId: 'i2' } })
    expect(both.parts.map(part => [part.needed.key, part.needed.uses.length])).to.deep.equal([['item i2', 2]])
    expect(costBuild(both, 2).parts[0]!.need).to.equal(8)
    const twice = prepareBuild(
      facts({ ...of, lines: [line(), line({ itemId: 'i3' })], items: [...of.items, item({ id: 'i3' })] }),
      settings(),
      { [I1]: { itemId: 'i2' }, 'item i3': { itemId: 'i2' } },
    )
    expect(twice.parts.map(part => part.needed.key)).to.deep.equal([I1])
  })

  it('are named beside a minimum that drives the cost', () => {
    const prepared = prepareBuild(facts(of), settings(), { [I1]: own })
    const notes = partNotes(prepared, costBuild(prepared, 12), 0)
    expect(notes.map(one => [one.code, one.details])).to.deep.equal([
      ['build.minimumDrives', { minimum: '2000', need: '12', share: '100' }],
      ['build.alternateCheaper', { item: 'Seal ring, cut', less: '606.80', currency: 'EUR' }],
      ['build.minimum', { minimum: '2000' }],
    ])
  })
})

describe('build costing: the offers of a part', () => {
  it('are told with what each would cost for the need, the cheapest first, and why others do not count', () => {
    const offers = [
      offer({ id: 'dear', supplierId: 's2', tiers: [{ from: '1', price: '3' }], leadTimeDays: 2 }),
      offer({ id: 'ended', supplierId: 's3', validTo: '2026-11-30' }),
      offer({ id: 'reel', unit: 'XRL', holds: '100', tiers: [{ from: '1', price: '20' }] }),
      offer({ id: 'other', itemId: 'i2', tiers: [{ from: '1', price: '1.5' }] }),
    ]
    const of = facts({ items: [item(), item({ id: 'i2', name: 'Ring, cut' })], offers })
    const ready = prepareBuild(of, settings(), { [I1]: { alternates: ['i2'], onHand: '2' } })
    const told = offersOfPart(of, ready, 0, 12)
    expect(told.map(one => [one.offerId, one.quantity, one.amount, one.packing, one.against])).to.deep.equal([
      ['other', '10', '15.00', 'loose', null],
      ['reel', '100', '20.00', 'reel', null],
      ['dear', '10', '30.00', 'loose', null],
      ['ended', '0', '', 'loose', 'notNow'],
    ])
    const exact = prepareBuild(of, settings({ excess: false }), {})
    expect(offersOfPart(of, exact, 0, 12).find(one => one.offerId === 'reel')!.against).to.equal('excess')
    expect(offersOfPart(of, ready, 0, 1).map(one => one.amount)).to.deep.equal(['', '', '', ''])
  })
})

describe('build costing: rows as people read them', () => {
  it('say need, quantity, suppliers, share and excess, and keep what nobody knows', () => {
    const lines = [line({ number: 'X-1', quantity: '7' }), line({ itemId: null, number: 'Y-2', description: 'Frame' })]
    const of = facts({ lines, offers: [offer({ multiple: '5' })] })
    const ready = prepareBuild(of, settings({ wastage: { percent: '10', pieces: '0' } }), {})
    const [ring, frame] = costingRows(of, ready, costBuild(ready, 3))
    expect(ring).to.deep.include({
      number: 'SR-12',
      listed: 'X-1',
      need: '24',
      buy: '25',
      excess: '1',
      excessValue: '2.00',
      each: '2',
      amount: '50.00',
      share: 100,
      leadDays: 5,
      suppliers: ['s1'],
    })
    expect(frame).to.deep.include({
      name: 'Frame',
      number: 'Y-2',
      need: '4',
      buy: '0',
      amount: '0.00',
      leadDays: null,
      itemId: null,
    })
    expect(partsToAsk(of, ready, costBuild(ready, 3))).to.deep.equal([
      { itemId: null, category: '', description: 'Frame', quantity: '4', unit: 'C62' },
    ])
    expect([...partsToRequest(ready, costBuild(ready, 3)).values()]).to.deep.equal([
      [{ supplierId: 's1', itemId: 'i1', offerId: 'o1', quantity: '25' }],
    ])
  })

  it('request packs in the unit that they are sold in', () => {
    const reel = offer({ unit: 'XRL', holds: '500', tiers: [{ from: '1', price: '20' }] })
    const ready = prepareBuild(facts({ offers: [reel] }), settings(), {})
    expect(partsToRequest(ready, costBuild(ready, 700)).get('s1')![0]!.quantity).to.equal('2')
  })
})

describe('build costing: who may do what', () => {
  const actor = (id: string, ...rights: string[]): ActorFacts => ({
    id,
    name: id,
    rights: new Set(rights),
    roles: [],
    costCentres: [],
    supplierId: null,
    standsInFor: [],
  })
  const open = { state: 'open', ownerId: 'joren' } as const
  it('its owner, and those who see all; asking and requesting take those rights', () => {
    const can = (one: ActorFacts, wanted: CostingAction): boolean => whyNotCosting(open, one, wanted).length === 0
    const joren = actor('joren', 'build.write', 'requisition.write')
    expect(['change', 'share', 'request', 'ask'].map(one => can(joren, one as CostingAction))).to.deep.equal([
      true,
      true,
      true,
      false,
    ])
    expect(can(actor('ines', 'build.write', 'requisition.write'), 'change')).to.equal(false)
    expect(can(actor('pilar', 'build.write', 'build.readAll', 'event.write'), 'ask')).to.equal(true)
    expect(can(actor('auditor', 'build.readAll'), 'change')).to.equal(false)
    expect(whyNotCosting({ ...open, state: 'putAway' }, joren, 'change').map(one => one.code)).to.deep.equal([
      'state.notNow',
    ])
    expect(costingActions(open, joren)[0]).to.deep.include({ action: 'request', primary: true })
    const away = moveCosting(open, joren, 'putAway')
    expect(away.ok && away.next).to.equal('putAway')
    expect(moveCosting(open, joren, 'takeUp').ok).to.equal(false)
  })

  it('links open until their last day, unless they were ended', () => {
    expect(linkOpens({ endsOn: DAY, endedAt: null }, DAY)).to.equal(true)
    expect(linkOpens({ endsOn: '2026-11-30', endedAt: null }, DAY)).to.equal(false)
    expect(linkOpens({ endsOn: DAY, endedAt: 'then' }, DAY)).to.equal(false)
    expect(whyNotShareUntil(DAY, DAY)).to.deep.equal([])
    expect(whyNotShareUntil('2027-12-02', DAY)).to.deep.equal([])
    expect(whyNotShareUntil('2027-12-03', DAY).length).to.equal(1)
    expect(whyNotShareUntil('2026-11-30', DAY).length).to.equal(1)
  })
})

describe('build costing: notes', () => {
  const notesOf = (
    builds: number,
    of: Partial<BuildFacts>,
    with_: Partial<BuildSettings> = {},
    own: PartSettings = {},
  ): unknown[] => {
    const prepared = prepareBuild(facts(of), settings(with_), { [I1]: own })
    return partNotes(prepared, costBuild(prepared, builds), 0).map(one => [one.code, one.details])
  }
  it('say why more is bought than needed', () => {
    const tiers = [
      { from: '1', price: '2' },
      { from: '100', price: '1' },
    ]
    expect(notesOf(60, { offers: [offer({ tiers })] })).to.deep.equal([['build.tierAbove', { quantity: '100' }]])
    expect(notesOf(7, { offers: [offer({ multiple: '5' })] })).to.deep.equal([['build.packs', { multiple: '5' }]])
    expect(notesOf(7, { offers: [offer({ minimum: '9' })] })).to.deep.equal([['build.minimum', { minimum: '9' }]])
    expect(notesOf(7, {}, {}, { onHand: '2' })).to.deep.equal([['build.fromStock', { quantity: '2' }]])
    expect(notesOf(7, {}, { policy: 'preferred', preferred: ['s2'] })).to.deep.equal([['build.nonePreferred', {}]])
    expect(notesOf(7, {}, {}, { offerId: 'o1' })).to.deep.equal([['build.byHand', {}]])
    expect(notesOf(7, { offers: [] })).to.deep.equal([['build.no.noOffer', {}]])
    expect(notesOf(7, { items: [item({ discontinued: true, replacedBy: 'i9' })] })).to.deep.equal([
      ['build.discontinuedTake', {}],
    ])
    expect(notesOf(7, { items: [item({ discontinued: true })] })).to.deep.equal([['build.discontinued', {}]])
    const stocked = { offers: [offer({ stock: '4' }), offer({ id: 'o2', stock: '4' })] }
    expect(notesOf(7, stocked, { stockedOnly: true })).to.deep.equal([['build.split', { suppliers: 2 }]])
  })
})

describe('build costing: figures', () => {
  const of = {
    lines: [line(), line({ itemId: 'i2', quantity: '2' }), line({ itemId: null, description: 'Box' })],
    items: [item(), item({ id: 'i2' })],
    offers: [
      offer({ minimum: '10' }),
      offer({ id: 'o2', itemId: 'i2', supplierId: 's2', tiers: [{ from: '1', price: '30' }], leadTimeDays: 10 }),
    ],
  }
  it('are the sum, one build, the excess and when all is in', () => {
    const prepared = prepareBuild(facts(of), settings(), {})
    const costed = costBuild(prepared, 3)
    expect({ ...buildFigures(facts(of), costed), each: buildFigures(facts(of), costed).each.toFixed() }).to.deep.equal({
      total: 20_000n,
      each: '6666.67',
      excess: 1400n,
      suppliers: 2,
      inOn: '2026-12-15',
      parts: 3,
      unpriced: 1,
    })
    expect(drivers(costed, 5)).to.deep.equal([
      { part: 1, cost: 18_000, upTo: 90 },
      { part: 0, cost: 2000, upTo: 100 },
    ])
    expect(excesses(prepared, costed)).to.deep.equal([{ part: 0, steps: 7, value: 1400 }])
    expect(
      buildFigures(facts({ lines: [] }), costBuild(prepareBuild(facts({ lines: [] }), settings(), {}), 1)).inOn,
    ).to.equal(null)
  })

  it('name better numbers of builds near the wanted one, and what makes the steps of the curve', () => {
    const tiers = [
      { from: '1', price: '2' },
      { from: '112', price: '1.5' },
    ]
    const prepared = prepareBuild(facts({ offers: [offer({ tiers, multiple: '4' })] }), settings(), {})
    const curve = costCurve(prepared, 160)
    // 80 ones cost 160.00, 112 cost 168.00: from 85 on 112 are bought
    expect(curve.totals[79]).to.equal(16_000)
    expect(curve.totals[84]).to.equal(16_800)
    expect(betterNear(curve, 100)).to.deep.equal([{ builds: 112, percent: 10.7 }])
    expect(betterNear(curve, 112)).to.deep.equal([])
    expect(curveSteps(prepared, curve, 2).every(step => step.parts[0]!.part === 0)).to.equal(true)
    expect(betterNear(curve, 300)).to.deep.equal([])
  })

  it('use as few suppliers as can be', () => {
    const lines = ['i1', 'i2', 'i3'].map(itemId => line({ itemId }))
    const items = ['i1', 'i2', 'i3'].map(id => item({ id }))
    const by = (itemId: string, supplierId: string, price: string): BuildOffer =>
      offer({ id: itemId + supplierId, itemId, supplierId, tiers: [{ from: '1', price }] })
    const offers = [
      by('i1', 's1', '1'),
      by('i2', 's2', '1'),
      by('i3', 's3', '1'),
      by('i1', 's3', '2'),
      by('i2', 's3', '2'),
      by('i1', 's2', '1.5'),
    ]
    const few = facts({ lines, items, offers })
    const assigned = fewestSuppliers(prepareBuild(few, settings({ policy: 'fewest' }), {}), 10)
    expect(new Set(assigned.values())).to.deep.equal(new Set(['s3']))
    const costed = costBuild(prepareBuild(few, settings({ policy: 'fewest' }), {}, assigned), 10)
    expect([costed.total, buildFigures(few, costed).suppliers]).to.deep.equal([5000n, 1])
    expect(fewestSuppliers(prepareBuild(facts({ lines: [] }), settings(), {}), 1).size).to.equal(0)
  })

  it('tell what has changed since the day they are of', () => {
    const now = facts({
      offers: [offer({ tiers: [{ from: '1', price: '2.1' }] }), offer({ id: 'new', supplierId: 's2' })],
      items: [item({ discontinued: true })],
      rates: { EUR: '1', NOK: '0.09' },
    })
    const then = facts({ offers: [offer(), offer({ id: 'old', supplierId: 's3', currency: 'NOK' })] })
    expect(changesBetween(then, now)).to.deep.equal([
      { kind: 'price', itemId: 'i1', supplierId: 's1', percent: '5' },
      { kind: 'newOffer', itemId: 'i1', supplierId: 's2' },
      { kind: 'offerGone', itemId: 'i1', supplierId: 's3' },
      { kind: 'discontinued', itemId: 'i1' },
      { kind: 'rate', currency: 'NOK', percent: '4.7' },
    ])
    expect(changesBetween(then, then)).to.deep.equal([])
    expect(changesBetween(facts(), facts({ offers: [offer({ minimum: '5' })] }))[0]!.kind).to.equal('terms')
    expect(
      changesBetween(facts(), facts({ pricedOn: '2027-01-01', offers: [offer({ validTo: '2026-12-31' })] }))[0]!.kind,
    ).to.equal('offerGone')
  })
})

describe('build costing: settings', () => {
  it('refuse what cannot be built', () => {
    const codes = (with_: Partial<BuildSettings>): string[] =>
      whyNotSettings(settings(with_)).map(one => `${one.code} ${one.place}`)
    expect(codes({})).to.deep.equal([])
    expect(codes({ builds: 0 })).to.deep.equal(['build.builds builds'])
    expect(codes({ builds: 1.5 })).to.deep.equal(['build.builds builds'])
    expect(codes({ builds: 1_000_000_001 })).to.deep.equal(['build.builds builds'])
    expect(codes({ builds: 1_000_000_000, currency: 'XXX', inBy: 'soon' })).to.deep.equal([
      'money.unknownCurrency currency',
      'build.day inBy',
    ])
    expect(codes({ wastage: { percent: '-1', pieces: '-1' } })).to.deep.equal([
      'build.percent wastage.percent',
      'build.notBelowZero wastage.pieces',
    ])
    expect(codes({ wastageByCategory: { Pipe: { percent: '1001', pieces: '' } } })).to.deep.equal([
      'build.percent wastageByCategory.Pipe.percent',
    ])
  })

  it('know regions by their countries among those that there are', () => {
    const all = ['NO', 'CH', 'NL', 'JP']
    expect(regionOf(['NO', 'CH'], all)).to.equal('EFTA')
    expect(regionOf(['NL'], all)).to.equal('EU')
    expect(regionOf(['CH', 'NL', 'NO'], all)).to.equal('Europe')
    expect([regionOf([], all), regionOf(['NO', 'NL'], all)]).to.deep.equal([undefined, undefined])
  })

  it('write steps as they are read', () => {
    expect([stepsText(1450, 2), stepsText(5, 3), stepsText(0, 2), stepsText(12, 0)]).to.deep.equal([
      '14.5',
      '0.005',
      '0',
      '12',
    ])
  })
})
