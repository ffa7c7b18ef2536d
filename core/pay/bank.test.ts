import { expect } from 'chai'
import fc from 'fast-check'
import { type BankItem, type BankMessage, readBankMessage } from '#core/formats/bankAnswers.ts'
import { RuleBroken } from '#core/reasons.ts'
import { minor } from '#core/money/amount.ts'
import type { PaymentFacts } from '#core/pay/facts.ts'
import { batchId, referencesOf, takeBankMessage, WHY_OPEN } from '#core/pay/takeBankMessage.ts'
import { payment } from '#test-helpers/runs.ts'

const document = (kind: string, body: string): string =>
  `<Document xmlns="urn:iso:std:iso:20022:tech:xsd:${kind}">${body}</Document>`

interface Reported {
  readonly group?: string
  readonly batch?: string
  readonly batchReference?: string
  readonly payments?: readonly (readonly [string, string, string?])[]
}
/** A status report of one file with one batch. */
const report = ({ group, batch, batchReference = 'P-1-EUR', payments = [] }: Reported): string =>
  document(
    'pain.002.001.10',
    `<CstmrPmtStsRpt><GrpHdr><MsgId>M1</MsgId><CreDtTm>2026-06-03T10:00:00</CreDtTm></GrpHdr>
    <OrgnlGrpInfAndSts><OrgnlMsgId>P-1</OrgnlMsgId>${group ? `<GrpSts>${group}</GrpSts><StsRsnInf><Rsn><Cd>FF01</Cd></Rsn></StsRsnInf>` : ''}</OrgnlGrpInfAndSts>
    <OrgnlPmtInfAndSts><OrgnlPmtInfId>${batchReference}</OrgnlPmtInfId>${batch ? `<PmtInfSts>${batch}</PmtInfSts>` : ''}
    ${payments.map(([id, status, reason]) => `<TxInfAndSts><OrgnlEndToEndId>${id}</OrgnlEndToEndId><TxSts>${status}</TxSts>${reason ? `<StsRsnInf><Rsn><Cd>${reason}</Cd></Rsn></StsRsnInf>` : ''}</TxInfAndSts>`).join('')}
    </OrgnlPmtInfAndSts></CstmrPmtStsRpt>`,
  )

interface Booked {
  readonly id?: string
  readonly amount?: string
  readonly currency?: string
  readonly mark?: 'DBIT' | 'CRDT'
  readonly status?: string
  readonly day?: string
  /** What stands beside the references of its only transaction. */
  readonly inside?: string
  /** The whole content of NtryDtls, in place of one transaction. */
  readonly details?: string
  readonly beside?: string
}
const entry = ({ id = 'E1', amount = '595.00', currency = 'EUR', mark = 'DBIT', ...rest }: Booked = {}): string =>
  `<Ntry><Amt Ccy="${currency}">${amount}</Amt><CdtDbtInd>${mark}</CdtDbtInd>${rest.beside ?? ''}${rest.status ?? '<Sts><Cd>BOOK</Cd></Sts>'}<BookgDt><Dt>${rest.day ?? '2026-06-03'}</Dt></BookgDt>
  ${rest.details ?? `<NtryDtls><TxDtls><Refs><EndToEndId>${id}</EndToEndId></Refs>${rest.inside ?? ''}</TxDtls></NtryDtls>`}</Ntry>`
const statement = (entries: readonly string[], kind = 'camt.053.001.08'): string =>
  document(
    kind,
    kind.startsWith('camt.054')
      ? `<BkToCstmrDbtCdtNtfctn><GrpHdr><MsgId>N1</MsgId></GrpHdr><Ntfctn>${entries.join('')}</Ntfctn></BkToCstmrDbtCdtNtfctn>`
      : `<BkToCstmrStmt><GrpHdr><MsgId>S1</MsgId></GrpHdr><Stmt>${entries.join('')}</Stmt></BkToCstmrStmt>`,
  )

const TWO = [payment(), payment({ id: 'p2', invoiceId: 'i2', endToEndId: 'E2' })]

