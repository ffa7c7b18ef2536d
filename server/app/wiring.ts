import { refreshAgreements } from '#server/agreements/agreementRefresh.ts'
import { worksOnOrders } from '#server/agreements/orderHands.ts'
import { computeAwardPlan } from '#server/award/planWork.ts'
import { refreshInvoices } from '#server/bill/invoiceRefresh.ts'
import { worksLong } from '#server/jobs/longJobs.ts'
import { refreshConfirming } from '#server/order/confirming.ts'
import { refreshConsumption } from '#server/order/consumptionRefresh.ts'
import { applyWorkbook } from '#server/order/workbookJob.ts'
import { end, reprice } from '#server/order/orderActs.ts'
import { refreshOrders } from '#server/order/orderRefresh.ts'
import { refreshRequests } from '#server/request/requisitionRefresh.ts'
import { searchDuplicates } from '#server/source/duplicateActs.ts'
import { importSuppliers } from '#server/source/importSuppliers.ts'
import { keepsInStep } from '#server/thread/refresh.ts'

/** What the stages add to mechanisms that do not know them. Every process says it once, before it does anything. */
export function wire(): void {
  keepsInStep('confirming', refreshConfirming)
  keepsInStep('order', refreshOrders)
  keepsInStep('request', refreshRequests)
  keepsInStep('consumption', refreshConsumption)
  keepsInStep('agreements', refreshAgreements)
  keepsInStep('bill', refreshInvoices)
  worksLong('duplicates', searchDuplicates)
  worksLong('supplierImport', importSuppliers)
  worksLong('awardPlan', computeAwardPlan)
  worksLong('workbook', applyWorkbook)
  worksOnOrders({ reprice, end: (call, id, action, reason) => end(call, id, action, undefined, reason, true) })
}
