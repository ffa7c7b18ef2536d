import { expect } from 'chai'
import fc from 'fast-check'
import type { Decision } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { type BudgetEntry, sumBudget } from '#core/ledger/budget.ts'
import { addStanding } from '#core/ledger/commitments.ts'
import { NO_QUANTITIES, type QuantityEntry, sumQuantities } from '#core/ledger/quantity.ts'
import { lineAmount, minor, sumMinor } from '#core/money/amount.ts'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'
import { askRequester } from '#core/order/askRequester.ts'
import { draftOrders, type PoolLine } from '#core/order/draftOrders.ts'
import { whyNotOffer, whyNotRoute, whyNotWaiting } from '#core/order/poolLines.ts'
import { dropLines, returnRequest } from '#core/order/returnLines.ts'
import { splitLine, type SplitWanted } from '#core/order/splitLine.ts'
import { answerQuestion } from '#core/request/answerQuestion.ts'
import { requisitionLaws } from '#core/request/laws.ts'
import { reservationEntries } from '#core/request/reservation.ts'
import { ADA, actorOf, NOBODY } from '#test-helpers/orderToPay.ts'
import { pathStep, Requested } from '#test-helpers/requisition.ts'

const codes = (decided: Decision<unknown>): string[] => (decided.ok ? [] : decided.reasons.map(reason => reason.code))

const pooled = (changed: Partial<PoolLine> = {}): PoolLine =>
  ({
    id: 'line1',
    requisitionId: 'r1',
    requisition: 'R-1',
    requestTitle: 'Pumps',
    position: 1,
    state: 'toBuy',
    description: 'Pump',
    kind: 'goods',
    itemId: null,
    supplierId: 's1',
    supplierName: 'Nordhavn',
    quantity: '10',
    unit: 'C62',
    price: '10',
    priceBase: '1',
    currency: 'EUR',
    needBy: '2026-07-02',
    addressId: 'quay',
    proof: 'count',
    details: {},
    incoterm: '',
    incotermPlace: '',
    overReceiptPercent: 5,
    agreement: '',
    agreementLineId: null,
    routes: ['orderNow', 'askForQuotes', 'callOff', 'setUpAgreement'],
    asked: false,
    event: '',
    splits: [{ accountId: 'a1', share: '1' }],
    sums: { ...NO_QUANTITIES, requested: '10' },
    ...changed,
  }) as PoolLine
const rates = new Map([
  ['EUR', '1'],
  ['NOK', '0.1'],
])
const drafted = (lines: readonly PoolLine[], route: 'orderNow' | 'callOff' = 'orderNow') =>
  draftOrders(lines, route, rates, 'EUR')

describe('draft orders', () => {
  it('are one for each supplier and currency, with what is not ordered yet, at the rate of the day', () => {
    const decided = drafted([
      pooled({ id: 'line2', position: 2, requisitionId: 'r2', requisition: 'R-2', requestTitle: 'Valves' }),
      pooled({ sums: { ...NO_QUANTITIES, requested: '10', ordered: '4' }, needBy: '2026-06-30' }),
      pooled({ id: 'line3', currency: 'NOK', kind: 'workByRate' }),
      pooled({ id: 'line4', supplierId: 's2', supplierName: 'Kroonvis' }),
    ])
    expect(decided.ok && decided.did.changes).to.deep.equal({ orders: 3 })
    const [first, kroner, other] = decided.ok ? decided.next.orders : []
    expect(first).to.deep.include({
      title: 'Pumps and 1 more',
      supplierName: 'Nordhavn',
      currency: 'EUR',
      needBy: '2026-06-30',
      total: 16_000n,
      baseTotal: 16_000n,
      from: ['R-1', 'R-2'],
      agreement: '',
    })
    expect(first!.lines.map(line => [line.requisitionLineId, line.quantity, line.overReceiptPercent])).to.deep.equal([
      ['line1', '6', 5],
      ['line2', '10', 5],
    ])
    expect(kroner).to.deep.include({ title: 'Pumps', total: 10_000n, baseTotal: 1_000n })
    expect(kroner!.lines[0]!.overReceiptPercent).to.equal(0)
    expect(other!.supplierId).to.equal('s2')
  })

  it('keep their lines in the order of the requests', () => {
    const decided = drafted([
      pooled({ id: 'c', requisitionId: 'r2', position: 1 }),
      pooled({ id: 'b', position: 2 }),
      pooled({ id: 'a', position: 1 }),
    ])
    expect(decided.ok && decided.next.orders[0]!.lines.map(line => line.requisitionLineId)).to.deep.equal([
      'a',
      'b',
      'c',
    ])
  })

  it('call off agreement by agreement, and name it', () => {
    const decided = drafted([pooled({ agreement: 'A-1' }), pooled({ id: 'line2', agreement: 'A-2' })], 'callOff')
    expect(decided.ok && decided.next.orders.map(order => order.agreement)).to.deep.equal(['A-1', 'A-2'])
    const together = drafted([pooled({ agreement: 'A-1' }), pooled({ id: 'line2', agreement: 'A-2' })])
    expect(together.ok && together.next.orders.map(order => order.agreement)).to.deep.equal([''])
  })

  it('never carry the person of a fee', () => {
    const decided = drafted([pooled({ details: { person: { supplierId: 's1' }, deliverable: 'A talk' } as never })])
    expect(decided.ok && decided.next.orders[0]!.lines[0]!.details).to.deep.equal({ deliverable: 'A talk' })
  })

  it('are refused for lines that wait for nothing, an answer, a supplier, a route, an agreement or a rate', () => {
    const why = (changed: Partial<PoolLine>, route: 'orderNow' | 'callOff' = 'orderNow') =>
      codes(drafted([pooled(changed)], route))
    expect(why({ state: 'bought' })).to.deep.equal(['order.lineNotToBuy'])
    expect(why({ asked: true })).to.deep.equal(['pool.questionOpen'])
    expect(why({ supplierId: null })).to.deep.equal(['pool.noSupplier'])
    expect(why({ routes: ['askForQuotes'] })).to.deep.equal(['pool.routeForbids'])
    expect(why({}, 'callOff')).to.deep.equal(['pool.noAgreement'])
    expect(why({ currency: 'JPY' })).to.deep.equal(['line.noRate'])
  })
})

