import { create } from 'xmlbuilder2'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAsked } from '#contract/source/asked.ts'
import { CAC, CBC, when } from '#server/formats/ublOrder.ts'

const REQUEST = 'urn:oasis:names:specification:ubl:schema:xsd:RequestForQuotation-2'

/** Writes what a supplier is asked as UBL 2.1 RequestForQuotation (OASIS UBL 2.1, 8.2.3.21). */
export function writeUblRequest(asked: ResponseOf<typeof ReadAsked>, issuedOn: string): string {
  const until = asked.endsAt ?? ''
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      RequestForQuotation: {
        '@xmlns': REQUEST,
        '@xmlns:cac': CAC,
        '@xmlns:cbc': CBC,
        'cbc:UBLVersionID': '2.1',
        'cbc:ID': asked.number,
        'cbc:IssueDate': issuedOn,
        ...when(until, {
          'cbc:SubmissionDueDate': until.slice(0, 10),
        }),
        'cbc:Note': [asked.title, asked.message].filter(Boolean).join('\n'),
        'cbc:PricingCurrencyCode': asked.currency,
        'cac:OriginatorCustomerParty': {
          'cac:Party': { 'cac:PartyName': { 'cbc:Name': asked.house }, 'cac:Contact': { 'cbc:Name': asked.buyer } },
        },
        'cac:SellerSupplierParty': { 'cac:Party': { 'cac:PartyName': { 'cbc:Name': asked.supplier } } },
        'cac:RequestForQuotationLine': asked.lines
          .filter(line => !line.gone)
          .map(line => ({
            'cbc:ID': String(line.position),
            'cac:LineItem': {
              'cbc:ID': String(line.position),
              'cbc:Quantity': { '@unitCode': line.unit, '#': line.quantity },
              ...when(line.needBy ?? line.place, {
                'cac:Delivery': {
                  ...when(line.place, { 'cac:DeliveryLocation': { 'cbc:Description': line.place } }),
                  ...when(line.needBy, { 'cac:RequestedDeliveryPeriod': { 'cbc:EndDate': line.needBy ?? '' } }),
                },
              }),
              ...when(line.incoterm, { 'cac:DeliveryTerms': { 'cbc:ID': line.incoterm } }),
              'cac:Item': { 'cbc:Name': line.description },
            },
          })),
      },
    },
  ).end({ prettyPrint: true })
}
