import { LANGUAGES } from '#contract/messages/languages.ts'
import { mailsEn, type MailTemplate, type MailWords } from '#contract/messages/mails.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { table } from '#core/text/table.ts'

export const MAIL_TEMPLATES = Object.keys(mailsEn) as MailTemplate[]

const holes = (text: string): string[] => [...text.matchAll(/[{[](\w+)[}|]/g)].map(([, name]) => name!)

/** The details that a mail can name. detailsOf('order.cancelled') //=> ['number', 'title', 'name', 'reason', 'by', 'house'] */
export function detailsOf(template: MailTemplate): string[] {
  const { subject, text } = mailsEn[template]
  return [...new Set([...holes(subject), ...holes(text), 'name', 'house'])]
}

/** Links that only the mail brings: without them it would be of no use. */
const NEEDED = ['path', 'list']

/**
 * What is wrong with a house's own words for a mail: a mail or language that there is not, a detail that the mail does not have, or one missing
 * without which nobody could do what it asks for.
 */
export function whyNotOwnWords(values: Readonly<Record<string, string>>): Reason[] {
  const { template = '', language = '', subject = '', text = '' } = values
  const known = MAIL_TEMPLATES.find(one => one === template)
  if (!known) return [stop('mailText.noSuch', { value: template.slice(0, 60) }, { place: 'template' })]
  if (!LANGUAGES.some(one => one === language))
    return [stop('mailText.noSuch', { value: language.slice(0, 60) }, { place: 'language' })]
  const details = detailsOf(known)
  const unknown = (place: string, words: string): Reason[] =>
    holes(words)
      .filter(name => !details.includes(name))
      .map(name => stop('mailText.noDetail', { detail: name, details: details.join(', ') }, { place }))
  const missing = NEEDED.filter(name => holes(mailsEn[known].text).includes(name) && !holes(text).includes(name))
  return [
    ...unknown('subject', subject),
    ...unknown('text', text),
    ...missing.map(name => stop('mailText.needs', { detail: name }, { place: 'text' })),
  ]
}

/** Details as they could be, for a look at a mail before it is used. */
const SAMPLES: Readonly<Record<string, string>> = table({
  number: 'O-4034',
  revision: '1',
  title: 'Titanium pumps for skids 5 to 8',
  name: 'Sigrun Aasland',
  currency: 'EUR',
  total: '18420.00',
  amount: '924.00',
  path: '/supplier/orders/…',
  by: 'Pilar Onderdonk',
  house: 'Saltmere Aquarium Trust',
  reason: 'One less is needed, and a week later.',
  note: 'Please call the gate an hour before.',
  needBy: '2026-12-28',
  day: '2026-12-04',
  until: '2026-12-18',
  issueDate: '2026-11-20',
  invoice: 'NP-1180',
  ending: '4300',
  reference: 'P-7004-3',
  supplier: 'Nordhavn Pumpeverk',
  requester: 'Joren Vask',
  question: 'Is the smaller size enough?',
  answer: 'No, the flange would not fit.',
  kind: 'Food safety certificate',
  days: '30',
  merged: 'Nordhavn Pumpeverk AS',
  kept: 'Nordhavn Pumpeverk',
  many: '2',
  list: '· R-2041 waits for you: Titanium pumps\n  /decide/…',
  questions: '· Annual turnover: of which year?\n· Insurance: please send the certificate.',
  message: 'We met at the fair in Bergen.',
  email: 's.aasland@nordhavn.example',
  person: 'Sigrun Aasland',
})
export const sampleDetails = (template: MailTemplate): Record<string, string> =>
  Object.fromEntries(detailsOf(template).flatMap(name => (SAMPLES[name] ? [[name, SAMPLES[name]]] : [])))

/** The words of an own mail, where they are there. */
export const ownMailWords = (values: Readonly<Record<string, string>> | undefined): MailWords | undefined =>
  values ? { subject: values.subject ?? '', text: values.text ?? '' } : undefined
