import * as receive from '#contract/receive/endpoints.ts'
import { reads, type Route, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { deliveryList } from '#server/receive/deliveryList.ts'
import { readDelivery } from '#server/receive/deliverySheet.ts'
import { answerReceipt, receive as takeIn, reverseReceipt, setBecomes } from '#server/receive/receiptActs.ts'

export const receiveRoutes: Route[] = [
  ...listRoutes(receive.Deliveries, deliveryList, 'deliveries'),
  reads(receive.ReadDelivery, (call, { params }) => readDelivery(call, params.id)),
  writes(receive.Receive, (call, { params, body }) => takeIn(call, params.id, body)),
  writes(receive.ReverseReceipt, (call, { params, body }) => reverseReceipt(call, params.id, body)),
  writes(receive.AnswerReceipt, (call, { params, body }) => answerReceipt(call, params.id, body)),
  writes(receive.SetBecomes, (call, { params, body }) => setBecomes(call, params.id, params.lineId, body)),
]
