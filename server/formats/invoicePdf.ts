import type { Language } from '#contract/messages/languages.ts'
import { write, writtenDay, writtenFigure, writeUnit } from '#contract/messages/translate.ts'
import type { OutgoingInvoice } from '#core/bill/outgoing.ts'
import { addressText } from '#core/text/address.ts'
import { letterhead, padDecimals, pdfmake, QUIET, RULE } from '#server/formats/pdf.ts'

/** Under which name the data stands in a PDF (Factur-X 1.0, 6.2.2). */
export const DATA_NAME = 'factur-x.xml'

const titleOf = ({ typeCode, number }: OutgoingInvoice, say: ReturnType<typeof write>): string =>
  ({
    '380': say('Invoice {number}', { number }),
    '389': say('Self-billed invoice {number}', { number }),
    '381': say('Credit note {number}', { number }),
    '261': say('Debit note {number}', { number }),
  })[typeCode]

/** What Factur-X wants said of the data in a PDF/A-3 (Factur-X 1.0, 6.3: XMP extension schema). */
const metadata = `
  <rdf:Description xmlns:pdfaExtension="http://www.aiim.org/pdfa/ns/extension/" xmlns:pdfaSchema="http://www.aiim.org/pdfa/ns/schema#" xmlns:pdfaProperty="http://www.aiim.org/pdfa/ns/property#" rdf:about="">
    <pdfaExtension:schemas><rdf:Bag><rdf:li rdf:parseType="Resource">
      <pdfaSchema:schema>Factur-X PDFA Extension Schema</pdfaSchema:schema><pdfaSchema:namespaceURI>urn:factur-x:pdfa:CrossIndustryDocument:invoice:1p0#</pdfaSchema:namespaceURI><pdfaSchema:prefix>fx</pdfaSchema:prefix>
      <pdfaSchema:property><rdf:Seq>${['DocumentFileName', 'DocumentType', 'Version', 'ConformanceLevel']
        .map(
          name =>
            `<rdf:li rdf:parseType="Resource"><pdfaProperty:name>${name}</pdfaProperty:name><pdfaProperty:valueType>Text</pdfaProperty:valueType><pdfaProperty:category>external</pdfaProperty:category><pdfaProperty:description>${name}</pdfaProperty:description></rdf:li>`,
        ) // prettier-ignore
        .join('')}</rdf:Seq></pdfaSchema:property>
    </rdf:li></rdf:Bag></pdfaExtension:schemas>
  </rdf:Description>
  <rdf:Description xmlns:fx="urn:factur-x:pdfa:CrossIndustryDocument:invoice:1p0#" rdf:about="">
    <fx:DocumentType>INVOICE</fx:DocumentType><fx:DocumentFileName>${DATA_NAME}</fx:DocumentFileName><fx:Version>1.0</fx:Version><fx:ConformanceLevel>EN 16931</fx:ConformanceLevel>
  </rdf:Description>`

/** Prints an invoice or credit note; with `data` it is a PDF/A-3 that holds the same as CII (Factur-X, profile EN 16931). */
export async function writeInvoicePdf(
  invoice: OutgoingInvoice,
  { language, logo, data }: { readonly language: Language; readonly logo: string | null; readonly data: string | null },
): Promise<Buffer> {
  const say = write(language)
  const locale = language !== 'en' && invoice.seller.country ? `${language}-${invoice.seller.country}` : language
  const figure = (amount: string): string => writtenFigure(amount, locale)
  const { totals } = invoice
  const title = titleOf(invoice, say)
  const right = (text: string): { text: string; alignment: 'right' } => ({ text, alignment: 'right' })
  const sum = (label: string, amount: string, bold = false) => [{ text: label, bold, colSpan: 4 }, '', '', '', { ...right(figure(amount)), bold }] // prettier-ignore
  const document = pdfmake().createPdf({
    info: { title },
    language,
    ...(data === null ? {} : { version: '1.7', subset: 'PDF/A-3b', files: { [DATA_NAME]: { src: `data:text/xml;base64,${Buffer.from(data).toString('base64')}`, name: DATA_NAME, type: 'text/xml', description: title, relationship: 'Alternative' } } }), // prettier-ignore
    pageMargins: [50, 50, 50, 60],
    defaultStyle: { font: 'Roboto', fontSize: 9.5, color: '#1B2431', lineHeight: 1.25 },
    footer: (page: number, pages: number) => ({ text: `${title}    ${say('page {page} of {pages}', { page, pages })}`, alignment: 'right', margin: [50, 20], color: QUIET, fontSize: 8 }), // prettier-ignore
    content: [
      letterhead({ name: invoice.buyer.name, logo }, addressText(invoice.buyer)),
      { text: title, fontSize: 20, margin: [0, 24, 0, 2] },
      { text: say('of {day}', { day: writtenDay(invoice.issueDate, locale) }), color: QUIET, margin: [0, 0, 0, 12] },
      { text: `${invoice.seller.name}\n${addressText(invoice.seller)}${invoice.seller.vat ? `\n${invoice.seller.vat}` : ''}`, margin: [0, 0, 0, 10] }, // prettier-ignore
      ...(invoice.preceding ? [{ text: say('For invoice {number} of {day}.', { number: invoice.preceding.number, day: writtenDay(invoice.preceding.date, locale) }), margin: [0, 0, 0, 4] as [number, number, number, number] }] : []), // prettier-ignore
      ...(invoice.orderReference ? [{ text: say('Order {number}', { number: invoice.orderReference }), margin: [0, 0, 0, 4] as [number, number, number, number] }] : []), // prettier-ignore
      ...(invoice.note ? [{ text: invoice.note, margin: [0, 0, 0, 10] as [number, number, number, number] }] : []),
      {
        table: {
          headerRows: 1,
          widths: ['*', 'auto', 'auto', 'auto', 'auto'],
          body: [
            [say('What'), right(say('Quantity')), right(say('Price')), right(say('VAT')), right(say('Net, {currency}', { currency: invoice.currency }))], // prettier-ignore
            ...invoice.lines.map(line => [
              line.name,
              right(`${figure(line.quantity)} ${writeUnit(language, line.unit)}`),
              right(
                `${figure(padDecimals(line.price))}${line.priceBase === '1' ? '' : ` / ${figure(line.priceBase)}`}`,
              ),
              right(`${line.category} ${figure(line.rate)} %`),
              right(figure(line.net)),
            ]),
            ...invoice.charges.map(one => sum(one.reason, one.amount)),
            ...invoice.taxes.map(tax => sum(say('VAT {category} {rate} % on {taxable}', { category: tax.category, rate: figure(tax.rate), taxable: figure(tax.taxable) }), tax.tax)), // prettier-ignore
            sum(say('Total, {currency}', { currency: invoice.currency }), totals.payable, true),
          ],
        },
        layout: { hLineColor: () => RULE, vLineWidth: () => 0, hLineWidth: () => 0.6 },
        margin: [0, 10, 0, 0],
      },
      ...(data === null ? [{ text: say('No data goes with this document.'), color: QUIET, fontSize: 8, margin: [0, 14, 0, 0] as [number, number, number, number] }] : []), // prettier-ignore
    ],
  } as Parameters<ReturnType<typeof pdfmake>['createPdf']>[0])
  if (data === null) return await document.getBuffer()
  const stream = await document.getStream()
  stream.appendXML(metadata)
  return await document.getBuffer()
}
