import { type Reason, stop } from '#core/reasons.ts'

/** What is kept of a picture at most; the browser makes larger ones smaller before it sends them. */
export interface PictureLimits {
  /** Media types (RFC 6838). */
  readonly types: readonly string[]
  readonly dots: number
  readonly bytes: number
}
/** What is found is shown with its pictures, forty at once. */
export const ITEM_PICTURE: PictureLimits = {
  types: ['image/png', 'image/jpeg', 'image/webp'],
  dots: 400_000,
  bytes: 60_000,
}
/** The house's sign goes along with every document that is mailed; printed documents hold no other types. */
export const HOUSE_LOGO: PictureLimits = { types: ['image/png', 'image/jpeg'], dots: 1_000_000, bytes: 200_000 }

/** Why a picture cannot be kept. Sizes in dots and bytes. */
export function whyNotPicture(
  one: { readonly mediaType: string; readonly size: number; readonly width: number; readonly height: number },
  limits: PictureLimits,
): Reason[] {
  const place = { place: 'fileId' }
  if (!limits.types.includes(one.mediaType))
    return [
      stop(
        'picture.type',
        { types: limits.types.map(type => type.slice('image/'.length).toUpperCase()).join(', ') },
        place,
      ),
    ]
  return one.width * one.height > limits.dots || one.size > limits.bytes
    ? [stop('picture.large', { megapixels: limits.dots / 1e6, kilobytes: limits.bytes / 1000 }, place)]
    : []
}
