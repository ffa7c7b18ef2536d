import { expect } from 'chai'
import { likeness, pictureFeatures, type Pixels } from '#core/request/pictures.ts'

const SIZE = 96
type Colour = readonly [number, number, number]
type Inside = (x: number, y: number) => boolean

/** A drawn thing on white; `turn` in degrees. */
function drawn(inside: Inside, colour: Colour, turn = 0): Pixels {
  const data = new Uint8ClampedArray(SIZE * SIZE * 4).fill(255)
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) {
      const [dx, dy] = [x - SIZE / 2, y - SIZE / 2]
      if (inside((dx * cos + dy * sin) / 40, (dy * cos - dx * sin) / 40)) data.set(colour, (y * SIZE + x) * 4)
    }
  return { width: SIZE, height: SIZE, data }
}

function blurred({ data }: Pixels, radius: number): Pixels {
  const out = new Uint8ClampedArray(data.length).fill(255)
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++)
      for (let channel = 0; channel < 3; channel++) {
        let [sum, count] = [0, 0]
        for (let dy = -radius; dy <= radius; dy++)
          for (let dx = -radius; dx <= radius; dx++) {
            const [xx, yy] = [x + dx, y + dy]
            if (xx < 0 || yy < 0 || xx >= SIZE || yy >= SIZE) continue
            sum += data[(yy * SIZE + xx) * 4 + channel]!
            count++
          }
        out[(y * SIZE + x) * 4 + channel] = sum / count
      }
  return { width: SIZE, height: SIZE, data: out }
}

const BLUE: Colour = [30, 90, 160]
const RED: Colour = [190, 60, 40]
const shapes: Record<string, Inside> = {
  bar: (x, y) => Math.abs(x) < 0.95 && Math.abs(y) < 0.18,
  disc: (x, y) => Math.hypot(x, y) < 0.7,
  ring: (x, y) => Math.hypot(x, y) < 0.85 && Math.hypot(x, y) > 0.5,
  square: (x, y) => Math.abs(x) < 0.6 && Math.abs(y) < 0.6,
  cross: (x, y) => (Math.abs(x) < 0.2 && Math.abs(y) < 0.85) || (Math.abs(y) < 0.2 && Math.abs(x) < 0.85),
  hook: (x, y) => (Math.abs(x + 0.5) < 0.18 && Math.abs(y) < 0.8) || (Math.abs(y - 0.65) < 0.18 && x > -0.6 && x < 0.7),
  wedge: (x, y) => y > -0.7 && y < 0.7 && Math.abs(x) < (y + 0.7) * 0.5,
}
const known = Object.entries(shapes).map(([name, inside]) => ({ name, features: pictureFeatures(drawn(inside, BLUE)) }))

/** The names of the most alike first. */
const ranked = (picture: Pixels): string[] => {
  const features = pictureFeatures(picture)
  return known
    .map(one => ({ name: one.name, percent: likeness(one.features, features).percent }))
    .sort((a, b) => b.percent - a.percent)
    .map(one => one.name)
}

describe('the search by picture', () => {
  it('finds the same picture with a hundred per cent', () => {
    for (const { features } of known) expect(likeness(features, features).percent).to.equal(100)
  })

  for (const [name, inside] of Object.entries(shapes)) {
    it(`finds a ${name} that is turned`, () => {
      for (const turn of [30, 90, 137]) expect(ranked(drawn(inside, BLUE, turn))[0], `${turn}`).to.equal(name)
    })
    it(`finds a ${name} in other colours`, () => expect(ranked(drawn(inside, RED))[0]).to.equal(name))
    it(`finds a ${name} that is out of focus`, () => expect(ranked(blurred(drawn(inside, BLUE), 2))[0]).to.equal(name))
  }

  it('says what is alike: the same shape in another colour has another colour and the same shape', () => {
    const [blue, red] = [pictureFeatures(drawn(shapes.cross!, BLUE)), pictureFeatures(drawn(shapes.cross!, RED))]
    const { shape, colour } = likeness(blue, red)
    expect(shape).to.equal(100)
    expect(colour).to.be.below(20)
  })

  it('takes an empty picture and a full one without failing', () => {
    const empty = drawn(() => false, BLUE)
    const full = drawn(() => true, BLUE)
    for (const picture of [empty, full]) {
      const { percent } = likeness(pictureFeatures(picture), known[0]!.features)
      expect(percent).to.be.within(0, 100)
    }
    expect(pictureFeatures({ width: 1, height: 1, data: [0, 0, 0, 0] }).rings).to.have.length(12)
  })
})
