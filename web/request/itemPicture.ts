/** Where a picture of an item comes from: it is kept as a drawing (SVG), or as a whole `data:` address. */
export const pictureSource = (picture: string): string =>
  picture.startsWith('data:') ? picture : `data:image/svg+xml,${encodeURIComponent(picture)}`

/** Dots along the longer side of what is kept of a picture: twice of what a page shows. */
const LONGEST = 320
const QUALITY = 0.8

/** A photograph as small as pages show it, so that forty megapixels need not be sent. What is no picture stays as it is and is refused with the reason. */
export async function smallerPicture(file: File): Promise<File> {
  const whole = await createImageBitmap(file).catch(() => undefined)
  if (!whole) return file
  const shrink = Math.min(1, LONGEST / Math.max(whole.width, whole.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(whole.width * shrink))
  canvas.height = Math.max(1, Math.round(whole.height * shrink))
  const pen = canvas.getContext('2d')!
  pen.fillStyle = '#fff'
  pen.fillRect(0, 0, canvas.width, canvas.height)
  pen.drawImage(whole, 0, 0, canvas.width, canvas.height)
  whole.close()
  const blob = await new Promise<Blob | null>(resolve => canvas.toBlob(resolve, 'image/jpeg', QUALITY))
  return blob ? new File([blob], `${file.name.replace(/\.\w+$/, '')}.jpg`, { type: 'image/jpeg' }) : file
}
