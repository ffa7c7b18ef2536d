import { type Component, defineAsyncComponent } from 'vue'

/** A page of Setup: what it is about, what people call it, and what shows it. */
export interface Subject {
  readonly key: string
  readonly title: string
  readonly about: string
  /** Other words by which it is looked for. */
  readonly words: string
  readonly page: Component
  /** The register that the page shows, where it is one. */
  readonly register?:
    | 'sites'
    | 'docks'
    | 'calendars'
    | 'holidays'
    | 'taxRates'
    | 'ownAccounts'
    | 'numberRanges'
    | 'units'
    | 'countryCosts'
    | 'tagRanges'
    | 'tolerances'
}

const page = (load: () => Promise<Component>): Component => defineAsyncComponent(load)
const register = page(() => import('#web/setup/RegisterSection.vue'))

export const SUBJECT_GROUPS: readonly { readonly title: string; readonly subjects: readonly Subject[] }[] = [
  {
    title: 'The house',
    subjects: [
      {
        key: 'house',
        title: 'Name and address',
        about: 'who we are on orders and in mails',
        words: 'company vat identifier zone language currency logo sign letterhead picture',
        page: page(() => import('#web/setup/HouseSection.vue')),
      },
      {
        key: 'sites',
        title: 'Sites',
        about: 'places with their country, time zone and calendar',
        words: 'location plant building',
        page: register,
        register: 'sites',
      },
      {
        key: 'docks',
        title: 'Docks',
        about: 'where goods come in, and when they are open',
        words: 'gate opening hours ramp delivery',
        page: register,
        register: 'docks',
      },
      {
        key: 'calendars',
        title: 'Calendars',
        about: 'the days of a week on which nothing is done',
        words: 'business days weekend rest',
        page: register,
        register: 'calendars',
      },
      {
        key: 'holidays',
        title: 'Holidays',
        about: 'single days that rest, also from an iCalendar file',
        words: 'ics ical closed days business',
        page: register,
        register: 'holidays',
      },
      {
        key: 'numberRanges',
        title: 'Number ranges',
        about: 'what the numbers of documents begin with',
        words: 'prefix sequence digits order number invoice number',
        page: register,
        register: 'numberRanges',
      },
      {
        key: 'receiving',
        title: 'Receiving',
        about: 'the period in which goods are received',
        words: 'open closed period month book date receipt',
        page: page(() => import('#web/setup/ReceivingSection.vue')),
      },
      {
        key: 'billing',
        title: 'Invoices',
        about: 'what posts itself, and which rules e-invoices keep',
        words: 'bill e-invoice post automatic untouched xrechnung peppol rules validation',
        page: page(() => import('#web/setup/BillingSection.vue')),
      },
      {
        key: 'tolerances',
        title: 'Tolerances',
        about: 'how far an invoice may differ, by supplier, category, currency and value',
        words: 'limit difference price quantity freight tax small per cent absolute hold match',
        page: register,
        register: 'tolerances',
      },
      {
        key: 'tagRanges',
        title: 'Ranges of tags',
        about: 'what the tags on our equipment begin with, and how far each range goes',
        words: 'asset label barcode roll inventory number sticker',
        page: register,
        register: 'tagRanges',
      },
      {
        key: 'mails',
        title: 'Mails',
        about: 'what they say, in each language',
        words: 'mail text template letter wording language preview sender from reply answer',
        page: page(() => import('#web/setup/MailSection.vue')),
      },
      {
        key: 'clauses',
        title: 'Clauses',
        about: 'what stands on orders by category and country, in versions',
        words: 'terms conditions legal text order purchase general',
        page: page(() => import('#web/setup/ClauseSection.vue')),
      },
      {
        key: 'addresses',
        title: 'Address book',
        about: 'where things are delivered to',
        words: 'place delivery ship',
        page: page(() => import('#web/setup/AddressSection.vue')),
      },
    ],
  },
  {
    title: 'Money',
    subjects: [
      {
        key: 'centres',
        title: 'Cost centres',
        about: 'who holds each, and decides what it pays',
        words: 'holder budget department',
        page: page(() => import('#web/setup/CentreSection.vue')),
      },
      {
        key: 'accounts',
        title: 'Accounts and projects',
        about: 'what money is spent on',
        words: 'natural account chart ledger project',
        page: page(() => import('#web/setup/CodeSection.vue')),
      },
      {
        key: 'rates',
        title: 'Currencies and rates',
        about: 'what a unit of another currency costs, from a day on',
        words: 'exchange ecb foreign fetch reference daily',
        page: page(() => import('#web/setup/RateSection.vue')),
      },
      {
        key: 'budgetYears',
        title: 'Budget years and checks',
        about: 'with which month years begin, and what happens where a budget does not suffice',
        words: 'fiscal year level tolerance stop warn over month',
        page: page(() => import('#web/setup/BudgetYearSection.vue')),
      },
      {
        key: 'taxRates',
        title: 'Tax rates',
        about: 'by country, category and day',
        words: 'vat value added tax',
        page: register,
        register: 'taxRates',
      },
      {
        key: 'ownAccounts',
        title: 'Our accounts',
        about: 'from which we pay, each in its currency',
        words: 'bank iban bic pay from',
        page: register,
        register: 'ownAccounts',
      },
    ],
  },
  {
    title: 'People and decisions',
    subjects: [
      {
        key: 'rules',
        title: 'Who decides',
        about: 'the rules by which requests are decided',
        words: 'approval rule stage limit amount',
        page: page(() => import('#web/rules/RulesSection.vue')),
      },
      {
        key: 'decisions',
        title: 'How decisions are taken',
        about: 'working hours, reminders, and what a change while deciding leads to',
        words: 'hours remind mail link tolerance edit change skip',
        page: page(() => import('#web/consent/DecideSettingsSection.vue')),
      },
      {
        key: 'people',
        title: 'People',
        about: 'accounts, roles and invitations',
        words: 'user person role invite password second factor',
        page: page(() => import('#web/setup/PeopleSection.vue')),
      },
      {
        key: 'roles',
        title: 'Roles',
        about: 'who may what, and roles of our own',
        words: 'permission right may access',
        page: page(() => import('#web/setup/RoleSection.vue')),
      },
      {
        key: 'signIn',
        title: 'Sign-in',
        about: 'how long sessions last, who needs a second factor',
        words: 'session idle security code',
        page: page(() => import('#web/setup/SignInSection.vue')),
      },
    ],
  },
  {
    title: 'What is asked and bought',
    subjects: [
      {
        key: 'categories',
        title: 'What is bought',
        about: 'categories, their buyers and certificates',
        words: 'category commodity buyer certificate harmless change name',
        page: page(() => import('#web/setup/CategorySection.vue')),
      },
      {
        key: 'units',
        title: 'Units',
        about: 'in which things are counted, of those that trade knows',
        words: 'measure unece recommendation 20 pack dozen metre',
        page: register,
        register: 'units',
      },
      {
        key: 'requests',
        title: 'Requests',
        about: 'delivery terms, routes, words that mean the same, reminders',
        words: 'incoterm route synonym remind',
        page: page(() => import('#web/setup/RequestSection.vue')),
      },
      {
        key: 'forms',
        title: 'Request forms',
        about: 'questions that a request of a kind begins with',
        words: 'form question template',
        page: page(() => import('#web/setup/FormSection.vue')),
      },
      {
        key: 'notices',
        title: 'Notices to those who ask',
        about: 'what stands in the catalogue until it is read',
        words: 'news announcement banner',
        page: page(() => import('#web/setup/NoticeSection.vue')),
      },
      {
        key: 'questionnaires',
        title: 'What suppliers are asked',
        about: 'the questions of an onboarding',
        words: 'questionnaire onboarding supplier',
        page: page(() => import('#web/setup/QuestionnaireSection.vue')),
      },
      {
        key: 'eventKinds',
        title: 'Quote requests and auctions',
        about: 'how suppliers are asked: price, texts, questions, terms, numbers',
        words: 'event kind rfq reverse auction tender bid sealed',
        page: page(() => import('#web/setup/EventKindSection.vue')),
      },
      {
        key: 'countryCosts',
        title: 'Freight and duty by country',
        about: 'what goods cost beside their price, where the supplier does not bear it',
        words: 'landed cost customs incoterm',
        page: register,
        register: 'countryCosts',
      },
    ],
  },
]

export const SUBJECTS: readonly Subject[] = SUBJECT_GROUPS.flatMap(group => group.subjects)

/** Subjects that have every word that is looked for, in their name, description or other words. */
export function findSubjects(text: string): Subject[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  return SUBJECTS.filter(subject => {
    const all = `${subject.title} ${subject.about} ${subject.words}`.toLowerCase()
    return words.every(word => all.includes(word))
  })
}
