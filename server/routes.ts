import * as bill from '#contract/bill/endpoints.ts'
import * as decide from '#contract/decide/endpoints.ts'
import * as demo from '#contract/demo/endpoints.ts'
import * as files from '#contract/files/endpoints.ts'
import * as insight from '#contract/insight/endpoints.ts'
import * as order from '#contract/order/endpoints.ts'
import * as pay from '#contract/pay/endpoints.ts'
import * as receive from '#contract/receive/endpoints.ts'
import * as ledger from '#contract/ledger/endpoints.ts'
import * as pool from '#contract/order/pool.ts'
import * as setup from '#contract/setup/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { actOnInvoice, clearHold, linkLine, postInvoice, readInvoiceFile } from '#server/bill/invoiceService.ts'
import { invoiceList, readInvoice } from '#server/bill/invoiceSheet.ts'
import { type Call, found } from '#server/call.ts'
import { decide as takeDecision, passStep } from '#server/decide/decideService.ts'
import { attach, ownFile, readAttachment, storeFile, type StoredFile, writeNote } from '#server/files/fileService.ts'
import { writeOrderPdf } from '#server/formats/orderPdf.ts'
import { writeUblOrder } from '#server/formats/ublOrder.ts'
import { type FileAnswer, route, type Route } from '#server/http/app.ts'
import type { Knex } from 'knex'
import { audit } from '#server/insight/audit.ts'
import { budgetList, readBudget, readLineEntries } from '#server/insight/budgetPages.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { orderDocument } from '#server/order/documents.ts'
import { orderList, toBuyList } from '#server/order/lists.ts'
import { actOnOrder } from '#server/order/endOrder.ts'
import { changeOrder } from '#server/order/changeOrder.ts'
import { draftOrders } from '#server/order/draftOrders.ts'
import { issueOrder } from '#server/order/issueOrder.ts'
import { actOnPool, readPoolLine, returnLines, splitLine } from '#server/order/pool.ts'
import { askRequester } from '#server/request/questions.ts'
import { importBudgets } from '#server/ledger/budgetImport.ts'
import { askTransfer, decideTransfer, listTransfers } from '#server/ledger/transfers.ts'
import { changeFiscalYear, previewYearChange } from '#server/ledger/yearChange.ts'
import { readOrder } from '#server/order/orderSheet.ts'
import { answerResponse, respond } from '#server/order/responseService.ts'
import { invoiceFromOrder, ownOrder, ownOrders } from '#server/order/supplierPages.ts'
import { approveRun, proposeRun, withdrawRun } from '#server/pay/runService.ts'
import { payableList, readRun, runList } from '#server/pay/runSheet.ts'
import { peopleRoutes } from '#server/people/routes.ts'
import { deliveryList, readDelivery } from '#server/receive/deliverySheet.ts'
import { receive as receiveGoods, reverseReceipt } from '#server/receive/receiveService.ts'
import { requestRoutes } from '#server/request/routes.ts'
import { decisionList } from '#server/request/requisitionSheet.ts'
import { changePerson, changeRule, createRule, listPeople, listRules } from '#server/setup/setupService.ts'
import { companyRoutes, sourceRoutes } from '#server/source/routes.ts'

export interface RouteParts {
  readonly demo: boolean
  /** The mail stand-in's mailbox, on a demo start. */
  readonly readMails: (to: string | undefined) => Promise<never[]>
}

const orderPdf = async (call: Call, id: string, revision: number): Promise<FileAnswer> => {
  const document = await orderDocument(call, id, revision)
  return { name: `${document.number}-r${revision}.pdf`, mediaType: 'application/pdf', bytes: await writeOrderPdf(document), inline: true }
}

const decideRoutes: Route[] = [
  ...listRoutes(decide.Decisions, decisionList, 'decisions'),
  route(decide.Decide, (call, { params, body }) => takeDecision(call, params.id, body.decision, body.version, body.reason)),
  route(decide.PassStep, (call, { params, body }) => passStep(call, params.id, params.stepId, body.toPersonId, body.version, body.reason)),
]

const ledgerRoutes: Route[] = [
  route(ledger.ImportBudgets, async (call, { body }) => importBudgets(call, (await ownFile(call, body.fileId)).content, body.dryRun)),
  route(ledger.ListTransfers, call => listTransfers(call)),
  route(ledger.AskTransfer, (call, { body }) => askTransfer(call, body)),
  route(ledger.DecideTransfer, (call, { params, body }) => decideTransfer(call, params.id, body.action, body.version, body.reason)),
  route(ledger.PreviewYearChange, (call, { body }) => previewYearChange(call, body)),
  route(ledger.ChangeYear, (call, { body }) => changeFiscalYear(call, body)),
]

