import * as settings from '#contract/bill/settings.ts'
import * as credits from '#contract/bill/credits.ts'
import * as recurring from '#contract/bill/recurring.ts'
import * as journal from '#contract/bill/journal.ts'
import * as coding from '#contract/bill/coding.ts'
import * as disputes from '#contract/bill/disputes.ts'
import * as entry from '#contract/bill/entry.ts'
import * as taxes from '#contract/bill/taxes.ts'
import * as terms from '#contract/bill/terms.ts'
import * as drafts from '#contract/bill/drafts.ts'
import * as bill from '#contract/bill/endpoints.ts'
import { found } from '#server/call.ts'
import { actOnCredit, withdrawOwn, writeDebit, writeSupplierCredit } from '#server/bill/creditActs.ts'
import { creditList, readCredit, readCreditable } from '#server/bill/creditSheet.ts'
import { journalFile, readJournal, readTaxes } from '#server/bill/journal.ts'
import { codeInvoice, readCoding } from '#server/bill/codeActs.ts'
import { enter, readEntry, readPaper } from '#server/bill/enterActs.ts'
import { readInvoiceTerms } from '#server/bill/invoiceTerms.ts'
import { dropOwnDraft, keepDraft, readWhatBills } from '#server/bill/draftStore.ts'
import { agree, drop, open, sayOn } from '#server/bill/disputeActs.ts'
import { readLeftOpen } from '#server/bill/leftOpen.ts'
import { closePeriod, reopenPeriod } from '#server/bill/periodActs.ts'
import { readRecurring } from '#server/bill/recurring.ts'
import { readLinks } from '#server/bill/linkStore.ts'
import { answerClearing, clearHold, end, linkLine, linkLines, post } from '#server/bill/invoiceActs.ts'
import { invoiceFile, ownInvoiceFile } from '#server/bill/invoiceFile.ts'
import { invoiceList } from '#server/bill/invoiceList.ts'
import { readInvoice } from '#server/bill/invoiceSheet.ts'
import { saveBillingSettings } from '#server/bill/settingActs.ts'
import { billingSettings } from '#server/bill/settingStore.ts'
import { billOwnOrder, readInvoiceFile, readInvoiceFiles } from '#server/bill/takeActs.ts'
import { sentFile } from '#server/files/fileActs.ts'
import { creditFile, ownCreditFile } from '#server/bill/creditFile.ts'
import { supplierInvoice, supplierInvoices } from '#server/bill/supplierInvoices.ts'
import { direct, reads, type Route, writes } from '#server/http/route.ts'
import { listRoutes } from '#server/lists/routes.ts'