function take(text: string, payments: readonly PaymentFacts[] = TWO) {
  const decided = takeBankMessage(readBankMessage(text), payments)
  if (!decided.ok) throw new RuleBroken(decided.reasons)
  return {
    effects: decided.next.items.map(one => [one.effect, one.why?.slice('bank.open.'.length)].filter(Boolean).join(' ')),
    moves: decided.next.moves.map(one => `${one.paymentId} ${one.state} ${one.invoice ?? '-'}`),
    decided,
  }
}

describe('what a bank writes', () => {
  const refusal = (text: string): string => {
    try {
      readBankMessage(text)
      return ''
    } catch (error) {
      return error instanceof RuleBroken ? error.reasons[0]!.code : String(error)
    }
  }

  it('is read from pain.002 at the level at which it is said', () => {
    const message = readBankMessage(report({ group: 'PART', batch: 'ACCP', payments: [['E2', 'RJCT', 'AC04']] }))
    expect(message).to.deep.include({ kind: 'pain.002', messageId: 'M1' })
    expect(message.items.map(one => [one.level, one.reference, one.outcome, one.reasonCode, one.date])).to.deep.equal([
      ['batch', 'P-1-EUR', 'accepted', '', '2026-06-03'],
      ['payment', 'E2', 'refused', 'AC04', '2026-06-03'],
    ])
  })

  it('is read from camt.053 and camt.054, booked entries only, in the old form of the status too', () => {
    const kinds = ['camt.053.001.02', 'camt.053.001.08', 'camt.054.001.08']
    for (const kind of kinds) {
      const message = readBankMessage(
        statement([entry({ status: '<Sts>BOOK</Sts>' }), entry({ status: '<Sts><Cd>PDNG</Cd></Sts>' })], kind),
      )
      expect(message.kind).to.equal(kind.slice(0, 8))
      expect(
        message.items.map(one => one.outcome),
        kind,
      ).to.deep.equal(['paid'])
    }
  })

  it('is told from anything else, and from a kind that only looks so', () => {
    expect(refusal(document('pain.001.001.09', ''))).to.equal('pay.notABankAnswer')
    expect(refusal(document('camt.052.001.08', '<BkToCstmrStmt/>'))).to.equal('pay.notABankAnswer')
    expect(refusal(document('camt.053.001.08', '<BkToCstmrDbtCdtNtfctn/>'))).to.equal('pay.notABankAnswer')
    expect(refusal('<Document/>')).to.equal('pay.notABankAnswer')
    expect(refusal('not xml')).to.equal('xml.notWellFormed')
  })

  it('of another vocabulary inside is not read as the bank’s', () => {
    const foreign = '<x:RtrInf xmlns:x="urn:other"/>'
    expect(readBankMessage(statement([entry({ mark: 'CRDT', inside: foreign })])).items[0]!.outcome).to.equal(
      'incoming',
    )
  })

  it('names what has to be looked up: runs, whole or by currency, and payments', () => {
    const message = readBankMessage(
      report({
        group: 'RJCT',
        batch: 'RJCT',
        payments: [
          ['E1', 'RJCT'],
          ['E1', 'RJCT'],
        ],
      }),
    )
    expect(referencesOf(message)).to.deep.equal({ runNumbers: ['P-1'], endToEndIds: ['E1'] })
    expect(batchId('P-1', 'NOK')).to.equal('P-1-NOK')
  })
})

