import type { Report } from '#core/bill/en16931.ts'
import type { InvoiceParty, InvoiceText } from '#core/bill/invoiceText.ts'

const words = (text: string): ReadonlySet<string> => new Set(text.split(' '))

/** Types of invoices and credit notes (UNTDID 1001, as EN 16931 takes them). */
const INVOICE_TYPE_CODES = words('71 80 82 84 102 218 219 331 380 382 383 384 386 388 393 395 553 575 623 780 817 870 875 876 877 326 389 527 751 935 130 202 203 204 211 295 325 385 387 390 394 456 457 633') // prettier-ignore
export const CREDIT_TYPE_CODES: ReadonlySet<string> = words('81 83 261 262 296 308 381 396 420 458 532')
/** ISO 3166-1 alpha-2, with Northern Ireland and Kosovo as the standard's lists have them. */
const COUNTRIES = words('AD AE AF AG AI AL AM AO AQ AR AS AT AU AW AX AZ BA BB BD BE BF BG BH BI BJ BL BM BN BO BQ BR BS BT BV BW BY BZ CA CC CD CF CG CH CI CK CL CM CN CO CR CU CV CW CX CY CZ DE DJ DK DM DO DZ EC EE EG EH ER ES ET FI FJ FK FM FO FR GA GB GD GE GF GG GH GI GL GM GN GP GQ GR GS GT GU GW GY HK HM HN HR HT HU ID IE IL IM IN IO IQ IR IS IT JE JM JO JP KE KG KH KI KM KN KP KR KW KY KZ LA LB LC LI LK LR LS LT LU LV LY MA MC MD ME MF MG MH MK ML MM MN MO MP MQ MR MS MT MU MV MW MX MY MZ NA NC NE NF NG NI NL NO NP NR NU NZ OM PA PE PF PG PH PK PL PM PN PR PS PT PW PY QA RE RO RS RU RW SA SB SC SD SE SG SH SI SJ SK SL SM SN SO SR SS ST SV SX SY SZ TC TD TF TG TH TJ TK TL TM TN TO TR TT TV TW TZ UA UG UM US UY UZ VA VC VE VG VI VN VU WF WS XI XK YE YT ZA ZM ZW 1A') // prettier-ignore
/** Countries by which VAT numbers begin: Greece has its own letters. */
const VAT_PREFIXES: ReadonlySet<string> = new Set([...COUNTRIES, 'EL'])
const CURRENCIES: ReadonlySet<string> = new Set(Intl.supportedValuesOf('currency'))
/** Allowance reasons (UNTDID 5189, the part that EN 16931 takes). */
const ALLOWANCE_REASONS = words('41 42 60 62 63 64 65 66 67 68 70 71 88 95 100 102 103 104 105')
/** Media types of attachments (BR-CL-24). */
const MEDIA_TYPES = words('application/pdf image/png image/jpeg text/csv application/vnd.openxmlformats-officedocument.spreadsheetml.sheet application/vnd.oasis.opendocument.spreadsheet') // prettier-ignore
/** Codes by which the VAT of a document becomes due: of UBL (UNTDID 2005) and of CII (UNTDID 2475). */
const TAX_POINTS = { ubl: words('3 35 432'), cii: words('5 29 72') }

/** Lists of hundreds of codes that change twice a year are held against their form: three letters, two or three, four digits. */
const FORMS = {
  subject: /^[A-Z]{3}$/,
  objectScheme: /^[A-Z]{2,3}$/,
  icd: /^0(?:00[2-9]|0[1-9]\d|1\d\d|2[0-4]\d)$/,
  eas: /^(?:0\d{3}|99\d{2}|AN|AQ|AS|AU|EM)$/,
  payment: /^(?:[1-9]|[1-6]\d|70|7[4-8]|9[1-8]|ZZZ)$/,
  charge: /^[A-Z]{2,3}$/,
  classification: /^[A-Z]{2,3}$/,
  exemption: /^VATEX-(?:EU|FR|[A-Z]{2})-[0-9A-Z-]+$/,
  unit: /^[A-Z0-9]{2,3}$/,
}

