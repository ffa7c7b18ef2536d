import * as setup from '#contract/setup/endpoints.ts'
import * as house from '#contract/setup/house.ts'
import * as people from '#contract/setup/people.ts'
import { enter } from '#server/account/enter.ts'
import { writing } from '#server/call.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { direct, reads, type Route, writes } from '#server/http/route.ts'
import { readOwnAccount, saveOwnAccount } from '#server/setup/accountActs.ts'
import {
  readOrganisation,
  saveAccount,
  saveCentre,
  saveProject,
  saveRate,
  saveSignIn,
  setHolderOf,
} from '#server/setup/centreActs.ts'
import { readFirst, setUpHouse } from '#server/setup/houseActs.ts'
import { importSetup } from '#server/setup/importActs.ts'
import { changePerson, createPerson, invitePerson, listPeople, resetSecondFactor } from '#server/setup/peopleActs.ts'
import { answerPowerChange, askSecond, listPowerChanges, needsSecond } from '#server/setup/powerActs.ts'
import { changeRule, checkRule, createRule, listRules } from '#server/setup/ruleActs.ts'

export const setupRoutes: Route[] = [
  reads(house.ReadFirst, (call, { query }) => readFirst(call, query.token)),
  direct(house.SetUpHouse, async (call, { body: { token, ...body } }, told) => {
    const { personId, path } = await call.trx.transaction(trx => setUpHouse(writing(trx, call), body, token))
    if (path !== '/') return { person: null, path }
    const { person } = await enter(call, personId, told, { secondFactor: null, action: 'signedIn' })
    return { person, path }
  }),
  reads(setup.ListRules, call => listRules(call)),
  writes(setup.CreateRule, async (call, { body }) => {
    await checkRule(call, body)
    if (!(await needsSecond(call, [body], null))) return { ...(await createRule(call, body)), waits: false }
    return { ...(await askSecond(call, { what: 'rule', ruleId: null, body }, body.name)), waits: true }
  }),
  writes(setup.ChangeRule, async (call, { params, body: { version, ...body } }) => {
    await checkRule(call, body, { id: params.id, version })
    if (!(await needsSecond(call, [body], null)))
      return { ...(await changeRule(call, params.id, body, version)), waits: false }
    await askSecond(call, { what: 'rule', ruleId: params.id, body }, body.name)
    return { id: params.id, version, waits: true }
  }),
  reads(setup.ListPeople, call => listPeople(call)),
  writes(setup.ChangePerson, (call, { params, body }) => changePerson(call, params.id, body)),
  writes(people.CreatePerson, (call, { body }) => createPerson(call, body)),
  writes(people.InvitePerson, (call, { params }) => invitePerson(call, params.id)),
  writes(people.ResetSecondFactor, (call, { params, body }) => resetSecondFactor(call, params.id, body.reason)),
  reads(people.ListPowerChanges, call => listPowerChanges(call)),
  writes(people.AnswerPowerChange, (call, { params, body }) => answerPowerChange(call, params.id, body)),
  reads(setup.ReadOwnAccount, call => readOwnAccount(call)),
  writes(setup.SaveOwnAccount, (call, { body }) => saveOwnAccount(call, body)),
  reads(house.ReadOrganisation, call => readOrganisation(call)),
  writes(house.SaveCostCentre, async (call, { body }) => {
    const { newHolder, ...saved } = await saveCentre(call, body)
    if (newHolder === null) return { ...saved, waits: false }
    if (!(await needsSecond(call, [newHolder], newHolder)))
      return { ...(await setHolderOf(call, saved.id, newHolder)), waits: false }
    await askSecond(call, { what: 'holder', centreId: saved.id, holderId: newHolder }, `${body.code} ${body.name}`)
    return { ...saved, waits: true }
  }),
  writes(house.SaveAccount, (call, { body }) => saveAccount(call, body)),
  writes(house.SaveProject, (call, { body }) => saveProject(call, body)),
  writes(house.SaveRate, (call, { body }) => saveRate(call, body)),
  writes(house.SaveSignIn, (call, { body }) => saveSignIn(call, body)),
  writes(house.ImportSetup, async (call, { params, body }) =>
    importSetup(call, params.what, await ownContent(call, body.fileId), body.dryRun),
  ),
]
