import * as decide from '#contract/decide/endpoints.ts'
import { TryRules } from '#contract/rules/endpoints.ts'
import { askRequester } from '#server/decide/askActs.ts'
import { decide as takeDecision, passStep } from '#server/decide/decideActs.ts'
import { decisionList } from '#server/decide/decisionList.ts'
import { editLines } from '#server/decide/editActs.ts'
import { evidenceCsv, evidencePdf, readEvidence } from '#server/decide/evidence.ts'
import { add, answerSkip, free, readCandidates, skip } from '#server/decide/freeActs.ts'
import { giveOver, readHandOver } from '#server/decide/handOver.ts'
import { dropReason, keepReason, readReasons } from '#server/decide/keptReasons.ts'
import { passOn, readPassCandidates } from '#server/decide/passActs.ts'
import { readMyDecisions } from '#server/decide/myDecisions.ts'
import { remind } from '#server/decide/remindActs.ts'
import { direct, type Route, reads, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { readWay, useWayNow } from '#server/decide/wayActs.ts'
import { tryRuleSet } from '#server/decide/tryActs.ts'

export const decideRoutes: Route[] = [
  ...listRoutes(decide.Decisions, decisionList, 'decisions'),
  writes(decide.Decide, (call, { params, body }) =>
    takeDecision(call, params.id, body.decision, body.version, body.reason),
  ),
  writes(decide.EditLines, (call, { params, body }) => editLines(call, params.id, body)),
  writes(decide.PassStep, (call, { params, body }) =>
    passStep(call, params.id, params.stepId, body.toPersonId, body.version, body.reason),
  ),
  reads(decide.ReadMyDecisions, (call, { query }) => readMyDecisions(call, query)),
  writes(decide.AskBeforeDeciding, (call, { params, body }) =>
    askRequester(call, params.id, body.version, body.question),
  ),
  reads(decide.ReadKeptReasons, call => readReasons(call)),
  writes(decide.KeepReason, (call, { body }) => keepReason(call, body.reason)),
  writes(decide.DropReason, (call, { body }) => dropReason(call, body.reason)),
  reads(decide.ReadCandidates, (call, { params }) => readCandidates(call, params.id)),
  writes(decide.SkipStep, (call, { params, body }) => skip(call, params.id, params.stepId, body.version, body.reason)),
  writes(decide.AnswerSkip, (call, { params, body }) =>
    answerSkip(call, params.id, body.version, body.agrees, body.reason),
  ),
  writes(decide.AddStep, (call, { params, body }) => add(call, params.id, body.personId, body.version, body.reason)),
  writes(decide.FreeRequest, (call, { params, body }) => free(call, params.id, body.how, body.version, body.reason)),
  reads(decide.ReadWay, (call, { params }) => readWay(call, params.token)),
  direct(decide.UseWay, (call, { params, body }) => useWayNow(call, params.token, body.answer, body.reason)),
  reads(decide.ReadEvidence, (call, { query }) => readEvidence(call, query)),
  reads(decide.EvidenceCsv, (call, { query }) => evidenceCsv(call, query)),
  reads(decide.EvidencePdf, (call, { query }) => evidencePdf(call, query)),
  reads(decide.ReadHandOver, (call, { params }) => readHandOver(call, params.id)),
  writes(decide.HandOver, (call, { params, body }) => giveOver(call, params.id, body.toPersonId, body.reason)),
  reads(TryRules, (call, { params, query }) => tryRuleSet(call, params.id, query)),
  reads(decide.ReadPassCandidates, (call, { params }) => readPassCandidates(call, params.id, params.stepId)),
  writes(decide.PassQuestion, (call, { params, body }) => passOn(call, params.id, params.stepId, body)),
  writes(decide.RemindHolders, (call, { params }) => remind(call, params.id)),
]