describe('what will not be bought', () => {
  function pool(): Requested {
    const world = new Requested()
    world.submit([])
    return world
  }

  it('goes back whole while nothing of it is bought, and what it reserved is free', () => {
    const world = pool()
    const back = returnRequest(world.facts(), ADA, 'Which pump?', ['line2'])
    expect(back.ok && back.next).to.deep.equal({ state: 'returned', ends: [], consent: null })
    expect(back.ok && back.budget.reduce((sum, entry) => sum + entry.amount, 0n)).to.equal(-30_000n)
    expect(back.ok && back.did.changes).to.deep.equal({ lines: [2] })
    expect(back.ok && back.says[0]).to.deep.include({
      template: 'requisition.returned',
      to: { kind: 'person', id: 'ines' },
    })
    expect(codes(returnRequest(world.facts(), NOBODY, 'Which pump?', []))).to.deep.equal(['right.notYours'])
    expect(codes(returnRequest(world.facts(), ADA, '', []))).to.deep.equal(['decide.noReason'])
    for (const state of ['onDraftOrder', 'bought', 'done'] as const) {
      world.lineStates = ['toBuy', state]
      expect(codes(returnRequest(world.facts(), ADA, 'Which pump?', []))).to.deep.equal(['pool.partBought'])
    }
    world.lineStates = ['toBuy', 'cancelled']
    const rest = returnRequest(world.facts(), ADA, 'Which pump?', [])
    expect(rest.ok && rest.budget.reduce((sum, entry) => sum + entry.amount, 0n)).to.equal(-10_000n)
  })

  it('drops its open question with it', () => {
    const world = new Requested()
    world.submit([pathStep(1, 'marit')])
    world.lineStates = ['toBuy', 'toBuy']
    const back = returnRequest(world.facts(), ADA, 'Which pump?', [])
    expect(back.ok && back.next.consent!.state).to.equal('dropped')
    world.consent = { ...world.consent!, state: 'given' }
    expect(returnRequest(world.facts(), ADA, 'Which pump?', [])).to.have.nested.property('next.consent', null)
  })

  it('or single lines end and the rest goes on, unless a part of them is ordered', () => {
    const world = pool()
    const dropped = dropLines(world.facts(), ADA, 'Not made any more.', ['line2'])
    expect(dropped.ok && dropped.next).to.deep.equal({ state: null, ends: ['line2'], consent: null })
    expect(dropped.ok && dropped.budget.reduce((sum, entry) => sum + entry.amount, 0n)).to.equal(-20_000n)
    world.quantities.push({ lineId: 'line2', kind: 'ordered', quantity: '1' })
    expect(codes(dropLines(world.facts(), ADA, 'Not made any more.', ['line2']))).to.deep.equal(['pool.partOrdered'])
    expect(codes(dropLines(world.facts(), ADA, 'Not made any more.', ['line1']))).to.deep.equal([])
    expect(codes(dropLines(world.facts(), NOBODY, '', ['line1']))).to.deep.equal(['right.notYours', 'decide.noReason'])
  })
})

