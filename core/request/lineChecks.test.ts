import { expect } from 'chai'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'
import type { Reason } from '#core/reasons.ts'
import {
  agreementOf,
  type CheckedLine,
  earliestOf,
  freightWanted,
  headReasons,
  type LineOffer,
  lineReasons,
  type LineSupplier,
  offerChange,
  proofOfLine,
  routesOfLine,
  type Surroundings,
  termOfLine,
} from '#core/request/lineChecks.ts'
import { ROUTES } from '#core/request/routes.ts'
import { ANY_TERM } from '#core/request/terms.ts'
import { SUPPLIER_STATE_CODES } from '#core/source/states.ts'

const TODAY = '2026-06-01' // a Monday

const line = (changed: Partial<CheckedLine> = {}): CheckedLine => ({
  position: 1,
  kind: 'goods',
  description: 'Pump',
  quantity: '10',
  unit: 'C62',
  price: '85',
  priceBase: '1',
  currency: 'EUR',
  supplierId: 's1',
  needBy: '2026-07-01',
  addressId: 'quay',
  splits: [{ accountId: 'a1', share: '1' }],
  splitBy: 'share',
  details: {},
  offerId: 'o1',
  agreementLineId: null,
  category: 'Pumps',
  incoterm: null,
  incotermPlace: '',
  freight: '',
  routes: ['orderNow'],
  proof: 'count',
  proofSet: false,
  baseAmount: 85_000n,
  ...changed,
})
const offer = (changed: Partial<LineOffer> = {}): LineOffer => ({
  currency: 'EUR',
  priceBase: '1',
  minimum: '1',
  multiple: '1',
  leadTimeDays: 4,
  validFrom: '2026-01-01',
  validTo: null,
  tiers: [
    { from: '1', price: '90' },
    { from: '10', price: '85' },
  ],
  unit: 'C62',
  agreement: '',
  incoterm: null,
  incotermPlace: '',
  ...changed,
})
const supplier = (changed: Partial<LineSupplier> = {}): LineSupplier => ({
  name: 'Nordhavn',
  state: 'active',
  incoterm: null,
  incotermPlace: null,
  billing: null,
  ...changed,
})
const account = { label: 'LS-210 / 6210, 2026', open: true, fiscalYear: 2026, project: null, projectOpen: null }
const quay = { name: 'Quay', open: true, purposes: ['delivery'] }

const around = (changed: Partial<Surroundings> = {}): Surroundings => ({
  offers: new Map([['o1', offer()]]),
  suppliers: new Map([['s1', supplier()]]),
  agreed: new Map(),
  categories: new Map(),
  accounts: new Map([['a1', account]]),
  addresses: new Map([['quay', quay]]),
  rates: new Map([
    ['EUR', '1'],
    ['NOK', null],
  ]),
  calendar: PLAIN_CALENDAR,
  fiscalYearFrom: 1,
  terms: ANY_TERM,
  rules: [],
  today: TODAY,
  base: 'EUR',
  ...changed,
})
const withOffer = (changed: Partial<LineOffer>): Surroundings => around({ offers: new Map([['o1', offer(changed)]]) })
const withSupplier = (changed: Partial<LineSupplier>): Surroundings =>
  around({ suppliers: new Map([['s1', supplier(changed)]]) })

const told = (reasons: readonly Reason[]): string[] => reasons.map(one => `${one.level} ${one.code} ${one.place}`)
const of = (where: Surroundings, one = line()): string[] => told(lineReasons(where, one))

