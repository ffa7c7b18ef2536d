import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvidence } from '#contract/decide/endpoints.ts'
import { letterhead, pdfmake, QUIET } from '#server/formats/pdf.ts'

type Evidence = ResponseOf<typeof ReadEvidence>

/** Who decided what in a time, printed: decisions with version of the rules and what was seen, then exceptions from the separation of duties. */
export function writeEvidencePdf(
  evidence: Evidence,
  { fromDay, toDay }: { readonly fromDay: string; readonly toDay: string },
  house: { readonly name: string; readonly logo: string | null },
): Promise<Buffer> {
  const head = (...texts: string[]) => texts.map(text => ({ text, color: QUIET, fontSize: 7.5 }))
  return pdfmake()
    .createPdf({
      info: { title: `Decisions ${fromDay} to ${toDay}` },
      pageOrientation: 'landscape',
      pageMargins: [40, 40, 40, 50],
      defaultStyle: { font: 'Roboto', fontSize: 8, color: '#1B2431', lineHeight: 1.2 },
      footer: (page, pages) => ({
        text: `Decisions ${fromDay} to ${toDay}    page ${page} of ${pages}`,
        alignment: 'right',
        margin: [40, 16],
        color: QUIET,
        fontSize: 8,
      }),
      content: [
        letterhead(house, ''),
        { text: 'Who decided what', fontSize: 18, margin: [0, 14, 0, 2] },
        { text: `${fromDay} to ${toDay}, ${evidence.decisions.length} decisions`, color: QUIET, margin: [0, 0, 0, 10] },
        {
          layout: 'lightHorizontalLines',
          table: {
            headerRows: 1,
            widths: [70, 40, '*', 70, 60, 90, 50, 90, 30, 70],
            body: [
              head(
                'When',
                'About',
                'What',
                'Requester',
                evidence.currency,
                'Decided by',
                'How',
                'Rule',
                'Version',
                'Seen',
              ),
              ...evidence.decisions.map(one => [
                one.at.slice(0, 16).replace('T', ' '),
                one.number,
                one.reason ? `${one.title}\n“${one.reason}”` : one.title,
                one.requester,
                { text: one.amount ?? '', alignment: 'right' as const },
                one.inPlaceOf ? `${one.decider}, in place of ${one.inPlaceOf}` : one.decider,
                `${one.outcome}, ${one.channel}`,
                one.rules,
                one.ruleVersion === null ? '' : String(one.ruleVersion),
                (one.seen ?? '').slice(0, 12),
              ]),
            ],
          },
        },
        { text: 'Separation of duties', fontSize: 14, margin: [0, 16, 0, 4] },
        evidence.exceptions.length === 0
          ? `Of ${evidence.purchases} purchases nobody did more than one of requesting, deciding, receiving and paying.`
          : {
              layout: 'lightHorizontalLines',
              table: {
                headerRows: 1,
                widths: [60, '*', 140, 160],
                body: [
                  head('Request', 'What', 'Who', 'Did'),
                  ...evidence.exceptions.map(one => [one.number, one.title, one.person, one.duties.join(' and ')]),
                ],
              },
            },
      ],
    })
    .getBuffer()
}