describe('a status report', () => {
  it('accepts and refuses payment by payment, with the bank’s reason', () => {
    const { moves, effects, decided } = take(
      report({
        payments: [
          ['E1', 'ACSP'],
          ['E2', 'RJCT', 'AC04'],
        ],
      }),
    )
    expect(moves).to.deep.equal(['p1 accepted -', 'p2 refused unschedule'])
    expect(effects).to.deep.equal(['moved', 'moved'])
    expect(decided.ok && decided.next.moves[1]!.bankReason).to.equal('AC04')
    expect(decided.ok && decided.next.moves[0]!.bankReason).to.equal(null)
    expect(decided.ok && decided.did).to.deep.include({
      action: 'bankAnswered',
      changes: { message: 'M1', moved: 2, open: 0 },
    })
  })

  it('that rejects the whole file, or a batch of it, refuses every payment in it', () => {
    const whole = take(report({ group: 'RJCT' }))
    expect(whole.moves).to.deep.equal(['p1 refused unschedule', 'p2 refused unschedule'])
    expect(whole.decided.ok && whole.decided.next.moves[0]!.bankReason).to.equal('FF01')
    const kroner = payment({ id: 'p3', currency: 'NOK', endToEndId: 'E3' })
    expect(take(report({ batch: 'RJCT' }), [...TWO, kroner]).moves).to.deep.equal([
      'p1 refused unschedule',
      'p2 refused unschedule',
    ])
    expect(take(report({ batch: 'RJCT' })).decided.ok).to.equal(true)
  })

  it('says the whole before its parts: what the parts repeat is no news', () => {
    const { effects, moves } = take(report({ group: 'RJCT', payments: [['E1', 'RJCT', 'AC04']] }))
    expect(moves).to.have.length(2)
    expect(effects).to.deep.equal(['moved', 'known'])
  })

  it('that something waits there is noted and moves nothing', () => {
    expect(
      take(
        report({
          payments: [
            ['E1', 'PDNG'],
            ['E2', 'RCVD'],
          ],
        }),
      ),
    ).to.deep.include({
      moves: [],
      effects: ['noted', 'noted'],
    })
  })

  it('with a status that is in no standard, or of no payment of ours, stays open', () => {
    expect(
      take(
        report({
          payments: [
            ['E1', 'XYZ'],
            ['E9', 'ACCP'],
            ['NOTPROVIDED', 'RJCT'],
            ['E8', 'XYZ'],
          ],
        }),
      ),
    ).to.deep.include({
      moves: [],
      effects: ['open unknownStatus', 'open noPayment', 'open noPayment', 'open unknownStatus'],
    })
  })

  it('of another batch than ours stays open', () => {
    expect(take(report({ batch: 'RJCT', batchReference: 'P-2-EUR' })).effects).to.deep.equal(['open noPayment'])
  })

  it('that contradicts what is booked stays open', () => {
    const booked = [payment({ state: 'paid', paidOn: '2026-06-03' })]
    expect(take(report({ payments: [['E1', 'RJCT']] }), booked)).to.deep.include({
      moves: [],
      effects: ['open contradicts'],
    })
    expect(take(report({ payments: [['E1', 'ACCP']] }), booked).effects).to.deep.equal(['known'])
  })
})