describe('what stands against a line of a draft', () => {
  it('is nothing where all of it is in order', () => {
    expect(of(around())).to.deep.equal([])
    expect(of(around(), line({ offerId: null }))).to.deep.equal([])
  })

  it('an offer that ended, costs something else by now, or is not sold like this', () => {
    expect(of(withOffer({ validTo: '2026-05-31' }))).to.deep.equal(['check line.offerExpired lines.1.price'])
    expect(of(withOffer({ validTo: TODAY })), 'its last day').to.deep.equal([])
    expect(of(withOffer({ tiers: [{ from: '1', price: '88' }] }))).to.deep.equal([
      'check line.priceChanged lines.1.price',
    ])
    expect(of(withOffer({ minimum: '12' }))).to.deep.equal(['check offer.quantityRule lines.1.quantity'])
    expect(of(withOffer({ multiple: '4' }))).to.deep.equal(['check offer.quantityRule lines.1.quantity'])
    expect(of(withOffer({ multiple: '5' }), line({ quantity: '10.0' }))).to.deep.equal([])
    const [why] = lineReasons(withOffer({ multiple: '4' }), line()).map(reason => reason.details)
    expect(why).to.deep.equal({ quantity: '10', minimum: '1', multiple: '4', allowed: '12' })
  })

  it('what is not known of an offer that is gone is not held against the line', () => {
    expect(of(around({ offers: new Map() }))).to.deep.equal([])
  })

  it('accounts that are not there, closed, of a closed project, or of another year', () => {
    const paidBy = (changed: Partial<typeof account> | null, one = line()): string[] =>
      of(around({ accounts: new Map(changed ? [['a1', { ...account, ...changed }]] : []) }), one)
    expect(paidBy(null)).to.deep.equal(['stop budget.unknownAccount lines.1.splits'])
    expect(paidBy({ open: false })).to.deep.equal(['stop budget.closed lines.1.splits'])
    expect(paidBy({ projectOpen: false } as object)).to.deep.equal(['stop line.projectClosed lines.1.splits'])
    expect(paidBy({ projectOpen: true } as object)).to.deep.equal([])
    expect(paidBy({ fiscalYear: 2027 })).to.deep.equal(['note line.accountYear lines.1.splits'])
    expect(paidBy({}, line({ needBy: '2027-01-15' }))).to.deep.equal(['note line.accountYear lines.1.splits'])
  })

  it('a currency without a rate, and places that are closed or for something else', () => {
    expect(of(around(), line({ currency: 'NOK', offerId: null }))).to.deep.equal(['stop line.noRate lines.1.currency'])
    expect(of(around(), line({ currency: 'CHF', offerId: null }))).to.deep.equal(['stop line.noRate lines.1.currency'])
    const at = (changed: Partial<typeof quay>, one = line()): string[] =>
      of(around({ addresses: new Map([['quay', { ...quay, ...changed }]]) }), one)
    expect(at({ open: false })).to.deep.equal(['stop line.addressClosed lines.1.addressId'])
    expect(at({ open: false, purposes: [] }), 'said once').to.have.length(1)
    expect(at({ purposes: ['performance'] })).to.deep.equal(['stop line.addressNot.delivery lines.1.addressId'])
    const work = line({ kind: 'fixedPriceWork', quantity: '1', unit: 'E48', price: '850', offerId: null })
    expect(at({}, work)).to.deep.equal(['stop line.addressNot.performance lines.1.addressId'])
    expect(at({ purposes: ['performance'] }, work)).to.deep.equal([])
  })

  it('a supplier by its state: worth knowing, wanting a reason, or stopping', () => {
    const levels = SUPPLIER_STATE_CODES.map(state => `${state} ${of(withSupplier({ state }))[0]?.split(' ')[0] ?? '-'}`)
    expect(levels.sort()).to.deep.equal([
      'active -',
      'barred stop',
      'closed stop',
      'onboarding note',
      'paused check',
      'proposed note',
    ])
    expect(of(withSupplier({ state: 'paused' }))).to.deep.equal(['check line.supplier.paused lines.1.supplierId'])
  })

  it('no supplier, unless prices are asked for first', () => {
    const nobody = line({ supplierId: null, offerId: null })
    expect(of(around(), nobody)).to.deep.equal(['stop line.noSupplier lines.1.supplierId'])
    expect(of(around(), { ...nobody, routes: ['askForQuotes', 'setUpAgreement'] })).to.deep.equal([])
    expect(of(around(), { ...nobody, routes: ['askForQuotes', 'orderNow'] })).to.include(
      'stop line.noSupplier lines.1.supplierId',
    )
  })

  it('a day on which what the offer promises cannot be there', () => {
    expect(earliestOf(around(), line())).to.equal('2026-06-05')
    expect(of(around(), line({ needBy: '2026-06-04' }))).to.deep.equal(['check line.needBySoon lines.1.needBy'])
    expect(of(around(), line({ needBy: '2026-06-05' }))).to.deep.equal([])
    expect(earliestOf(around(), line({ offerId: null }))).to.equal(undefined)
  })

  it('carriage that the term leaves to us and that nobody has thought of', () => {
    const exWorks = line({ incoterm: 'EXW', incotermPlace: 'Bergen' })
    expect(freightWanted(around(), exWorks)).to.equal(true)
    expect(of(around(), exWorks)).to.include('check line.freight lines.1.freight')
    expect(of(around(), { ...exWorks, freight: 'included' })).to.not.include('check line.freight lines.1.freight')
    expect(freightWanted(around(), line({ incoterm: 'DAP', incotermPlace: 'Quay' }))).to.equal(false)
    const work = line({ kind: 'workByRate', incoterm: 'EXW', incotermPlace: 'Bergen', unit: 'HUR' })
    expect(freightWanted(around(), work), 'work does not travel').to.equal(false)
  })

  it('of a whole request: no title, no lines', () => {
    expect(told(headReasons({ title: 'Pumps', lines: 2 }))).to.deep.equal([])
    expect(told(headReasons({ title: ' ', lines: 0 }))).to.deep.equal([
      'stop requisition.noTitle title',
      'stop requisition.noLines lines',
    ])
  })
})

