import * as company from '#contract/source/company.ts'
import * as duplicates from '#contract/source/duplicates.ts'
import * as source from '#contract/source/endpoints.ts'
import * as onboarding from '#contract/source/onboarding.ts'
import { storeFile } from '#server/files/fileService.ts'
import { route, type Route } from '#server/http/app.ts'
import { readJob, startJob } from '#server/jobs/longJobs.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { enter } from '#server/people/routes.ts'
import { answerAgreement, askForShared, readAgreement } from '#server/source/agreements.ts'
import { proveBankAccount, setBankAccount } from '#server/source/bankAccounts.ts'
import { listCategories, readSourceSettings, saveCategory, saveSourceSettings } from '#server/source/categories.ts'
import { certificateFile, saveCertificate, withdrawCertificate } from '#server/source/certificates.ts'
import { answerRevision, readCompany, reviseAnswers, saveAnswers, submitAnswers } from '#server/source/company.ts'
import {
  handOver,
  inviteAdministrator,
  readCompanyPeople,
  readInvitation,
  reassignAdministrator,
  register,
  saveAddresses,
  saveCompanyPerson,
  saveCompanyRole,
  sendPersonLink,
} from '#server/source/companyPeople.ts'
import { decidePair, latestSearch, readPairs } from '#server/source/duplicates.ts'
import { findSuppliers } from '#server/source/findSuppliers.ts'
import { lookAtImport } from '#server/source/importSuppliers.ts'
import { mergeSuppliers, previewMerge, undoMerge } from '#server/source/merge.ts'
import { acceptAnswers, askBack, decideOnboarding, endOnboarding, invite, lockOnboarding, proposeSupplier } from '#server/source/onboarding.ts'
import { onboardingFile, onboardingList, readOnboarding } from '#server/source/onboardingSheet.ts'
import { listQuestionnaires, publishQuestionnaire, saveQuestionnaire } from '#server/source/questionnaires.ts'
import { readSignal, refreshSignals } from '#server/source/signals.ts'
import { actOnSupplier, changeSupplier, createSupplier } from '#server/source/supplierService.ts'
import { guardVersion } from '#server/call.ts'
import { supplierList } from '#server/source/supplierList.ts'
import { readSupplier } from '#server/source/supplierSheet.ts'

