import * as agreements from '#contract/agreements/agreements.ts'
import { actOnAgreement, createAgreement, writeAgreement } from '#server/agreements/agreementActs.ts'
import { agreementList } from '#server/agreements/agreementList.ts'
import { readAgreement } from '#server/agreements/agreementSheet.ts'
import { callableLines } from '#server/agreements/callable.ts'
import { draftFromAward } from '#server/agreements/fromAward.ts'
import { previewWindDown } from '#server/agreements/hanging.ts'
import { readIndices, saveIndex } from '#server/agreements/indexActs.ts'
import { previewAmendment } from '#server/agreements/openOrders.ts'
import { reads, type Route, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'

/** Framework agreements, and the indices that their prices follow. */
export const agreementRoutes: Route[] = [
  ...listRoutes(agreements.Agreements, agreementList, 'agreements'),
  writes(agreements.CreateAgreement, (call, { body }) => createAgreement(call, body)),
  writes(agreements.DraftFromAward, (call, { body }) => draftFromAward(call, body)),
  reads(agreements.ReadAgreement, (call, { params }) => readAgreement(call, params.id)),
  writes(agreements.WriteAgreement, (call, { params, body }) => writeAgreement(call, params.id, body)),
  writes(agreements.ActOnAgreement, (call, { params, body }) => actOnAgreement(call, params.id, body)),
  reads(agreements.PreviewAmendment, (call, { params }) => previewAmendment(call, params.id)),
  reads(agreements.PreviewWindDown, (call, { params }) => previewWindDown(call, params.id)),
  reads(agreements.CallableLines, call => callableLines(call)),
  reads(agreements.PriceIndices, call => readIndices(call)),
  writes(agreements.SaveIndex, (call, { params, body }) => saveIndex(call, params.code, body)),
]