describe('splitting a line of the pool', () => {
  const line = () => {
    const world = new Requested()
    world.submit([])
    world.lineStates = ['toBuy', 'toBuy']
    return world.facts().lines[0]!
  }
  const price = (text: string, rate = '1', currency = 'EUR') => ({ price: text, priceBase: '1', currency, rate })
  const wanted = (changed: Partial<SplitWanted> = {}): SplitWanted => ({
    newId: 'new',
    quantity: '4',
    kept: price('10'),
    cut: price('10'),
    ...changed,
  })
  const accounts = (allotted: bigint): AccountFacts[] =>
    ['a1', 'a2'].map(id => ({
      id,
      label: id,
      level: 'stop',
      tolerancePercent: 0,
      open: true,
      sums: sumBudget([{ kind: 'allotted', amount: minor(allotted) }]),
    }))
  const split = (changed: Partial<SplitWanted> = {}, of = line(), room = 1_000_000n, actor = ADA) =>
    splitLine(of, wanted(changed), accounts(room), actor, 'EUR')

  it('leaves what is requested and reserved the same in sum, also where the parts are dearer', () => {
    const decided = split()
    expect(decided.ok && decided.next).to.deep.equal({
      kept: { quantity: '6', price: '10', amount: 6_000n, baseAmount: 6_000n },
      cut: { quantity: '4', price: '10', amount: 4_000n, baseAmount: 4_000n },
    })
    expect(decided.ok && decided.quantity).to.deep.equal([
      { lineId: 'line1', kind: 'requested', quantity: '-4' },
      { lineId: 'new', kind: 'requested', quantity: '4' },
    ])
    const money = (one: ReturnType<typeof split>) =>
      one.ok ? one.budget.reduce((sum, entry) => sum + entry.amount, 0n) : null
    expect(money(decided)).to.equal(0n)
    expect(money(split({ cut: price('12.5') }))).to.equal(1_000n)
    expect(money(split({ cut: price('125', '0.1', 'NOK') }))).to.equal(1_000n)
    expect(decided.ok && decided.did.changes).to.deep.equal({ position: 1, cut: '4', price: '10', currency: 'EUR' })
  })

  it('stays within 110 per cent of what was approved, both parts together', () => {
    const dear = split({ cut: price('12.51') })
    expect(codes(dear)).to.deep.equal(['pool.overApproved'])
    expect(!dear.ok && dear.reasons[0]!.details).to.deep.equal({
      line: 'Line 1',
      approved: 'EUR 100.00',
      wanted: 'EUR 110.04',
      percent: 10,
    })
  })

  it('finds its budget where it is dearer', () => {
    expect(codes(split({ cut: price('12.5') }, line(), 333n))).to.deep.equal(['budget.over', 'budget.over'])
    expect(codes(split({}, line(), 2_667n))).to.deep.equal([])
  })

  it('is refused for lines that are not to be bought, ordered in part, cut at nothing or at all of it', () => {
    expect(codes(split({}, { ...line(), state: 'bought' }))).to.deep.equal(['order.lineNotToBuy'])
    const partly = { ...line(), sums: { ...line().sums, ordered: '1' } }
    expect(codes(split({}, partly))).to.deep.equal(['pool.partOrdered'])
    for (const quantity of ['0', '10', '11', 'x'])
      expect(codes(split({ quantity })), quantity).to.deep.equal(['pool.cut'])
    expect(codes(split({}, line(), 1_000_000n, NOBODY))).to.deep.equal(['right.notYours'])
  })
})

