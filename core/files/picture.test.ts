import { expect } from 'chai'
import { HOUSE_LOGO, ITEM_PICTURE, whyNotPicture } from '#core/files/picture.ts'

const codes = (reasons: readonly { code: string; place?: string | undefined }[]): string[] =>
  reasons.map(reason => `${reason.code} @${reason.place}`)

describe('a picture', () => {
  it('of an item is kept where every page can show it', () => {
    const picture = { mediaType: 'image/jpeg', size: 60_000, width: 800, height: 500 }
    expect(whyNotPicture(picture, ITEM_PICTURE)).to.deep.equal([])
    expect(codes(whyNotPicture({ ...picture, mediaType: 'application/pdf' }, ITEM_PICTURE))).to.deep.equal([
      'picture.type @fileId',
    ])
    for (const large of [{ width: 801 }, { size: 60_001 }, { width: 8000, height: 5000 }])
      expect(codes(whyNotPicture({ ...picture, ...large }, ITEM_PICTURE))).to.deep.equal(['picture.large @fileId'])
  })

  it('of the house is kept where it can be printed, and says what it may be', () => {
    const logo = { mediaType: 'image/png', size: 200_000, width: 1000, height: 1000 }
    expect(whyNotPicture(logo, HOUSE_LOGO)).to.deep.equal([])
    expect(whyNotPicture({ ...logo, mediaType: 'image/webp' }, HOUSE_LOGO)[0]).to.deep.include({
      code: 'picture.type',
      details: { types: 'PNG, JPEG' },
    })
    expect(whyNotPicture({ ...logo, size: 200_001 }, HOUSE_LOGO)[0]!.details).to.deep.equal({
      megapixels: 1,
      kilobytes: 200,
    })
  })
})
