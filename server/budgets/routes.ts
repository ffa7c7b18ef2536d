import * as budgets from '#contract/budgets/endpoints.ts'
import { importBudgets } from '#server/budgets/budgetImport.ts'
import { answerTransfer, askTransfer } from '#server/budgets/transferActs.ts'
import { listTransfers } from '#server/budgets/transferList.ts'
import { changeFiscalYear, previewYearChange } from '#server/budgets/yearChange.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { reads, type Route, writes } from '#server/http/route.ts'

export const budgetRoutes: Route[] = [
  writes(budgets.ImportBudgets, async (call, { body }) =>
    importBudgets(call, await ownContent(call, body.fileId), body.dryRun),
  ),
  reads(budgets.ListTransfers, call => listTransfers(call)),
  writes(budgets.AskTransfer, (call, { body }) => askTransfer(call, body)),
  writes(budgets.DecideTransfer, (call, { params, body }) =>
    answerTransfer(call, params.id, body.action, body.version, body.reason),
  ),
  reads(budgets.PreviewYearChange, (call, { body }) => previewYearChange(call, body)),
  writes(budgets.ChangeYear, (call, { body }) => changeFiscalYear(call, body)),
]