/** Codes of the lists that EN 16931 names (BR-CL-01 … BR-CL-26), and the country of VAT numbers (BR-CO-09). */
export function checkCodes(invoice: InvoiceText, report: Report): void {
  const known = (rule: string, place: string, text: string, ok: ReadonlySet<string> | RegExp, expected = ''): void => {
    if (text !== '' && !(ok instanceof RegExp ? ok.test(text) : ok.has(text))) report(rule, place, text, expected)
  }
  if (!CREDIT_TYPE_CODES.has(invoice.typeCode)) known('BR-CL-01', 'InvoiceTypeCode', invoice.typeCode, INVOICE_TYPE_CODES, 'a type of UNTDID 1001') // prettier-ignore
  known('BR-CL-04', 'DocumentCurrencyCode', invoice.currency, CURRENCIES, 'a currency of ISO 4217')
  known('BR-CL-05', 'TaxCurrencyCode', invoice.taxCurrency, CURRENCIES, 'a currency of ISO 4217')
  known('BR-CL-06', 'InvoicePeriod', invoice.taxPointCode, TAX_POINTS[invoice.syntax], [...TAX_POINTS[invoice.syntax]].join(', ')) // prettier-ignore
  known('BR-CL-07', 'AdditionalDocumentReference', invoice.object.scheme, FORMS.objectScheme, 'a code of UNTDID 1153')
  for (const { subject } of invoice.notes) known('BR-CL-08', 'Note', subject, FORMS.subject, 'a code of UNTDID 4451')
  const party = (place: string, one: InvoiceParty | null): void => {
    if (!one) return
    for (const { scheme } of one.ids) known('BR-CL-10', place, scheme, FORMS.icd, 'a scheme of ISO/IEC 6523')
    known('BR-CL-11', place, one.registrationScheme, FORMS.icd, 'a scheme of ISO/IEC 6523')
    known('BR-CL-14', `${place}/Country`, one.country, COUNTRIES, 'a country of ISO 3166-1')
    known('BR-CL-25', `${place}/EndpointID`, one.endpointScheme, FORMS.eas, 'an electronic address scheme')
    known('BR-CO-09', `${place}/PartyTaxScheme`, one.vatId, VAT_START, 'a VAT number that begins with its country')
  }
  party('AccountingSupplierParty', invoice.seller)
  party('AccountingCustomerParty', invoice.buyer)
  party('PayeeParty', invoice.payee)
  party('TaxRepresentativeParty', invoice.representative)
  known('BR-CL-14', 'Delivery/Country', invoice.delivery?.address?.country ?? '', COUNTRIES, 'a country of ISO 3166-1')
  known('BR-CL-26', 'Delivery', invoice.delivery?.location.scheme ?? '', FORMS.icd, 'a scheme of ISO/IEC 6523')
  for (const { code } of invoice.payments) known('BR-CL-16', 'PaymentMeans', code, FORMS.payment, 'a code of UNTDID 4461') // prettier-ignore
  for (const { mediaType } of invoice.documents) known('BR-CL-24', 'AdditionalDocumentReference', mediaType, MEDIA_TYPES, [...MEDIA_TYPES].join(', ')) // prettier-ignore
  const adjusted = (place: string, part: { charge: boolean; reasonCode: string }): void =>
    part.charge
      ? known('BR-CL-20', place, part.reasonCode, FORMS.charge, 'a code of UNTDID 7161')
      : known('BR-CL-19', place, part.reasonCode, ALLOWANCE_REASONS, 'a code of UNTDID 5189')
  invoice.adjustments.forEach((part, i) => adjusted(`AllowanceCharge[${i + 1}]`, part))
  invoice.taxes.forEach((tax, i) => known('BR-CL-22', `TaxSubtotal[${i + 1}]`, tax.exemptionCode, FORMS.exemption, 'a VATEX code')) // prettier-ignore
  invoice.lines.forEach((line, i) => {
    const place = `InvoiceLine[${i + 1}]`
    known('BR-CL-23', `${place}/InvoicedQuantity`, line.unit, FORMS.unit, 'a unit of UN/ECE Recommendations 20 and 21')
    known('BR-CL-21', `${place}/Item`, line.standardItemId.scheme, FORMS.icd, 'a scheme of ISO/IEC 6523')
    known('BR-CL-15', `${place}/Item`, line.country, COUNTRIES, 'a country of ISO 3166-1')
    for (const { list } of line.classifications) known('BR-CL-13', `${place}/Item`, list, FORMS.classification, 'a code of UNTDID 7143') // prettier-ignore
    line.adjustments.forEach((part, j) => adjusted(`${place}/AllowanceCharge[${j + 1}]`, part))
  })
}

const VAT_START = new RegExp(`^(?:${[...VAT_PREFIXES].join('|')})`, 'i')
