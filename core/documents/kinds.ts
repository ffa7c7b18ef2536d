import { CREDIT_STATES } from '#core/bill/creditStates.ts'
import { INVOICE_STATES } from '#core/bill/states.ts'
import { TRANSFER_STATES } from '#core/budgets/transfers.ts'
import { AGREEMENT_STATES } from '#core/agreements/states.ts'
import { COSTING_STATES } from '#core/build/costingActs.ts'
import type { ConsentPurpose } from '#core/consent/consent.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { RUN_STATES } from '#core/pay/states.ts'
import { ARRIVAL_STATES } from '#core/receive/arrival.ts'
import { ASSET_STATES } from '#core/receive/asset.ts'
import { DESPATCH_STATES } from '#core/receive/despatch.ts'
import { RETURN_STATES } from '#core/receive/goodsReturn.ts'
import { INSPECTION_STATES } from '#core/receive/inspection.ts'
import { RECEIPT_STATES } from '#core/receive/states.ts'
import { SET_ASIDE_STATES } from '#core/receive/setAside.ts'
import { REPORT_STATES } from '#core/receive/workReport.ts'
import { REQUISITION_STATES } from '#core/request/states.ts'
import { EVENT_STATES } from '#core/source/eventStates.ts'
import { ONBOARDING_STATES, SUPPLIER_STATES } from '#core/source/states.ts'

/** Who sees a document without the right to all of its kind. */
export interface SeenBy {
  /** Column with the person whose document it is. */
  readonly own?: string
  /** Column that is empty as long as nobody but that person sees it, whatever their rights. */
  readonly privateUntil?: string
  /** Whoever gives points to what suppliers answer. */
  readonly scorers?: true
  /** Whoever has opened a link to it that has not ended. */
  readonly linked?: true
  /** Whoever decides it, or has. */
  readonly deciders?: true
  /** Column with the cost centres that pay for its lines, whose people see it. */
  readonly payers?: string
  /** Whoever asked for something on it, by the lines of orders. */
  readonly requesters?: true
  /** Column with the cost centre to whose people it belongs. */
  readonly costCentre?: string
  /** Columns with budget accounts whose cost centre's people it concerns. */
  readonly holders?: readonly string[]
  /** Whoever has asked for something that it pays for. */
  readonly chargers?: true
}

/** One kind of document: everything about it that is not its own work. */
export interface DocumentKindFacts {
  /** Before its number; empty where it has none. */
  readonly letter: string
  /** Where its rows are kept. */
  readonly rows: string
  /** Where its numbers come from; empty where it has none of its own. */
  readonly numbers: string
  /** Column that names it to people. */
  readonly title: string
  /** The right to see all of them; null: there is no such right. */
  readonly right: string | null
  readonly seenBy: SeenBy
  /** Where its page is; `place` is the value of the column `home`. */
  readonly path: (place: string) => string
  readonly home: string
  readonly states: readonly string[]
  /** Whether files and notes hang on it. */
  readonly papers: boolean
  /** What people may be asked to say yes to about it. */
  readonly decisions: readonly ConsentPurpose[]
  /** States in which it moves along when its supplier's record is merged; null where it has no supplier. */
  readonly mergesIn: readonly string[] | null
}

const statesOf = (table: Readonly<Record<string, unknown>>): string[] => Object.keys(table)
const plain = {
  letter: '',
  numbers: '',
  seenBy: {},
  home: 'id',
  states: [],
  papers: false,
  decisions: [],
  mergesIn: null,
} as const

/**
 * Every kind of document there is. Finding by number, paths, titles, files, notes, history, threads, numbers, rights, tidying up, merging and
 * labels are driven by this list: a new kind is added here and in the folder of its own stage.
 */
