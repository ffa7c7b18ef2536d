import * as company from '#contract/source/company.ts'
import * as duplicates from '#contract/source/duplicates.ts'
import * as source from '#contract/source/endpoints.ts'
import * as onboarding from '#contract/source/onboarding.ts'
import { hold } from '#server/documents/hold.ts'
import { storeFile } from '#server/files/fileActs.ts'
import { direct, reads, type Route, writes } from '#server/http/route.ts'
import { needVisible } from '#server/documents/visible.ts'
import { readJob, seeJob, startJob } from '#server/jobs/longJobs.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { enter } from '#server/account/enter.ts'
import { proveBankAccount, setBankAccount } from '#server/source/bankAccountActs.ts'
import { listCategories, saveCategory, saveSourceSettings } from '#server/source/categoryActs.ts'
import { readSourceSettings } from '#server/source/categoryStore.ts'
import { certificateFile, saveCertificate, withdrawCertificate } from '#server/source/certificateActs.ts'
import { answerRevision, reviseAnswers, saveAnswers, submitAnswers } from '#server/source/companyActs.ts'
import {
  handOver,
  inviteAdministrator,
  readCompanyPeople,
  reassignAdministrator,
  saveAddresses,
  saveCompanyPerson,
  saveCompanyRole,
  sendPersonLink,
} from '#server/source/companyPeopleActs.ts'
import { readCompany } from '#server/source/companySheet.ts'
import { decidePair, latestSearch, readPairs } from '#server/source/duplicateActs.ts'
import { findSuppliers } from '#server/source/findSuppliers.ts'
import { lookAtImport } from '#server/source/importSuppliers.ts'
import { askMerge, previewMerge, undoMerge } from '#server/source/mergeActs.ts'
import {
  acceptAnswers,
  askBack,
  decideOnboarding,
  endOnboarding,
  invite,
  proposeSupplier,
} from '#server/source/onboardingActs.ts'
import { onboardingList } from '#server/source/onboardingList.ts'
import { onboardingFile, readOnboarding } from '#server/source/onboardingSheet.ts'
import { listQuestionnaires, publishQuestionnaire, saveQuestionnaire } from '#server/source/questionnaireActs.ts'
import { readInvitation, register } from '#server/source/registerActs.ts'
import { answerSecondYes, askForShared, readSecondYes } from '#server/source/secondYesActs.ts'
import { readSignal, refreshSignals } from '#server/source/signals.ts'
import { actOnSupplier, changeSupplier, createSupplier } from '#server/source/supplierActs.ts'
import { supplierList } from '#server/source/supplierList.ts'
import { readSupplier } from '#server/source/supplierSheet.ts'