const orderRoutes: Route[] = [
  ...listRoutes(order.ToBuy, toBuyList, 'to-buy'),
  ...listRoutes(order.Orders, orderList, 'orders'),
  route(order.DraftOrders, async (call, { body }) => ({ orders: await draftOrders(call, body.lineIds, body.route) })),
  route(pool.ActOnPool, (call, { body }) => actOnPool(call, body)),
  route(pool.AskRequester, (call, { body }) => askRequester(call, body.lineIds, body.question)),
  route(pool.ReturnLines, (call, { body }) => returnLines(call, body)),
  route(pool.SplitLine, (call, { params, body }) => splitLine(call, params.id, body)),
  route(pool.PoolLine, (call, { params }) => readPoolLine(call, params.id)),
  route(order.ReadOrder, (call, { params }) => readOrder(call, params.id)),
  route(order.ChangeOrder, (call, { params, body: { version, ...body } }) => changeOrder(call, params.id, body, version)),
  route(order.IssueOrder, (call, { params, body }) => issueOrder(call, params.id, body.version, body.checkReason)),
  route(order.ActOnOrder, (call, { params, body }) => actOnOrder(call, params.id, body.action, body.version, body.reason, body.needRemains)),
  route(order.AnswerResponse, (call, { params, body }) => answerResponse(call, params.id, params.responseId, body.version, body.answer, body.reason)),
  route(order.OrderPdf, (call, { params }) => orderPdf(call, params.id, params.revision)),
  route(order.OrderUbl, async (call, { params }) => ({
    name: `order-r${params.revision}.xml`,
    mediaType: 'application/xml',
    bytes: Buffer.from(writeUblOrder(await orderDocument(call, params.id, params.revision))),
  })),
  route(order.SupplierOrders, call => ownOrders(call)),
  route(order.SupplierOrder, (call, { params, query }) => ownOrder(call, params.id, query.revision)),
  route(order.RespondToOrder, (call, { params, body }) => respond(call, params.id, body.revision, body.lines, body.note)),
  route(order.SupplierPdf, async (call, { params }) => {
    await ownOrder(call, params.id, params.revision)
    return await orderPdf(call, params.id, params.revision)
  }),
  route(order.SupplierInvoice, (call, { params, body }) => invoiceFromOrder(call, params.id, body)),
  ...listRoutes(receive.Deliveries, deliveryList, 'deliveries'),
  route(receive.ReadDelivery, (call, { params }) => readDelivery(call, params.id)),
  route(receive.Receive, (call, { params, body }) => receiveGoods(call, params.id, body)),
  route(receive.ReverseReceipt, (call, { params, body }) => reverseReceipt(call, params.id, body.reason)),
]

const settleRoutes: Route[] = [
  ...listRoutes(bill.Invoices, invoiceList, 'invoices'),
  route(bill.ReadInvoice, (call, { params }) => readInvoice(call, params.id)),
  route(bill.ReadInvoiceFile, (call, { body }) => readInvoiceFile(call, body.fileId)),
  route(bill.LinkInvoiceLine, (call, { params, body }) => linkLine(call, params.id, params.lineId, body.orderLineId, body.version)),
  route(bill.ClearHold, (call, { params, body }) => clearHold(call, params.id, params.holdId, body.version, body.reason)),
  route(bill.PostInvoice, (call, { params, body }) => postInvoice(call, params.id, body.version)),
  route(bill.ActOnInvoice, (call, { params, body }) => actOnInvoice(call, params.id, body.action, body.version, body.reason)),
  route(bill.InvoiceFile, async (call, { params }) => {
    const file = found((await call.trx('files').join('invoices', 'invoices.fileId', 'files.id').where('invoices.id', params.id).first('files.*')) as StoredFile | undefined, 'file')
    return { name: file.name, mediaType: 'application/xml', bytes: file.content }
  }),
  ...listRoutes(pay.Payables, payableList, 'payables'),
  ...listRoutes(pay.Runs, runList, 'payment-runs'),
  route(pay.ProposeRun, (call, { body }) => proposeRun(call, body.dueUntil, body.executeOn) as never),
  route(pay.ReadRun, (call, { params }) => readRun(call, params.id)),
  route(pay.ApproveRun, (call, { params, body }) => approveRun(call, params.id, body.version)),
  route(pay.WithdrawRun, (call, { params, body }) => withdrawRun(call, params.id, body.version, body.reason)),
  route(pay.RunFile, async (call, { params }) => {
    const run = found((await call.trx('paymentRuns').where({ id: params.id }).whereNotNull('file').first('number', 'file')) as { number: string; file: string } | undefined, 'file')
    return { name: `${run.number}.xml`, mediaType: 'application/xml', bytes: Buffer.from(run.file) }
  }),
]

const otherRoutes = ({ demo: isDemo, readMails }: RouteParts): Route[] => [
  route(files.UploadFile, async (call, _input, told) => storeFile(call, await told.upload()), true),
  route(files.Attach, (call, { body }) => attach(call, body.documentKind, body.documentId, body.fileId)),
  route(files.ReadAttachment, (call, { params }) => readAttachment(call, params.id)),
  route(files.WriteNote, (call, { body }) => writeNote(call, body.documentKind, body.documentId, body.text)),
  ...listRoutes(insight.Budgets, budgetList, 'budgets'),
  route(insight.ReadBudget, (call, { params }) => readBudget(call, params.id)),
  route(insight.ReadLineEntries, (call, { params }) => readLineEntries(call, params.id)),
  route(insight.RunAudit, call => audit(call.trx as Knex) as never, true),
  route(setup.ListRules, call => listRules(call)),
  route(setup.CreateRule, (call, { body }) => createRule(call, body)),
  route(setup.ChangeRule, (call, { params, body: { version, ...body } }) => changeRule(call, params.id, body, version)),
  route(setup.ListPeople, call => listPeople(call)),
  route(setup.ChangePerson, (call, { params, body }) => changePerson(call, params.id, body)),
  route(demo.ReadMails, async (_call, { query }) => {
    if (!isDemo) throw new RuleBroken(stop('session.noDemo'))
    return { mails: await readMails(query.to) }
  }),
]

/** Every route of the application; a test holds this list against the contract's table of endpoints. */
export const allRoutes = (parts: RouteParts): Route[] => [
  ...peopleRoutes(parts.demo),
  ...sourceRoutes,
  ...companyRoutes,
  ...requestRoutes,
  ...decideRoutes,
  ...ledgerRoutes,
  ...orderRoutes,
  ...settleRoutes,
  ...otherRoutes(parts),
]
