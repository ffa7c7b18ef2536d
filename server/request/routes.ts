import * as catalogue from '#contract/request/catalogue.ts'
import * as request from '#contract/request/endpoints.ts'
import * as forms from '#contract/request/forms.ts'
import { ownFile } from '#server/files/fileService.ts'
import { writeRequisitionPdf } from '#server/formats/requisitionPdf.ts'
import { route, type Route } from '#server/http/app.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { listAddresses, saveAddress } from '#server/request/addresses.ts'
import { readBasket, requestBasket, saveBasket } from '#server/request/basket.ts'
import { findSupplierChoices, readChoices } from '#server/request/choices.ts'
import { proposeCoding } from '#server/request/coding.ts'
import { createRequisition, saveRequisition } from '#server/request/draft.ts'
import { fillForm, listForms, publishForm, saveForm } from '#server/request/forms.ts'
import { importItems } from '#server/request/importItems.ts'
import { catalogueFacts, cataloguePictures, itemList, readItem } from '#server/request/items.ts'
import { readNeeds } from '#server/request/needs.ts'
import { endNotice, listNotices, markNoticeRead, saveNotice } from '#server/request/notices.ts'
import { answerQuestion } from '#server/request/questions.ts'
import { readQuickLines } from '#server/request/quickLines.ts'
import { endRepeatList, keepAsList, repeatLists, saveRepeatList, useRepeatList } from '#server/request/repeatLists.ts'
import { readRequisition, requisitionList } from '#server/request/requisitionSheet.ts'
import { readVisibleRequisition } from '#server/request/requisitionStore.ts'
import { searchCatalogue } from '#server/request/search.ts'
import { readRequestSettings, saveRequestSettings } from '#server/request/settings.ts'
import { actOnRequisition, preview, submitRequisition } from '#server/request/submit.ts'

/** Finding, baskets and lists, requests from the draft to its submission, and what a steward sets for them. */
export const requestRoutes: Route[] = [
  ...listRoutes(catalogue.Items, itemList, 'items'),
  route(catalogue.SearchCatalogue, (call, { query }) => searchCatalogue(call, query)),
  route(catalogue.CatalogueFacts, call => catalogueFacts(call)),
  route(catalogue.CataloguePictures, call => cataloguePictures(call)),
  route(catalogue.ReadItem, (call, { params }) => readItem(call, params.id)),
  route(catalogue.ImportItems, async (call, { body }) => importItems(call, (await ownFile(call, body.fileId)).content, body.dryRun)),
  route(catalogue.ReadBasket, call => readBasket(call)),
  route(catalogue.SaveBasket, (call, { body }) => saveBasket(call, body.lines)),
  route(catalogue.RequestBasket, call => requestBasket(call)),
  route(catalogue.RepeatLists, call => repeatLists(call)),
  route(catalogue.SaveRepeatList, (call, { body }) => saveRepeatList(call, body)),
  route(catalogue.EndRepeatList, (call, { params, body }) => endRepeatList(call, params.id, body.version)),
  route(catalogue.KeepAsList, (call, { body }) => keepAsList(call, body)),
  route(catalogue.UseRepeatList, (call, { params, body }) => useRepeatList(call, params.id, body)),
  ...listRoutes(request.Requisitions, requisitionList, 'requests'),
  route(request.CreateRequisition, (call, { body }) => createRequisition(call, body)),
  route(request.ReadRequisition, (call, { params }) => readRequisition(call, params.id)),
  route(request.SaveRequisition, (call, { params, body: { version, ...body } }) => saveRequisition(call, params.id, body, version)),
  route(request.CheckRequisition, async (call, { params }) => preview(call, await readVisibleRequisition(call, params.id)) as never),
  route(request.SubmitRequisition, (call, { params, body }) => submitRequisition(call, params.id, body.version, body.checkReason)),
  route(request.ActOnRequisition, (call, { params, body }) => actOnRequisition(call, params.id, body.action, body.version, body.reason)),
  route(request.AnswerQuestion, (call, { params, body }) => answerQuestion(call, params.id, params.questionId, body.answer)),
  route(request.RequisitionPdf, async (call, { params }) => {
    const sheet = await readRequisition(call, params.id)
    return { name: `${sheet.number}.pdf`, mediaType: 'application/pdf', bytes: await writeRequisitionPdf(sheet), inline: true }
  }),
  route(request.ProposeAccounts, (call, { body }) => proposeCoding(call, body)),
  route(request.ReadNeeds, (call, { query }) => readNeeds(call, query.view ?? 'open')),
  route(request.ReadQuickLines, (call, { body }) => readQuickLines(call, body)),
  route(request.ReadChoices, call => readChoices(call)),
  route(request.FindSupplierChoices, (call, { query }) => findSupplierChoices(call, query.q)),
  route(forms.ListForms, (call, { query }) => listForms(call, query.all === 'yes')),
  route(forms.SaveForm, (call, { body }) => saveForm(call, body) as never),
  route(forms.PublishForm, (call, { params, body }) => publishForm(call, params.id, body.version)),
  route(forms.FillForm, (call, { params, body }) => fillForm(call, params.id, body.answers)),
  route(forms.ListNotices, (call, { query }) => listNotices(call, query)),
  route(forms.SaveNotice, (call, { body }) => saveNotice(call, body)),
  route(forms.EndNotice, (call, { params, body }) => endNotice(call, params.id, body.version)),
  route(forms.ReadNotice, (call, { params }) => markNoticeRead(call, params.id)),
  route(forms.ReadRequestSettings, call => readRequestSettings(call)),
  route(forms.SaveRequestSettings, (call, { body }) => saveRequestSettings(call, body)),
  route(forms.ListAddresses, call => listAddresses(call)),
  route(forms.SaveAddress, (call, { body }) => saveAddress(call, body)),
]
