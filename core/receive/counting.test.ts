import { expect } from 'chai'
import fc from 'fast-check'
import type { Decision } from '#core/acts/decision.ts'
import type { Count, Counted } from '#core/receive/counts.ts'
import { type CountedLine, plainLine, type ReceivingFacts, serialKey } from '#core/receive/facts.ts'
import { answerOver, withdrawOver } from '#core/receive/overReceipt.ts'
import { receiveDelivery } from '#core/receive/receiveDelivery.ts'
import { allOf, type ReceiptFacts, reverseReceipt } from '#core/receive/reverseReceipt.ts'
import { samplingPlan } from '#core/receive/sampling.ts'
import { effectiveTerms, type ReceivingTerms, whyNotTerms } from '#core/receive/terms.ts'
import type { Consent } from '#core/consent/consent.ts'
import { ADA, actorOf, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const codes = (decided: Decision<unknown, unknown>): string[] =>
  decided.ok ? [] : decided.reasons.map(({ code, place }) => [code, place].filter(Boolean).join(' '))
const issued = (setting: ConstructorParameters<typeof OrderToPay>[0] = {}): OrderToPay => {
  const world = new OrderToPay(setting)
  world.issue()
  return world
}
const facts = (
  terms: Partial<ReceivingTerms>,
  changed: Partial<CountedLine & ReceivingFacts> = {},
): ReceivingFacts => ({
  openFrom: null,
  knownSerials: new Set(),
  ...changed,
  lines: new Map([
    [
      'line1',
      { ...plainLine('C62'), itemId: 'item', ...changed, terms: effectiveTerms([{ from: 'item', name: 'it', terms }]) },
    ],
  ]),
})
const count = (
  world: OrderToPay,
  lines: readonly Omit<Count, 'lineId'>[],
  around = facts({}),
  changed: Partial<Counted> = {},
) =>
  receiveDelivery(
    world.order(),
    { receivedOn: TODAY, checkReason: '', lines: lines.map(line => ({ lineId: 'line1', ...line })), ...changed },
    ADA,
    TODAY,
    around,
  )

describe('terms of receiving', () => {
  it('are the line’s own before its item’s before its category’s, each for itself', () => {
    const { terms, from } = effectiveTerms([
      { from: 'line', name: 'this line', terms: {} },
      { from: 'item', name: 'Dive set', terms: { becomes: 'asset', serial: 'must' } },
      { from: 'category', name: 'Diving', terms: { becomes: 'stock', blind: true, overPercent: 0 } },
    ])
    expect([terms.becomes, terms.serial, terms.blind, terms.overPercent, terms.batch]).to.deep.equal([
      'asset',
      'must',
      true,
      0,
      'no',
    ])
    expect(from).to.deep.equal({ becomes: 'Dive set', serial: 'Dive set', blind: 'Diving', overPercent: 'Diving' })
  })

  it('need a name for each characteristic and limits that are figures in their order', () => {
    const one = (name: string, low: string, high: string) => ({ name, unit: 'MMT', low, high })
    const wrong = (...characteristics: ReturnType<typeof one>[]) =>
      whyNotTerms({ characteristics }).map(({ code, place }) => `${code} ${place}`)
    expect(wrong(one('Bore', '1', '2'), one('Length', '', '5'), one('Look', '', ''))).to.deep.equal([])
    expect(wrong(one('Bore', '2', '1'))).to.deep.equal(['terms.limits receiving.characteristics.0'])
    expect(wrong(one('Bore', 'x', ''))).to.deep.equal(['terms.limit receiving.characteristics.0'])
    expect(wrong(one('Bore', '', ''), one('Bore ', '', ''), one(' ', '', ''))).to.deep.equal([
      'terms.characteristic receiving.characteristics.1',
      'terms.characteristic receiving.characteristics.2',
    ])
    expect(whyNotTerms({})).to.deep.equal([])
  })
})

describe('a count', () => {
  it('is told in another unit or pack of the item, exactly, or refused', () => {
    const packs = facts({}, { packs: [{ unit: 'BX', holds: '4' }] })
    const boxes = count(issued(), [{ quantity: '2', unit: 'BX' }], packs)
    expect(boxes.ok && boxes.quantity).to.deep.equal([{ lineId: 'line1', kind: 'received', quantity: '8' }])
    expect(boxes.ok && [boxes.next.lines[0]!.enteredQuantity, boxes.next.lines[0]!.enteredUnit]).to.deep.equal([
      '2',
      'BX',
    ])
    expect(codes(count(issued(), [{ quantity: '2', unit: 'KGM' }], packs))).to.deep.equal([
      'units.noConversion lines.1.quantity',
    ])
    for (const quantity of ['1.0000001', '-2', '0', '1e3', '99999999999999'])
      expect(codes(count(issued(), [{ quantity }], packs)), quantity).to.deep.equal([
        'receive.quantity lines.1.quantity',
      ])
    const thirds = facts({}, { packs: [{ unit: 'BX', holds: '0.000001' }] })
    expect(codes(count(issued(), [{ quantity: '0.1', unit: 'BX' }], thirds))).to.deep.equal([
      'units.notExact lines.1.quantity',
    ])
  })

  it('is of several batches and bins of one line, each once', () => {
    const world = issued()
    const kinds = count(world, [
      { quantity: '4', batch: 'L1' },
      { quantity: '3', batch: 'L2' },
      { quantity: '1', batch: 'L2', condition: 'damaged' },
    ])
    expect(kinds.ok && kinds.quantity.map(entry => entry.quantity)).to.deep.equal(['4', '3', '1'])
    expect(kinds.ok && kinds.did.changes).to.deep.equal({
      lines: [
        { position: 1, quantity: '4', unit: 'C62', batch: 'L1' },
        { position: 1, quantity: '3', unit: 'C62', batch: 'L2' },
        { position: 1, quantity: '1', unit: 'C62', batch: 'L2', condition: 'damaged' },
      ],
    })
    expect(
      codes(
        count(world, [
          { quantity: '4', batch: 'L1' },
          { quantity: '3', batch: 'L1' },
        ]),
      ),
    ).to.deep.equal(['receive.lineTwice'])
    // together they are above what is ordered
    expect(
      codes(
        count(world, [
          { quantity: '6', bin: 'A' },
          { quantity: '6', bin: 'B' },
        ]),
      ),
    ).to.deep.equal(['receive.wantsReason checkReason', 'receive.overAsked lines.1.quantity'])
  })

  it('tells the batch, the date and the serial numbers that its item asks for', () => {
    expect(codes(count(issued(), [{ quantity: '1' }], facts({ batch: 'must', bestBefore: 'must' })))).to.deep.equal([
      'receive.needsBatch lines.1.batch',
      'receive.needsBestBefore lines.1.bestBefore',
    ])
    expect(
      codes(
        count(
          issued(),
          [{ quantity: '1', batch: 'L', bestBefore: '2027-01-01' }],
          facts({ batch: 'must', bestBefore: 'must' }),
        ),
      ),
    ).to.deep.equal([])
    const must = facts({ serial: 'must' })
    expect(codes(count(issued(), [{ quantity: '2', serials: ['A'] }], must))).to.deep.equal([
      'receive.needsSerials lines.1.serials',
    ])
    expect(codes(count(issued(), [{ quantity: '2', serials: ['A', 'B'] }], must))).to.deep.equal([])
    expect(codes(count(issued(), [{ quantity: '2', serials: ['A', 'B', 'C'] }], must))).to.deep.equal([
      'receive.tooManySerials lines.1.serials',
    ])
    expect(codes(count(issued(), [{ quantity: '2', serials: ['A', ' a'] }], must))).to.deep.equal([
      'serial.twice lines.1.serials',
    ])
    expect(codes(count(issued(), [{ quantity: '1', serials: [''] }], must))).to.deep.equal([
      'serial.tooLong lines.1.serials',
    ])
    // pieces that become assets are asked for theirs one by one
    expect(codes(count(issued(), [{ quantity: '2' }], facts({ serial: 'must', becomes: 'asset' })))).to.deep.equal([])
    const known = facts({}, { knownSerials: new Set([serialKey('item', 'b')]) })
    expect(codes(count(issued(), [{ quantity: '2', serials: ['A', 'B'] }], known))).to.deep.equal([
      'serial.known lines.1.serials',
    ])
  })

  it('is from today or a day of the open period', () => {
    const open = facts({}, { openFrom: '2026-05-01' })
    const on = (receivedOn: string) => codes(count(issued(), [{ quantity: '1' }], open, { receivedOn }))
    expect(on('2026-05-01')).to.deep.equal([])
    expect(on('2026-04-30')).to.deep.equal(['receive.closedPeriod receivedOn'])
    expect(on('2026-06-02')).to.deep.equal(['receive.future receivedOn'])
  })

  it('above the tolerance of its item wants a second person, also where the supplier’s is wider', () => {
    const world = issued({ lines: [{ quantity: '100', overReceiptPercent: 50 }] })
    const asked = count(world, [{ quantity: '103' }], facts({ overPercent: 2 }), { checkReason: 'They sent it.' })
    expect(asked.ok && [asked.next.state, asked.next.asks!.subject]).to.deep.equal([
      'asked',
      { lines: [{ position: 1, over: '3', unit: 'C62' }] },
    ])
    expect(
      count(world, [{ quantity: '102' }], facts({ overPercent: 2 }), { checkReason: 'They sent it.' }),
    ).to.deep.nested.include({ 'next.state': 'posted' })
    expect(count(world, [{ quantity: '150' }], facts({}), { checkReason: 'They sent it.' })).to.deep.nested.include({
      'next.state': 'posted',
    })
  })

  it('that is made unseen is made twice where it is not what is expected', () => {
    const blind = facts({ blind: true })
    expect(codes(count(issued(), [{ quantity: '10' }], blind))).to.deep.equal([])
    expect(codes(count(issued(), [{ quantity: '9' }], blind))).to.deep.equal(['receive.countAgain lines.1.quantity'])
    expect(codes(count(issued(), [{ quantity: '9', again: '8' }], blind))).to.deep.equal([
      'receive.countsDiffer lines.1.quantity',
    ])
    expect(codes(count(issued(), [{ quantity: '9', again: '9.0' }], blind))).to.deep.equal([])
  })

  it('becomes what its item says; without an item it is no stock, and work is work', () => {
    const of = (terms: Partial<ReceivingTerms>, changed: Partial<CountedLine> = {}, world = issued()) => {
      const made = count(world, [{ quantity: '1' }], facts(terms, changed))
      return made.ok
        ? made.next.lines.map(({ becomes, inspect, billsWait }) => [becomes, inspect, billsWait])[0]
        : codes(made)
    }
    expect(of({ becomes: 'stock' })).to.deep.equal(['stock', false, false])
    expect(of({ becomes: 'stock' }, { itemId: null })).to.deep.equal(['counted', false, false])
    expect(of({ becomes: 'asset', inspect: 'all' })).to.deep.equal(['asset', true, true])
    expect(of({ inspect: 'first' })).to.deep.equal(['counted', false, true])
    expect(of({ inspect: 'first', billsWait: false }, { first: true })).to.deep.equal(['counted', true, false])
    expect(
      of({ serial: 'must', batch: 'must' }, {}, issued({ lines: [{ kind: 'workByRate', proof: 'acceptWork' }] })),
    ).to.deep.equal(['work', false, false])
    expect(of({ inspect: 'all' }, {}, issued({ lines: [{ kind: 'workByRate', proof: 'acceptWork' }] }))).to.deep.equal([
      'work',
      false,
      false,
    ])
    expect(of({ becomes: 'asset' }, {}, issued({ lines: [{ kind: 'goodsByAmount', unit: 'M4' }] }))).to.deep.equal([
      'counted',
      false,
      false,
    ])
  })

  it('whose bill waits for an inspection counts as accepted only where it need not be inspected', () => {
    const entries = (terms: Partial<ReceivingTerms>) => {
      const made = count(issued(), [{ quantity: '4' }, { quantity: '2', batch: 'L' }], facts(terms))
      return made.ok ? made.quantity.map(({ kind, quantity }) => `${kind} ${quantity}`) : codes(made)
    }
    expect(entries({ inspect: 'all' })).to.deep.equal(['received 4', 'received 2'])
    expect(entries({ inspect: 'first' })).to.deep.equal(['received 4', 'accepted 4', 'received 2', 'accepted 2'])
    expect(entries({ inspect: 'all', billsWait: false })).to.deep.equal(['received 4', 'received 2'])
    const world = issued()
    world.receive([{ line: 1, quantity: '3' }])
    const later = count(world, [{ quantity: '4' }], facts({ inspect: 'all' }))
    expect(later.ok && later.quantity.map(({ kind, quantity }) => `${kind} ${quantity}`)).to.deep.equal([
      'received 4',
      'accepted 3',
    ])
  })
})

describe('a count above the tolerance', () => {
  const consent = (state: Consent['state'] = 'open'): Consent => ({
    id: 'c',
    purpose: 'overReceipt',
    documentKind: 'receipt',
    documentId: 'r',
    askedBy: 'yuki',
    state,
    amount: null,
    currency: null,
    steps: [
      {
        id: 's',
        stage: 1,
        state: state === 'open' ? 'open' : 'approved',
        asked: [{ kind: 'right', right: 'order.write', costCentre: null }],
        notBy: ['yuki'],
        label: 'O-1',
        who: '',
      },
    ],
  })
  const asked = (world: OrderToPay, state: Consent['state'] = 'open') => {
    const made = count(world, [{ quantity: '12' }], facts({}), { checkReason: 'They sent it.' })
    return { number: 'G-1', state: 'asked' as const, parts: made.ok ? made.next.lines : [], consent: consent(state) }
  }

  it('counts once somebody else says yes, never where they say no', () => {
    const world = issued()
    const yes = answerOver(asked(world), world.order(), ADA, 'approve', '')
    expect(yes.ok && [yes.next.state, yes.quantity]).to.deep.equal([
      'posted',
      [{ lineId: 'line1', kind: 'received', quantity: '12' }],
    ])
    const no = answerOver(asked(world), world.order(), ADA, 'reject', 'Send it back.')
    expect(no.ok && [no.next.state, no.quantity, no.budget]).to.deep.equal(['refused', [], []])
  })

  it('is not answered by who counted, nor twice, nor once the order is closed; who counted can take it back', () => {
    const world = issued()
    expect(codes(answerOver(asked(world), world.order(), actorOf('yuki'), 'approve', ''))).to.deep.equal([
      'receive.ownCount',
    ])
    expect(codes(answerOver(asked(world, 'given'), world.order(), ADA, 'approve', ''))).to.deep.equal([
      'receive.overDecided',
    ])
    expect(codes(answerOver(asked(world), world.order(), NOBODY, 'approve', ''))).to.deep.equal(['right.notYours'])
    expect(codes(withdrawOver(asked(world), ADA, ''))).to.deep.equal(['secondYes.notYours'])
    expect(withdrawOver(asked(world), actorOf('yuki'), '')).to.deep.nested.include({ 'next.state': 'refused' })
    const before = asked(world)
    world.close()
    expect(codes(answerOver(before, world.order(), ADA, 'approve', ''))).to.deep.equal(['receive.notOpen'])
  })
})

describe('taking back a part of a receipt', () => {
  const part = {
    id: 'p1',
    lineId: 'line1',
    becomes: 'counted' as const,
    left: '6',
    there: '6',
    inspected: false,
    pieces: [] as string[],
  }
  const receipt = (world: OrderToPay, changed: Partial<typeof part> = {}): ReceiptFacts => ({
    ...world.receipts[0]!,
    parts: [{ ...part, ...changed }],
  })
  const back = (world: OrderToPay, quantity: string, changed: Partial<typeof part> = {}, pieces: string[] = []) =>
    reverseReceipt(receipt(world, changed), world.order(), ADA, 'Miscounted.', [{ partId: 'p1', quantity, pieces }])
  const six = (): OrderToPay => {
    const world = issued()
    world.receive([{ line: 1, quantity: '6' }])
    return world
  }

  it('leaves the rest, and the receipt is reversed when nothing is left', () => {
    const world = six()
    const some = back(world, '2')
    expect(some.ok && [some.next.state, some.quantity.map(one => one.quantity), some.did.action]).to.deep.equal([
      'posted',
      ['-2'],
      'receiptReversedInPart',
    ])
    const all = back(world, '6.0')
    expect(all.ok && [all.next.state, all.did.action]).to.deep.equal(['reversed', 'receiptReversed'])
    expect(allOf(receipt(world))).to.deep.equal([{ partId: 'p1', quantity: '6', pieces: [] }])
    expect(allOf(receipt(world, { left: '0' }))).to.deep.equal([])
  })

  it('takes no more than stands, than is still there, than did not go back, and no part of what was inspected', () => {
    expect(codes(back(six(), '7'))).to.deep.equal(['receive.moreThanStands parts.0.quantity'])
    expect(codes(back(six(), '0'))).to.deep.equal(['receive.moreThanStands parts.0.quantity'])
    expect(codes(back(six(), '4', { there: '3' }))).to.deep.equal(['receive.notThere parts.0.quantity'])
    expect(codes(back(six(), '3', { inspected: true }))).to.deep.equal(['receive.inspectedWhole parts.0.quantity'])
    expect(codes(back(six(), '6', { inspected: true }))).to.deep.equal([])
    const world = six()
    world.post('returned', 1, '2')
    expect(codes(back(world, '5'))).to.deep.equal(['receive.goneBack'])
    expect(codes(back(world, '4'))).to.deep.equal([])
    expect(codes(reverseReceipt(receipt(six()), six().order(), ADA, 'Miscounted.', []))).to.deep.equal([
      'receive.nothingTakenBack',
    ])
    expect(
      codes(
        reverseReceipt(receipt(six()), six().order(), ADA, 'Miscounted.', [{ partId: 'x', quantity: '1', pieces: [] }]),
      ),
    ).to.deep.equal(['receive.foreignPart'])
  })

  it('names the pieces where each is an asset', () => {
    const asset = { becomes: 'asset' as never, pieces: ['a', 'b', 'c', 'd', 'e', 'f'] }
    expect(codes(back(six(), '2', asset))).to.deep.equal(['receive.whichPieces parts.0.quantity'])
    expect(codes(back(six(), '2', asset, ['a', 'x']))).to.deep.equal(['receive.whichPieces parts.0.quantity'])
    expect(codes(back(six(), '2', asset, ['a', 'a']))).to.deep.equal(['receive.whichPieces parts.0.quantity'])
    expect(codes(back(six(), '2', asset, ['a', 'f']))).to.deep.equal([])
  })

  it('takes entries of a line newest first and never more than they hold', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '6' }])
    const [entry] = world.receipts[0]!.entries
    const split: ReceiptFacts = {
      ...receipt(world),
      entries: [
        { ...entry!, id: 'e1', quantity: '4' },
        { ...entry!, id: 'e2', quantity: '2' },
      ],
    }
    const out = reverseReceipt(split, world.order(), ADA, 'Miscounted.', [{ partId: 'p1', quantity: '3', pieces: [] }])
    expect(out.ok && out.quantity.map(one => [one.reversesId, one.quantity])).to.deep.equal([
      ['e2', '-2'],
      ['e1', '-1'],
    ])
  })

  it('takes along what an inspection accepted of it, as far as it stands above what is left', () => {
    const world = six()
    const [entry] = world.receipts[0]!.entries
    const order = world.order()
    const inspected = {
      ...order,
      lines: order.lines.map(line => ({
        ...line,
        inspects: true,
        sums: { ...line.sums, accepted: '5', rejected: '1' },
      })),
    }
    const whole: ReceiptFacts = {
      ...receipt(world, { inspected: true }),
      entries: [
        entry!,
        { ...entry!, id: 'a', kind: 'accepted', quantity: '5' },
        { ...entry!, id: 'j', kind: 'rejected', quantity: '1' },
      ],
    }
    const out = reverseReceipt(whole, inspected, ADA, 'Miscounted.')
    expect(out.ok && out.quantity.map(one => `${one.kind} ${one.quantity}`)).to.deep.equal([
      'received -6',
      'accepted -5',
      'rejected -1',
    ])
  })
})

describe('the sampling plan of ISO 2859-1', () => {
  it('is the one of its tables, arrows followed', () => {
    for (const [lot, aql, sample, acceptUpTo] of [
      [500, '1.0', 50, 1],
      [1000, '1.0', 80, 2],
      [5000, '1.0', 200, 5],
      [100, '1.0', 13, 0],
      [20, '1.0', 13, 0],
      [10, '1.0', 10, 0],
      [150, '2.5', 20, 1],
      [500, '2.5', 50, 3],
      [90, '4.0', 13, 1],
      [40, '4.0', 13, 1],
      [8, '6.5', 2, 0],
      [40_000, '0.65', 500, 7],
      [1_000_000, '6.5', 200, 21],
    ] as const)
      expect(samplingPlan(lot, aql), `${lot} at ${aql}`).to.deep.equal({ sample, acceptUpTo })
  })

  it('never looks at more than there is, and is never looser for a smaller share of failures', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 2_000_000 }), lot => {
        const { sample, acceptUpTo } = samplingPlan(lot, '1.5')
        return sample >= 1 && sample <= lot && acceptUpTo < Math.max(1, sample)
      }),
    )
  })
})