describe('a statement', () => {
  it('pays what it books, on its day, and tells the supplier', () => {
    const { moves, decided } = take(statement([entry()]))
    expect(moves).to.deep.equal(['p1 paid pay'])
    expect(decided.ok && decided.next.moves[0]!.paidOn).to.equal('2026-06-03')
    expect(decided.ok && decided.quantity).to.deep.equal([{ lineId: 'line1', kind: 'paid', quantity: '4' }])
    expect(decided.ok && decided.says[0]).to.deep.include({
      template: 'payment.remittance',
      key: 'remittance:p1:2026-06-03',
      to: { kind: 'supplier', id: 's1', message: 'payments' },
    })
    expect(decided.ok && decided.says[0]!.details).to.deep.include({
      amount: '595.00',
      ending: '4300',
      day: '2026-06-03',
    })
  })

  it('compares amounts as numbers, in the currency of the payment', () => {
    for (const amount of ['595', '595.0', '595.00000'])
      expect(take(statement([entry({ amount })])).moves, amount).to.have.length(1)
    for (const amount of ['594.99', '0595.01', '5.95e2', '-595.00'])
      expect(take(statement([entry({ amount })])).effects, amount).to.deep.equal(['open otherAmount'])
    expect(take(statement([entry({ currency: 'NOK' })])).effects).to.deep.equal(['open otherCurrency'])
  })

  it('takes the amount of the transaction, the transferred or the instructed one, from several bookings in one entry', () => {
    const one = (id: string, amount: string): string =>
      `<TxDtls><Refs><EndToEndId>${id}</EndToEndId></Refs>${amount}</TxDtls>`
    const of = (tag: string): string => `<AmtDtls><${tag}><Amt Ccy="EUR">595.00</Amt></${tag}></AmtDtls>`
    for (const amount of ['<Amt Ccy="EUR">595.00</Amt>', of('TxAmt'), of('InstdAmt')]) {
      const details = `<NtryDtls>${one('E1', amount)}</NtryDtls><NtryDtls>${one('E2', amount)}</NtryDtls>`
      expect(take(statement([entry({ amount: '1190.00', details })])).moves, amount).to.deep.equal([
        'p1 paid pay',
        'p2 paid pay',
      ])
    }
    const none = `<NtryDtls>${one('E1', '')}${one('E2', '')}</NtryDtls>`
    expect(take(statement([entry({ amount: '1190.00', details: none })])).effects).to.deep.equal([
      'open noAmount',
      'open noAmount',
    ])
  })

  it('books a whole batch where its sum is right, and not otherwise', () => {
    const details = '<NtryDtls><Btch><PmtInfId>P-1-EUR</PmtInfId></Btch></NtryDtls>'
    expect(take(statement([entry({ amount: '1190.00', details })])).moves).to.deep.equal(['p1 paid pay', 'p2 paid pay'])
    expect(take(statement([entry({ amount: '595.00', details })])).effects).to.deep.equal(['open otherAmount'])
    expect(take(statement([entry({ amount: '1190.00', currency: 'NOK', details })])).effects).to.deep.equal([
      'open noAmount',
    ])
    expect(take(statement([entry({ details })]), [payment()]).moves).to.deep.equal(['p1 paid pay'])
    expect(take(statement([entry({ details: '' })])).effects).to.deep.equal(['open noPayment'])
  })

  it('takes back what comes back: the invoice is payable again, the lines are not paid', () => {
    const paid = [payment({ state: 'paid', paidOn: '2026-06-03' })]
    const inside = '<RtrInf><Rsn><Cd>AC04</Cd></Rsn></RtrInf>'
    const { moves, decided } = take(statement([entry({ mark: 'CRDT', day: '2026-06-09', inside })]), paid)
    expect(moves).to.deep.equal(['p1 returned giveBack'])
    expect(decided.ok && decided.next.moves[0]).to.deep.include({ bankReason: 'AC04', paidOn: '2026-06-03' })
    expect(decided.ok && decided.quantity).to.deep.equal([{ lineId: 'line1', kind: 'paid', quantity: '-4' }])
    const others = [
      { mark: 'CRDT', inside: '<BkTxCd><Domn><Fmly><SubFmlyCd>RRTN</SubFmlyCd></Fmly></Domn></BkTxCd>' },
      { mark: 'CRDT', beside: '<RvslInd>true</RvslInd>' },
      { mark: 'CRDT' },
    ] as const
    for (const other of others)
      expect(take(statement([entry(other)]), paid).moves, JSON.stringify(other)).to.deep.equal(['p1 returned giveBack'])
  })

  it('reads the mark of the transaction before that of its entry', () => {
    const inside = '<CdtDbtInd>CRDT</CdtDbtInd><RtrInf/>'
    expect(
      take(statement([entry({ inside })]), [payment({ state: 'paid', paidOn: '2026-06-03' })]).moves,
    ).to.deep.equal(['p1 returned giveBack'])
  })

  it('that returns what was never booked refuses it', () => {
    expect(take(statement([entry({ mark: 'CRDT', inside: '<RtrInf/>' })])).moves[0]).to.equal('p1 refused unschedule')
  })

  it('with other money that comes in, or a day that is none, stays open', () => {
    expect(take(statement([entry({ id: 'E9', mark: 'CRDT' })])).effects).to.deep.equal(['open incoming'])
    expect(take(statement([entry({ day: '2026-02-30' })])).effects).to.deep.equal(['open wrongDate'])
    expect(take(statement([entry({ beside: '<RvslInd>true</RvslInd>', id: 'E9' })])).effects).to.deep.equal([
      'open incoming',
    ])
  })

  it('that books what was refused, withdrawn or recalled stays open', () => {
    for (const state of ['refused', 'withdrawn', 'recalled'] as const)
      expect(take(statement([entry()]), [payment({ state })]).effects, state).to.deep.equal(['open paidAfterEnd'])
  })

  it('a second time is no news on the same day, and open on another', () => {
    const paid = [payment({ state: 'paid', paidOn: '2026-06-03' })]
    expect(take(statement([entry()]), paid).effects).to.deep.equal(['known'])
    expect(take(statement([entry()], 'camt.054.001.08'), paid).effects).to.deep.equal(['known'])
    expect(take(statement([entry({ day: '2026-06-04' })]), paid).effects).to.deep.equal(['open paidTwice'])
    expect(take(statement([entry(), entry()])).effects).to.deep.equal(['moved', 'known'])
    expect(take(statement([entry(), entry({ mark: 'CRDT', inside: '<RtrInf/>' })])).moves).to.deep.equal([
      'p1 paid pay',
      'p1 returned giveBack',
    ])
  })
})

