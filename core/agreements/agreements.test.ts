import { expect } from 'chai'
import fc from 'fast-check'
import { agreementActions } from '#core/agreements/actions.ts'
import { againstEntries, callOffEntries, callsOff } from '#core/agreements/callOff.ts'
import { whyNotCaller } from '#core/agreements/callers.ts'
import {
  againstCallOff,
  againstDay,
  ceilingUse,
  fullest,
  fullLines,
  isUsedUp,
  takenByLine,
} from '#core/agreements/ceilings.ts'
import {
  type ConsumedByKind,
  consumedAll,
  consumptionEntries,
  inAgreement,
  NOTHING_CONSUMED,
  orderConsumes,
  requestConsumes,
  sumConsumption,
} from '#core/agreements/consumption.ts'
import { type AgreementContent, type AgreementLine, type Ceiling, whyNotContent } from '#core/agreements/content.ts'
import { askAgreement, decideAgreement, withdrawAgreement } from '#core/agreements/decide.ts'
import { agreementDesk } from '#core/agreements/desk.ts'
import { contentDifferences, pricingText } from '#core/agreements/differences.ts'
import type { AgreementFacts } from '#core/agreements/facts.ts'
import { forecastUse } from '#core/agreements/forecast.ts'
import { indexPriceOn, priceOn, pricesAhead, tiersOn } from '#core/agreements/prices.ts'
import { savedOn } from '#core/agreements/saved.ts'
import { offerEndsOn, standsAs, warningsDue } from '#core/agreements/standing.ts'
import { AGREEMENT_GROUPS, AGREEMENT_STATES, type AgreementState } from '#core/agreements/states.ts'
import { endByAmendment, orderDeed, requestDeed, sealAgreement, windDown } from '#core/agreements/windDown.ts'
import {
  beginAmendment,
  cancelAgreement,
  dropAmendment,
  whyNotProposed,
  writeAgreement,
} from '#core/agreements/write.ts'
import { NO_QUANTITIES } from '#core/ledger/quantity.ts'
import { minor } from '#core/money/amount.ts'
import { stop, type Reason } from '#core/reasons.ts'
import { ADA, actorOf, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'

const actorWith = (id: string, rights: readonly string[]) => actorOf(id, { rights: new Set(rights) })

const line: AgreementLine = { id: 'l1', itemId: 'salt', description: 'Sea salt', category: 'Salt', unit: 'KGM', currency: 'EUR', pricing: { kind: 'tiers', tiers: [{ from: '0', price: '0.5' }, { from: '1000', price: '0.4' }] }, priceBase: '1', listPrice: '0.6', minimum: '25', multiple: '25', leadTimeDays: 4, incoterm: '', incotermPlace: '' } // prettier-ignore
const content: AgreementContent = { title: 'Salt', currency: 'EUR', startsOn: '2026-01-01', endsOn: '2026-12-31', warnPercent: 80, whenOver: 'stop', ceilings: [{ scope: 'whole', category: '', lineId: null, amount: '1000', quantity: '' }], callers: { costCentres: [], addressIds: [], personIds: [] }, incoterm: 'DAP', incotermPlace: 'Saltmere', serviceLevel: '', terms: '', lines: [line, { ...line, id: 'l2', description: 'Rock salt' }] } // prettier-ignore
const consumed = (reserved: bigint, committed = 0n, used = 0n, quantity = '0'): ConsumedByKind => ({
  reserved: { amount: minor(reserved), quantity },
  committed: { amount: minor(committed), quantity: '0' },
  used: { amount: minor(used), quantity: '0' },
})
const whole = content.ceilings[0]!
const agreement = (changed: Partial<AgreementFacts> = {}): AgreementFacts => ({
  id: 'a',
  number: 'A-1',
  state: 'active',
  currency: 'EUR',
  startsOn: content.startsOn,
  endsOn: content.endsOn,
  whenOver: 'stop',
  ceilings: content.ceilings,
  lines: content.lines.map(({ id, description, category, unit }) => ({ id, description, category, unit, consumed: NOTHING_CONSUMED })), // prettier-ignore
  title: 'Salt',
  supplierId: 's',
  supplier: 'Salines',
  ownerId: 'rasmus',
  revision: 1,
  content,
  wanted: null,
  amendment: 'none',
  consent: null,
  supplierReasons: [],
  warned: { days: [], percent: false },
  steps: [],
  createdAt: '2026-01-01T00:00:00Z',
  ...changed,
})
const withUse = (...by: ConsumedByKind[]): Pick<AgreementFacts, 'lines'> => ({
  lines: agreement().lines.map((one, at) => ({ ...one, consumed: by[at] ?? NOTHING_CONSUMED })),
})
const rasmus = actorWith('rasmus', ['agreement.write'])
const codes = (reasons: readonly Reason[]): string[] => reasons.map(one => one.code)
const why = (decision: { ok: true } | { ok: false; reasons: readonly Reason[] }): string[] =>
  decision.ok ? [] : codes(decision.reasons)
const taken = (amount: bigint, quantity = '0', id = 'l1') => new Map([[id, { amount: minor(amount), quantity }]])

describe('a framework agreement', () => {
  it('has a way out of every state but the last ones', () => {
    for (const state of Object.keys(AGREEMENT_STATES) as AgreementState[])
      expect(Object.keys(AGREEMENT_STATES[state]).length > 0, state).to.equal(
        !(AGREEMENT_GROUPS.over as readonly string[]).includes(state),
      )
  })

  it('says everything that is wrong with it, with its place', () => {
    expect(whyNotContent(content)).to.deep.equal([])
    const faults = (changed: Partial<AgreementContent>): string[] =>
      whyNotContent({ ...content, ...changed }).map(one => `${one.place} ${one.code}`)
    expect(faults({ title: ' ', lines: [], ceilings: [] })).to.deep.equal(['title agreement.noTitle', 'lines agreement.noLines']) // prettier-ignore
    expect(faults({ endsOn: '2025-12-31' })).to.deep.equal(['endsOn agreement.days'])
    expect(faults({ endsOn: '2037-01-01' })).to.deep.equal(['endsOn agreement.days'])
    expect(faults({ startsOn: 'x' })).to.deep.equal(['endsOn agreement.days'])
    expect(faults({ endsOn: content.startsOn })).to.deep.equal([])
    expect(faults({ warnPercent: 0 })).to.deep.equal(['warnPercent agreement.warn'])
    expect(faults({ warnPercent: 101 })).to.deep.equal(['warnPercent agreement.warn'])
    expect(faults({ currency: 'XXQ' })).to.deep.equal(['currency money.unknownCurrency'])
    const ofLine = (changed: Partial<AgreementLine>): string[] => faults({ ceilings: [], lines: [{ ...line, ...changed }] }) // prettier-ignore
    expect(ofLine({ description: ' ' })).to.deep.equal(['lines.0.description agreement.lineWords'])
    expect(ofLine({ unit: 'QQ' })).to.deep.equal(['lines.0.unit line.unit'])
    expect(ofLine({ currency: 'XXQ' as 'EUR' })).to.deep.equal(['lines.0.currency money.unknownCurrency'])
    expect(ofLine({ priceBase: '0' })).to.deep.equal(['lines.0.priceBase agreement.figure'])
    expect(ofLine({ minimum: '0' })).to.deep.equal(['lines.0.minimum agreement.figure'])
    expect(ofLine({ multiple: '-1' })).to.deep.equal(['lines.0.minimum agreement.figure'])
    expect(ofLine({ multiple: '0' })).to.deep.equal([])
    expect(ofLine({ listPrice: '-1' })).to.deep.equal(['lines.0.listPrice agreement.figure'])
    expect(ofLine({ listPrice: '' })).to.deep.equal([])
    expect(ofLine({ leadTimeDays: -1 })).to.deep.equal(['lines.0.leadTimeDays agreement.figure'])
    const tiers = [{ from: '0', price: '1' }]
    expect(ofLine({ pricing: { kind: 'tiers', tiers: [] } })).to.deep.equal(['lines.0.pricing agreement.tiers'])
    expect(ofLine({ pricing: { kind: 'tiers', tiers: [...tiers, { from: '0.0', price: '2' }] } })).to.deep.equal(['lines.0.pricing agreement.tiers']) // prettier-ignore
    expect(ofLine({ pricing: { kind: 'periods', periods: [] } })).to.deep.equal(['lines.0.pricing agreement.periods'])
    expect(ofLine({ pricing: { kind: 'periods', periods: [{ from: '2027-02-01', tiers }] } })).to.deep.equal(['lines.0.pricing agreement.periodAfter']) // prettier-ignore
    expect(ofLine({ pricing: { kind: 'periods', periods: [{ from: '2026-02-01', tiers }, { from: '2026-02-01', tiers }] } })).to.deep.equal(['lines.0.pricing agreement.periods']) // prettier-ignore
    const index = { kind: 'index', index: 'X', basePrice: '1', fixedShare: '0.4', baseValue: '100', lowest: '', highest: '' } as const // prettier-ignore
    expect(ofLine({ pricing: index })).to.deep.equal([])
    for (const wrong of [
      { index: '' },
      { fixedShare: '1.1' },
      { baseValue: '0' },
      { lowest: '3', highest: '2' },
      { lowest: '-1' },
    ])
      // prettier-ignore
      expect(ofLine({ pricing: { ...index, ...wrong } })).to.deep.equal(['lines.0.pricing agreement.index'])
    const ofCeilings = (...ceilings: Ceiling[]): string[] => faults({ ceilings })
    expect(ofCeilings(whole, whole)).to.deep.equal(['ceilings.1 agreement.ceilingTwice'])
    expect(ofCeilings({ ...whole, amount: '' })).to.deep.equal(['ceilings.0 agreement.ceilingFigure'])
    expect(ofCeilings({ ...whole, amount: '0' })).to.deep.equal(['ceilings.0 agreement.ceilingFigure'])
    expect(ofCeilings({ ...whole, quantity: '5' })).to.deep.equal(['ceilings.0 agreement.ceilingQuantity'])
    expect(ofCeilings({ ...whole, scope: 'line', lineId: 'l9' })).to.deep.equal(['ceilings.0 agreement.ceilingOf'])
    expect(ofCeilings({ ...whole, scope: 'category', category: 'Feed' })).to.deep.equal(['ceilings.0 agreement.ceilingOf']) // prettier-ignore
    expect(ofCeilings({ ...whole, scope: 'line', lineId: 'l1', quantity: '5' })).to.deep.equal([])
  })
})

describe('prices of an agreement', () => {
  const index = { kind: 'index', index: 'NI', basePrice: '2', fixedShare: '0.4', baseValue: '100', lowest: '1.9', highest: '2.3' } as const // prettier-ignore
  const values = [
    { index: 'NI', month: '2026-04-01', value: '90' },
    { index: 'NI', month: '2026-05-01', value: '110' },
    { index: 'CU', month: '2026-06-01', value: '500' },
  ]

  it('follow an index: base × (0.4 + 0.6 × index ÷ index at the base)', () => {
    expect(indexPriceOn(index, values, '2026-05-20')).to.deep.equal({ price: '2.12', month: '2026-05-01', provisional: false, held: null }) // prettier-ignore
    expect(indexPriceOn({ ...index, baseValue: '99' }, values, '2026-05-01').price).to.equal('2.1333')
  })

  it('stand on the last value while one is missing, on the base price before the first, and keep within their limits', () => {
    expect(indexPriceOn(index, values, '2026-06-02')).to.deep.include({ price: '2.12', month: '2026-05-01', provisional: true }) // prettier-ignore
    expect(indexPriceOn(index, values, '2026-03-31')).to.deep.include({ price: '2', month: '', provisional: true })
    expect(indexPriceOn({ ...index, lowest: '2.2' }, values, '2026-05-20')).to.deep.include({ price: '2.2', held: 'lowest' }) // prettier-ignore
    expect(indexPriceOn({ ...index, highest: '2.1' }, values, '2026-05-20')).to.deep.include({ price: '2.1', held: 'highest' }) // prettier-ignore
    expect(indexPriceOn({ ...index, lowest: '', highest: '' }, values, '2026-05-20').price).to.equal('2.12')
  })

  it('change from period to period, the first before any', () => {
    const pricing = { kind: 'periods', periods: [{ from: '2026-06-01', tiers: [{ from: '0', price: '3' }] }, { from: '2026-02-01', tiers: [{ from: '0', price: '2' }] }] } as const // prettier-ignore
    expect(['2026-01-01', '2026-02-01', '2026-05-31', '2026-06-01'].map(day => tiersOn(pricing, [], day)[0]!.price)).to.deep.equal(['2', '2', '2', '3']) // prettier-ignore
    expect(pricesAhead({ pricing, priceBase: '1' }, { startsOn: '2026-01-01' }, [], '2026-03-01').map(one => `${one.fromDay} ${one.tiers[0]!.price}`)).to.deep.equal(['2026-03-01 2', '2026-06-01 3']) // prettier-ignore
    expect(pricesAhead({ pricing, priceBase: '1' }, { startsOn: '2026-07-01' }, [], '2026-03-01').map(one => one.fromDay)).to.deep.equal(['2026-07-01']) // prettier-ignore
  })

  it('are the tier of the quantity', () => {
    expect([priceOn(line, '999', [], '2026-03-01'), priceOn(line, '1000', [], '2026-03-01')]).to.deep.equal(['0.5', '0.4']) // prettier-ignore
  })

  it('save what the list asks more; nothing is said without a list price or in another currency', () => {
    expect(savedOn(line, { amount: 5000n, quantity: '100' }, 'EUR')).to.equal(1000n)
    expect(savedOn(line, { amount: -500n, quantity: '-10' }, 'EUR')).to.equal(500n)
    expect(savedOn({ ...line, listPrice: '' }, { amount: 5000n, quantity: '100' }, 'EUR')).to.equal(null)
    expect(savedOn(line, { amount: 5000n, quantity: '100' }, 'NOK')).to.equal(null)
  })
})

describe('what is called off', () => {
  const sums = (changed: Partial<typeof NO_QUANTITIES>) => ({ ...NO_QUANTITIES, ...changed })
  const measured = { kind: 'goods', proof: 'count', quantity: '10' } as const

  it('is reserved by what is requested and not ordered, committed by what may still be billed, used by bills', () => {
    expect(requestConsumes({ quantity: '10', sums: sums({ requested: '10', ordered: '4' }) }, minor(1000)).reserved).to.deep.equal({ amount: 600n, quantity: '6' }) // prettier-ignore
    expect(requestConsumes({ quantity: '10', sums: sums({ requested: '10', ordered: '14' }) }, minor(1000)).reserved.amount).to.equal(0n) // prettier-ignore
    const order = orderConsumes({ ...measured, sums: sums({ ordered: '10', received: '5', billed: '3' }) }, minor(1000), minor(330), 'issued') // prettier-ignore
    expect([order.committed, order.used]).to.deep.equal([{ amount: 700n, quantity: '7' }, { amount: 330n, quantity: '3' }]) // prettier-ignore
    const closed = orderConsumes({ ...measured, sums: sums({ ordered: '10', received: '5', billed: '3' }) }, minor(1000), minor(330), 'closed') // prettier-ignore
    expect(closed.committed).to.deep.equal({ amount: 200n, quantity: '2' })
    expect(orderConsumes({ ...measured, sums: sums({}) }, minor(1000), minor(0), 'draft').committed.amount).to.equal(0n)
  })

  it('is counted in the agreement’s currency at the rate that was fixed', () => {
    const to = { currency: 'EUR', rate: '1', base: 'EUR' }
    expect(inAgreement({ amount: 500n, baseAmount: 43n, currency: 'NOK' }, to)).to.equal(43n)
    expect(inAgreement({ amount: 500n, baseAmount: 43n, currency: 'NOK' }, { ...to, currency: 'NOK' })).to.equal(500n)
    expect(inAgreement({ amount: 500n, baseAmount: 4300n, currency: 'EUR' }, { currency: 'USD', rate: '0.86', base: 'EUR' })).to.equal(500n * 0n + 5000n) // prettier-ignore
    expect(inAgreement({ amount: 4300n, baseAmount: 4300n, currency: 'EUR' }, { currency: 'JPY', rate: '0.0062', base: 'EUR' })).to.equal(6935n) // prettier-ignore
  })

  it('moves by differences that re-add, whatever came before', () => {
    const figure = fc.record({ amount: fc.bigInt(0n, 10n ** 9n).map(minor), quantity: fc.nat(10_000).map(String) })
    const by = fc.record({ reserved: figure, committed: figure, used: figure })
    fc.assert(
      fc.property(fc.array(by, { minLength: 1, maxLength: 6 }), steps => {
        let stands: ConsumedByKind = NOTHING_CONSUMED
        const all = steps.flatMap(wanted => {
          const entries = consumptionEntries({ lineId: 'x', agreementLineId: 'l1' }, stands, wanted)
          stands = wanted
          return entries
        })
        expect(sumConsumption(all)).to.deep.equal(steps.at(-1))
      }),
    )
  })

  it('is given back to the line that it stood on where another one is called off now', () => {
    const entries = callOffEntries([
      { lineId: 'x', agreementLineId: 'l2', wanted: consumed(300n), stands: [{ agreementLineId: 'l1', by: consumed(200n) }] }, // prettier-ignore
    ])
    expect(entries.map(one => [one.agreementLineId, one.amount])).to.deep.equal([['l1', -200n], ['l2', 300n]]) // prettier-ignore
    expect(callOffEntries([{ lineId: 'x', agreementLineId: null, wanted: NOTHING_CONSUMED, stands: [{ agreementLineId: 'l1', by: consumed(200n) }] }]).map(one => one.amount)).to.deep.equal([-200n]) // prettier-ignore
    expect([callsOff({ agreementLineId: 'l1', routes: ['callOff'] }), callsOff({ agreementLineId: 'l1', routes: ['orderNow'] }), callsOff({ agreementLineId: null, routes: ['callOff'] })]).to.deep.equal([true, false, false]) // prettier-ignore
  })
})

describe('a ceiling', () => {
  const near = { ...agreement(), ...withUse(consumed(90_000n, 5_000n, 4_000n)) }
  it('is exactly enough, and not a cent more', () => {
    expect(againstCallOff(near, taken(1_000n), '2026-06-01')).to.deep.equal([])
    const over = againstCallOff(near, taken(1_001n), '2026-06-01')
    expect([over[0]!.code, over[0]!.level, over[0]!.details.left, over[0]!.details.over]).to.deep.equal(['agreement.over', 'stop', 'EUR 10.00', 'EUR 0.01']) // prettier-ignore
    expect(againstCallOff({ ...near, whenOver: 'check' }, taken(1_001n), '2026-06-01')[0]!.level).to.equal('check')
  })

  it('counts a category or a line alone, and quantities in the unit of the line', () => {
    const byLine = { ...near, ceilings: [{ scope: 'line', category: '', lineId: 'l2', amount: '', quantity: '100' } as const] } // prettier-ignore
    expect(againstCallOff(byLine, taken(999_999n, '500'), '2026-06-01')).to.deep.equal([])
    expect(againstCallOff(byLine, taken(1n, '100', 'l2'), '2026-06-01')).to.deep.equal([])
    expect(againstCallOff(byLine, taken(-1n, '100', 'l2'), '2026-06-01')).to.deep.equal([])
    expect(codes(againstCallOff(byLine, taken(0n, '101', 'l2'), '2026-06-01'))).to.deep.equal(['agreement.overQuantity']) // prettier-ignore
    const full = { ...byLine, ...withUse(NOTHING_CONSUMED, consumed(1n, 0n, 0n, '150')) }
    expect(againstCallOff(full, taken(1n, '0', 'l2'), '2026-06-01')).to.deep.equal([])
    const over = againstCallOff(byLine, taken(1n, '100.5', 'l2'), '2026-06-01')
    expect([over[0]!.code, over[0]!.details.over, over[0]!.details.of]).to.deep.equal(['agreement.overQuantity', '0.5', 'Rock salt']) // prettier-ignore
    const byCategory = { ...near, ceilings: [{ scope: 'category', category: 'Salt', lineId: null, amount: '1000', quantity: '' } as const] } // prettier-ignore
    expect(codes(againstCallOff(byCategory, taken(1_001n, '0', 'l2'), '2026-06-01'))).to.deep.equal(['agreement.over'])
  })

  it('says how much is used, and when nothing more can be called off', () => {
    expect(fullest(ceilingUse(near))).to.equal('99')
    expect([isUsedUp(near), isUsedUp({ ...near, ...withUse(consumed(100_000n)) })]).to.deep.equal([false, true])
    const lineFull = { ...near, ceilings: [{ scope: 'line', category: '', lineId: 'l1', amount: '990', quantity: '' } as const] } // prettier-ignore
    expect([isUsedUp(lineFull), fullLines(lineFull)]).to.deep.equal([false, ['l1']])
    expect(isUsedUp({ ...near, ceilings: [] })).to.equal(false)
    expect(fullest([])).to.equal('0')
  })

  it('never refuses what takes nothing more; a dearer bill is judged where it is matched', () => {
    expect(againstCallOff({ ...near, state: 'sealed' }, taken(-5n), '2026-06-01')).to.deep.equal([])
    expect(againstCallOff({ ...near, state: 'sealed' }, taken(0n), '2026-06-01')).to.deep.equal([])
    const spent = { ...near, ...withUse(consumed(200_000n)) }
    expect(againstCallOff(spent, taken(0n, '3'), '2026-06-01')).to.deep.equal([])
    expect(codes(againstCallOff({ ...near, state: 'sealed' }, taken(-5n, '1'), '2026-06-01'))).to.deep.equal(['agreement.notInForce']) // prettier-ignore
    const entries = [
      { agreementLineId: 'l1', lineId: 'x', kind: 'committed' as const, amount: minor(-1000n), quantity: '-2' },
      { agreementLineId: 'l1', lineId: 'x', kind: 'used' as const, amount: minor(1300n), quantity: '2' },
    ]
    expect(takenByLine(entries).get('l1')).to.deep.equal({ amount: -1000n, quantity: '-2' })
    expect(takenByLine([{ ...entries[1]!, amount: minor(-1300n), quantity: '-2' }]).get('l1')).to.deep.equal({ amount: -1300n, quantity: '-2' }) // prettier-ignore
  })

  it('is open only while the agreement is in force', () => {
    const at = (state: AgreementState, day: string): string[] => codes(againstDay({ ...near, state }, day))
    expect(at('active', '2025-12-31')).to.deep.equal(['agreement.notYet'])
    expect(at('active', '2026-01-01')).to.deep.equal([])
    expect(at('active', '2026-12-31')).to.deep.equal([])
    expect(at('active', '2027-01-01')).to.deep.equal(['agreement.ended'])
    expect(at('ended', '2027-01-01')).to.deep.equal(['agreement.ended'])
    expect(at('windingDown', '2026-06-01')).to.deep.equal(['agreement.notInForce'])
    expect(at('draft', '2026-06-01')).to.deep.equal(['agreement.notInForce'])
    expect(at('usedUp', '2026-06-01')).to.deep.equal([])
    expect(codes(againstCallOff(near, taken(1n, '0', 'l9'), '2026-06-01'))).to.deep.equal(['agreement.lineGone'])
    expect(codes(againstEntries([near], [{ agreementLineId: 'l1', lineId: 'x', kind: 'reserved', amount: minor(1_001n), quantity: '1' }], '2026-06-01'))).to.deep.equal(['agreement.over']) // prettier-ignore
  })

  it('is for those whom the agreement names', () => {
    const only = { number: 'A-1', callers: { personIds: ['ines'], costCentres: ['AC-110'], addressIds: ['quay'] } }
    const caller = { personId: 'ines', costCentres: ['AC-110'], addressId: 'quay' }
    expect(whyNotCaller(only, caller)).to.deep.equal([])
    expect(codes(whyNotCaller(only, { personId: 'joren', costCentres: ['AC-110', 'LS-210'], addressId: 'hall' }))).to.deep.equal(['agreement.notThisPerson', 'agreement.notThisCentre', 'agreement.notThisPlace']) // prettier-ignore
    expect(whyNotCaller(only, { ...caller, addressId: null })).to.deep.equal([])
    expect(whyNotCaller({ number: 'A-1', callers: content.callers }, { personId: 'x', costCentres: [], addressId: 'y' })).to.deep.equal([]) // prettier-ignore
  })
})

describe('an agreement day by day', () => {
  it('is used up, comes back, ends, and is offered as long as it can be called off', () => {
    const full = { ...agreement(), ...withUse(consumed(100_000n)) }
    expect(standsAs(full, '2026-06-01')).to.equal('usedUp')
    expect(standsAs({ ...agreement(), state: 'usedUp' }, '2026-06-01')).to.equal('active')
    expect(standsAs(agreement(), '2027-01-01')).to.equal('ended')
    expect(standsAs(agreement(), '2026-12-31')).to.equal('active')
    expect(standsAs({ ...full, state: 'windingDown' }, '2027-01-01')).to.equal('windingDown')
    expect(offerEndsOn(agreement(), 'l1', '2026-06-01')).to.equal('2026-12-31')
    expect(offerEndsOn({ ...full, state: 'usedUp' }, 'l1', '2026-06-01')).to.equal('2026-05-31')
    expect(offerEndsOn(full, 'l1', '2026-06-01')).to.equal('2026-05-31')
    expect(offerEndsOn({ ...agreement(), state: 'ended' }, 'l1', '2027-06-01')).to.equal('2026-12-31')
  })

  it('warns 90, 30 and 7 days before its end, and at its share of a ceiling, each once', () => {
    const kinds = (facts: AgreementFacts, day: string): string[] => warningsDue(facts, day).map(one => `${one.kind} ${one.figure}`) // prettier-ignore
    expect(kinds(agreement(), '2026-10-01')).to.deep.equal([])
    expect(kinds(agreement(), '2026-10-02')).to.deep.equal(['days 90'])
    expect(kinds(agreement({ warned: { days: [90], percent: false } }), '2026-11-30')).to.deep.equal([])
    expect(kinds(agreement({ warned: { days: [90], percent: false } }), '2026-12-01')).to.deep.equal(['days 30'])
    expect(kinds(agreement({ warned: { days: [90, 30, 7], percent: false } }), '2026-12-30')).to.deep.equal([])
    const used = agreement(withUse(consumed(80_000n)))
    expect(kinds(used, '2026-06-01')).to.deep.equal(['percent 80'])
    expect(kinds({ ...used, warned: { days: [], percent: true } }, '2026-06-01')).to.deep.equal([])
    expect(warningsDue(used, '2026-12-30').at(-1)!.warned).to.deep.equal({ days: [7], percent: true })
    expect(kinds({ ...used, state: 'usedUp' }, '2026-12-30')).to.deep.equal([])
  })

  it('forecasts the day on which it is used up from the pace of the last half year', () => {
    const points = [{ day: '2026-01-01', total: '100' }, { day: '2026-05-01', total: '400' }] // prettier-ignore
    expect(forecastUse(points, '1000', '2026-05-31')).to.deep.equal({ perDay: '2.67', usedUpOn: '2027-01-11' })
    expect(forecastUse(points, '1000', '2026-01-10')).to.equal(null)
    expect(forecastUse([], '1000', '2026-05-31')).to.equal(null)
    expect(forecastUse([...points].reverse(), '1000', '2026-05-31')).to.deep.equal({ perDay: '2.67', usedUpOn: '2027-01-11' }) // prettier-ignore
    expect(forecastUse([...points, { day: '2026-06-15', total: '900' }], '1000', '2026-05-31')!.perDay).to.equal('2.67')
    const early = [{ day: '2025-01-01', total: '300' }, { day: '2026-05-01', total: '400' }] // prettier-ignore
    expect(forecastUse(early, '1000', '2026-05-31')!.perDay).to.equal('0.56')
    expect(forecastUse([{ day: '2026-05-17', total: '14' }, { day: '2026-05-20', total: '28' }], '1000', '2026-05-31')!.perDay).to.equal('2') // prettier-ignore
    expect(forecastUse([{ day: '2026-05-18', total: '14' }], '1000', '2026-05-31')).to.equal(null)
    expect(forecastUse(points, '0', '2026-05-31')).to.equal(null)
    expect(forecastUse([{ day: '2024-01-01', total: '100' }], '1000', '2026-05-31')).to.equal(null)
    expect(forecastUse(points, '', '2026-05-31')).to.equal(null)
    expect(forecastUse(points, '400', '2026-05-31')!.usedUpOn).to.equal('2026-05-31')
  })

  it('stands on the Desk of whoever keeps it with what waits', () => {
    const keys = (facts: AgreementFacts): string[] => agreementDesk(facts).map(one => one.key)
    expect(keys(agreement())).to.deep.equal(['agreementEnds'])
    expect(agreementDesk(agreement())[0]!.from).to.equal('2026-10-02')
    expect(keys(agreement(withUse(consumed(85_000n))))).to.deep.equal(['agreementEnds', 'agreementUsed'])
    expect(keys(agreement({ state: 'draft' }))).to.deep.equal(['agreementDraft'])
    expect(keys(agreement({ amendment: 'writing' }))).to.deep.equal(['agreementDraft'])
    expect(keys(agreement({ state: 'usedUp' }))).to.deep.equal(['agreementSpent'])
    expect(keys(agreement({ state: 'windingDown' }))).to.deep.equal([])
    const step = { position: 1, kind: 'order', documentId: 'o', number: 'O-1', state: 'person', reasons: [], at: null } as const // prettier-ignore
    expect(keys(agreement({ state: 'windingDown', steps: [step] }))).to.deep.equal(['agreementStops'])
    expect(keys(agreement({ state: 'sealed' }))).to.deep.equal([])
  })
})

describe('what is done with an agreement', () => {
  const draft = agreement({ state: 'draft', revision: 0, lines: [] })
  const question = (steps: number) => ({ purpose: 'agreement', documentKind: 'agreement', documentId: 'a', reason: '', steps: Array.from({ length: steps }, () => ({ stage: 1, asked: [], notBy: [], label: '' })) }) as const // prettier-ignore

  it('is written as a draft or an amendment, by those who may', () => {
    expect(writeAgreement(draft, content, rasmus)).to.deep.include({ ok: true })
    expect(writeAgreement(agreement(), content, rasmus)).to.deep.include({ ok: false })
    expect(writeAgreement(draft, content, actorWith('ines', []))).to.deep.include({ ok: false })
    const begun = beginAmendment(agreement(), rasmus)
    expect(begun.ok && begun.next).to.deep.equal({ state: 'active', amendment: 'writing', writes: content })
    expect(beginAmendment(agreement({ amendment: 'writing' }), rasmus).ok).to.equal(false)
    expect(beginAmendment(agreement({ state: 'sealed' }), rasmus).ok).to.equal(false)
    expect(dropAmendment(agreement({ amendment: 'writing' }), rasmus)).to.deep.include({ ok: true })
    expect(dropAmendment(agreement(), rasmus).ok).to.equal(false)
    expect(cancelAgreement(draft, rasmus, 'Not now.').ok).to.equal(true)
    expect(cancelAgreement(draft, rasmus, '').ok).to.equal(false)
    expect(cancelAgreement(agreement(), rasmus, 'Not now.').ok).to.equal(false)
  })

  it('is in force at once where nobody decides; an amendment wants a reason', () => {
    const asked = askAgreement(draft, question(0), rasmus, '', '2026-06-01')
    expect(asked.ok && [asked.next.state, asked.next.inForce, asked.did.action]).to.deep.equal(['active', content, 'activate']) // prettier-ignore
    const amending = agreement({ amendment: 'writing', wanted: { ...content, endsOn: '2027-06-30' } })
    expect(askAgreement(amending, question(0), rasmus, '', '2026-06-01').ok).to.equal(false)
    const amended = askAgreement(amending, question(0), rasmus, 'Longer.', '2026-06-01')
    expect(amended.ok && [amended.next.inForce!.endsOn, amended.did.action]).to.deep.equal(['2027-06-30', 'amended'])
    const waits = askAgreement(draft, question(1), rasmus, '', '2026-06-01')
    expect(waits.ok && [waits.next.state, waits.next.inForce]).to.deep.equal(['waiting', undefined])
    const waiting = askAgreement(amending, question(1), rasmus, 'Longer.', '2026-06-01')
    expect(waiting.ok && [waiting.next.state, waiting.next.amendment]).to.deep.equal(['active', 'waiting'])
    expect(askAgreement({ ...draft, supplierReasons: [stop('order.supplier.barred')] }, question(0), rasmus, '', '2026-06-01').ok).to.equal(false) // prettier-ignore
    expect(askAgreement(agreement(), question(0), rasmus, 'Why', '2026-06-01').ok).to.equal(false)
  })

  it('is refused where it would be over, change its currency or drop what is reserved', () => {
    expect(codes(whyNotProposed({ ...draft, content: { ...content, endsOn: '2026-05-31' } }, '2026-06-01'))).to.deep.equal(['agreement.endsBefore']) // prettier-ignore
    expect(codes(whyNotProposed(agreement({ wanted: { ...content, currency: 'NOK' } }), '2026-06-01'))).to.deep.equal(['agreement.currencyFixed']) // prettier-ignore
    const reserved = agreement({ ...withUse(NOTHING_CONSUMED, consumed(5n)), wanted: { ...content, lines: [line] } })
    expect(codes(whyNotProposed(reserved, '2026-06-01'))).to.deep.equal(['agreement.lineReserved'])
  })

  it('is decided by others, taken back by whoever asked', () => {
    const consent = { id: 'c', purpose: 'agreement', documentKind: 'agreement', documentId: 'a', askedBy: 'rasmus', state: 'open', amount: null, currency: null, steps: [{ id: 's', stage: 1, state: 'open', asked: [{ kind: 'person', personId: 'henrik' }], notBy: ['rasmus'], label: 'Rule', who: 'Henrik' }] } as const // prettier-ignore
    const waiting = agreement({ state: 'waiting', revision: 0, consent })
    const henrik = actorWith('henrik', [])
    expect(decideAgreement(waiting, rasmus, 'approve', '', '').ok).to.equal(false)
    const yes = decideAgreement(waiting, henrik, 'approve', '', '')
    expect(yes.ok && [yes.next.state, yes.next.inForce, yes.says[0]!.template]).to.deep.equal(['active', content, 'agreement.approved']) // prettier-ignore
    const no = decideAgreement(waiting, henrik, 'reject', 'Too dear.', '')
    expect(no.ok && [no.next.state, no.next.inForce, no.says[0]!.template]).to.deep.equal(['draft', undefined, 'agreement.refused']) // prettier-ignore
    const amended = agreement({ amendment: 'waiting', wanted: content, consent })
    const refused = decideAgreement(amended, henrik, 'reject', 'Too dear.', '')
    expect(refused.ok && [refused.next.state, refused.next.amendment]).to.deep.equal(['active', 'writing'])
    const back = withdrawAgreement(waiting, rasmus, 'Wait.')
    expect(back.ok && back.next.state).to.equal('draft')
    expect(withdrawAgreement(waiting, henrik, 'Wait.').ok).to.equal(false)
    expect(withdrawAgreement(agreement(), rasmus, '').ok).to.equal(false)
    const both = { ...consent, steps: [consent.steps[0], { ...consent.steps[0], id: 't', stage: 2, state: 'later' as const }] } // prettier-ignore
    const first = decideAgreement({ ...waiting, consent: both }, henrik, 'approve', '', '')
    expect(first.ok && [first.next.state, first.did.action]).to.deep.equal(['waiting', 'decided'])
    expect(agreementActions(waiting, henrik, '2026-06-01').map(one => `${one.action} ${one.reasons.length}`)).to.deep.equal(['approve 0', 'refuse 0']) // prettier-ignore
    expect(agreementActions(waiting, rasmus, '2026-06-01').map(one => one.action)).to.deep.equal(['approve', 'refuse', 'withdraw']) // prettier-ignore
  })

  it('offers what can be done in each state', () => {
    const names = (facts: AgreementFacts): string[] => agreementActions(facts, rasmus, '2026-06-01').filter(one => one.reasons.length === 0).map(one => one.action) // prettier-ignore
    expect(names(draft)).to.deep.equal(['putForward', 'write', 'cancel'])
    expect(names(agreement())).to.deep.equal(['amend', 'windDown'])
    expect(names(agreement({ amendment: 'writing', wanted: content }))).to.deep.equal(['putForward', 'write', 'dropAmendment']) // prettier-ignore
    expect(names(agreement({ state: 'windingDown' }))).to.deep.equal(['goOn'])
    expect(names(agreement({ state: 'sealed' }))).to.deep.equal([])
    expect(names(agreement({ state: 'cancelled' }))).to.deep.equal([])
    expect(agreementActions(agreement(), rasmus, '').find(one => one.primary)!.action).to.equal('amend')
    expect(agreementActions(agreement({ state: 'usedUp' }), rasmus, '').find(one => one.primary)!.action).to.equal('windDown') // prettier-ignore
  })

  it('is wound down for good by whoever types its number, ended today, and sealed when nothing hangs on it', () => {
    expect(why(windDown(agreement(), rasmus, 'A-2', ''))).to.deep.equal(['agreement.typeNumber']) // prettier-ignore
    const begun = windDown(agreement(), rasmus, ' a-1 ', '')
    expect(begun.ok && begun.next.state).to.equal('windingDown')
    expect(windDown(agreement({ amendment: 'writing' }), rasmus, 'A-1', '').ok).to.equal(false)
    const going = agreement({ state: 'windingDown' })
    const ended = endByAmendment(going, '2026-06-01')
    expect(ended.ok && [ended.next.inForce!.endsOn, ended.next.state]).to.deep.equal(['2026-06-01', 'windingDown'])
    const late = endByAmendment(going, '2027-06-01')
    expect(late.ok && late.next.inForce!.endsOn).to.equal('2026-12-31')
    expect(endByAmendment(agreement(), '2026-06-01').ok).to.equal(false)
    const hanging = { kind: 'order', id: 'o', number: 'O-1', title: '', state: 'issued', deed: 'person', reasons: [] } as const // prettier-ignore
    expect(why(sealAgreement(going, [hanging]))).to.deep.equal(['agreement.hangs'])
    expect(
      sealAgreement(going, [
        { ...hanging, deed: 'done' },
        { ...hanging, kind: 'invoice' },
      ]).ok,
    ).to.equal(true)
    expect(sealAgreement({ ...going, ...withUse(consumed(0n, 5n)) }, []).ok).to.equal(false)
    expect(sealAgreement({ ...going, ...withUse(consumed(0n, 0n, 5n)) }, []).ok).to.equal(true)
    expect(sealAgreement(agreement(), []).ok).to.equal(false)
  })

  it('is wound down order by order: what is done, what is closed and sealed, what takes a person', () => {
    const world = new OrderToPay()
    const deed = (actor = ADA): string => {
      const { deed: what, reasons } = orderDeed(world.order(), actor)
      return [what, ...codes(reasons)].join(' ')
    }
    expect([deed(), deed(NOBODY)]).to.deep.equal(['cancel', 'person right.notYours'])
    world.issue()
    expect(deed()).to.equal('person agreement.orderOpen')
    world.close()
    expect([deed(), deed(NOBODY)]).to.deep.equal(['seal', 'person right.notYours'])
    world.seal()
    expect(deed()).to.equal('done')
    const other = new OrderToPay()
    other.cancel()
    expect(orderDeed(other.order(), ADA)).to.deep.equal({ deed: 'done', reasons: [] })
    expect(requestDeed(false)).to.deep.equal({ deed: 'told', reasons: [] })
    expect([requestDeed(true).deed, codes(requestDeed(true).reasons)]).to.deep.equal(['person', ['agreement.requestReserved']]) // prettier-ignore
  })

  it('is closed and sealed by the wind-down where everything is in and billed', () => {
    const world = new OrderToPay()
    world.issue()
    const lines = world.order().lines.map((one, at) => ({ line: at + 1, quantity: one.quantity }))
    world.receive(lines)
    world.bill(lines)
    world.postInvoice(0)
    expect([orderDeed(world.order(), ADA).deed, codes(orderDeed(world.order(), ADA).reasons)]).to.deep.equal(['person', ['order.openInvoices']]) // prettier-ignore
    world.invoices[0]!.state = 'paid'
    expect(orderDeed(world.order(), ADA)).to.deep.equal({ deed: 'closeAndSeal', reasons: [] })
    expect(codes(orderDeed(world.order(), NOBODY).reasons)).to.deep.equal(['right.notYours'])
  })

  it('shows what two revisions say differently', () => {
    const after: AgreementContent = {
      ...content,
      endsOn: '2027-12-31',
      warnPercent: 70,
      ceilings: [{ ...whole, amount: '2000' }],
      callers: { ...content.callers, costCentres: ['AC-110'] },
      lines: [{ ...line, minimum: '50', leadTimeDays: 5, pricing: { kind: 'tiers', tiers: [{ from: '0', price: '0.55' }] } }, { ...line, id: 'l3', description: 'Brine' }], // prettier-ignore
    }
    expect(
      contentDifferences(content, after).map(one => `${one.field}|${one.of}|${one.before}|${one.after}`),
    ).to.deep.equal([
      // prettier-ignore
      'endsOn||2026-12-31|2027-12-31',
      'warnPercent||80|70',
      'ceiling||1000|2000',
      'callers||0|1',
      'price|Sea salt|0.5 (0+), 0.4 (1000+)|0.55',
      'minimum|Sea salt|25|50',
      'leadTimeDays|Sea salt|4|5',
      'line|Brine||0.5 (0+), 0.4 (1000+)',
      'line|Rock salt|0.5 (0+), 0.4 (1000+)|',
    ])
    expect(contentDifferences(content, { ...content, lines: content.lines.map(one => ({ ...one, minimum: '25.0' })) })).to.deep.equal([]) // prettier-ignore
    expect(pricingText({ kind: 'index', index: 'NI', basePrice: '2', fixedShare: '0.4', baseValue: '100', lowest: '1', highest: '' })).to.equal('2 × (0.4 + rest × NI / 100), ≥ 1') // prettier-ignore
  })
})

describe('what calls off in all', () => {
  it('is all three kinds together', () =>
    expect(consumedAll(consumed(1n, 2n, 3n, '5'))).to.deep.equal({ amount: 6n, quantity: '5' }))
})
