import * as rules from '#contract/rules/endpoints.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { type Route, reads, writes } from '#server/http/route.ts'
import { readLimits } from '#server/rules/limitActs.ts'
import { beginRules, dropRules, readRules, readRuleSet, saveRules } from '#server/rules/ruleActs.ts'
import { exportRules, importRules } from '#server/rules/ruleFiles.ts'

export const ruleRoutes: Route[] = [
  reads(rules.ReadRules, call => readRules(call)),
  reads(rules.ReadRuleSet, (call, { params }) => readRuleSet(call, params.id)),
  writes(rules.BeginRules, call => beginRules(call)),
  writes(rules.SaveRules, (call, { params, body }) => saveRules(call, params.id, body)),
  writes(rules.DropRules, async (call, { params, body }) => {
    await dropRules(call, params.id, body.version)
    return {}
  }),
  reads(rules.ReadLimits, (call, { params }) => readLimits(call, params.id)),
  reads(rules.ExportRules, (call, { params, query }) => exportRules(call, params.id, query.as)),
  writes(rules.ImportRules, async (call, { body }) =>
    importRules(call, await ownContent(call, body.fileId), body.dryRun),
  ),
]
