import * as builds from '#contract/build/costings.ts'
import {
  addAlternate,
  changeCosting,
  changeLines,
  createCosting,
  knownSenders,
  moveCosting,
  priceAgain,
  readPartsList,
} from '#server/build/costingActs.ts'
import { costingList } from '#server/build/costingList.ts'
import { readCosting } from '#server/build/costingSheet.ts'
import { exportCosting } from '#server/build/exportCosting.ts'
import { endLink, openLink, shareCosting } from '#server/build/linkActs.ts'
import { askUnpriced, requestParts } from '#server/build/turnActs.ts'
import { reads, type Route, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'

/** What builds cost to buy. */
export const buildRoutes: Route[] = [
  ...listRoutes(builds.Costings, costingList, 'build-costings'),
  reads(builds.ReadPartsList, (call, { body }) => readPartsList(call, body)),
  reads(builds.KnownSenders, call => knownSenders(call)),
  writes(builds.CreateCosting, (call, { body }) => createCosting(call, body)),
  reads(builds.ReadCosting, (call, { params }) => readCosting(call, params.id)),
  writes(builds.ChangeCosting, (call, { params, body }) => changeCosting(call, params.id, body)),
  writes(builds.ChangeLines, (call, { params, body }) => changeLines(call, params.id, body)),
  writes(builds.AddAlternate, (call, { params, body }) => addAlternate(call, params.id, body)),
  writes(builds.PriceAgain, (call, { params, body }) => priceAgain(call, params.id, body.version)),
  writes(builds.MoveCosting, (call, { params, body }) => moveCosting(call, params.id, body.version, body.to)),
  writes(builds.ShareCosting, (call, { params, body }) => shareCosting(call, params.id, body)),
  writes(builds.EndLink, (call, { params }) => endLink(call, params.id, params.linkId)),
  writes(builds.OpenLink, (call, { body }) => openLink(call, body.token)),
  writes(builds.AskUnpriced, (call, { params, body }) => askUnpriced(call, params.id, body)),
  writes(builds.RequestParts, (call, { params, body }) => requestParts(call, params.id, body)),
  reads(builds.ExportCosting, (call, { params }) => exportCosting(call, params.id, params.format)),
]