describe('what can be done with lines that wait to be bought', () => {
  it('is nothing with those that do not wait any more, each named', () => {
    const lines = [pooled(), pooled({ description: 'Valve', state: 'bought' }), pooled({ state: 'cancelled' })]
    expect(whyNotWaiting(...lines).map(one => [one.code, one.details.line, one.details.state])).to.deep.equal([
      ['order.lineNotToBuy', 'Valve', 'bought'],
      ['order.lineNotToBuy', 'Pump', 'cancelled'],
    ])
    expect(whyNotWaiting(pooled())).to.deep.equal([])
  })

  it('is only what their requests allow, and a part is bought by an offer in its unit', () => {
    const [free, bound] = [pooled(), pooled({ description: 'Valve', routes: ['askForQuotes'] })]
    expect(whyNotRoute('askForQuotes', free, bound)).to.deep.equal([])
    const [why, ...others] = whyNotRoute('orderNow', free, bound)
    expect(others).to.deep.equal([])
    expect(why).to.deep.include({ code: 'pool.routeForbids', clearedBy: ['requester'] })
    expect(why!.details).to.deep.include({ line: 'Valve', route: 'orderNow', routes: 'askForQuotes' })
    expect(whyNotOffer({ unit: 'C62' }, { unit: 'C62' })).to.deep.equal([])
    expect(whyNotOffer({ unit: 'C62' }, { unit: 'KGM' })[0]!.details).to.deep.equal({ from: 'C62', to: 'KGM' })
  })
})

describe('a question about lines', () => {
  const request = { id: 'r1', number: 'R-1', title: 'Pumps', requesterId: 'ines' }
  const ask = (lines: readonly PoolLine[], actor = ADA) =>
    askRequester(request, lines, actor, 'Which thread?', '2026-06-02T08:00:00Z')
  const ines = actorOf('ines')

  it('pauses the lines and goes to the requester, once for each time it is asked', () => {
    const decided = ask([pooled(), pooled({ id: 'line2', position: 2 })])
    if (!decided.ok) throw new Error('refused')
    expect(decided.next.pauses).to.deep.equal(['line1', 'line2'])
    expect(decided.did).to.deep.equal({ action: 'asked', changes: { lines: [1, 2] }, reason: 'Which thread?' })
    expect(decided.says.map(one => [one.template, one.to, one.key, one.details.question])).to.deep.equal([
      ['requisition.question', { kind: 'person', id: 'ines' }, 'asked:r1:2026-06-02T08:00:00Z', 'Which thread?'],
    ])
    expect([decided.quantity, decided.budget]).to.deep.equal([[], []])
  })

  it('is asked by buyers, about lines that wait to be bought', () => {
    expect(codes(ask([pooled()], NOBODY))).to.deep.equal(['right.notYours'])
    expect(codes(ask([pooled({ state: 'onDraftOrder' })]))).to.deep.equal(['order.lineNotToBuy'])
  })

  it('is answered by the requester, once, and whoever asked is told', () => {
    const question = { id: 'q1', question: 'Which thread?', askedBy: 'pilar', answeredAt: null }
    const decided = answerQuestion(request, question, ines, 'Half an inch.')
    if (!decided.ok) throw new Error('refused')
    expect(decided.next).to.deep.equal({ answers: 'q1' })
    expect(decided.did).to.deep.include({ action: 'answered', reason: 'Half an inch.' })
    expect(decided.says.map(one => [one.template, one.to, one.key, one.details.answer])).to.deep.equal([
      ['requisition.answer', { kind: 'person', id: 'pilar' }, 'answered:q1', 'Half an inch.'],
    ])
    expect(codes(answerQuestion(request, question, ADA, 'Half an inch.'))).to.deep.equal(['right.notYours'])
    expect(codes(answerQuestion(request, { ...question, answeredAt: '2026-06-02' }, ines, 'Again.'))).to.deep.equal([
      'pool.answeredAlready',
    ])
  })
})