describe('whatever a bank says', () => {
  const items = fc.array(
    fc.record({
      level: fc.constantFrom('file' as const, 'batch' as const, 'payment' as const),
      reference: fc.constantFrom('P-1', 'P-1-EUR', 'E1', 'E2', 'E9', ''),
      outcome: fc.constantFrom(
        ...(['accepted', 'pending', 'refused', 'paid', 'returned', 'incoming', 'unknown'] as const),
      ),
      status: fc.constant('XXXX'),
      reasonCode: fc.constantFrom('', 'AC01'),
      amounts: fc.constantFrom([], [{ amount: '595.00', currency: 'EUR' }], [{ amount: '1190', currency: 'EUR' }]),
      date: fc.constantFrom('2026-06-03', '2026-06-04', '2026-13-01'),
    }),
    { maxLength: 12 },
  )

  it('every item is assigned or shown, paid is never below nothing, and told twice it says nothing new', () => {
    fc.assert(
      fc.property(items, list => {
        const message: BankMessage = { kind: 'camt.053', messageId: 'M', items: list as BankItem[] }
        const decided = takeBankMessage(message, TWO)
        if (!decided.ok) throw new RuleBroken(decided.reasons)
        const { next } = decided
        expect(next.items).to.have.length(list.length)
        for (const one of next.items) {
          expect(one.effect === 'open').to.equal(one.why !== null)
          if (one.why !== null) expect(WHY_OPEN).to.include(one.why)
        }
        const last = new Map(next.moves.map(move => [move.paymentId, move]))
        for (const [id, move] of last) {
          const sum = next.moves
            .filter(one => one.paymentId === id)
            .reduce((total, one) => total + (one.invoice === 'pay' ? 1 : one.invoice === 'giveBack' ? -1 : 0), 0)
          expect(sum).to.equal(move.state === 'paid' ? 1 : 0)
        }
        const after = TWO.map(one => ({ ...one, ...pick(last.get(one.id)) }))
        const again = takeBankMessage(message, after)
        expect(again.ok && again.next.moves.filter(move => move.state === 'paid')).to.deep.equal([])
      }),
      { numRuns: 300, seed: 3 },
    )
  })

  const pick = (move: { state: PaymentFacts['state']; paidOn: string | null } | undefined): Partial<PaymentFacts> =>
    move ? { state: move.state, paidOn: move.paidOn } : {}

  it('pays no more than was sent: the sum of a batch is held against its payments', () => {
    const three = [...TWO, payment({ id: 'p3', endToEndId: 'E3', amount: minor(1) })]
    const details = '<NtryDtls><Btch><PmtInfId>P-1-EUR</PmtInfId></Btch></NtryDtls>'
    expect(take(statement([entry({ amount: '1190.01', details })]), three).moves).to.have.length(3)
    expect(take(statement([entry({ amount: '1190.00', details })]), three).effects).to.deep.equal(['open otherAmount'])
  })
})
