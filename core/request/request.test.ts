import { expect } from 'chai'
import fc from 'fast-check'
import { minor, sumMinor } from '#core/money/amount.ts'
import { readItemRow, writeItemRow } from '#core/request/itemImport.ts'
import { type LineProgress, lineState } from '#core/request/states.ts'
import { hitScore } from '#core/request/typing.ts'
import { provenBy } from '#core/request/kinds.ts'
import { checkLine, type RequestedLine, splitAmounts } from '#core/request/lines.ts'
import { allowedQuantity, earliestDelivery, type Offer, priceQuantity, tierAt } from '#core/request/offer.ts'
import { headState, REQUISITION_STATES, type RequisitionState } from '#core/request/states.ts'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { actionsFrom, type StateTable, transition } from '#core/states.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { INVOICE_STATES } from '#core/bill/states.ts'
import { PAYMENT_STATES, RUN_STATES } from '#core/pay/states.ts'
import { SUPPLIER_STATES } from '#core/source/states.ts'
import { convertQuantity, unitLabel } from '#core/units/units.ts'
import { RuleBroken } from '#core/reasons.ts'
import { anyMinor, someWeights } from '#test-helpers/arbitraries/money.ts'

const offer: Offer = {
  currency: 'EUR',
  priceBase: '1',
  minimum: '10',
  multiple: '5',
  leadTimeDays: 3,
  validFrom: '2026-01-01',
  validTo: '2026-12-31',
  tiers: [
    { from: '10', price: '4.50' },
    { from: '100', price: '4.00' },
  ],
}
const line: RequestedLine = {
  position: 1,
  kind: 'goods',
  description: 'Sea salt 25 kg',
  quantity: '12',
  unit: 'BG',
  price: '24.60',
  priceBase: '1',
  currency: 'EUR',
  supplierId: 's',
  needBy: '2026-12-04',
  addressId: 'q',
  splits: [{ accountId: 'a', share: '100' }],
  splitBy: 'share',
  details: {},
}
const codes = (changed: Partial<RequestedLine>, earliest?: string): string[] =>
  checkLine({ ...line, ...changed }, '2026-11-23', earliest).map(reason => reason.code)

describe('offers', () => {
  it('apply the highest tier that the quantity reaches; below the first, the first', () => {
    expect(tierAt(offer.tiers, '99.999999').price).to.equal('4.50')
    expect(tierAt(offer.tiers, '100').price).to.equal('4.00')
    expect(tierAt(offer.tiers, '1').price).to.equal('4.50')
  })

  it('keep to minimum and multiple', () => {
    expect(allowedQuantity(offer, '3')).to.equal('10')
    expect(allowedQuantity(offer, '11')).to.equal('15')
    expect(allowedQuantity(offer, '15')).to.equal('15')
    expect(allowedQuantity({ minimum: '1', multiple: '0' }, '2.5')).to.equal('2.5')
  })

  it('say when buying up to the next tier costs less in total', () => {
    const near = priceQuantity(offer, '95', '2026-11-23')
    expect(near.amount).to.equal(42750n)
    expect(near.reasons.map(reason => reason.code)).to.deep.equal(['offer.cheaperAbove'])
    expect(priceQuantity(offer, '50', '2026-11-23').reasons).to.deep.equal([])
  })

  it('say so only for a quantity that can be bought, and only where it is cheaper then', () => {
    const byThirty = {
      ...offer,
      minimum: '30',
      multiple: '30',
      tiers: [
        { from: '1', price: '1.00' },
        { from: '100', price: '0.95' },
      ],
    }
    // from 100 on: 90 or 120 can be bought, and 120 at 0.95 is 114.00, dearer than 90.00
    expect(priceQuantity(byThirty, '90', '2026-11-23').reasons).to.deep.equal([])
    const cheap = { ...byThirty, tiers: [byThirty.tiers[0]!, { from: '100', price: '0.70' }] }
    const [reason] = priceQuantity(cheap, '90', '2026-11-23').reasons
    expect([reason?.code, reason?.details.quantity]).to.deep.equal(['offer.cheaperAbove', '120'])
  })

  it('end', () => {
    expect(priceQuantity(offer, '10', '2027-01-01').reasons.map(reason => reason.code)).to.include('offer.expired')
    expect(priceQuantity({ ...offer, validTo: null }, '10', '2027-01-01').reasons).to.deep.equal([])
  })

  it('count their lead time in business days', () => {
    expect(earliestDelivery('2026-11-20', 3, PLAIN_CALENDAR)).to.equal('2026-11-25')
  })
})

