/** Where a picture of an item comes from: it is kept as a drawing (SVG), or as a whole `data:` address. */
export const pictureSource = (picture: string): string =>
  picture.startsWith('data:') ? picture : `data:image/svg+xml,${encodeURIComponent(picture)}`
