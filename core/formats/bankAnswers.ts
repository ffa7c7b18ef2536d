import { childrenOf, find, parseXml, textAt, type XmlElement } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

/** What a bank says about one payment, by its end-to-end identification. */
export interface PaymentAnswer {
  readonly endToEndId: string
  readonly outcome: 'accepted' | 'refused' | 'paid'
  /** ISO 20022 external status reason code (AC01 wrong account, AM04 insufficient funds, …), empty when none is given. */
  readonly reasonCode: string
  readonly amount: string
  readonly currency: string
  readonly date: string
}

export interface BankAnswer {
  readonly kind: 'pain.002' | 'camt.053'
  readonly messageId: string
  /** The message that a pain.002 answers; empty for a statement. */
  readonly originalMessageId: string
  readonly payments: readonly PaymentAnswer[]
}

/**
 * Reads an ISO 20022 pain.002.001.10 status report or camt.053.001.08 statement (later versions of either too).
 *
 * @throws RuleBroken xml.* | pay.notABankAnswer
 */
export function readBankAnswer(text: string): BankAnswer {
  const root = parseXml(text)
  const report = find(root, 'CstmrPmtStsRpt')
  const statement = find(root, 'BkToCstmrStmt')
  if (root.name === 'Document' && /pain\.002\.001\.\d\d$/.test(root.namespace) && report) return readStatusReport(report)
  if (root.name === 'Document' && /camt\.053\.001\.\d\d$/.test(root.namespace) && statement) return readStatement(statement)
  throw new RuleBroken(stop('pay.notABankAnswer', { root: root.name.slice(0, 40), namespace: root.namespace.slice(0, 80) || 'none' }))
}

function readStatusReport(report: XmlElement): BankAnswer {
  const payments = childrenOf(report, 'OrgnlPmtInfAndSts')
    .flatMap(info => childrenOf(info, 'TxInfAndSts'))
    .map((transaction): PaymentAnswer => ({
      endToEndId: textAt(transaction, 'OrgnlEndToEndId'),
      outcome: textAt(transaction, 'TxSts') === 'RJCT' ? 'refused' : 'accepted',
      reasonCode: textAt(transaction, 'StsRsnInf', 'Rsn', 'Cd'),
      amount: '',
      currency: '',
      date: textAt(report, 'GrpHdr', 'CreDtTm').slice(0, 10),
    }))
  return { kind: 'pain.002', messageId: textAt(report, 'GrpHdr', 'MsgId'), originalMessageId: textAt(report, 'OrgnlGrpInfAndSts', 'OrgnlMsgId'), payments }
}

function readStatement(statement: XmlElement): BankAnswer {
  const entries = childrenOf(statement, 'Stmt')
    .flatMap(stmt => childrenOf(stmt, 'Ntry'))
    .filter(entry => textAt(entry, 'Sts', 'Cd') === 'BOOK')
  const payments = entries.flatMap(entry =>
    childrenOf(find(entry, 'NtryDtls'), 'TxDtls').map((details): PaymentAnswer => ({
      endToEndId: textAt(details, 'Refs', 'EndToEndId'),
      outcome: textAt(entry, 'CdtDbtInd') === 'DBIT' ? 'paid' : 'refused',
      reasonCode: textAt(details, 'RtrInf', 'Rsn', 'Cd'),
      amount: textAt(details, 'Amt') || textAt(entry, 'Amt'),
      currency: (find(details, 'Amt') ?? find(entry, 'Amt'))?.attributes.Ccy ?? '',
      date: textAt(entry, 'BookgDt', 'Dt'),
    })),
  )
  return { kind: 'camt.053', messageId: textAt(statement, 'GrpHdr', 'MsgId'), originalMessageId: '', payments }
}
