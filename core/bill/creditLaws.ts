import type { CreditFacts } from '#core/bill/creditFacts.ts'
import { CREDIT_GROUPS } from '#core/bill/creditStates.ts'
import { givenBack } from '#core/bill/postCredit.ts'
import { whyBeyond } from '#core/bill/writeCredit.ts'
import { type Breach, breach } from '#core/ledger/law.ts'
import { sumMinor } from '#core/money/amount.ts'
import { sumDecimals } from '#core/money/decimal.ts'
import { isIn } from '#core/states.ts'

/**
 * What must hold of a credit note: posted, it has credited its pieces and given back its value, line by line; otherwise nothing of it stands in the
 * ledgers. It takes no more than its invoice billed, and no more of it is set off than it has; what is not posted is not set off.
 */
export function creditLaws(credit: CreditFacts): Breach[] {
  const posted = isIn(CREDIT_GROUPS.posted, credit.state)
  const back = posted ? givenBack(credit) : []
  const lineIds = new Set([
    ...credit.lines.flatMap(line => line.orderLineId ?? []),
    ...credit.posted.quantities.map(entry => entry.lineId),
    ...[...credit.posted.spent, ...back].flatMap(entry => entry.lineId ?? []),
  ])
  const ledgers = [...lineIds].flatMap(lineId => {
    const name = `${credit.number} on ${lineId}`
    const own = credit.lines.filter(line => posted && line.way === 'quantity' && line.orderLineId === lineId)
    const credited = sumDecimals(own.map(line => line.quantity)).toString()
    const found = sumDecimals(credit.posted.quantities.filter(one => one.lineId === lineId).map(one => one.quantity)).toString() // prettier-ignore
    const expected = sumMinor(back.filter(one => one.lineId === lineId).map(one => one.amount))
    const spent = sumMinor(credit.posted.spent.filter(one => one.lineId === lineId).map(one => one.amount))
    return [
      ...(credited === found ? [] : [breach('creditedByNote', name, credited, found)]),
      ...(expected === spent ? [] : [breach('givenBackByNote', name, expected.toString(), spent.toString())]),
    ]
  })
  const most = posted ? credit.gross : 0n
  return [
    ...ledgers,
    ...(isIn(CREDIT_GROUPS.standing, credit.state) && whyBeyond(credit.invoice, credit).length > 0
      ? [breach('creditBeyondInvoice', credit.number, credit.invoice.gross.toString(), credit.gross.toString())]
      : []),
    ...(credit.setOff <= most ? [] : [breach('setOffBeyondCredit', credit.number, most.toString(), credit.setOff.toString())]), // prettier-ignore
  ]
}
