import * as catalogue from '#contract/request/catalogue.ts'
import * as request from '#contract/request/endpoints.ts'
import * as keeping from '#contract/request/keeping.ts'
import * as forms from '#contract/request/forms.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import { writeRequisitionPdf } from '#server/formats/requisitionPdf.ts'
import { readSetting } from '#server/house/house.ts'
import { reads, type Route, writes } from '#server/http/route.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { listRoutes } from '#server/lists/routes.ts'
import { listAddresses, saveAddress } from '#server/request/addressActs.ts'
import { readBasket, requestBasket, saveBasket } from '#server/request/basket.ts'
import { findSupplierChoices, readChoices } from '#server/request/choices.ts'
import { proposeCoding } from '#server/request/coding.ts'
import { createRequisition, saveRequisition } from '#server/request/draftActs.ts'
import { fillForm, listForms, publishForm, saveForm } from '#server/request/formActs.ts'
import { exportItems } from '#server/request/exportItems.ts'
import { importItems } from '#server/request/importItems.ts'
import { catalogueFacts, cataloguePictures, itemList, readItem } from '#server/request/items.ts'
import { saveItem, saveOffer, setPicture } from '#server/request/keepActs.ts'
import { changePrices, previewPrices, readPriceList, takePriceList } from '#server/request/priceActs.ts'
import { pricesOf } from '#server/request/priceStore.ts'
import { readNeeds } from '#server/request/needs.ts'
import { endNotice, listNotices, markNoticeRead, saveNotice } from '#server/request/notices.ts'
import { answerQuestion } from '#server/request/questionActs.ts'
import { readQuickLines } from '#server/request/quickLines.ts'
import { endRepeatList, keepAsList, repeatLists, saveRepeatList, useRepeatList } from '#server/request/repeatLists.ts'
import { requisitionList } from '#server/request/requisitionList.ts'
import { readRequisition } from '#server/request/requisitionSheet.ts'
import { readVisibleRequisition } from '#server/request/requisitionStore.ts'
import { searchCatalogue } from '#server/request/itemSearchStore.ts'
import { readRequestSettings, saveRequestSettings } from '#server/request/settingsStore.ts'
import { preview } from '#server/request/examineStore.ts'
import { act, copy, keepDeciders, submit } from '#server/request/submitActs.ts'