/** The team's side: records, finding, merging, onboarding, qualification, signals. */
export const sourceRoutes: Route[] = [
  ...listRoutes(source.Suppliers, supplierList, 'suppliers'),
  reads(source.ReadSupplier, (call, { params }) => readSupplier(call, params.id)),
  reads(source.FindSuppliers, (call, { body }) => findSuppliers(call, body)),
  writes(source.CreateSupplier, async (call, { body }) => {
    const { id, version } = await createSupplier(call, body)
    return { id, version }
  }),
  writes(source.AskForShared, (call, { body }) => askForShared(call, body.supplier, body.reason)),
  writes(source.ChangeSupplier, (call, { params, body: { version, ...body } }) =>
    changeSupplier(call, params.id, body, version),
  ),
  writes(source.ActOnSupplier, (call, { params, body }) =>
    actOnSupplier(call, params.id, body.action, body.version, body.reason, body.until),
  ),
  reads(source.ReadSecondYes, (call, { params }) => readSecondYes(call, params.id)),
  writes(source.AnswerSecondYes, (call, { params, body }) =>
    answerSecondYes(call, params.id, body.version, body.answer, body.reason),
  ),
  writes(source.SetBankAccount, (call, { params, body }) => setBankAccount(call, params.id, body)),
  writes(source.ProveBankAccount, (call, { params, body }) =>
    proveBankAccount(call, params.id, params.accountId, body.version, body.proof),
  ),
  writes(source.SaveCertificate, (call, { params, body }) => saveCertificate(call, params.id, body)),
  writes(source.WithdrawCertificate, (call, { params, body }) =>
    withdrawCertificate(call, params.id, params.certificateId, body.reason),
  ),
  reads(source.CertificateFile, (call, { params }) => certificateFile(call, params.id)),
  writes(source.ComputeSignals, (call, { params }) => refreshSignals(call, params.id)),
  reads(source.ReadSignal, (call, { params }) => readSignal(call, params.id, params.key)),
  writes(source.AnswerRevision, (call, { params, body }) =>
    answerRevision(call, params.id, params.revisionId, body.accept, body.reason),
  ),
  writes(source.InviteAdministrator, (call, { params, body }) => inviteAdministrator(call, params.id, body)),
  writes(source.ReassignAdministrator, (call, { params, body }) =>
    reassignAdministrator(call, params.id, body.personId, body.check),
  ),
  reads(duplicates.ReadJob, async (call, { params }) => {
    await needVisible(call, 'longJob', params.id)
    return await readJob(call, params.id)
  }),
  writes(duplicates.SeeJob, (call, { params }) => seeJob(call, params.id)),
  writes(duplicates.StartSearch, call => startJob(call, 'duplicates', {})),
  reads(duplicates.ReadPairs, async (call, { query }) => {
    const job = await latestSearch(call)
    return { ...(await readPairs(call, query.state ?? 'open')), job: job === null ? null : await readJob(call, job) }
  }),
  writes(duplicates.DecidePair, (call, { body }) => decidePair(call, body)),
  reads(duplicates.PreviewMerge, (call, { query }) => previewMerge(call, query.keptId, query.mergedId)),
  writes(duplicates.Merge, (call, { body }) => askMerge(call, body.keptId, body.mergedId, body.reason)),
  writes(duplicates.UndoMerge, (call, { params, body }) => undoMerge(call, params.id, body.reason)),
  reads(duplicates.LookAtImport, (call, { body }) => lookAtImport(call, body.fileId)),
  writes(duplicates.StartImport, (call, { body }) => startJob(call, 'supplierImport', body)),
  ...listRoutes(onboarding.Onboardings, onboardingList, 'onboardings'),
  writes(onboarding.ProposeSupplier, (call, { body }) => proposeSupplier(call, body)),
  reads(onboarding.ReadOnboarding, (call, { params }) => readOnboarding(call, params.id)),
  reads(onboarding.OnboardingFile, (call, { params }) => onboardingFile(call, params.id, params.fileId)),
  writes(onboarding.Invite, (call, { params, body }) => invite(call, params.id, body)),
  writes(onboarding.AskBack, (call, { params, body }) => askBack(call, params.id, body)),
  writes(onboarding.AcceptAnswers, (call, { params, body }) => acceptAnswers(call, params.id, body.version)),
  writes(onboarding.DecideOnboarding, (call, { params, body }) =>
    decideOnboarding(call, params.id, params.decisionId, body.version, body.approve, body.reason),
  ),
  writes(onboarding.EndOnboarding, async (call, { params, body }) => {
    const row = await hold(call, 'onboarding', params.id, body.version)
    return await endOnboarding(call, row, body.action, body.reason)
  }),
  reads(onboarding.ListQuestionnaires, call => listQuestionnaires(call)),
  writes(onboarding.SaveQuestionnaire, (call, { body }) => saveQuestionnaire(call, body)),
  writes(onboarding.PublishQuestionnaire, (call, { params, body }) =>
    publishQuestionnaire(call, params.id, body.version),
  ),
  reads(onboarding.ListCategories, call => listCategories(call)),
  writes(onboarding.SaveCategory, (call, { body }) => saveCategory(call, body)),
  reads(onboarding.ReadSourceSettings, call => readSourceSettings(call)),
  writes(onboarding.SaveSourceSettings, (call, { body }) => saveSourceSettings(call, body)),
]

/** The supplier's side: coming in by invitation, the company's answers, its people. */
export const companyRoutes: Route[] = [
  reads(company.ReadInvitation, (call, { params }) => readInvitation(call, params.token)),
  direct(company.Register, async (call, { params, body }, told) => {
    const personId = await register(call, params.token, body)
    return { person: (await enter(call, personId, told, { secondFactor: null, action: 'signedIn' })).person! }
  }),
  reads(company.ReadCompany, call => readCompany(call)),
  writes(company.SaveAnswers, (call, { body }) => saveAnswers(call, body)),
  writes(company.SubmitAnswers, (call, { body }) => submitAnswers(call, body)),
  writes(company.ReviseAnswers, (call, { body }) => reviseAnswers(call, body)),
  direct(company.UploadCompanyFile, (call, _input, told) => storeFile(call, told.upload)),
  reads(company.ReadCompanyPeople, call => readCompanyPeople(call)),
  writes(company.SaveCompanyRole, (call, { body }) => saveCompanyRole(call, body)),
  writes(company.SaveCompanyPerson, (call, { body }) => saveCompanyPerson(call, body)),
  writes(company.SendPersonLink, (call, { params }) => sendPersonLink(call, params.id)),
  writes(company.HandOver, (call, { params, body }) => handOver(call, params.id, body.reason)),
  writes(company.SaveAddresses, (call, { body }) => saveAddresses(call, body)),
]
