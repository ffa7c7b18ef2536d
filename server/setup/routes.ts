import { PublishRules, SaveLimits } from '#contract/rules/endpoints.ts'
import * as setup from '#contract/setup/endpoints.ts'
import * as checks from '#contract/setup/budgetChecks.ts'
import * as house from '#contract/setup/house.ts'
import * as letterhead from '#contract/setup/letterhead.ts'
import * as people from '#contract/setup/people.ts'
import * as rateService from '#contract/setup/rateService.ts'
import * as registers from '#contract/setup/registers.ts'
import * as roles from '#contract/setup/roles.ts'
import { enter } from '#server/account/enter.ts'
import { writing } from '#server/call.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { direct, reads, type Route, writes } from '#server/http/route.ts'
import { readOrganisation, saveAccount, saveProject, saveRate, saveSignIn } from '#server/setup/centreActs.ts'
import { readFirst, setUpHouse } from '#server/setup/houseActs.ts'
import { askForRates, readRateService, saveRateService } from '#server/setup/rateService.ts'
import { readHouseAddress, saveHouseAddress } from '#server/setup/houseAddress.ts'
import { readLetterhead, saveMailSender, setLogo } from '#server/setup/letterhead.ts'
import { importSetup } from '#server/setup/importActs.ts'
import { changePerson, createPerson, invitePerson, listPeople, resetSecondFactor } from '#server/setup/peopleActs.ts'
import { dropRole, readRoles } from '#server/setup/ownRoles.ts'
import {
  answerPowerChange,
  listPowerChanges,
  saveCostCentre,
  saveRole,
  giveLimits,
  giveRules,
} from '#server/setup/powerActs.ts'
import {
  exportRates,
  exportRegister,
  importHolidays,
  importRates,
  importRegister,
} from '#server/setup/registerFiles.ts'
import { readBudgetChecks, saveBudgetChecks, saveFirstMonth } from '#server/setup/budgetChecks.ts'
import { dropEntry, readRegister, saveEntry } from '#server/setup/registers.ts'

export const setupRoutes: Route[] = [
  reads(house.ReadFirst, (call, { query }) => readFirst(call, query.token)),
  direct(house.SetUpHouse, async (call, { body: { token, ...body } }, told) => {
    const { personId, path } = await call.trx.transaction(trx => setUpHouse(writing(trx, call), body, token))
    if (path !== '/') return { person: null, path }
    const { person } = await enter(call, personId, told, { secondFactor: null, action: 'signedIn' })
    return { person, path }
  }),
  reads(setup.ListPeople, call => listPeople(call)),
  writes(setup.ChangePerson, (call, { params, body }) => changePerson(call, params.id, body)),
  writes(people.CreatePerson, (call, { body }) => createPerson(call, body)),
  writes(people.InvitePerson, (call, { params }) => invitePerson(call, params.id)),
  writes(people.ResetSecondFactor, (call, { params, body }) => resetSecondFactor(call, params.id, body.reason)),
  reads(roles.ReadRoles, call => readRoles(call)),
  writes(roles.SaveRole, (call, { body }) => saveRole(call, body)),
  writes(roles.DropRole, (call, { params, body }) => dropRole(call, params.id, body.version)),
  writes(SaveLimits, (call, { params, body }) => giveLimits(call, params.id, body)),
  writes(PublishRules, (call, { params, body }) => giveRules(call, params.id, body)),
  reads(people.ListPowerChanges, call => listPowerChanges(call)),
  writes(people.AnswerPowerChange, (call, { params, body }) => answerPowerChange(call, params.id, body)),
  reads(house.ReadHouse, call => readHouseAddress(call)),
  writes(house.SaveHouse, (call, { body }) => saveHouseAddress(call, body)),
  reads(letterhead.ReadLetterhead, call => readLetterhead(call)),
  writes(letterhead.SetLogo, (call, { body }) => setLogo(call, body.fileId)),
  writes(letterhead.SaveMailSender, (call, { body }) => saveMailSender(call, body)),
  reads(checks.ReadBudgetChecks, call => readBudgetChecks(call)),
  writes(checks.SaveBudgetChecks, (call, { body }) => saveBudgetChecks(call, body)),
  writes(checks.SaveFirstMonth, (call, { body }) => saveFirstMonth(call, body.month)),
  reads(house.ReadOrganisation, call => readOrganisation(call)),
  writes(house.SaveCostCentre, (call, { body }) => saveCostCentre(call, body)),
  writes(house.SaveAccount, (call, { body }) => saveAccount(call, body)),
  writes(house.SaveProject, (call, { body }) => saveProject(call, body)),
  writes(house.SaveRate, (call, { body }) => saveRate(call, body)),
  reads(registers.ReadRegister, (call, { params }) => readRegister(call, params.register)),
  writes(registers.SaveEntry, (call, { params, body }) => saveEntry(call, params.register, body)),
  writes(registers.DropEntry, (call, { params, body }) => dropEntry(call, params.register, params.id, body.version)),
  writes(registers.ImportRegister, async (call, { params, body }) =>
    importRegister(call, params.register, await ownContent(call, body.fileId), body.dryRun),
  ),
  reads(registers.ExportRegister, (call, { params }) => exportRegister(call, params.register)),
  writes(registers.ImportHolidays, async (call, { body }) =>
    importHolidays(call, body.calendar, await ownContent(call, body.fileId), body.dryRun),
  ),
  writes(registers.ImportRates, async (call, { body }) =>
    importRates(call, await ownContent(call, body.fileId), body.dryRun),
  ),
  reads(rateService.ReadRateService, call => readRateService(call)),
  writes(rateService.SaveRateService, (call, { body }) => saveRateService(call, body.daily)),
  writes(rateService.FetchRates, call => askForRates(call)),
  reads(registers.ExportRates, call => exportRates(call)),
  writes(house.SaveSignIn, (call, { body }) => saveSignIn(call, body)),
  writes(house.ImportSetup, async (call, { params, body }) =>
    importSetup(call, params.what, await ownContent(call, body.fileId), body.dryRun),
  ),
]