describe('whatever is done with lines that wait to be bought', () => {
  const decimals = (most: number, digits: number) =>
    fc.integer({ min: 1, max: most * 10 ** digits }).map(units => new Decimal(units).dividedBy(10 ** digits).toString())
  const accounts = (['a1', 'a2', 'a3'] as const).map(id => ({
    id,
    label: id,
    level: 'stop' as const,
    tolerancePercent: 0,
    open: true,
    sums: sumBudget([{ kind: 'allotted', amount: minor(10_000_000_000n) }]),
  }))
  const shares = fc.constantFrom(['1'], ['1', '2'], ['1', '1', '1'], ['0.5', '0.3', '0.2'])

  it('parts re-add to the line, each reserves what it is worth, and all of it is free again when they are let go', () => {
    let times = 0
    fc.assert(
      fc.property(
        decimals(1000, 2),
        decimals(500, 4),
        shares,
        fc.array(fc.tuple(fc.nat(5), decimals(999, 2), fc.constantFrom('1', '0.99', '1.02')), { maxLength: 8 }),
        (quantity, price, parts, cuts) => {
          const splits = parts.map((share, index) => ({ accountId: `a${index + 1}`, share }))
          const quantities: QuantityEntry[] = [{ lineId: 'line1', kind: 'requested', quantity }]
          const budget: BudgetEntry[] = []
          const rows = [
            {
              id: 'line1',
              quantity,
              price,
              baseAmount: lineAmount({ quantity, price, priceBase: '1', currency: 'EUR' }),
            },
          ]
          const facts = () =>
            new Requested().facts({
              state: 'approved',
              lines: rows.map((row, index) => ({
                ...row,
                position: index + 1,
                requisitionId: 'r1',
                kind: 'goods' as const,
                description: row.id,
                state: 'toBuy' as const,
                splits,
                sums: sumQuantities(quantities.filter(entry => entry.lineId === row.id)),
                standing: addStanding(
                  [],
                  budget.filter(entry => entry.lineId === row.id),
                ),
              })),
            })
          budget.push(...reservationEntries(facts().lines))
          expect(requisitionLaws(facts())).to.deep.equal([])
          for (const [which, cut, dearer] of cuts) {
            const line = facts().lines[which % rows.length]!
            const row = rows[which % rows.length]!
            const priced = (at: string) => ({ price: at, priceBase: '1', currency: 'EUR', rate: '1' })
            const newPrice = new Decimal(row.price).times(dearer).toDecimalPlaces(6).toString()
            const decided = splitLine(
              line,
              { newId: `line${rows.length + 1}`, quantity: cut, kept: priced(row.price), cut: priced(newPrice) },
              accounts,
              ADA,
              'EUR',
            )
            if (!decided.ok) {
              expect(codes(decided)).to.have.length(1)
              continue
            }
            times++
            quantities.push(...decided.quantity)
            budget.push(...decided.budget)
            const { kept, cut: part } = decided.next
            Object.assign(row, { quantity: kept.quantity, baseAmount: kept.baseAmount })
            rows.push({
              id: `line${rows.length + 1}`,
              quantity: part.quantity,
              price: newPrice,
              baseAmount: part.baseAmount,
            })
            expect(requisitionLaws(facts())).to.deep.equal([])
            expect(sumDecimals(rows.map(one => one.quantity)).toString()).to.equal(new Decimal(quantity).toString())
          }
          const all = rows.map(row => row.id)
          const dropped = dropLines(facts(), ADA, 'Not wanted.', all)
          if (!dropped.ok) throw new Error('refused')
          expect(dropped.next.ends).to.deep.equal(all)
          const left = sumMinor([...budget, ...dropped.budget].map(entry => entry.amount))
          expect(left).to.equal(0n)
        },
      ),
      { numRuns: 150, seed: 23 },
    )
    expect(times).to.be.above(100)
  })

  it('each line is on one draft order, of its supplier and currency, and the sums of the drafts re-add', () => {
    const pool = fc.array(
      fc.record({
        supplierId: fc.constantFrom('s1', 's2', 's3'),
        currency: fc.constantFrom('EUR', 'NOK'),
        quantity: decimals(100, 2),
        price: decimals(100, 3),
        ordered: fc.constantFrom('0', '0.01'),
      }),
      { minLength: 1, maxLength: 12 },
    )
    fc.assert(
      fc.property(pool, wanted => {
        const lines = wanted.map(({ ordered, ...one }, index) =>
          pooled({
            ...one,
            id: `line${index}`,
            position: index + 1,
            sums: { ...NO_QUANTITIES, requested: one.quantity, ordered },
          }),
        )
        const decided = drafted(lines)
        if (!decided.ok) throw new Error('refused')
        const { orders } = decided.next
        const placed = orders.flatMap(order => order.lines.map(line => line.requisitionLineId))
        expect([...placed].sort()).to.deep.equal(lines.map(line => line.id).sort())
        expect(new Set(orders.map(order => `${order.supplierId} ${order.currency}`)).size).to.equal(orders.length)
        for (const order of orders) {
          expect(order.total).to.equal(sumMinor(order.lines.map(line => line.amount)))
          expect(order.baseTotal).to.equal(sumMinor(order.lines.map(line => line.baseAmount)))
          for (const line of order.lines) {
            const from = lines.find(one => one.id === line.requisitionLineId)!
            expect([order.supplierId, order.currency]).to.deep.equal([from.supplierId, from.currency])
            expect(line.quantity).to.equal(new Decimal(from.sums.requested).minus(from.sums.ordered).toString())
          }
        }
      }),
      { numRuns: 100, seed: 29 },
    )
  })
})
