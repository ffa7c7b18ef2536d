import { createRouter, createWebHistory, type Router, type RouteRecordRaw } from 'vue-router'
import { usePreferences } from '#web/people/preferences.ts'
import type { useSession } from '#web/people/session.ts'

const sheet = { sheet: true }
const TEAM: RouteRecordRaw[] = [
  { path: '/', redirect: () => `/${usePreferences().get('startPage', '') ?? 'desk'}` },
  { path: '/desk', component: () => import('#web/desk/DeskPage.vue') },
  { path: '/source/events/:id/compare', component: () => import('#web/source/EventCompare.vue') },
  { path: '/source/events/:id/plan', component: () => import('#web/award/PlanPage.vue') },
  { path: '/source/events/:id/day', component: () => import('#web/source/DayPage.vue') },
  { path: '/source/builds/shared/:token', component: () => import('#web/build/SharedPage.vue') },
  { path: '/source/builds/:id', component: () => import('#web/build/CostingPage.vue') },
  { path: '/source/duplicates', component: () => import('#web/source/DuplicatesPage.vue') },
  {
    path: '/source',
    component: () => import('#web/source/SourcePage.vue'),
    children: [
      { path: 'new', component: () => import('#web/source/SupplierForm.vue'), meta: sheet },
      { path: 'onboardings', component: () => import('#web/frame/NothingHere.vue'), meta: { list: true } },
      { path: 'onboardings/:id', component: () => import('#web/source/OnboardingSheet.vue') },
      { path: 'asked', component: () => import('#web/frame/NothingHere.vue'), meta: { list: true } },
      { path: 'builds', component: () => import('#web/frame/NothingHere.vue'), meta: { list: true } },
      { path: 'agreements', component: () => import('#web/frame/NothingHere.vue'), meta: { list: true } },
      { path: 'agreements/:id', component: () => import('#web/agreements/AgreementSheet.vue') },
      { path: 'price-indices', component: () => import('#web/agreements/IndicesPage.vue'), meta: sheet },
      { path: 'events', component: () => import('#web/frame/NothingHere.vue'), meta: { list: true } },
      { path: 'events/:id', component: () => import('#web/source/EventSheet.vue') },
      { path: 'events/:id/behalf/:invitedId', component: () => import('#web/source/BehalfPage.vue') },
      { path: 'second-yes/:id', component: () => import('#web/source/SecondYesPage.vue') },
      { path: 'jobs/:id', component: () => import('#web/source/JobPage.vue') },
      { path: ':id', component: () => import('#web/source/SupplierSheet.vue') },
    ],
  },
  {
    path: '/request/catalogue',
    component: () => import('#web/request/CataloguePage.vue'),
    children: [{ path: ':id', component: () => import('#web/request/ItemSheet.vue') }],
  },
  { path: '/request/prices', component: () => import('#web/request/PricesPage.vue') },
  { path: '/request/compare', component: () => import('#web/request/ComparePage.vue') },
  { path: '/request/notices', component: () => import('#web/request/NoticesPage.vue') },
  { path: '/request/lists', component: () => import('#web/request/RepeatListsPage.vue') },
  { path: '/request/needs', component: () => import('#web/request/NeedsPage.vue') },
  { path: '/request/forms/:id', component: () => import('#web/request/FormPage.vue') },
  {
    path: '/request',
    component: () => import('#web/request/RequestPage.vue'),
    children: [
      { path: 'new', component: () => import('#web/request/NewRequest.vue'), meta: sheet },
      { path: ':id', component: () => import('#web/request/RequisitionPage.vue') },
    ],
  },
  { path: '/decide/evidence', component: () => import('#web/decide/EvidencePage.vue') },
  { path: '/decide/away', component: () => import('#web/consent/AwayPage.vue') },
  {
    path: '/decide',
    component: () => import('#web/decide/DecidePage.vue'),
    children: [{ path: ':id', component: () => import('#web/request/RequisitionPage.vue') }],
  },
  { path: '/order/following', component: () => import('#web/order/FollowingPage.vue') },
  { path: '/order/exchanges/:id', component: () => import('#web/order/ExchangePage.vue') },
  { path: '/order/lists/:id', component: () => import('#web/order/BuyingListPage.vue') },
  { path: '/order/workbooks/:id', component: () => import('#web/order/ReturnPage.vue') },
  { path: '/order/proposals', component: () => import('#web/order/ProposalsPage.vue') },
  { path: '/order/to-buy', component: () => import('#web/order/ToBuyPage.vue') },
  {
    path: '/order',
    component: () => import('#web/order/OrderPage.vue'),
    children: [{ path: ':id', component: () => import('#web/order/OrderSheet.vue') }],
  },
  { path: '/receive/accrued', component: () => import('#web/receive/AccruedPage.vue') },
  {
    path: '/receive/overdue',
    component: () => import('#web/receive/OverduePage.vue'),
    children: [{ path: ':id', component: () => import('#web/receive/DeliverySheet.vue') }],
  },
  { path: '/receive/set-aside', component: () => import('#web/receive/SetAsidePage.vue') },
  { path: '/receive/settle', component: () => import('#web/receive/SettlePage.vue') },
  { path: '/receive/expected', component: () => import('#web/receive/ExpectedPage.vue') },
  {
    path: '/receive/assets',
    component: () => import('#web/receive/AssetsPage.vue'),
    children: [{ path: ':id', component: () => import('#web/receive/AssetSheet.vue') }],
  },
  {
    path: '/receive/inspections',
    component: () => import('#web/receive/InspectionsPage.vue'),
    children: [{ path: ':id', component: () => import('#web/receive/InspectionSheet.vue') }],
  },
  {
    path: '/receive/stock',
    component: () => import('#web/receive/StockPage.vue'),
    children: [{ path: ':id', component: () => import('#web/receive/StockSheet.vue') }],
  },
  {
    path: '/receive',
    component: () => import('#web/receive/ReceivePage.vue'),
    children: [{ path: ':id', component: () => import('#web/receive/DeliverySheet.vue') }],
  },
  { path: '/bill/enter', component: () => import('#web/bill/EnterPage.vue') },
  {
    path: '/bill',
    component: () => import('#web/bill/BillPage.vue'),
    children: [
      { path: 'credits', component: () => import('#web/frame/NothingHere.vue'), meta: { list: true } },
      { path: 'journal', component: () => import('#web/bill/JournalPage.vue'), meta: sheet },
      { path: 'recurring', component: () => import('#web/bill/RecurringPage.vue'), meta: sheet },
      { path: 'credits/:id', component: () => import('#web/bill/CreditSheet.vue') },
      { path: ':id', component: () => import('#web/bill/InvoiceSheet.vue') },
    ],
  },
  {
    path: '/pay',
    component: () => import('#web/pay/PayPage.vue'),
    children: [
      { path: 'bank-messages', component: () => import('#web/frame/NothingHere.vue'), meta: { list: true } },
      { path: 'bank-messages/:id', component: () => import('#web/pay/BankMessageSheet.vue') },
      { path: ':id', component: () => import('#web/pay/RunSheet.vue') },
    ],
  },
  {
    path: '/insight',
    component: () => import('#web/insight/InsightPage.vue'),
    children: [
      { path: 'transfers', component: () => import('#web/insight/TransfersPage.vue'), meta: sheet },
      { path: 'years', component: () => import('#web/insight/YearPage.vue'), meta: sheet },
      { path: ':id', component: () => import('#web/insight/BudgetSheet.vue') },
    ],
  },
  { path: '/setup/:subject?', component: () => import('#web/setup/SetupPage.vue') },
  { path: '/account', component: () => import('#web/account/AccountPage.vue') },
  { path: '/mailbox', component: () => import('#web/demo/MailboxPage.vue') },
]
const SUPPLIER: RouteRecordRaw[] = [
  {
    path: '/supplier/account',
    component: () => import('#web/account/AccountPage.vue'),
    meta: { realm: 'supplier' },
  },
  { path: '/supplier', component: () => import('#web/supplier-pages/SupplierHome.vue'), meta: { realm: 'supplier' } },
  {
    path: '/supplier/company',
    component: () => import('#web/supplier-pages/CompanyPage.vue'),
    meta: { realm: 'supplier' },
  },
  {
    path: '/supplier/people',
    component: () => import('#web/supplier-pages/PeoplePage.vue'),
    meta: { realm: 'supplier' },
  },
  {
    path: '/supplier/orders/:id',
    component: () => import('#web/supplier-pages/SupplierOrder.vue'),
    meta: { realm: 'supplier' },
  },
  {
    path: '/supplier/invoices',
    component: () => import('#web/supplier-pages/SupplierInvoices.vue'),
    meta: { realm: 'supplier' },
  },
  {
    path: '/supplier/invoices/:id',
    component: () => import('#web/supplier-pages/SupplierInvoice.vue'),
    meta: { realm: 'supplier' },
  },
  {
    path: '/supplier/asked/:id',
    component: () => import('#web/supplier-pages/AskedPage.vue'),
    meta: { realm: 'supplier' },
  },
  {
    path: '/supplier/asked/:id/day',
    component: () => import('#web/supplier-pages/AskedDay.vue'),
    meta: { realm: 'supplier' },
  },
]