export const DOCUMENTS = {
  supplier: {
    ...plain,
    letter: 'S',
    rows: 'suppliers',
    numbers: 'supplier_numbers',
    title: 'name',
    right: 'supplier.read',
    path: id => `/source/${id}`,
    states: statesOf(SUPPLIER_STATES),
    papers: true,
    decisions: ['bar', 'merge', 'account'],
  },
  onboarding: {
    ...plain,
    letter: 'N',
    rows: 'onboardings',
    numbers: 'onboarding_numbers',
    title: 'invitedName',
    right: 'supplier.read',
    path: id => `/source/onboardings/${id}`,
    states: statesOf(ONBOARDING_STATES),
    papers: true,
    decisions: ['onboarding'],
  },
  event: {
    ...plain,
    letter: 'E',
    rows: 'events',
    numbers: 'event_numbers',
    title: 'title',
    right: 'event.read',
    seenBy: { own: 'ownerId', deciders: true, scorers: true },
    path: id => `/source/events/${id}`,
    states: statesOf(EVENT_STATES),
    papers: true,
    decisions: ['award'],
  },
  costing: {
    ...plain,
    letter: 'B',
    rows: 'buildCostings',
    numbers: 'build_numbers',
    title: 'title',
    right: 'build.readAll',
    seenBy: { own: 'ownerId', linked: true },
    path: id => `/source/builds/${id}`,
    states: statesOf(COSTING_STATES),
    papers: true,
  },
  agreement: {
    ...plain,
    letter: 'F',
    rows: 'agreements',
    numbers: 'agreement_numbers',
    title: 'title',
    right: 'agreement.read',
    seenBy: { own: 'ownerId', deciders: true },
    path: id => `/source/agreements/${id}`,
    states: statesOf(AGREEMENT_STATES),
    papers: true,
    decisions: ['agreement'],
    mergesIn: ['draft', 'waiting', 'active', 'usedUp', 'ended'],
  },
  priceIndex: {
    ...plain,
    rows: 'priceIndices',
    title: 'name',
    right: 'setup.read',
    path: () => '/source/price-indices',
  },
  eventKind: { ...plain, rows: 'eventKinds', title: 'name', right: 'setup.read', path: () => '/setup/eventKinds' },
  requisition: {
    ...plain,
    letter: 'R',
    rows: 'requisitions',
    numbers: 'requisition_numbers',
    title: 'title',
    right: 'requisition.readAll',
    seenBy: {
      own: 'requesterId',
      privateUntil: 'submittedAt',
      deciders: true,
      payers: 'payers',
    },
    path: id => `/request/${id}`,
    states: statesOf(REQUISITION_STATES),
    papers: true,
    decisions: ['approval', 'skip'],
  },
  order: {
    ...plain,
    letter: 'O',
    rows: 'orders',
    numbers: 'order_numbers',
    title: 'title',
    right: 'order.read',
    path: id => `/order/${id}`,
    states: statesOf(ORDER_STATES),
    papers: true,
    decisions: ['orderAnswer', 'excess'],
    mergesIn: ['draft', 'issued', 'acknowledged', 'closed'],
  },
  /** An order as those see it who receive it: the same row, another page and other readers. */
  delivery: {
    ...plain,
    rows: 'orders',
    title: 'title',
    right: 'order.read',
    seenBy: { requesters: true },
    path: id => `/receive/${id}`,
    states: statesOf(ORDER_STATES),
    papers: true,
  },
  receipt: {
    ...plain,
    letter: 'G',
    rows: 'receipts',
    numbers: 'receipt_numbers',
    title: 'note',
    right: 'order.read',
    seenBy: { own: 'byId' },
    path: orderId => `/receive/${orderId}`,
    home: 'orderId',
    states: statesOf(RECEIPT_STATES),
    decisions: ['overReceipt'],
  },
  /** What a supplier announces of an order. */
  despatch: {
    ...plain,
    letter: 'D',
    rows: 'despatches',
    numbers: 'despatch_numbers',
    title: 'supplierNumber',
    right: 'order.read',
    path: orderId => `/receive/${orderId}`,
    home: 'orderId',
    states: statesOf(DESPATCH_STATES),
  },
  /** Goods that go back to their supplier. */
  goodsReturn: {
    ...plain,
    letter: 'Z',
    rows: 'goodsReturns',
    numbers: 'return_numbers',
    title: 'reason',
    right: 'order.read',
    path: orderId => `/receive/${orderId}`,
    home: 'orderId',
    states: statesOf(RETURN_STATES),
  },
  /** What came and nobody ordered. */
  setAside: {
    ...plain,
    letter: 'U',
    rows: 'setAsides',
    numbers: 'aside_numbers',
    title: 'description',
    right: 'order.read',
    path: () => '/receive/set-aside',
    states: statesOf(SET_ASIDE_STATES),
  },
  /** Goods that are in, and whoever asked for them. */
  arrival: {
    ...plain,
    rows: 'arrivals',
    title: 'title',
    right: 'order.read',
    seenBy: { own: 'requesterId' },
    path: orderId => `/receive/${orderId}`,
    home: 'orderId',
    states: statesOf(ARRIVAL_STATES),
  },
  /** Goods that wait until somebody has said which of them are good. */
  inspection: {
    ...plain,
    letter: 'Q',
    rows: 'inspections',
    numbers: 'inspection_numbers',
    title: 'title',
    right: 'order.read',
    path: id => `/receive/inspections/${id}`,
    states: statesOf(INSPECTION_STATES),
    papers: true,
  },
  /** Work that was done, as it is told. */
  workReport: {
    ...plain,
    letter: 'W',
    rows: 'workReports',
    numbers: 'report_numbers',
    title: 'note',
    right: 'order.read',
    path: orderId => `/receive/${orderId}`,
    home: 'orderId',
    states: statesOf(REPORT_STATES),
    papers: true,
  },
  /** A piece that is kept under a tag of ours. */
  asset: {
    ...plain,
    letter: 'Y',
    rows: 'assets',
    numbers: 'asset_numbers',
    title: 'description',
    right: 'order.read',
    seenBy: { own: 'personId' },
    path: id => `/receive/assets/${id}`,
    states: statesOf(ASSET_STATES),
    papers: true,
  },
  /** What was issued from stock, moved or counted. */
  stockMove: {
    ...plain,
    letter: 'K',
    rows: 'stockMoves',
    numbers: 'stock_numbers',
    title: 'purpose',
    right: 'order.read',
    seenBy: { own: 'byId' },
    path: () => '/receive/stock',
    states: ['posted', 'asked', 'refused'],
    decisions: ['stockCount'],
  },
  invoice: {
    ...plain,
    letter: 'I',
    rows: 'invoices',
    numbers: 'invoice_numbers',
    title: 'supplierNumber',
    right: 'invoice.read',
    path: id => `/bill/${id}`,
    states: statesOf(INVOICE_STATES),
    papers: true,
    decisions: ['difference'],
    mergesIn: ['read', 'onHold', 'matched', 'cleared'],
  },
  /** A credit note of a supplier, or a debit note of ours. */
  creditNote: {
    ...plain,
    letter: 'C',
    rows: 'creditNotes',
    numbers: 'credit_numbers',
    title: 'supplierNumber',
    right: 'invoice.read',
    path: id => `/bill/credits/${id}`,
    states: statesOf(CREDIT_STATES),
    papers: true,
    mergesIn: ['draft', 'waiting', 'posted'],
  },
  paymentRun: {
    ...plain,
    letter: 'P',
    rows: 'paymentRuns',
    numbers: 'run_numbers',
    title: 'number',
    right: 'payment.read',
    path: id => `/pay/${id}`,
    states: statesOf(RUN_STATES),
    papers: true,
    decisions: ['run', 'recall'],
  },
  budgetTransfer: {
    ...plain,
    letter: 'T',
    rows: 'budgetTransfers',
    numbers: 'transfer_numbers',
    title: 'reason',
    right: 'budget.readAll',
    seenBy: { own: 'askedBy', deciders: true, holders: ['fromId', 'toId'] },
    path: id => `/insight/transfers?transfer=${id}`,
    states: statesOf(TRANSFER_STATES),
    decisions: ['transfer'],
  },
  /** A question to a second person about something that is no document yet. */
  secondYes: {
    ...plain,
    rows: 'consents',
    title: 'reason',
    right: 'supplier.agree',
    seenBy: { own: 'askedBy' },
    path: id => `/source/second-yes/${id}`,
    decisions: ['sharedNumber', 'power'],
  },
  rule: { ...plain, rows: 'ruleSets', title: 'note', right: 'setup.read', path: () => '/setup' },
  costCentre: { ...plain, rows: 'costCentres', title: 'name', right: 'setup.read', path: () => '/setup' },
  person: { ...plain, rows: 'people', title: 'name', right: 'setup.read', path: () => '/setup' },
  role: { ...plain, rows: 'roles', title: 'code', right: 'setup.read', path: () => '/setup/roles' },
  house: { ...plain, rows: 'settings', title: 'key', right: 'setup.read', path: () => '/setup' },
  setupEntry: { ...plain, rows: 'setupEntries', title: 'code', right: 'setup.read', path: () => '/setup' },
  item: {
    ...plain,
    rows: 'items',
    title: 'name',
    right: 'catalogue.read',
    path: id => `/request/catalogue/${id}`,
  },
  offer: {
    ...plain,
    rows: 'offers',
    title: 'supplierItem',
    right: 'catalogue.read',
    path: itemId => `/request/catalogue/${itemId}`,
    home: 'itemId',
  },
  category: { ...plain, rows: 'supplyCategories', title: 'name', right: 'setup.read', path: () => '/setup' },
  clause: { ...plain, rows: 'clauses', title: 'name', right: 'setup.read', path: () => '/setup/clauses' },
  address: { ...plain, rows: 'addresses', title: 'name', right: 'setup.read', path: () => '/setup' },
  questionnaire: { ...plain, rows: 'questionnaires', title: 'name', right: 'setup.read', path: () => '/setup' },
  form: { ...plain, rows: 'requestForms', title: 'name', right: 'setup.read', path: () => '/setup' },
  notice: { ...plain, rows: 'purchaseNotices', title: 'title', right: 'notice.write', path: () => '/setup' },
  repeatList: {
    ...plain,
    rows: 'repeatLists',
    title: 'name',
    right: null,
    seenBy: { own: 'ownerId' },
    path: () => '/request/lists',
  },
  budgetAccount: {
    ...plain,
    rows: 'budgetAccounts',
    title: 'naturalAccount',
    right: 'budget.readAll',
    seenBy: { costCentre: 'costCentre', chargers: true },
    path: id => `/insight/${id}`,
  },
  budgetYear: {
    ...plain,
    rows: 'budgetYearChanges',
    title: 'reason',
    right: 'budget.write',
    path: () => '/insight/years',
  },
  /** A search or import that runs in the background. */
  longJob: {
    ...plain,
    rows: 'longJobs',
    title: 'kind',
    right: null,
    seenBy: { own: 'byId' },
    path: id => `/source/jobs/${id}`,
  },
  /** A note beside a document, for those whom it names. */
  note: { ...plain, rows: 'notes', title: 'text', right: null, seenBy: { own: 'byId' }, path: () => '/desk' },
  bankMessage: {
    ...plain,
    rows: 'bankMessages',
    title: 'messageId',
    right: 'payment.read',
    path: id => `/pay/bank-messages/${id}`,
  },
} as const satisfies Readonly<Record<string, DocumentKindFacts>>

export type DocumentKind = keyof typeof DOCUMENTS
export const DOCUMENT_KINDS = Object.keys(DOCUMENTS) as DocumentKind[]

/** A kind as all kinds are, for what treats them alike. */
export const documentKind = (kind: DocumentKind): DocumentKindFacts => DOCUMENTS[kind]

/** Kinds on which files and notes hang. */
export const PAPER_KINDS: readonly DocumentKind[] = DOCUMENT_KINDS.filter(kind => documentKind(kind).papers)

/** Kinds that have numbers of their own. */
export const NUMBERED_KINDS: readonly DocumentKind[] = DOCUMENT_KINDS.filter(kind => documentKind(kind).letter !== '')

export const isDocumentKind = (text: string): text is DocumentKind => DOCUMENT_KINDS.some(kind => kind === text)
