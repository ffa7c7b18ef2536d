import * as awarded from '#contract/order/awarded.ts'
import * as knownPrices from '#contract/order/knownPrices.ts'
import * as order from '#contract/order/endpoints.ts'
import * as clauses from '#contract/order/clauses.ts'
import * as exchange from '#contract/order/exchange.ts'
import * as own from '#contract/order/supplierOrders.ts'
import * as pool from '#contract/order/pool.ts'
import type { Read } from '#server/call.ts'
import * as followed from '#contract/order/following.ts'
import { listClauses, saveClause } from '#server/order/clauseActs.ts'
import { readDayLink, useDayLink } from '#server/order/dayLinkActs.ts'
import { addAside, following } from '#server/order/followingSheet.ts'
import * as lists from '#contract/order/buyingLists.ts'
import * as workbook from '#contract/order/workbook.ts'
import {
  applyReturn,
  changeReturn,
  makeWorkbook,
  readReturn,
  takeWorkbook,
  workbookFile,
} from '#server/order/workbookActs.ts'
import { writeOrderPdf } from '#server/formats/orderPdf.ts'
import { writeUblRevision } from '#server/formats/ublOrderChange.ts'
import { type FileAnswer, reads, type Route, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { readAnswerFile, record, respond } from '#server/order/answerActs.ts'
import { needVisible } from '#server/documents/visible.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { answerExcess, askForExcess } from '#server/order/excessActs.ts'
import {
  exchangeFile,
  loadExchange,
  makeExchange,
  mapExchange,
  readExchange,
  takeExchange,
} from '#server/order/exchangeActs.ts'
import { importOrders } from '#server/order/importOrders.ts'
import { draftOrders } from '#server/order/draftActs.ts'
import { dropChange, keepChange, lookAtChange } from '#server/order/changeActs.ts'
import { giveChargeLine } from '#server/order/chargeLineActs.ts'
import { change, chase, end, issue, settle, tell } from '#server/order/orderActs.ts'
import { documentFor } from '#server/order/orderDocument.ts'
import { orderList, toBuyList } from '#server/order/orderList.ts'
import { changeBuyingList, makeListedOrders, readBuyingList, takeBuyingList } from '#server/order/buyingListActs.ts'
import { readOrder } from '#server/order/orderSheet.ts'
import { actOnPool, returnLines, splitLine } from '#server/order/poolActs.ts'
import { readPoolLine } from '#server/order/poolSheet.ts'
import { draftGroups, keepPoolRules, readProposals } from '#server/order/proposalActs.ts'
import { ownOrder, ownOrders } from '#server/order/supplierOrders.ts'
import { needOwn } from '#server/order/orderStore.ts'
import { askFromPool, placeAward } from '#server/order/awardedActs.ts'
import { compareWhatIsKnown } from '#server/order/knownPriceActs.ts'
import { askRequester } from '#server/order/askActs.ts'

async function orderPdf(call: Read, id: string, revision: number): Promise<FileAnswer> {
  const document = await documentFor(call, id, revision)
  return {
    name: `${document.number}-r${document.revision}.pdf`,
    mediaType: 'application/pdf',
    bytes: await writeOrderPdf(document),
    inline: true,
  }
}

async function orderUbl(call: Read, id: string, revision: number): Promise<FileAnswer> {
  const document = await documentFor(call, id, revision)
  return {
    name: `${document.number}-r${document.revision}.xml`,
    mediaType: 'application/xml',
    bytes: Buffer.from(writeUblRevision(document)),
  }
}

export const orderRoutes: Route[] = [
  ...listRoutes(order.ToBuy, toBuyList, 'to-buy'),
  ...listRoutes(order.Orders, orderList, 'orders'),
  writes(order.DraftOrders, async (call, { body }) => ({ orders: await draftOrders(call, body.lineIds, body.route) })),
  writes(pool.ActOnPool, (call, { body }) => actOnPool(call, body)),
  writes(pool.AskRequester, (call, { body }) => askRequester(call, body.lineIds, body.question)),
  writes(pool.ReturnLines, (call, { body }) => returnLines(call, body)),
  writes(pool.SplitLine, (call, { params, body }) => splitLine(call, params.id, body)),
  writes(awarded.AskFromPool, (call, { body }) => askFromPool(call, body)),
  writes(knownPrices.CompareKnown, (call, { params, body }) => compareWhatIsKnown(call, params.id, body)),
  writes(awarded.PlaceAward, (call, { params, body }) => placeAward(call, params.id, body)),
  reads(pool.ReadProposals, call => readProposals(call)),
  writes(pool.KeepPoolRules, (call, { body }) => keepPoolRules(call, body)),
  writes(pool.DraftGroups, (call, { body }) => draftGroups(call, body)),
  reads(pool.PoolLine, (call, { params }) => readPoolLine(call, params.id)),
  writes(order.ImportOrders, async (call, { body }) =>
    importOrders(call, await ownContent(call, body.fileId), body.dryRun),
  ),
  reads(order.ReadOrder, (call, { params }) => readOrder(call, params.id)),
  writes(order.ChargeAsLine, (call, { params, body }) => giveChargeLine(call, params.id, body)),
  writes(order.ChangeOrder, (call, { params, body: { version, ...body } }) => change(call, params.id, body, version)),
  writes(order.KeepChange, (call, { params, body }) => keepChange(call, params.id, body)),
  writes(order.DropChange, (call, { params }) => dropChange(call, params.id)),
  reads(order.LookAtChange, (call, { params, body }) => lookAtChange(call, params.id, body)),
  writes(order.AskExcess, (call, { params, body }) => askForExcess(call, params.id, body)),
  writes(order.AnswerExcess, (call, { params, body }) => answerExcess(call, params.id, body)),
  writes(order.IssueOrder, (call, { params, body }) => issue(call, params.id, body.version, body.checkReason)),
  writes(order.ActOnOrder, (call, { params, body }) =>
    end(call, params.id, body.action, body.version, body.reason, body.needRemains),
  ),
  writes(order.ChaseOrder, (call, { params, body }) => chase(call, params.id, body.version, body.note)),
  writes(order.AnswerResponse, (call, { params, body }) =>
    settle(call, params.id, params.responseId, body.version, body.answer, body.reason, body.only),
  ),
  writes(order.RecordAnswer, (call, { params, body }) => record(call, params.id, body)),
  writes(order.TellSupplier, (call, { params, body }) => tell(call, params.id, body)),
  reads(order.ReadAnswerFile, async (call, { params, body }) => {
    await needVisible(call, 'order', params.id)
    return await readAnswerFile(call, params.id, body.text)
  }),
  reads(own.OwnAnswerFile, async (call, { params, body }) => {
    await needOwn(call, params.id)
    return await readAnswerFile(call, params.id, body.text)
  }),
  reads(order.OrderPdf, (call, { params }) => orderPdf(call, params.id, params.revision)),
  reads(order.OrderUbl, (call, { params }) => orderUbl(call, params.id, params.revision)),
  reads(own.SupplierOrders, call => ownOrders(call)),
  reads(own.SupplierOrder, (call, { params, query }) => ownOrder(call, params.id, query.revision)),
  writes(own.RespondToOrder, (call, { params, body }) =>
    respond(call, params.id, body.revision, body.lines, body.note),
  ),
  reads(own.SupplierPdf, async (call, { params }) => {
    await needOwn(call, params.id)
    return await orderPdf(call, params.id, params.revision)
  }),
  reads(own.SupplierUbl, async (call, { params }) => {
    await needOwn(call, params.id)
    return await orderUbl(call, params.id, params.revision)
  }),
  reads(followed.Following, (call, { query }) => following(call, query.whose)),
  writes(followed.AddAside, (call, { params, body }) => addAside(call, params.id, body)),
  reads(followed.ReadDayLink, (call, { params }) => readDayLink(call, params.token)),
  writes(followed.SayDays, (call, { params, body }) => useDayLink(call, params.token, body)),
  writes(lists.TakeBuyingList, (call, { body }) => takeBuyingList(call, body.fileId)),
  reads(lists.ReadBuyingList, (call, { params }) => readBuyingList(call, params.id)),
  writes(lists.ChangeBuyingList, (call, { params, body }) => changeBuyingList(call, params.id, body)),
  writes(lists.MakeListedOrders, (call, { params, body }) => makeListedOrders(call, params.id, body)),
  writes(workbook.MakeWorkbook, (call, { body }) => makeWorkbook(call, body)),
  writes(exchange.MakeExchange, (call, { body }) => makeExchange(call, body)),
  reads(exchange.ExchangeFile, (call, { params }) => exchangeFile(call, params.id)),
  writes(exchange.TakeExchange, (call, { body }) => takeExchange(call, body.fileIds)),
  reads(exchange.ReadExchange, (call, { params }) => readExchange(call, params.id)),
  writes(exchange.MapExchange, (call, { params, body }) => mapExchange(call, params.id, body)),
  writes(exchange.LoadExchange, (call, { params, body }) => loadExchange(call, params.id, body)),
  reads(clauses.ListClauses, call => listClauses(call)),
  writes(clauses.SaveClause, (call, { body }) => saveClause(call, body)),
  reads(workbook.WorkbookFile, (call, { params }) => workbookFile(call, params.id)),
  writes(workbook.TakeWorkbook, (call, { body }) => takeWorkbook(call, body)),
  reads(workbook.ReadReturn, (call, { params }) => readReturn(call, params.id)),
  writes(workbook.ChangeReturn, (call, { params, body }) => changeReturn(call, params.id, body)),
  writes(workbook.ApplyReturn, (call, { params, body }) => applyReturn(call, params.id, body)),
]
