import type { Content } from 'pdfmake/interfaces.js'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { Language } from '#contract/messages/languages.ts'
import { write, writeUnit, writtenDay, writtenFigure } from '#contract/messages/translate.ts'
import type { ReadAsked } from '#contract/source/asked.ts'
import { letterhead, pdfmake, QUIET, RULE } from '#server/formats/pdf.ts'

type Asked = ResponseOf<typeof ReadAsked>

/** What is asked as a form on paper, with blanks to fill in by hand. */
export function writeAskedPdf(
  asked: Asked,
  house: { readonly name: string; readonly logo: string | null },
  language: Language,
  ends: string,
): Promise<Buffer> {
  const say = write(language)
  const { number } = asked
  const title =
    asked.settings.format === 'auction' ? say('Invitation to bid {number}', { number }) : say('Quote request {number}', { number }) // prettier-ignore
  return pdfmake()
    .createPdf({
      info: { title },
      language,
      pageOrientation: 'landscape',
      pageMargins: [40, 40, 40, 50],
      defaultStyle: { font: 'Roboto', fontSize: 9, color: '#1B2431', lineHeight: 1.2 },
      footer: (page, pages) => ({
        text: `${title}    ${say('page {page} of {pages}', { page, pages })}`,
        alignment: 'right',
        margin: [40, 16],
        color: QUIET,
        fontSize: 8,
      }),
      content: [
        letterhead(house, ''),
        { text: title, fontSize: 18, margin: [0, 14, 0, 2] },
        { text: asked.title, fontSize: 12 },
        { text: `${say('To {name}', { name: asked.supplier })}`, margin: [0, 6, 0, 0] },
        { text: say('Please answer until {ends}.', { ends }), bold: true, margin: [0, 2, 0, 8] },
        ...(asked.message ? [{ text: asked.message, margin: [0, 0, 0, 8] } satisfies Content] : []),
        ...asked.texts.filter(one => one.ours && one.place === 'head' && one.text !== '').map((one): Content => ({ text: [{ text: `${one.name}  `, color: QUIET }, one.text], margin: [0, 0, 0, 4] })), // prettier-ignore
        lineTable(asked, language),
        ...asked.sections.flatMap((section): Content[] => [
          { text: section.title, fontSize: 12, margin: [0, 14, 0, 4] },
          ...section.questions.map((one): Content => ({
            columns: [
              { text: one.label, width: '50%' },
              { text: one.kind === 'yesNo' ? `☐ ${say('yes')}   ☐ ${say('no')}` : one.kind === 'choice' ? one.choices.map(choice => `☐ ${choice}`).join('   ') : BLANK, width: '50%' }, // prettier-ignore
            ],
            margin: [0, 3],
          })),
        ]),
        ...(asked.terms ? [{ text: say('Bidding terms'), fontSize: 12, margin: [0, 14, 0, 4] } satisfies Content, { text: asked.terms } satisfies Content] : []), // prettier-ignore
        { text: `${say('Place, day, signature')}  ${BLANK}`, margin: [0, 24, 0, 0] },
      ],
    })
    .getBuffer()
}

const BLANK = '______________________'

function lineTable(asked: Asked, language: Language): Content {
  const say = write(language)
  const parts = asked.settings.components.filter(one => one.basis !== 'perLot')
  const priced = asked.settings.pricing !== 'none'
  const heads = ['', say('What'), say('Asked for'), say('Need by'), ...(priced ? [`${say('Price')} ${asked.currency}`] : []), ...parts.map(one => one.name), say('Lead days'), say('Note')] // prettier-ignore
  return {
    table: {
      headerRows: 1,
      widths: ['auto', '*', 'auto', 'auto', ...(priced ? [70] : []), ...parts.map(() => 60), 50, 90],
      body: [
        heads.map(text => ({ text, color: QUIET })),
        ...asked.lines
          .filter(line => !line.gone)
          .map(line => [
            String(line.position),
            line.description,
            { text: `${writtenFigure(line.quantity, language)} ${writeUnit(language, line.unit)}`, alignment: 'right' as const }, // prettier-ignore
            line.needBy ? writtenDay(line.needBy, language) : '',
            ...(priced ? [''] : []),
            ...parts.map(() => ''),
            '',
            '',
          ]),
      ],
    },
    layout: { hLineColor: () => RULE, vLineColor: () => RULE, hLineWidth: () => 0.5, vLineWidth: () => 0.5, paddingTop: () => 7, paddingBottom: () => 7 }, // prettier-ignore
  }
}
