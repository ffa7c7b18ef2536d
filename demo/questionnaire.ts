import type { Question, Section } from '#core/source/questionnaire.ts'

const ask = (key: string, kind: Question['kind'], label: string, more: Partial<Question> = {}): Question => ({
  key,
  kind,
  label,
  help: '',
  required: true,
  when: null,
  choices: [],
  fills: null,
  ...more,
})

/** What a new supplier is asked: short for all, longer for those who sell feed or work in the water. */
export const COMPANY_QUESTIONS: readonly Section[] = [
  {
    title: 'Who you are',
    questions: [
      ask('name', 'text', 'Registered name', { fills: 'name' }),
      ask('tradeName', 'text', 'Name you trade under, if another', { fills: 'tradeName', required: false }),
      ask('registration', 'text', 'Number in the company register', { fills: 'registration', required: false }),
      ask('vat', 'text', 'VAT number', { fills: 'vat', help: 'With the letters of your country, for example NL…' }),
      ask('founded', 'number', 'Year of foundation', { fills: 'founded', required: false }),
      ask('web', 'text', 'Web address', { fills: 'web', required: false }),
    ],
  },
  {
    title: 'Where you are',
    questions: [
      ask('street', 'text', 'Street and number', { fills: 'street' }),
      ask('postalCode', 'text', 'Postcode', { fills: 'postalCode' }),
      ask('city', 'text', 'Place', { fills: 'city' }),
      ask('country', 'country', 'Country', { fills: 'country' }),
      ask('contactPhone', 'text', 'Telephone on which we can reach you', {
        fills: 'contactPhone',
        help: 'We call this number when an account changes.',
      }),
    ],
  },
  {
    title: 'How you are paid',
    questions: [
      ask('iban', 'text', 'IBAN', { fills: 'iban' }),
      ask('bic', 'text', 'BIC', { fills: 'bic', required: false }),
      ask('holder', 'text', 'Account holder', { fills: 'holder' }),
    ],
  },
  {
    title: 'How you work',
    questions: [
      ask('sells', 'choices', 'What would you sell us?', {
        choices: ['Feed', 'Chemicals', 'Equipment', 'Services in or above the water', 'Other services', 'Shop goods'],
      }),
      ask('foodSafety', 'certificate', 'Food safety certificate', { when: { key: 'sells', equals: 'Feed' } }),
      ask('catch', 'choice', 'Where does the feed come from?', {
        choices: ['wild catch', 'farmed', 'both'],
        when: { key: 'sells', equals: 'Feed' },
      }),
      ask('catchAreas', 'longText', 'Name the catch areas', {
        when: { key: 'catch', equals: 'wild catch' },
        help: 'FAO areas if you know them.',
      }),
      ask('insured', 'yesNo', 'Are you insured for work on other people’s premises?', {
        when: { key: 'sells', equals: 'Services in or above the water' },
      }),
      ask('insurance', 'file', 'The insurance certificate', { when: { key: 'insured', equals: 'yes' } }),
      ask('conduct', 'yesNo', 'Have you read our rules for suppliers, and will you keep to them?', {}),
      ask('remarks', 'longText', 'Anything else we should know', { required: false }),
    ],
  },
]

/** What a person is asked who is paid a fee. */
export const PERSON_QUESTIONS: readonly Section[] = [
  {
    title: 'Who you are',
    questions: [
      ask('name', 'text', 'Your name', { fills: 'name' }),
      ask('street', 'text', 'Street and number', { fills: 'street' }),
      ask('postalCode', 'text', 'Postcode', { fills: 'postalCode' }),
      ask('city', 'text', 'Place', { fills: 'city' }),
      ask('country', 'country', 'Country', { fills: 'country' }),
      ask('birthDate', 'date', 'Date of birth', { fills: 'birthDate' }),
    ],
  },
  {
    title: 'Tax and payment',
    questions: [
      ask('taxResidence', 'country', 'Country in which you pay tax', { fills: 'taxResidence' }),
      ask('taxNumber', 'text', 'Tax number', { fills: 'taxNumber' }),
      ask('iban', 'text', 'IBAN', { fills: 'iban' }),
      ask('holder', 'text', 'Account holder', { fills: 'holder' }),
    ],
  },
]
