import { childrenOf, find, parseXml, textAt, withoutForeign, type XmlElement } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { table } from '#core/text/table.ts'

/**
 * What a bank says of something: it was accepted, waits there, was refused, booked, came back, is money that is not about our payments, or
 * a status that is not known here.
 */
export const BANK_OUTCOMES = ['accepted', 'pending', 'refused', 'paid', 'returned', 'incoming', 'unknown'] as const
export type BankOutcome = (typeof BANK_OUTCOMES)[number]

export interface BankAmount {
  readonly amount: string
  readonly currency: string
}

/** One thing that a message says: of a whole file, of a batch in it, or of one payment. */
export interface BankItem {
  readonly level: 'file' | 'batch' | 'payment'
  /** The original message, the payment information, or the end-to-end identification; empty where none is given. */
  readonly reference: string
  readonly outcome: BankOutcome
  /** The status as the bank wrote it: RJCT, PDNG, BOOK, … */
  readonly status: string
  /** ISO 20022 external status or return reason code (AC01 wrong account, AM04 insufficient funds, …), empty when none is given. */
  readonly reasonCode: string
  /** Amounts that are given for it, in the currencies of the account and of the payment. */
  readonly amounts: readonly BankAmount[]
  /** As written. */
  readonly date: string
}

export interface BankMessage {
  readonly kind: 'pain.002' | 'camt.053' | 'camt.054'
  readonly messageId: string
  readonly items: readonly BankItem[]
}

/** Where the parts of a statement or notification stand, by kind. */
const STATEMENTS: Readonly<Record<string, readonly ['camt.053' | 'camt.054', string, string]>> = table({
  '053': ['camt.053', 'BkToCstmrStmt', 'Stmt'],
  '054': ['camt.054', 'BkToCstmrDbtCdtNtfctn', 'Ntfctn'],
})

/**
 * Reads an ISO 20022 pain.002 status report, camt.053 statement or camt.054 notification of any version in use. What it says is returned as
 * written; which payment it is about is for core/pay to say.
 *
 * @throws RuleBroken xml.* | pay.notABankAnswer
 */
export function readBankMessage(text: string): BankMessage {
  const whole = parseXml(text)
  const { element: root } = withoutForeign(whole, child => child.namespace === whole.namespace)
  const report = find(root, 'CstmrPmtStsRpt')
  if (root.name === 'Document' && /pain\.002\.001\.\d\d$/.test(root.namespace) && report)
    return readStatusReport(report)
  const version = /camt\.(05[34])\.001\.\d\d$/.exec(root.namespace)?.[1] ?? ''
  const [kind, container, part] = STATEMENTS[version] ?? []
  const statement = container === undefined ? undefined : find(root, container)
  if (root.name === 'Document' && kind && part && statement) return readStatement(kind, statement, part)
  throw new RuleBroken(
    stop('pay.notABankAnswer', { root: root.name.slice(0, 40), namespace: root.namespace.slice(0, 80) || 'none' }),
  )
}

/** ISO 20022 external payment group and transaction status codes (External Code Sets, ExternalPaymentTransactionStatus1Code). */
const OUTCOMES: ReadonlyMap<string, BankOutcome> = new Map([
  ...(['ACTC', 'ACCP', 'ACSP', 'ACWC', 'ACWP', 'ACSC', 'ACCC', 'ACFC'] as const).map(
    code => [code, 'accepted'] as const,
  ),
  ...(['PDNG', 'RCVD', 'PATC'] as const).map(code => [code, 'pending'] as const),
  ...(['RJCT', 'CANC'] as const).map(code => [code, 'refused'] as const),
])

