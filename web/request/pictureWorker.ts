import { expose } from 'comlink'
import { pictureFeatures, type PictureFeatures, type Pixels } from '#core/request/pictures.ts'

const worker = { features: (pixels: Pixels): PictureFeatures => pictureFeatures(pixels) }
export type PictureWorker = typeof worker
expose(worker)
