import * as pay from '#contract/pay/endpoints.ts'
import { found } from '#server/call.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { reads, type Route, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { settleItem } from '#server/pay/bankActs.ts'
import { bankMessageFile, bankMessageList, readBankMessage } from '#server/pay/bankList.ts'
import { payableList } from '#server/pay/payableList.ts'
import { answerRecall, approve, propose, recall, withdraw } from '#server/pay/runActs.ts'
import { runList } from '#server/pay/runList.ts'
import { readRun } from '#server/pay/runSheet.ts'

export const payRoutes: Route[] = [
  ...listRoutes(pay.Payables, payableList, 'payables'),
  ...listRoutes(pay.Runs, runList, 'payment-runs'),
  ...listRoutes(pay.BankMessages, bankMessageList, 'bank-messages'),
  writes(pay.ProposeRun, async (call, { body }) => {
    const proposed = await propose(call, body.dueUntil, body.executeOn)
    return { ...proposed, left: reasonsJson(proposed.left) }
  }),
  reads(pay.ReadRun, (call, { params }) => readRun(call, params.id)),
  writes(pay.ApproveRun, (call, { params, body }) => approve(call, params.id, body.version)),
  writes(pay.WithdrawRun, (call, { params, body }) => withdraw(call, params.id, body.version, body.reason)),
  writes(pay.RecallRun, (call, { params, body }) => recall(call, params.id, body.version, body.reason)),
  writes(pay.AnswerRecall, (call, { params, body }) =>
    answerRecall(call, params.id, body.version, body.answer, body.reason),
  ),
  reads(pay.RunFile, async (call, { params }) => {
    const run = found(
      await call.trx('paymentRuns').where({ id: params.id }).whereNotNull('file').first('number', 'file'),
      'file',
    )
    return { name: `${run.number}.xml`, mediaType: 'application/xml', bytes: Buffer.from(run.file ?? '') }
  }),
  reads(pay.ReadBankMessage, (call, { params }) => readBankMessage(call, params.id)),
  reads(pay.BankMessageFile, (call, { params }) => bankMessageFile(call, params.id)),
  writes(pay.SettleBankItem, (call, { params, body }) =>
    settleItem(call, params.id, params.itemId, body.version, body.note),
  ),
]
