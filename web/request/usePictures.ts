import { type Remote, wrap } from 'comlink'
import { pictureSource } from '#web/request/itemPicture.ts'
import { CataloguePictures } from '#contract/request/catalogue.ts'
import { likeness, type PictureFeatures } from '#core/request/pictures.ts'
import { api } from '#web/api.ts'
import type { PictureWorker } from '#web/request/pictureWorker.ts'

export interface AlikeItem {
  readonly id: string
  readonly number: string
  readonly name: string
  readonly category: string
  readonly picture: string
  readonly percent: number
  readonly shape: number
  readonly texture: number
  readonly colour: number
}
type Known = Omit<AlikeItem, 'percent' | 'shape' | 'texture' | 'colour'> & { readonly features: PictureFeatures }

const SIDE = 96
let worker: Remote<PictureWorker> | undefined
let known: Promise<{ items: Known[]; left: number }> | undefined

const theWorker = (): Remote<PictureWorker> =>
  (worker ??= wrap<PictureWorker>(new Worker(new URL('./pictureWorker.ts', import.meta.url), { type: 'module' })))

/** Shrinks a picture to a square of 96 pixels, whole and centred, on white. */
async function pixelsOf(source: string): Promise<ImageData> {
  const image = new Image()
  image.decoding = 'async'
  await new Promise<void>((resolve, reject) => {
    image.onload = () => resolve()
    image.onerror = () => reject(new Error('This is no picture that can be shown.'))
    image.src = source
  })
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = SIDE
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.fillStyle = '#fff'
  context.fillRect(0, 0, SIDE, SIDE)
  const [width, height] = [image.naturalWidth || SIDE, image.naturalHeight || SIDE]
  const scale = Math.min(SIDE / width, SIDE / height)
  context.drawImage(image, (SIDE - width * scale) / 2, (SIDE - height * scale) / 2, width * scale, height * scale)
  return context.getImageData(0, 0, SIDE, SIDE)
}
const featuresOf = async (source: string): Promise<PictureFeatures> => {
  const { width, height, data } = await pixelsOf(source)
  return await theWorker().features({ width, height, data })
}

/** The catalogue's pictures with what is remembered of them; computed once, here, while the page is open. */
function catalogue(tell: (done: number, of: number) => void): Promise<{ items: Known[]; left: number }> {
  known ??= (async () => {
    const { pictures, left } = await api(CataloguePictures)
    const items: Known[] = []
    for (const one of pictures) {
      items.push({ ...one, features: await featuresOf(pictureSource(one.picture)) })
      if (items.length % 10 === 0) tell(items.length, pictures.length)
    }
    return { items, left }
  })().catch((error: unknown) => {
    known = undefined
    throw error
  })
  return known
}

/** The items whose pictures are most like a picture. The picture never leaves this machine. */
export async function mostAlike(
  source: string,
  tell: (done: number, of: number) => void,
  most = 12,
): Promise<{ items: AlikeItem[]; left: number }> {
  const wanted = await featuresOf(source)
  const { items, left } = await catalogue(tell)
  const alike = items
    .map(({ features, ...item }) => ({ ...item, ...likeness(features, wanted) }))
    .sort((a, b) => b.percent - a.percent)
  return { items: alike.slice(0, most), left }
}

/** A barcode in a picture, if there is one that can be read. */
export async function readBarcode(source: string): Promise<string | undefined> {
  const { BrowserMultiFormatReader } = await import('@zxing/library')
  return await new BrowserMultiFormatReader().decodeFromImageUrl(source).then(
    result => result.getText(),
    () => undefined,
  )
}
