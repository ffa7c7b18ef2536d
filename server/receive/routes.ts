import * as receive from '#contract/receive/endpoints.ts'
import * as assets from '#contract/receive/assets.ts'
import * as arrivals from '#contract/receive/arrivals.ts'
import * as despatch from '#contract/receive/despatch.ts'
import * as handheld from '#contract/receive/handheld.ts'
import * as inspections from '#contract/receive/inspections.ts'
import * as overdue from '#contract/receive/overdue.ts'
import * as reports from '#contract/receive/reports.ts'
import * as returns from '#contract/receive/returns.ts'
import * as aside from '#contract/receive/setAside.ts'
import * as settings from '#contract/receive/settings.ts'
import * as stock from '#contract/receive/stock.ts'
import { receivingSettings } from '#server/receive/receivingStore.ts'
import { saveReceivingSettings } from '#server/receive/settingActs.ts'
import { storeFile } from '#server/files/fileActs.ts'
import { direct, reads, type Route, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { dispose, readPieces, tell } from '#server/receive/assetActs.ts'
import { answer as answerArrival, answerLink, readArrivals, readLink, settle } from '#server/receive/arrivalActs.ts'
import { accruedFile, readAccrued } from '#server/receive/accrued.ts'
import { overdueList } from '#server/receive/overdueList.ts'
import { end as endAside, link as linkAside, readSetAside, setAside } from '#server/receive/setAsideActs.ts'
import { assetList } from '#server/receive/assetList.ts'
import { readAsset } from '#server/receive/assetSheet.ts'
import { conclude } from '#server/receive/inspectionActs.ts'
import { inspectionList } from '#server/receive/inspectionList.ts'
import { readInspection } from '#server/receive/inspectionSheet.ts'
import { answer, count, endReservation, issue, moveTo, reserve } from '#server/receive/stockActs.ts'
import { stockList } from '#server/receive/stockList.ts'
import { readHolding } from '#server/receive/stockSheet.ts'
import { despatchFile, ownDespatches, saveDespatch, setUnloader, withdraw } from '#server/receive/despatchActs.ts'
import { assetLabels, despatchUbl, inspectionDebit, returnPaper } from '#server/receive/papers.ts'
import { deliveryFile, ownOrderFile } from '#server/receive/orderFiles.ts'
import { readExpected } from '#server/receive/expected.ts'
import { answerReports, ownReports, readReports, saveOwnReport, saveReport } from '#server/receive/reportActs.ts'
import { endReturn, readReturns, saveReturn } from '#server/receive/returnActs.ts'
import { loadDock, lookUp } from '#server/receive/dockStore.ts'
import { sendActs, settleAct, toSettle } from '#server/receive/handheldActs.ts'
import { deliveryList } from '#server/receive/deliveryList.ts'
import { readDelivery } from '#server/receive/deliverySheet.ts'
import { answerReceipt, receive as takeIn, reverseReceipt, setBecomes } from '#server/receive/receiptActs.ts'

export const receiveRoutes: Route[] = [
  reads(settings.ReadReceivingSettings, call => receivingSettings(call)),
  writes(settings.SaveReceivingSettings, (call, { body }) => saveReceivingSettings(call, body)),
  reads(handheld.LoadDock, (call, { query }) => loadDock(call, query.placeId)),
  reads(handheld.LookUp, (call, { query }) => lookUp(call, query.q)),
  direct(handheld.SendActs, (call, { body }) => sendActs(call, body)),
  reads(handheld.ToSettle, call => toSettle(call)),
  writes(handheld.SettleAct, (call, { params, body }) => settleAct(call, params.key, body)),
  reads(despatch.OwnDespatches, (call, { params }) => ownDespatches(call, params.id)),
  writes(despatch.SaveDespatch, (call, { params, body }) => saveDespatch(call, params.id, body)),
  direct(despatch.UploadOrderFile, (call, _input, told) => storeFile(call, told.upload)),
  reads(despatch.OwnOrderFile, (call, { params }) => ownOrderFile(call, params.id, params.fileId)),
  reads(despatch.DeliveryFile, (call, { params }) => deliveryFile(call, params.id, params.fileId)),
  writes(despatch.WithdrawDespatch, (call, { params }) => withdraw(call, params.id)),
  reads(despatch.OwnDespatchFile, (call, { params, body }) => despatchFile(call, params.id, body.text)),
  reads(despatch.DespatchUbl, (call, { params }) => despatchUbl(call, params.id)),
  reads(despatch.ReadExpected, (call, { query }) => readExpected(call, query.from, query.weeks)),
  writes(despatch.SetUnloader, (call, { params, body }) => setUnloader(call, params.id, body.personId)),
  reads(returns.ReadReturns, (call, { params }) => readReturns(call, params.id)),
  writes(returns.SaveReturn, (call, { params, body }) => saveReturn(call, params.id, body)),
  writes(returns.EndReturn, (call, { params, body }) => endReturn(call, params.id, body)),
  reads(returns.ReturnPaper, (call, { params }) => returnPaper(call, params.id, params.paper)),
  reads(reports.OwnReports, (call, { params }) => ownReports(call, params.id)),
  writes(reports.SaveOwnReport, (call, { params, body }) => saveOwnReport(call, params.id, body)),
  reads(reports.ReadReports, (call, { params }) => readReports(call, params.id)),
  writes(reports.SaveReport, (call, { params, body }) => saveReport(call, params.id, body)),
  writes(reports.AnswerReports, (call, { body }) => answerReports(call, body)),
  ...listRoutes(assets.Assets, assetList, 'assets'),
  ...listRoutes(stock.Stock, stockList, 'stock'),
  reads(arrivals.ReadArrivals, (call, { params }) => readArrivals(call, params.id)),
  writes(arrivals.AnswerArrival, (call, { params, body }) => answerArrival(call, params.id, body)),
  writes(arrivals.SettleArrival, (call, { params, body }) => settle(call, params.id, body)),
  reads(arrivals.ReadArrivalLink, (call, { params }) => readLink(call, params.token)),
  writes(arrivals.AnswerArrivalLink, (call, { params, body }) => answerLink(call, params.token, body)),
  reads(aside.ReadSetAside, call => readSetAside(call)),
  writes(aside.SetAside, (call, { body }) => setAside(call, body)),
  writes(aside.LinkSetAside, (call, { params, body }) => linkAside(call, params.id, body)),
  writes(aside.EndSetAside, (call, { params, body }) => endAside(call, params.id, body)),
  ...listRoutes(overdue.Overdue, overdueList, 'overdue'),
  reads(overdue.ReadAccrued, (call, { query }) => readAccrued(call, query.on)),
  reads(overdue.AccruedFile, (call, { query }) => accruedFile(call, query.on)),
  ...listRoutes(inspections.Inspections, inspectionList, 'inspections'),
  reads(inspections.ReadInspection, (call, { params }) => readInspection(call, params.id)),
  writes(inspections.ConcludeInspection, (call, { params, body }) => conclude(call, params.id, body)),
  reads(inspections.InspectionDebit, (call, { params }) => inspectionDebit(call, params.id)),
  reads(assets.ReadPieces, (call, { query }) => readPieces(call, query.orderId)),
  reads(assets.AssetLabels, (call, { query }) => assetLabels(call, query)),
  reads(assets.ReadAsset, (call, { params }) => readAsset(call, params.id)),
  writes(assets.TellAsset, (call, { params, body }) => tell(call, params.id, body)),
  writes(assets.DisposeAsset, (call, { params, body }) => dispose(call, params.id, body.version, body.reason)),
  reads(stock.ReadHolding, (call, { params }) => readHolding(call, params.id)),
  writes(stock.IssueStock, (call, { body }) => issue(call, body)),
  writes(stock.MoveStock, (call, { body }) => moveTo(call, body)),
  writes(stock.CountStock, (call, { body }) => count(call, body)),
  writes(stock.AnswerCount, (call, { params, body }) => answer(call, params.id, body)),
  writes(stock.ReserveStock, (call, { body }) => reserve(call, body)),
  writes(stock.EndReservation, (call, { params }) => endReservation(call, params.id)),
  ...listRoutes(receive.Deliveries, deliveryList, 'deliveries'),
  reads(receive.ReadDelivery, (call, { params }) => readDelivery(call, params.id)),
  writes(receive.Receive, (call, { params, body }) => takeIn(call, params.id, body)),
  writes(receive.ReverseReceipt, (call, { params, body }) => reverseReceipt(call, params.id, body)),
  writes(receive.AnswerReceipt, (call, { params, body }) => answerReceipt(call, params.id, body)),
  writes(receive.SetBecomes, (call, { params, body }) => setBecomes(call, params.id, params.lineId, body)),
]