/** Finding, baskets and lists, requests from the draft to its submission, and what a steward sets for them. */
export const requestRoutes: Route[] = [
  ...listRoutes(catalogue.Items, itemList, 'items'),
  reads(catalogue.SearchCatalogue, (call, { query }) => searchCatalogue(call, query)),
  reads(catalogue.CatalogueFacts, call => catalogueFacts(call)),
  reads(catalogue.CataloguePictures, call => cataloguePictures(call)),
  reads(catalogue.ReadItem, (call, { params }) => readItem(call, params.id)),
  reads(catalogue.ExportItems, call => Promise.resolve(exportItems(call))),
  writes(catalogue.ImportItems, async (call, { body }) =>
    importItems(call, await ownContent(call, body.fileId), body.dryRun, MOST_ROWS_AT_ONCE),
  ),
  writes(keeping.SaveItem, (call, { body }) => saveItem(call, body)),
  writes(keeping.SetPicture, (call, { params, body }) => setPicture(call, params.id, body.fileId, body.version)),
  writes(keeping.SaveOffer, (call, { params, body }) => saveOffer(call, params.id, body)),
  reads(keeping.ReadPrices, async (call, { params }) => ({ prices: await pricesOf(call, params.id) })),
  reads(keeping.PreviewPrices, (call, { body }) => previewPrices(call, body)),
  writes(keeping.ChangePrices, (call, { body }) => changePrices(call, body)),
  reads(keeping.ReadPriceList, (call, { body }) => readPriceList(call, body.supplierId, body.fileId)),
  writes(keeping.TakePriceList, (call, { body }) => takePriceList(call, body)),
  reads(catalogue.ReadBasket, call => readBasket(call)),
  writes(catalogue.SaveBasket, (call, { body }) => saveBasket(call, body.lines)),
  writes(catalogue.RequestBasket, call => requestBasket(call)),
  reads(catalogue.RepeatLists, call => repeatLists(call)),
  writes(catalogue.SaveRepeatList, (call, { body }) => saveRepeatList(call, body)),
  writes(catalogue.EndRepeatList, (call, { params, body }) => endRepeatList(call, params.id, body.version)),
  writes(catalogue.KeepAsList, (call, { body }) => keepAsList(call, body)),
  writes(catalogue.UseRepeatList, (call, { params, body }) => useRepeatList(call, params.id, body)),
  ...listRoutes(request.Requisitions, requisitionList, 'requests'),
  writes(request.CreateRequisition, (call, { body }) => createRequisition(call, body)),
  reads(request.ReadRequisition, (call, { params }) => readRequisition(call, params.id)),
  writes(request.SaveRequisition, (call, { params, body: { version, ...body } }) =>
    saveRequisition(call, params.id, body, version),
  ),
  writes(request.ChooseDeciders, (call, { params, body }) => keepDeciders(call, params.id, body)),
  reads(request.CheckRequisition, async (call, { params }) => {
    const { reasons, ...checked } = await preview(call, await readVisibleRequisition(call, params.id))
    return { ...checked, reasons: reasonsJson(reasons) }
  }),
  writes(request.SubmitRequisition, (call, { params, body }) =>
    submit(call, params.id, body.version, body.checkReason ?? ''),
  ),
  writes(request.ActOnRequisition, (call, { params, body }) =>
    body.action === 'copy' ? copy(call, params.id) : act(call, params.id, body.action, body.version, body.reason ?? ''),
  ),
  writes(request.AnswerQuestion, (call, { params, body }) =>
    answerQuestion(call, params.id, params.questionId, body.answer),
  ),
  reads(request.RequisitionPdf, async (call, { params }) => {
    const sheet = await readRequisition(call, params.id)
    const logo = (await readSetting(call, 'logo')) ?? null
    return {
      name: `${sheet.number}.pdf`,
      mediaType: 'application/pdf',
      bytes: await writeRequisitionPdf(sheet, { name: call.house.name, logo }),
      inline: true,
    }
  }),
  reads(request.ProposeAccounts, (call, { body }) => proposeCoding(call, body)),
  reads(request.ReadNeeds, (call, { query }) => readNeeds(call, query.view ?? 'open')),
  reads(request.ReadQuickLines, (call, { body }) => readQuickLines(call, body)),
  reads(request.ReadChoices, call => readChoices(call)),
  reads(request.FindSupplierChoices, (call, { query }) => findSupplierChoices(call, query.q)),
  reads(forms.ListForms, (call, { query }) => listForms(call, query.all === 'yes')),
  writes(forms.SaveForm, (call, { body }) => saveForm(call, body)),
  writes(forms.PublishForm, (call, { params, body }) => publishForm(call, params.id, body.version)),
  writes(forms.FillForm, (call, { params, body }) => fillForm(call, params.id, body.answers)),
  reads(forms.ListNotices, (call, { query }) => listNotices(call, query)),
  writes(forms.SaveNotice, (call, { body }) => saveNotice(call, body)),
  writes(forms.EndNotice, (call, { params, body }) => endNotice(call, params.id, body.version)),
  writes(forms.ReadNotice, (call, { params }) => markNoticeRead(call, params.id)),
  reads(forms.ReadRequestSettings, call => readRequestSettings(call)),
  writes(forms.SaveRequestSettings, (call, { body }) => saveRequestSettings(call, body)),
  reads(forms.ListAddresses, call => listAddresses(call)),
  writes(forms.SaveAddress, (call, { body }) => saveAddress(call, body)),
]