describe('request lines', () => {
  it('pass when nothing is wrong', () => {
    expect(codes({})).to.deep.equal([])
  })

  it('stop at quantities that make no sense', () => {
    for (const quantity of ['0', '-1', '0.0000001', 'abc', '1e12', ''])
      expect(codes({ quantity }), quantity).to.include('line.quantity')
    expect(codes({ quantity: '1000000000000' })).to.include('line.quantityTooLarge')
    expect(codes({ kind: 'fixedPriceWork', quantity: '2', unit: 'E48' })).to.include('line.workQuantity')
  })

  it('stop at days that have passed or do not exist, and look at the lead time', () => {
    expect(codes({ needBy: '2026-11-22' })).to.deep.equal(['line.needByPast'])
    expect(codes({ needBy: '2026-02-29' })).to.deep.equal(['line.noNeedBy'])
    expect(codes({ needBy: null })).to.deep.equal(['line.noNeedBy'])
    expect(codes({ needBy: '2026-11-25' }, '2026-12-01')).to.deep.equal(['line.needBySoon'])
  })

  it('want a description, a price, a unit of the table, a place, a supplier and an account', () => {
    expect(
      codes({ description: '  ', price: '0', unit: 'XYZ', addressId: null, supplierId: null, splits: [] }),
    ).to.have.members([
      'line.noDescription',
      'line.price',
      'line.unit',
      'line.noAddress',
      'line.noSupplier',
      'line.noAccount',
    ])
  })

  it('refuse an account that stands twice or has no share', () => {
    expect(
      codes({
        splits: [
          { accountId: 'a', share: '50' },
          { accountId: 'a', share: '50' },
        ],
      }),
    ).to.deep.equal(['line.shares'])
    expect(codes({ splits: [{ accountId: 'a', share: '0' }] })).to.deep.equal(['line.shares'])
  })

  it('name the place of every fault', () => {
    expect(checkLine({ ...line, position: 7, quantity: '0' }, '2026-11-23')[0]!.place).to.equal('lines.7.quantity')
  })

  it('split so that the parts re-add', () => {
    fc.assert(
      fc.property(anyMinor(), someWeights(), (amount, weights) => {
        const parts = splitAmounts(
          amount,
          weights.map((share, index) => ({ accountId: String(index), share })),
        )
        expect(sumMinor(parts.map(part => part.amount))).to.equal(amount)
      }),
    )
  })

  it('are proven by counting or by accepting, by their kind', () => {
    expect(provenBy('goods')).to.equal('received')
    expect(provenBy('fixedPriceWork')).to.equal('accepted')
  })
})

describe('states', () => {
  const tables: Record<string, StateTable<string, string>> = {
    requisition: REQUISITION_STATES,
    order: ORDER_STATES,
    invoice: INVOICE_STATES,
    payment: PAYMENT_STATES,
    run: RUN_STATES,
    supplier: SUPPLIER_STATES,
  }
  /** Where nothing more happens by itself: the end of the work. For a requisition purchasing moves on by its lines. */
  const ends: Record<string, string[]> = {
    requisition: ['cancelled', 'finished', 'inPurchasing', 'ordered'],
    order: ['sealed', 'cancelled'],
    invoice: ['rejected', 'voided'],
    payment: ['refused', 'returned', 'withdrawn', 'recalled'],
    run: ['answered', 'withdrawn', 'recalled'],
    supplier: [],
  }

  for (const [kind, table] of Object.entries(tables)) {
    it(`of a ${kind} all have a way out, but for its ends`, () => {
      const dead = Object.keys(table).filter(state => actionsFrom(table, state).length === 0)
      expect(dead).to.have.members(ends[kind]!)
    })

    it(`of a ${kind} lead only to states of the table`, () => {
      for (const state of Object.keys(table))
        for (const next of Object.values(table[state]!)) expect(Object.keys(table)).to.include(next)
    })
  }

  it('refuse with the state and what would be possible', () => {
    const refused = transition(ORDER_STATES, 'order', 'sealed', 'cancel')
    expect(refused.ok).to.equal(false)
    if (!refused.ok)
      expect(refused.reasons[0]!.details).to.deep.include({ state: 'sealed', action: 'cancel', possible: '' })
  })

  it('of a head show its least advanced open line', () => {
    const cases: [Parameters<typeof headState>[0], RequisitionState][] = [
      [['toBuy', 'toBuy'], 'approved'],
      [['bought', 'toBuy'], 'inPurchasing'],
      [['onDraftOrder', 'onDraftOrder'], 'inPurchasing'],
      [['bought', 'done'], 'ordered'],
      [['done', 'cancelled'], 'finished'],
      [['cancelled', 'cancelled'], 'cancelled'],
    ]
    for (const [lines, head] of cases) expect(headState(lines), lines.join()).to.equal(head)
  })
})

