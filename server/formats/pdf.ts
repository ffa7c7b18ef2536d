import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js'

const require = createRequire(import.meta.url)

interface PdfMake {
  setFonts: (fonts: Record<string, Record<string, string>>) => void
  setUrlAccessPolicy: (policy: (url: string) => boolean) => void
  setLocalAccessPolicy: (policy: (path: string) => boolean) => void
  createPdf: (definition: TDocumentDefinitions) => {
    getBuffer: () => Promise<Buffer>
    /** The document before it is closed. */
    getStream: () => Promise<{ appendXML: (xml: string) => void }>
  }
}

let ready: PdfMake | undefined

/** The one PDF writer, with fonts from the package and nothing fetched. */
export function pdfmake(): PdfMake {
  if (ready) return ready
  const made = require('pdfmake') as PdfMake
  const folder = join(dirname(require.resolve('pdfmake/package.json')), 'fonts', 'Roboto')
  const file = (name: string): string => join(folder, `Roboto-${name}.ttf`)
  made.setFonts({
    Roboto: {
      normal: file('Regular'),
      bold: file('Medium'),
      italics: file('Italic'),
      bolditalics: file('MediumItalic'),
    },
  })
  made.setUrlAccessPolicy(() => false)
  made.setLocalAccessPolicy(path => path.startsWith(folder))
  return (ready = made)
}

export const QUIET = '#586272'
export const RULE = '#DDD3BF'

/** A unit price with at least two digits after the point, and all that it has. */
export const padDecimals = (price: string): string => {
  const [whole = '0', part = ''] = price.split('.')
  return `${whole}.${part.padEnd(2, '0')}`
}

/** The head of a printed document: the house's sign where it has one, else its name; something beside it. */
export const letterhead = (
  house: { readonly name: string; readonly logo: string | null },
  beside: string,
): Content => ({
  columns: [
    house.logo === null ? { text: house.name, bold: true } : { image: house.logo, fit: [170, 48] },
    {
      text: house.logo === null ? beside : [house.name, beside].filter(Boolean).join('\n'),
      alignment: 'right',
      color: QUIET,
    },
  ],
})

/** Whether a picture can be printed, which is told by printing it. */
export async function printsPicture(address: string): Promise<boolean> {
  try {
    await pdfmake()
      .createPdf({ defaultStyle: { font: 'Roboto' }, content: [letterhead({ name: '', logo: address }, '')] })
      .getBuffer()
    return true
  } catch {
    return false
  }
}
