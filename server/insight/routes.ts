import * as insight from '#contract/insight/endpoints.ts'
import { Find, ReadCounts, ReadDesk } from '#contract/people/endpoints.ts'
import { readCounts, readDesk } from '#server/desk/desk.ts'
import { glances, reads, type Route } from '#server/http/route.ts'
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
  glances(ReadCounts, call => readCounts(call)),

  reads(Find, (call, { query }) => find(call, query.q)),
]