describe('units', () => {
  it('convert exactly by Recommendation 20 and by packs', () => {
    expect(convertQuantity('2.5', 'TNE', 'KGM')).to.equal('2500')
    expect(convertQuantity('3', 'BX', 'C62', [{ unit: 'BX', holds: '12' }], 'C62')).to.equal('36')
    expect(convertQuantity('36', 'C62', 'BX', [{ unit: 'BX', holds: '12' }], 'C62')).to.equal('3')
    expect(unitLabel('KGM')).to.equal('kg')
    expect(unitLabel('Q9')).to.equal('Q9')
  })

  it('refuse what has no conversion or does not come out exactly', () => {
    expect(() => convertQuantity('1', 'KGM', 'MTR')).to.throw(RuleBroken, 'units.noConversion')
    expect(() => convertQuantity('1', 'C62', 'BX', [{ unit: 'BX', holds: '7' }], 'C62')).to.throw(
      RuleBroken,
      'units.notExact',
    )
  })
})

describe('rows of an item file', () => {
  const row = {
    number: 'SW-1',
    name: 'Sea salt',
    category: 'Salt',
    unit: 'BG',
    supplier: 'Salines',
    price: '24,60',
    tiers: '40=23.10|200=21.80',
    minimum: '',
    multiple: '',
    lead_time_days: '6',
    price_base: '',
    currency: '',
  }

  it('are written as they are read, with an offer and without', () => {
    const rows = [
      { ...row, sold_in: 'bx', packs: 'BX=12|BG=4', countries: 'NO NL', freight: '12.50', valid_to: '2027-01-31' },
      { ...row, incoterm: 'DAP', incoterm_place: 'Saltmere', stocked: 'yes', maker: 'Salines', agreement: 'A-7' },
      {
        ...row,
        supplier: '',
        price: '',
        lead_time_days: '',
        discontinued_on: '2026-11-01',
        replaced_by: 'SA-2',
        also_called: 'brine',
      },
    ]
    for (const one of rows) {
      const { item } = readItemRow(one, 2)
      const again = readItemRow(writeItemRow(item!), 2)
      expect(again.reasons).to.deep.equal([])
      expect({ ...again.item, tiers: item!.supplierName === '' ? [] : again.item!.tiers }).to.deep.equal({
        ...item,
        tiers: item!.supplierName === '' ? [] : item!.tiers,
      })
    }
    expect(readItemRow(rows[0]!, 2).item).to.deep.include({ unit: 'BG', soldIn: 'BX' })
    expect(writeItemRow(readItemRow(rows[2]!, 2).item!)).to.deep.include({ supplier: '', price: '', currency: '' })
    expect(readItemRow({ ...row, price: '' }, 2).reasons.map(reason => reason.place)).to.deep.equal(['rows.2.price'])
    const { item: whole } = readItemRow(row, 2)
    const below = { ...whole!, minimum: '50' }
    expect(readItemRow(writeItemRow(below), 2).item!.tiers, 'what holds from the smallest quantity on').to.deep.equal([
      { from: '50', price: '23.10' },
      { from: '200', price: '21.80' },
    ])
    expect(
      readItemRow({ ...row, sold_in: 'BX' }, 2).reasons.map(reason => [reason.code, reason.place]),
      'no pack says how many are in it',
    ).to.deep.equal([['offer.unitOfItem', 'rows.2.sold_in']])
    expect(readItemRow({ ...row, name: "'-40 °C freezer" }, 2).item!.name, 'as it is given out').to.equal(
      '-40 °C freezer',
    )
    expect(readItemRow({ ...row, sold_in: 'ZZ' }, 2).reasons.map(reason => reason.code)).to.deep.equal(['line.unit'])
  })

  it('take decimal comma and tiers', () => {
    const { item, reasons } = readItemRow(row, 2)
    expect(reasons).to.deep.equal([])
    expect(item).to.deep.include({
      currency: 'EUR',
      priceBase: '1',
      leadTimeDays: 6,
      tiers: [
        { from: '1', price: '24.60' },
        { from: '40', price: '23.10' },
        { from: '200', price: '21.80' },
      ],
    })
  })

  it('name each fault with row and column', () => {
    const faults = readItemRow(
      { ...row, name: '', price: '1,234', unit: 'QQ', tiers: '40=x', currency: 'ABC' },
      9,
    ).reasons.map(reason => [reason.code, reason.place])
    expect(faults).to.deep.include.members([
      ['import.missing', 'rows.9.name'],
      ['import.ambiguousNumber', 'rows.9.price'],
      ['line.unit', 'rows.9.unit'],
      ['import.tier', 'rows.9.tiers'],
      ['money.unknownCurrency', 'rows.9.currency'],
    ])
  })

  it('take a GTIN with its check digit only, countries by two letters, and an Incoterm that there is', () => {
    const codes = (changed: object): (readonly [string, string | undefined])[] =>
      readItemRow({ ...row, ...changed }, 4).reasons.map(reason => [reason.code, reason.place] as const)
    expect(codes({ gtin: '4006381333931', countries: 'no, nl DE', incoterm: 'dap' })).to.deep.equal([])
    expect(codes({ gtin: '4006381333932' })).to.deep.equal([['import.gtin', 'rows.4.gtin']])
    for (const countries of ['N0', 'NOR', 'NO;NL', 'N'])
      expect(codes({ countries }), countries).to.deep.equal([['import.countries', 'rows.4.countries']])
    expect(codes({ incoterm: 'XYZ' })).to.deep.equal([['term.unknown', 'rows.4.incoterm']])
    expect(readItemRow({ ...row, incoterm: 'dap', countries: 'no, nl' }, 4).item).to.deep.include({ incoterm: 'DAP' })
    expect(readItemRow(row, 4).item).to.deep.include({ incoterm: null })
  })

  it('take no tier from nothing or for nothing, no wrong day and no lead time of a thousand days', () => {
    const codes = (changed: object): string[] =>
      readItemRow({ ...row, ...changed }, 4).reasons.map(reason => reason.code)
    expect(codes({ tiers: '0=5' })).to.deep.equal(['import.tier'])
    expect(codes({ tiers: '10=0' })).to.deep.equal(['import.tier'])
    expect(codes({ valid_to: '2026-02-30' })).to.deep.equal(['import.day'])
    expect(codes({ lead_time_days: '1000' })).to.deep.equal(['import.number'])
    expect(codes({ lead_time_days: '999', valid_to: '2026-12-31' })).to.deep.equal([])
  })

  it('refuse formula cells', () => {
    expect(readItemRow({ ...row, name: '=HYPERLINK("x")' }, 3).reasons.map(reason => reason.code)).to.include(
      'import.formula',
    )
  })
})