/** Every view has an address. Whoever is not signed in comes to the sign-in page and goes on from there to where they wanted. */
export function createOurRouter(session: ReturnType<typeof useSession>): Router {
  const router = createRouter({
    history: createWebHistory(),
    routes: [
      ...TEAM,
      ...SUPPLIER,
      { path: '/welcome/:token', component: () => import('#web/supplier-pages/WelcomePage.vue'), meta: { open: true } },
      { path: '/arrived/:token', component: () => import('#web/receive/ArrivalPage.vue'), meta: { open: true } },
      { path: '/day/:token', component: () => import('#web/supplier-pages/DayLinkPage.vue'), meta: { open: true } },
      { path: '/asked/:token', component: () => import('#web/supplier-pages/AskedLink.vue'), meta: { open: true } },
      { path: '/first/:token', component: () => import('#web/setup/FirstPage.vue'), meta: { open: true } },
      {
        path: '/password/:token',
        component: () => import('#web/account/PasswordPage.vue'),
        meta: { open: true },
      },
      { path: '/answer/:token', component: () => import('#web/account/AnswerPage.vue'), meta: { open: true } },
      { path: '/sign-in', component: () => import('#web/account/SignInPage.vue'), meta: { open: true } },
      { path: '/:rest(.*)*', component: () => import('#web/frame/NothingHere.vue'), meta: { open: true } },
    ],
  })
  router.beforeEach(to => {
    if (to.meta.open) return true
    if (!session.person) return { path: '/sign-in', query: to.path === '/desk' ? {} : { to: to.fullPath } }
    if (session.realm === 'supplier' && to.meta.realm !== 'supplier') return '/supplier'
    if (session.realm === 'team' && to.meta.realm === 'supplier') return '/desk'
    return true
  })
  return router
}
