import type { PaperRun } from '#core/bill/paperValues.ts'

/** A page of a paper, and how it is drawn. */
export interface PaperPage {
  readonly number: number
  readonly width: number
  readonly height: number
  readonly draw: (canvas: HTMLCanvasElement, scale: number) => Promise<void>
}
export interface Paper {
  readonly pages: readonly PaperPage[]
  /** How many pages it has altogether. */
  readonly count: number
  readonly runs: readonly PaperRun[]
  readonly close: () => Promise<void>
}

/** Pages of one paper that are shown. */
export const MOST_PAGES = 20

/** Opens a PDF: pages with their text and where it stands. Nothing in it runs. @throws PasswordException, InvalidPDFException by name */
export async function openPdf(bytes: ArrayBuffer): Promise<Paper> {
  const [pdfjs, { default: workerSrc }] = await Promise.all([
    import('pdfjs-dist/legacy/build/pdf.mjs'),
    import('pdfjs-dist/legacy/build/pdf.worker.min.mjs?url'),
  ])
  pdfjs.GlobalWorkerOptions.workerSrc = workerSrc
  const task = pdfjs.getDocument({ data: bytes, isEvalSupported: false, enableXfa: false, verbosity: pdfjs.VerbosityLevel.ERRORS }) // prettier-ignore
  const pdf = await task.promise
  const shown = Array.from({ length: Math.min(pdf.numPages, MOST_PAGES) }, (_, index) => index + 1)
  const read = await Promise.all(
    shown.map(async number => {
      const page = await pdf.getPage(number)
      const view = page.getViewport({ scale: 1 })
      const { items } = await page.getTextContent()
      const runs = items.flatMap((item): PaperRun[] => {
        if (!('str' in item) || item.str.trim() === '') return []
        const [x, y] = view.convertToViewportPoint(item.transform[4] as number, item.transform[5] as number) as [number, number] // prettier-ignore
        const height = item.height || Math.hypot(item.transform[2] as number, item.transform[3] as number)
        return [{ page: number, text: item.str, x, y: y - height, width: item.width, height }]
      })
      const draw = async (canvas: HTMLCanvasElement, scale: number): Promise<void> => {
        const viewport = page.getViewport({ scale })
        canvas.width = viewport.width
        canvas.height = viewport.height
        await page.render({ canvas, viewport }).promise
      }
      return { runs, page: { number, width: view.width, height: view.height, draw } }
    }),
  )
  return { pages: read.map(one => one.page), count: pdf.numPages, runs: read.flatMap(one => one.runs), close: () => task.destroy() } // prettier-ignore
}