function readStatusReport(report: XmlElement): BankMessage {
  const date = textAt(report, 'GrpHdr', 'CreDtTm').slice(0, 10)
  const say = (level: BankItem['level'], reference: string, status: string, at: XmlElement): BankItem[] =>
    // PART says that the parts differ: each of them says so itself
    status === '' || status === 'PART'
      ? []
      : [
          {
            level,
            reference,
            outcome: OUTCOMES.get(status) ?? 'unknown',
            status,
            reasonCode: textAt(at, 'StsRsnInf', 'Rsn', 'Cd'),
            amounts: [],
            date,
          },
        ]
  const group = find(report, 'OrgnlGrpInfAndSts')
  const batches = childrenOf(report, 'OrgnlPmtInfAndSts')
  return {
    kind: 'pain.002',
    messageId: textAt(report, 'GrpHdr', 'MsgId'),
    items: [
      ...(group ? say('file', textAt(group, 'OrgnlMsgId'), textAt(group, 'GrpSts'), group) : []),
      ...batches.flatMap(batch => [
        ...say('batch', textAt(batch, 'OrgnlPmtInfId'), textAt(batch, 'PmtInfSts'), batch),
        ...childrenOf(batch, 'TxInfAndSts').flatMap(one =>
          say('payment', textAt(one, 'OrgnlEndToEndId'), textAt(one, 'TxSts'), one),
        ),
      ]),
    ],
  }
}

function readStatement(kind: 'camt.053' | 'camt.054', statement: XmlElement, part: string): BankMessage {
  const entries = childrenOf(statement, part).flatMap(one => childrenOf(one, 'Ntry'))
  return {
    kind,
    messageId: textAt(statement, 'GrpHdr', 'MsgId'),
    items: entries.filter(entry => statusOf(entry) === 'BOOK').flatMap(readEntry),
  }
}

/** `Sts/Cd` since version 04 of the message, plain text before. */
const statusOf = (entry: XmlElement): string => textAt(entry, 'Sts', 'Cd') || textAt(entry, 'Sts')

/** An entry is one booking: of one payment, of several with their own amounts, or of a whole batch. */
function readEntry(entry: XmlElement): BankItem[] {
  const date = textAt(entry, 'BookgDt', 'Dt') || textAt(entry, 'BookgDt', 'DtTm').slice(0, 10)
  const base = { status: 'BOOK', date }
  const details = childrenOf(entry, 'NtryDtls')
  const transactions = details.flatMap(one => childrenOf(one, 'TxDtls'))
  if (transactions.length === 0) {
    const batch = textAt(details[0], 'Btch', 'PmtInfId')
    const level = batch === '' ? 'payment' : 'batch'
    return [
      {
        ...base,
        level,
        reference: batch,
        outcome: outcomeOf(entry, undefined),
        reasonCode: '',
        amounts: amountAt(entry),
      },
    ]
  }
  return transactions.map((one): BankItem => {
    const own = amountsOf(one)
    return {
      ...base,
      level: 'payment',
      reference: textAt(one, 'Refs', 'EndToEndId'),
      outcome: outcomeOf(entry, one),
      reasonCode: textAt(one, 'RtrInf', 'Rsn', 'Cd'),
      amounts: own.length > 0 || transactions.length > 1 ? own : amountAt(entry),
    }
  })
}

const amountAt = (element: XmlElement | undefined): BankAmount[] => {
  const amount = find(element, 'Amt')
  return amount ? [{ amount: amount.text.trim(), currency: amount.attributes.Ccy ?? '' }] : []
}

/** What is given for one of several bookings of an entry; the entry's own amount is all of them together. */
const amountsOf = (transaction: XmlElement): BankAmount[] => [
  ...amountAt(transaction),
  ...amountAt(find(transaction, 'AmtDtls', 'TxAmt')),
  ...amountAt(find(transaction, 'AmtDtls', 'InstdAmt')),
]

/** Debits are payments; credits that say that they return one, or reverse a booking, bring it back; others are not about our payments. */
function outcomeOf(entry: XmlElement, transaction: XmlElement | undefined): BankOutcome {
  const mark = textAt(transaction, 'CdtDbtInd') || textAt(entry, 'CdtDbtInd')
  const reversal = textAt(entry, 'RvslInd') === 'true'
  if (mark === 'DBIT') return reversal ? 'incoming' : 'paid'
  const code =
    textAt(transaction, 'BkTxCd', 'Domn', 'Fmly', 'SubFmlyCd') || textAt(entry, 'BkTxCd', 'Domn', 'Fmly', 'SubFmlyCd')
  return reversal || find(transaction, 'RtrInf') || code === 'RRTN' ? 'returned' : 'incoming'
}
