import { InvoiceService } from '@e-invoice-eu/core'

export interface OutsideInvoice {
  readonly number: string
  readonly order: string
  readonly issueDate: string
  readonly dueDate: string
  readonly seller: { name: string; vat: string; city: string; country: string }
  readonly lines: readonly {
    name: string
    quantity: string
    unit: string
    price: string
    net: string
    orderLine?: string
  }[]
  /** Who is billed; the demo's house if left out. */
  readonly buyer?: { name: string; vat: string }
  readonly freight: string
  readonly net: string
  readonly linesTotal: string
}

export const SILENT = {
  log: () => undefined,
  warn: () => undefined,
  error: () => undefined,
  debug: () => undefined,
  info: () => undefined,
}

/** An EN 16931 UBL invoice written by an independent library, as another company's program would. */
export async function writtenOutside(invoice: OutsideInvoice): Promise<string> {
  const buyer = invoice.buyer ?? { name: 'Saltmere Aquarium Trust', vat: 'NL999999999B99' }
  const amount = (field: string, value: string) => ({ [field]: value, [`${field}@currencyID`]: 'EUR' })
  const exempt = { 'cbc:ID': 'AE', 'cbc:Percent': '0', 'cac:TaxScheme': { 'cbc:ID': 'VAT' } }
  const data = {
    'ubl:Invoice': {
      'cbc:CustomizationID': 'urn:cen.eu:en16931:2017',
      'cbc:ID': invoice.number,
      'cbc:IssueDate': invoice.issueDate,
      'cbc:DueDate': invoice.dueDate,
      'cbc:InvoiceTypeCode': '380',
      'cbc:DocumentCurrencyCode': 'EUR',
      'cbc:BuyerReference': 'purchasing',
      'cac:OrderReference': { 'cbc:ID': invoice.order },
      'cac:AccountingSupplierParty': {
        'cac:Party': {
          'cbc:EndpointID': 'sales@supplier.example',
          'cbc:EndpointID@schemeID': 'EM',
          'cac:PostalAddress': {
            'cbc:CityName': invoice.seller.city,
            'cbc:PostalZone': '99999',
            'cac:Country': { 'cbc:IdentificationCode': invoice.seller.country },
          },
          'cac:PartyTaxScheme': [{ 'cbc:CompanyID': invoice.seller.vat, 'cac:TaxScheme': { 'cbc:ID': 'VAT' } }],
          'cac:PartyLegalEntity': { 'cbc:RegistrationName': invoice.seller.name },
        },
      },
      'cac:AccountingCustomerParty': {
        'cac:Party': {
          'cbc:EndpointID': 'purchasing@saltmere.example',
          'cbc:EndpointID@schemeID': 'EM',
          'cac:PostalAddress': {
            'cbc:CityName': 'Saltmere',
            'cbc:PostalZone': '4381',
            'cac:Country': { 'cbc:IdentificationCode': 'NL' },
          },
          'cac:PartyTaxScheme': { 'cbc:CompanyID': buyer.vat, 'cac:TaxScheme': { 'cbc:ID': 'VAT' } },
          'cac:PartyLegalEntity': { 'cbc:RegistrationName': buyer.name },
        },
      },
      ...(Number(invoice.freight) > 0
        ? {
            'cac:AllowanceCharge': [
              {
                'cbc:ChargeIndicator': 'true',
                'cbc:AllowanceChargeReasonCode': 'FC',
                'cbc:AllowanceChargeReason': 'Freight',
                ...amount('cbc:Amount', invoice.freight),
                'cac:TaxCategory': exempt,
              },
            ],
          }
        : {}),
      'cac:TaxTotal': [
        {
          ...amount('cbc:TaxAmount', '0.00'),
          'cac:TaxSubtotal': [
            {
              ...amount('cbc:TaxableAmount', invoice.net),
              ...amount('cbc:TaxAmount', '0.00'),
              'cac:TaxCategory': {
                'cbc:ID': 'AE',
                'cbc:Percent': '0',
                'cbc:TaxExemptionReason': 'Reverse charge',
                'cac:TaxScheme': { 'cbc:ID': 'VAT' },
              },
            },
          ],
        },
      ],
      'cac:LegalMonetaryTotal': {
        ...amount('cbc:LineExtensionAmount', invoice.linesTotal),
        ...amount('cbc:TaxExclusiveAmount', invoice.net),
        ...amount('cbc:TaxInclusiveAmount', invoice.net),
        ...(Number(invoice.freight) > 0 ? amount('cbc:ChargeTotalAmount', invoice.freight) : {}),
        ...amount('cbc:PayableAmount', invoice.net),
      },
      'cac:InvoiceLine': invoice.lines.map((line, index) => ({
        'cbc:ID': String(index + 1),
        'cbc:InvoicedQuantity': line.quantity,
        'cbc:InvoicedQuantity@unitCode': line.unit,
        ...amount('cbc:LineExtensionAmount', line.net),
        ...(line.orderLine ? { 'cac:OrderLineReference': { 'cbc:LineID': line.orderLine } } : {}),
        'cac:Item': { 'cbc:Name': line.name, 'cac:ClassifiedTaxCategory': exempt },
        'cac:Price': amount('cbc:PriceAmount', line.price),
      })),
    },
  }
  return String(
    await new InvoiceService(SILENT as never).generate(data as never, { format: 'UBL', lang: 'en' } as never),
  )
}
