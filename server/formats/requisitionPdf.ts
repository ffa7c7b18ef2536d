import type { Content } from 'pdfmake/interfaces.js'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'
import { PERSONAL_FEE } from '#core/request/personalFee.ts'
import { unitLabel } from '#core/units/units.ts'
import { letterhead, pdfmake, padDecimals, QUIET, RULE } from '#server/formats/pdf.ts'

type Sheet = ResponseOf<typeof ReadRequisition>
type Line = Sheet['lines'][number]

/** A request as a printed document: its lines, what it costs whom, and who decides. What the reader may not see is not on it. */
export function writeRequisitionPdf(
  sheet: Sheet,
  house: { readonly name: string; readonly logo: string | null },
): Promise<Buffer> {
  return pdfmake()
    .createPdf({
      info: { title: `Request ${sheet.number}` },
      pageMargins: [50, 50, 50, 60],
      defaultStyle: { font: 'Roboto', fontSize: 9.5, color: '#1B2431', lineHeight: 1.25 },
      footer: (page, pages) => ({
        text: `Request ${sheet.number}    page ${page} of ${pages}`,
        alignment: 'right',
        margin: [50, 20],
        color: QUIET,
        fontSize: 8,
      }),
      content: [
        letterhead(house, ''),
        { text: `Request ${sheet.number}`, fontSize: 20, margin: [0, 18, 0, 2] },
        { text: sheet.title, fontSize: 12, margin: [0, 0, 0, 2] },
        {
          text: `of ${sheet.requester}${sheet.needBy ? `, needed by ${sheet.needBy}` : ''}`,
          color: QUIET,
          margin: [0, 0, 0, 12],
        },
        ...(sheet.reason ? [{ text: sheet.reason, italics: true, margin: [0, 0, 0, 12] } satisfies Content] : []),
        ...(sheet.form?.said ?? []).map((one): Content => ({
          text: [{ text: `${one.question}  `, color: QUIET }, one.answer],
        })),
        lineTable(sheet),
        ...(sheet.changes.length > 0
          ? [
              heading('Changed since it was asked about'),
              ...sheet.changes.map((one): Content => ({ text: changed(one) })),
            ]
          : []),
        ...(sheet.budgets.length > 0
          ? [
              heading('Accounts'),
              ...sheet.budgets.map((one): Content => ({
                columns: [one.label, { text: `${one.here} ${one.currency}`, alignment: 'right' }],
              })),
            ]
          : []),
        ...(sheet.steps.length > 0
          ? [
              heading('Who decides'),
              ...sheet.steps.map((step): Content => ({
                columns: [
                  `${step.approvers.map(one => one.name).join(' or ')}, ${step.rules.map(one => one.name).join(', ')}`,
                  {
                    text: step.decidedAt ? `${step.state}, ${step.decidedAt.slice(0, 10)}` : step.state,
                    alignment: 'right',
                    color: QUIET,
                  },
                ],
              })),
            ]
          : []),
      ],
    })
    .getBuffer()
}

const heading = (text: string): Content => ({ text, bold: true, margin: [0, 14, 0, 4] })

const said = (line: Line): string =>
  [
    line.supplier,
    line.address,
    line.needBy ? `by ${line.needBy}` : '',
    line.facts.term.incoterm ? `${line.facts.term.incoterm} ${line.facts.term.place}` : '',
    line.details.deliverable ?? '',
    ...(line.details.instalments ?? []).map(one => `${one.title}: ${one.amount}`),
  ]
    .filter(Boolean)
    .join(', ')

/** What was refused, or is not wanted any more, is struck out. */
const struck = (line: Line) => (line.state === 'cancelled' ? { decoration: 'lineThrough' as const, color: QUIET } : {})

const changed = ({ line, before, after }: Sheet['changes'][number]): string =>
  [line, [before, after].map(one => one || '–').join(' → ')].filter(Boolean).join(': ')

function lineTable(sheet: Sheet): Content {
  const right = (text: string, bold = false) => ({ text, alignment: 'right' as const, bold })
  const head = ['', 'What', 'Quantity', 'Price', `Amount, ${sheet.baseCurrency}`].map((text, index) => ({
    text,
    color: QUIET,
    alignment: index > 1 ? ('right' as const) : ('left' as const),
  }))
  const counted = (line: Line): boolean => line.kind === 'goods' || line.kind === 'workByRate'
  const rows = sheet.lines.map(line => [
    String(line.position),
    {
      stack: [
        { text: line.confidential ? PERSONAL_FEE : line.description, ...struck(line) },
        { text: said(line), color: QUIET, fontSize: 8.5 },
      ],
    },
    right(counted(line) ? `${line.quantity} ${unitLabel(line.unit)}` : ''),
    right(
      counted(line)
        ? `${padDecimals(line.price)} ${line.currency}${line.priceBase === '1' ? '' : ` per ${line.priceBase}`}`
        : '',
    ),
    { ...right(line.baseAmount), ...struck(line) },
  ])
  return {
    table: {
      headerRows: 1,
      widths: [14, '*', 70, 80, 70],
      body: [head, ...rows, ['', { text: 'Net', bold: true }, '', '', right(sheet.total, true)]],
    },
    layout: {
      hLineWidth: index => (index === 1 ? 0.8 : 0.4),
      vLineWidth: () => 0,
      hLineColor: () => RULE,
      paddingTop: () => 4,
      paddingBottom: () => 4,
    },
  }
}