export const billRoutes: Route[] = [
  reads(settings.ReadBillingSettings, call => billingSettings(call)),
  writes(settings.SaveBillingSettings, (call, { body }) => saveBillingSettings(call, body)),
  ...listRoutes(bill.Invoices, invoiceList, 'invoices'),
  reads(entry.ReadPaper, (call, { params }) => readPaper(call, params.id)),
  reads(entry.ReadEntry, (call, { query }) => readEntry(call, query)),
  writes(entry.EnterInvoice, (call, { body }) => enter(call, body)),
  reads(bill.ReadInvoice, (call, { params }) => readInvoice(call, params.id)),
  writes(bill.ReadInvoiceFile, (call, { body }) => readInvoiceFile(call, body.fileId)),
  direct(bill.ReadInvoiceFiles, (call, { body }) => readInvoiceFiles(call, body.fileIds)),
  writes(bill.LinkInvoiceLine, (call, { params, body }) =>
    linkLine(call, params.id, params.lineId, body.orderLineId, body.version),
  ),
  reads(taxes.ReadTaxes, (call, { query }) => readTaxes(call, query.month)),
  reads(terms.ReadInvoiceTerms, (call, { params }) => readInvoiceTerms(call, params.id)),
  reads(bill.ReadLinks, (call, { params }) => readLinks(call, params.id)),
  writes(bill.LinkInvoiceLines, (call, { params, body }) => linkLines(call, params.id, body.links, body.version)),
  writes(bill.ClearHold, (call, { params, body }) =>
    clearHold(call, params.id, params.holdId, body.version, body.reason),
  ),
  writes(bill.AnswerClearing, (call, { params, body }) => answerClearing(call, params.id, params.holdId, body)),
  writes(bill.PostInvoice, (call, { params, body }) => post(call, params.id, body.version)),
  writes(bill.ActOnInvoice, (call, { params, body }) => end(call, params.id, body.action, body.version, body.reason)),
  reads(bill.InvoiceFile, async (call, { params }) => {
    const file = found(
      await call
        .trx('files')
        .join('invoices', 'invoices.fileId', 'files.id')
        .where('invoices.id', params.id)
        .first<{ id: string; name: string; mediaType: string } | undefined>(
          'files.id',
          'files.name',
          'files.mediaType',
        ),
      'file',
    )
    return sentFile(call, file)
  }),
  reads(drafts.ReadWhatBills, (call, { params }) => readWhatBills(call, params.id)),
  writes(drafts.KeepInvoiceDraft, (call, { params, body }) => keepDraft(call, params.id, body)),
  writes(drafts.DropInvoiceDraft, (call, { params }) => dropOwnDraft(call, params.id)),
  writes(bill.SupplierInvoice, (call, { params, body }) => billOwnOrder(call, params.id, body)),
  reads(recurring.ReadRecurring, call => readRecurring(call)),
  reads(coding.ReadCoding, (call, { params }) => readCoding(call, params.id)),
  writes(coding.CodeInvoice, (call, { params, body }) => codeInvoice(call, params.id, body)),
  writes(disputes.OpenDispute, (call, { params, body }) => open(call, params.id, body.version, body.text)),
  writes(disputes.SayInDispute, (call, { params, body }) => sayOn(call, params.id, body)),
  writes(disputes.AgreeInDispute, (call, { params, body }) => agree(call, params.id, body.version)),
  writes(disputes.DropDispute, (call, { params, body }) => drop(call, params.id, body.version, body.reason)),
  writes(disputes.SupplierSays, (call, { params, body }) => sayOn(call, params.id, body)),
  writes(disputes.SupplierAgrees, (call, { params, body }) => agree(call, params.id, body.version)),
  reads(journal.ReadJournal, (call, { query }) => readJournal(call, query.month)),
  reads(journal.ReadLeftOpen, (call, { query }) => readLeftOpen(call, query.month)),
  writes(journal.ClosePeriod, (call, { params }) => closePeriod(call, params.month)),
  writes(journal.ReopenPeriod, (call, { params, body }) => reopenPeriod(call, params.month, body.reason)),
  reads(journal.JournalFile, (call, { query }) => journalFile(call, query.month)),
  ...listRoutes(credits.Credits, creditList, 'credits'),
  reads(credits.ReadCredit, (call, { params }) => readCredit(call, params.id)),
  reads(credits.ReadCreditable, (call, { params }) => readCreditable(call, params.id)),
  writes(credits.WriteDebit, async (call, { params, body }) => {
    const { gross: _gross, ...kept } = await writeDebit(call, params.id, body)
    return kept
  }),
  writes(credits.ActOnCredit, (call, { params, body }) => actOnCredit(call, params.id, body)),
  reads(credits.CreditFile, (call, { params, query }) => creditFile(call, params.id, query.form)),
  reads(credits.SupplierInvoices, (call, { query }) => supplierInvoices(call, query.search)),
  reads(credits.SupplierInvoiceSheet, (call, { params }) => supplierInvoice(call, params.id)),
  writes(credits.SupplierCredit, (call, { params, body }) => writeSupplierCredit(call, params.id, body)),
  writes(credits.WithdrawSupplierCredit, (call, { params, body }) =>
    withdrawOwn(call, params.id, body.version, body.reason),
  ),
  reads(credits.InvoiceDocument, (call, { params, query }) => invoiceFile(call, params.id, query.form)),
  reads(credits.SupplierInvoiceDocument, (call, { params, query }) => ownInvoiceFile(call, params.id, query.form)),
  reads(credits.SupplierCreditFile, (call, { params, query }) => ownCreditFile(call, params.id, query.form)),
]