describe('what is known beside a line of a draft', () => {
  it('its term: its own, its agreement’s or offer’s, its supplier’s; none for work', () => {
    const from = (where: Surroundings, one = line()): string => {
      const { incoterm, place, from: origin } = termOfLine(where, one)
      return `${incoterm} ${place} ${origin}`
    }
    const offered = { incoterm: 'FCA', incotermPlace: 'Oslo' }
    expect(from(around())).to.equal('  none')
    expect(from(withSupplier({ incoterm: 'DAP', incotermPlace: 'Quay' }))).to.equal('DAP Quay supplier')
    expect(from(withOffer(offered))).to.equal('FCA Oslo offer')
    expect(from(withOffer({ ...offered, agreement: 'A-7' }))).to.equal('FCA Oslo agreement')
    expect(from(withOffer(offered), line({ incoterm: 'EXW', incotermPlace: 'Bergen' }))).to.equal('EXW Bergen line')
    expect(from(withOffer(offered), line({ kind: 'fixedPriceWork' }))).to.equal('  none')
    expect(from(around({ suppliers: new Map() }))).to.equal('  none')
  })

  it('how its offer changed since it was chosen', () => {
    expect(offerChange(around(), line())).to.equal(null)
    expect(offerChange(around(), line({ offerId: null }))).to.equal(null)
    const written = {
      tiers: around()
        .offers.get(line().offerId!)!
        .tiers.map(tier => ({ ...tier, price: `${tier.price}${tier.price.includes('.') ? '0' : '.00'}` })),
    }
    expect(offerChange(withOffer(written), line()), 'the same number, written longer').to.equal(null)
    expect(offerChange(around(), line({ quantity: '9' })), 'another tier').to.deep.equal({
      kept: '85',
      now: '90',
      endedOn: null,
    })
    for (const changed of [{ priceBase: '100' }, { currency: 'NOK' }, { unit: 'BX' }])
      expect(offerChange(withOffer(changed), line()), JSON.stringify(changed)).to.deep.equal({
        kept: '85',
        now: '85',
        endedOn: null,
      })
    expect(offerChange(withOffer({ validTo: '2026-05-31' }), line())).to.deep.equal({
      kept: '85',
      now: null,
      endedOn: '2026-05-31',
    })
  })

  it('how it is proven, and by whose word', () => {
    const work = line({ kind: 'workByRate', proof: 'billFirst', unit: 'HUR' })
    expect(proofOfLine(around(), line())).to.deep.equal({ proof: 'count', from: 'kind' })
    expect(proofOfLine(around(), work)).to.deep.equal({ proof: 'acceptWork', from: 'kind' })
    expect(proofOfLine(around(), { ...work, proofSet: true })).to.deep.equal({ proof: 'billFirst', from: 'line' })
    expect(proofOfLine(withSupplier({ billing: 'direct' }), work)).to.deep.equal({
      proof: 'billFirst',
      from: 'supplier',
    })
    const categories = new Map([['Pumps', { proof: { workByRate: 'billFirst' as const } }]])
    expect(proofOfLine(around({ categories }), work)).to.deep.equal({ proof: 'billFirst', from: 'category' })
  })

  it('its ways of being bought, with its agreement', () => {
    expect(agreementOf(around(), line())).to.equal('')
    expect(agreementOf(around(), line({ offerId: null }))).to.equal('')
    const called = line({ routes: ['callOff', 'orderNow'] })
    expect(routesOfLine(around(), called).routes).to.deep.equal(['orderNow'])
    expect(routesOfLine(withOffer({ agreement: 'A-7' }), called).routes).to.deep.equal(['callOff', 'orderNow'])
    const rule = {
      name: 'Quotes',
      categories: ['Pumps'],
      from: 85_000n,
      upTo: null,
      allowed: ['askForQuotes'] as const,
    }
    expect(routesOfLine(around({ rules: [rule] }), line({ routes: [...ROUTES] })).routes).to.deep.equal([
      'askForQuotes',
    ])
    expect(routesOfLine(around({ rules: [{ ...rule, from: 85_001n }] }), line()).routes).to.deep.equal(['orderNow'])
  })
})
