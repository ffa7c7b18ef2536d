import bwipjs from 'bwip-js/node'
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js'
import { pdfmake, QUIET } from '#server/formats/pdf.ts'

export type LabelSymbol = 'code128' | 'qrcode' | 'datamatrix'
export interface LabelContent {
  /** What the symbol says. */
  readonly code: string
  readonly title: string
  readonly below: string
}

const MM = 72 / 25.4
/** Labels of 70 by 37 mm, 3 by 8 on A4; a roll has one of 50 by 25 mm on each page. */
const SHEET = { columns: 3, rows: 8, width: 70, height: 37 }
const ROLL = { width: 50, height: 25 }

/** Labels with a symbol (ISO/IEC 15417, 18004 or 16022), its text and two lines, on A4 sheets or a roll. */
export async function writeLabels(
  house: string,
  labels: readonly LabelContent[],
  symbol: LabelSymbol,
  layout: 'sheet' | 'roll',
): Promise<Buffer> {
  const pictures = await Promise.all(labels.map(label => picture(label.code, symbol)))
  const cell = (label: LabelContent, index: number, room: { width: number; height: number }): Content => {
    const wide = symbol === 'code128'
    const image: Content = { image: pictures[index]!, fit: wide ? [room.width * MM - 16, room.height * MM * 0.38] : [room.height * MM * 0.62, room.height * MM * 0.62], alignment: wide ? 'center' : 'left' } // prettier-ignore
    const words: Content = {
      stack: [
        { text: label.code, bold: true, fontSize: layout === 'roll' ? 9 : 11 },
        { text: label.title, fontSize: 7 },
        { text: [label.below, house].filter(Boolean).join(', '), fontSize: 6, color: QUIET },
      ],
      alignment: wide ? 'center' : 'left',
    }
    return wide ? { stack: [image, words] } : { columns: [{ width: 'auto', stack: [image] }, words], columnGap: 6 }
  }
  const definition: TDocumentDefinitions =
    layout === 'roll'
      ? {
          pageSize: { width: ROLL.width * MM, height: ROLL.height * MM },
          pageMargins: [6, 5, 6, 3],
          content: labels.map((label, index) => ({
            stack: [cell(label, index, ROLL)],
            ...(index > 0 ? { pageBreak: 'before' as const } : {}),
          })),
        }
      : {
          pageSize: 'A4',
          pageMargins: [0, 0.5 * MM, 0, 0],
          content: [
            {
              layout: 'noBorders',
              table: {
                widths: Array.from({ length: SHEET.columns }, () => SHEET.width * MM - 8),
                heights: SHEET.height * MM - 4,
                dontBreakRows: true,
                body: rowsOf(
                  labels.map((label, index) => ({
                    stack: [cell(label, index, SHEET)],
                    margin: [4, 6, 4, 2] as [number, number, number, number],
                  })),
                ),
              },
            },
          ],
        }
  return await pdfmake()
    .createPdf({ ...definition, defaultStyle: { font: 'Roboto' } })
    .getBuffer()
}

function rowsOf(cells: Content[]): Content[][] {
  const rows: Content[][] = []
  for (let at = 0; at < cells.length; at += SHEET.columns)
    rows.push(
      [...cells.slice(at, at + SHEET.columns), ...Array.from({ length: SHEET.columns }, (): Content => '')].slice(
        0,
        SHEET.columns,
      ),
    )
  return rows
}

/** One label for a parcel or pallet, 105 by 148 mm: from whom, to whom, what it is, and its number as Code 128 (ISO/IEC 15417). */
export async function writeParcelLabel(parcel: {
  readonly number: string
  readonly from: string
  readonly to: string
  readonly about: readonly string[]
}): Promise<Buffer> {
  const part = (title: string, text: string, fontSize: number): Content => ({ stack: [{ text: title, fontSize: 8, color: QUIET }, { text, fontSize }], margin: [0, 0, 0, 12] }) // prettier-ignore
  const definition: TDocumentDefinitions = {
    info: { title: parcel.number },
    pageSize: 'A6',
    pageMargins: [18, 18, 18, 18],
    defaultStyle: { font: 'Roboto' },
    content: [
      part('From', parcel.from, 9),
      part('To', parcel.to, 16),
      ...parcel.about.map((text): Content => ({ text, fontSize: 10, margin: [0, 0, 0, 3] })),
      { image: await picture(parcel.number, 'code128'), fit: [260, 70], alignment: 'center', margin: [0, 16, 0, 4] },
      { text: parcel.number, bold: true, fontSize: 16, alignment: 'center' },
    ],
  }
  return await pdfmake().createPdf(definition).getBuffer()
}

async function picture(text: string, symbol: LabelSymbol): Promise<string> {
  const png = await bwipjs.toBuffer({ bcid: symbol, text, scale: 3, ...(symbol === 'code128' ? { height: 9 } : {}) })
  return `data:image/png;base64,${png.toString('base64')}`
}
