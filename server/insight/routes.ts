import * as insight from '#contract/insight/endpoints.ts'
import { PutOff, ReadCounts, ReadDesk, ReadDone } from '#contract/desk/endpoints.ts'
import { Find } from '#contract/people/endpoints.ts'
import { readCounts, readDesk } from '#server/desk/desk.ts'
import { putThingsOff, readDone } from '#server/desk/deskActs.ts'
import { glances, reads, type Route, writes } from '#server/http/route.ts'
import { audit } from '#server/insight/audit.ts'
import { budgetList, readBudget, readLineEntries } from '#server/insight/budgetPages.ts'
import { find } from '#server/insight/find.ts'
import { listRoutes } from '#server/lists/routes.ts'

/** What is read across the stages. */
export const insightRoutes: Route[] = [
  ...listRoutes(insight.Budgets, budgetList, 'budgets'),
  reads(insight.ReadBudget, (call, { params }) => readBudget(call, params.id)),
  reads(insight.ReadLineEntries, (call, { params }) => readLineEntries(call, params.id)),
  reads(insight.RunAudit, call => audit(call)),
  reads(ReadDesk, call => readDesk(call)),
  reads(ReadDone, call => readDone(call)),
  writes(PutOff, (call, { body }) => putThingsOff(call, body.keys, body.until)),
  glances(ReadCounts, call => readCounts(call)),

  reads(Find, (call, { query }) => find(call, query.q)),
]
