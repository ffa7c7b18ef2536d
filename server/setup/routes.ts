import * as setup from '#contract/setup/endpoints.ts'
import { reads, type Route, writes } from '#server/http/route.ts'
import {
  changePerson,
  changeRule,
  createRule,
  listPeople,
  listRules,
  readOwnAccount,
  saveOwnAccount,
} from '#server/setup/setupActs.ts'

export const setupRoutes: Route[] = [
  reads(setup.ListRules, call => listRules(call)),
  writes(setup.CreateRule, (call, { body }) => createRule(call, body)),
  writes(setup.ChangeRule, (call, { params, body: { version, ...body } }) =>
    changeRule(call, params.id, body, version),
  ),
  reads(setup.ListPeople, call => listPeople(call)),
  writes(setup.ChangePerson, (call, { params, body }) => changePerson(call, params.id, body)),
  reads(setup.ReadOwnAccount, call => readOwnAccount(call)),
  writes(setup.SaveOwnAccount, (call, { body }) => saveOwnAccount(call, body)),
]
