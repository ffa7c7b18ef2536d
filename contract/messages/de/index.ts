import { codes } from '#contract/messages/de/codes.ts'
import { mails } from '#contract/messages/de/mails.ts'
import { texts } from '#contract/messages/de/texts.ts'
import type { Translation } from '#contract/messages/languages.ts'

/** Whatever outsiders read, in German. */
export const de: Translation = {
  codes,
  texts,
  mails,
  labels: {
    'message.orders': 'Bestellungen',
    'message.invoices': 'Fragen zu Rechnungen',
    'message.payments': 'Zahlungsavise',
    'message.certificates': 'Erinnerungen an Nachweise',
    'message.company': 'zur Firma',
    'supplier right.supplierPages.orders': 'Bestellungen sehen und beantworten',
    'supplier right.supplierPages.bill': 'Rechnungen stellen',
    'supplier right.supplierPages.company': 'ändern, was wir von der Firma wissen',
    'supplier right.supplierPages.people': 'Personen und Rollen betreuen',
    'field.description': 'Bezeichnung',
    'field.quantity': 'Menge',
    'field.price': 'Preis',
    'field.needBy': 'gebraucht bis',
    'state.onboarding': 'in Aufnahme',
    'state.active': 'aktiv',
    'state.paused': 'ruhend',
    'state.barred': 'gesperrt',
    'state.merged': 'zusammengeführt',
    'state.open': 'offen',
    'state.accepted': 'angenommen',
    'state.refused': 'abgelehnt',
  },
  units: { C62: 'St.', SET: 'Satz', PR: 'Paar', BG: 'Beutel', BX: 'Kiste', DAY: 'Tag', M4: 'in Geld', E48: 'Leistung' },
}
