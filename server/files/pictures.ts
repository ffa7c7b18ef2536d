import { imageSize } from 'image-size'
import { type PictureLimits, whyNotPicture } from '#core/files/picture.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Write } from '#server/call.ts'
import { refuse } from '#server/documents/obey.ts'
import { ownContent, ownFile } from '#server/files/fileActs.ts'

export const unreadable = (): RuleBroken => new RuleBroken(stop('picture.unreadable', {}, { place: 'fileId' }))

/**
 * A picture that this person uploaded, as a `data:` address.
 *
 * @throws RuleBroken picture.type | picture.large | picture.unreadable
 */
export async function pictureOf(call: Write, fileId: string, limits: PictureLimits): Promise<string> {
  const { mediaType, size } = await ownFile(call, fileId)
  refuse(whyNotPicture({ mediaType, size, width: 1, height: 1 }, limits))
  const bytes = await ownContent(call, fileId)
  try {
    const { width, height } = imageSize(bytes)
    refuse(whyNotPicture({ mediaType, size, width, height }, limits))
  } catch (error) {
    throw error instanceof RuleBroken ? error : unreadable()
  }
  return `data:${mediaType};base64,${bytes.toString('base64')}`
}