describe('the state of a line by its orders', () => {
  const line: LineProgress = { state: 'toBuy', toOrder: '0', ordered: '5', drafted: false, settled: [true, true] }

  it('is done only when something was ordered and every order of it is settled', () => {
    expect(lineState(line)).to.equal('done')
    expect(lineState({ ...line, settled: [true, false] })).to.equal('bought')
    expect(lineState({ ...line, settled: [] })).to.equal('bought')
    expect(lineState({ ...line, ordered: '0' })).to.equal('bought')
  })

  it('is to be bought while something is left, on a draft while one has it, and stays open or cancelled', () => {
    expect(lineState({ ...line, toOrder: '0.5' })).to.equal('toBuy')
    expect(lineState({ ...line, toOrder: '0.5', drafted: true })).to.equal('onDraftOrder')
    for (const state of ['open', 'cancelled'] as const) expect(lineState({ ...line, state })).to.equal(state)
  })
})

describe('the order of what is found', () => {
  const hit = { number: 'SW-1200', name: 'Sea salt', hasAgreement: false, stocked: false, discontinued: false }
  const score = (changed: object): number => hitScore(['salt'], new Map(), { ...hit, ...changed })

  it('puts what is on an agreement first, then what is in stock, and what is discontinued last', () => {
    expect(score({ hasAgreement: true }) - score({})).to.be.closeTo(3, 1e-9)
    expect(score({ stocked: true }) - score({})).to.be.closeTo(1, 1e-9)
    expect(score({ discontinued: true }) - score({})).to.be.closeTo(-20, 1e-9)
  })

  it('puts an exact number before a word, a word before its beginning, and that before its middle', () => {
    const of = (changed: object, token: string): number => hitScore([token], new Map(), { ...hit, ...changed })
    expect(of({}, 'sw-1200')).to.be.above(of({}, 'salt'))
    expect(of({ name: 'Fine salt' }, 'salt')).to.be.above(of({ name: 'Fine saltwater' }, 'salt'))
    expect(of({ name: 'Fine saltwater' }, 'salt')).to.be.above(of({ name: 'Fine seasalts' }, 'salt'))
  })
})

it('amounts are branded whole numbers', () => {
  expect(minor(5)).to.equal(5n)
})