/** The team's side: records, finding, merging, onboarding, qualification, signals. */
export const sourceRoutes: Route[] = [
  ...listRoutes(source.Suppliers, supplierList, 'suppliers'),
  route(source.ReadSupplier, (call, { params }) => readSupplier(call, params.id)),
  route(source.FindSuppliers, (call, { body }) => findSuppliers(call, body)),
  route(source.CreateSupplier, async (call, { body }) => {
    const { id, version } = await createSupplier(call, body)
    return { id, version }
  }),
  route(source.AskForShared, (call, { body }) => askForShared(call, body.supplier, body.reason)),
  route(source.ChangeSupplier, (call, { params, body: { version, ...body } }) => changeSupplier(call, params.id, body, version)),
  route(source.ActOnSupplier, (call, { params, body }) => actOnSupplier(call, params.id, body.action, body.version, body.reason, body.until)),
  route(source.ReadAgreement, (call, { params }) => readAgreement(call, params.id)),
  route(source.AnswerAgreement, (call, { params, body }) => answerAgreement(call, params.id, body.version, body.answer, body.reason)),
  route(source.SetBankAccount, (call, { params, body }) => setBankAccount(call, params.id, body)),
  route(source.ProveBankAccount, (call, { params, body }) => proveBankAccount(call, params.id, params.accountId, body.version, body.proof)),
  route(source.SaveCertificate, (call, { params, body }) => saveCertificate(call, params.id, body)),
  route(source.WithdrawCertificate, (call, { params, body }) => withdrawCertificate(call, params.id, params.certificateId, body.reason)),
  route(source.CertificateFile, (call, { params }) => certificateFile(call, params.id)),
  route(source.ComputeSignals, (call, { params }) => refreshSignals(call, params.id)),
  route(source.ReadSignal, (call, { params }) => readSignal(call, params.id, params.key)),
  route(source.AnswerRevision, (call, { params, body }) => answerRevision(call, params.id, params.revisionId, body.accept, body.reason)),
  route(source.InviteAdministrator, (call, { params, body }) => inviteAdministrator(call, params.id, body)),
  route(source.ReassignAdministrator, (call, { params, body }) => reassignAdministrator(call, params.id, body.personId, body.check)),
  route(duplicates.ReadJob, (call, { params }) => readJob(call, params.id)),
  route(duplicates.StartSearch, call => startJob(call, 'duplicates', {})),
  route(duplicates.ReadPairs, async (call, { query }) => {
    const job = await latestSearch(call)
    return { ...(await readPairs(call, query.state ?? 'open')), job: job === null ? null : await readJob(call, job) }
  }),
  route(duplicates.DecidePair, (call, { body }) => decidePair(call, body)),
  route(duplicates.PreviewMerge, (call, { query }) => previewMerge(call, query.keptId, query.mergedId) as never),
  route(duplicates.Merge, (call, { body }) => mergeSuppliers(call, body.keptId, body.mergedId, body.reason)),
  route(duplicates.UndoMerge, (call, { params, body }) => undoMerge(call, params.id, body.reason)),
  route(duplicates.LookAtImport, (call, { body }) => lookAtImport(call, body.fileId)),
  route(duplicates.StartImport, (call, { body }) => startJob(call, 'supplierImport', body)),
  ...listRoutes(onboarding.Onboardings, onboardingList, 'onboardings'),
  route(onboarding.ProposeSupplier, (call, { body }) => proposeSupplier(call, body)),
  route(onboarding.ReadOnboarding, (call, { params }) => readOnboarding(call, params.id)),
  route(onboarding.OnboardingFile, (call, { params }) => onboardingFile(call, params.id, params.fileId)),
  route(onboarding.Invite, (call, { params, body }) => invite(call, params.id, body)),
  route(onboarding.AskBack, (call, { params, body }) => askBack(call, params.id, body)),
  route(onboarding.AcceptAnswers, (call, { params, body }) => acceptAnswers(call, params.id, body.version)),
  route(onboarding.DecideOnboarding, (call, { params, body }) => decideOnboarding(call, params.id, params.decisionId, body.version, body.approve, body.reason)),
  route(onboarding.EndOnboarding, async (call, { params, body }) => {
    const row = await lockOnboarding(call, params.id)
    await guardVersion(call, row, body.version)
    return endOnboarding(call, row, body.action, body.reason)
  }),
  route(onboarding.ListQuestionnaires, call => listQuestionnaires(call)),
  route(onboarding.SaveQuestionnaire, (call, { body }) => saveQuestionnaire(call, body) as never),
  route(onboarding.PublishQuestionnaire, (call, { params, body }) => publishQuestionnaire(call, params.id, body.version)),
  route(onboarding.ListCategories, call => listCategories(call)),
  route(onboarding.SaveCategory, (call, { body }) => saveCategory(call, body)),
  route(onboarding.ReadSourceSettings, call => readSourceSettings(call)),
  route(onboarding.SaveSourceSettings, (call, { body }) => saveSourceSettings(call, body)),
]

/** The supplier's side: coming in by invitation, the company's answers, its people. */
export const companyRoutes: Route[] = [
  route(company.ReadInvitation, (call, { params }) => readInvitation(call, params.token)),
  route(company.Register, async (call, { params, body }, told) => enter(call, await register(call, params.token, body), told), true),
  route(company.ReadCompany, call => readCompany(call)),
  route(company.SaveAnswers, (call, { body }) => saveAnswers(call, body)),
  route(company.SubmitAnswers, (call, { body }) => submitAnswers(call, body)),
  route(company.ReviseAnswers, (call, { body }) => reviseAnswers(call, body)),
  route(company.UploadCompanyFile, async (call, _input, told) => storeFile(call, await told.upload()), true),
  route(company.ReadCompanyPeople, call => readCompanyPeople(call)),
  route(company.SaveCompanyRole, (call, { body }) => saveCompanyRole(call, body)),
  route(company.SaveCompanyPerson, (call, { body }) => saveCompanyPerson(call, body)),
  route(company.SendPersonLink, (call, { params }) => sendPersonLink(call, params.id)),
  route(company.HandOver, (call, { params, body }) => handOver(call, params.id, body.reason)),
  route(company.SaveAddresses, (call, { body }) => saveAddresses(call, body)),
]
