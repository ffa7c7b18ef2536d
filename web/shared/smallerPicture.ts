/** Dots along the longer side of what is kept of a picture: twice of what a page shows. */
const LONGEST = 320
const QUALITY = 0.8

/**
 * A photograph as small as pages show it, so that forty megapixels need not be sent; `clear` keeps what is see-through in it. What is no
 * picture stays as it is and is refused with the reason.
 */
export async function smallerPicture(file: File, { longest = LONGEST, clear = false } = {}): Promise<File> {
  const whole = await createImageBitmap(file).catch(() => undefined)
  if (!whole) return file
  const shrink = Math.min(1, longest / Math.max(whole.width, whole.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(whole.width * shrink))
  canvas.height = Math.max(1, Math.round(whole.height * shrink))
  const pen = canvas.getContext('2d')!
  if (!clear) {
    pen.fillStyle = '#fff'
    pen.fillRect(0, 0, canvas.width, canvas.height)
  }
  pen.drawImage(whole, 0, 0, canvas.width, canvas.height)
  whole.close()
  const type = clear ? 'image/png' : 'image/jpeg'
  const blob = await new Promise<Blob | null>(resolve => canvas.toBlob(resolve, type, QUALITY))
  return blob ? new File([blob], `${file.name.replace(/\.\w+$/, '')}.${type.slice('image/'.length)}`, { type }) : file
}
