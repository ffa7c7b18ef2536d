import * as plans from '#contract/award/plans.ts'
import {
  changeAwardPlan,
  readAwardPlan,
  readPlanProgress,
  recheckAwardPlan,
  stopAwardPlan,
} from '#server/award/planActs.ts'
import { reads, type Route, writes } from '#server/http/route.ts'

/** Award plans of events. */
export const awardRoutes: Route[] = [
  reads(plans.ReadAwardPlan, (call, { params }) => readAwardPlan(call, params.id)),
  reads(plans.ReadPlanProgress, (call, { params }) => readPlanProgress(call, params.id)),
  writes(plans.ChangeAwardPlan, (call, { params, body }) => changeAwardPlan(call, params.id, body)),
  writes(plans.StopAwardPlan, (call, { params }) => stopAwardPlan(call, params.id)),
  reads(plans.RecheckAwardPlan, (call, { params }) => recheckAwardPlan(call, params.id)),
]
