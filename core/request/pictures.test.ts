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

describe('what is remembered of a picture', () => {
  const WIDE = 60
  /** A thing of whole pixels on a ground of one colour. */
  function painted(thing: Inside, colour: Colour, ground: Colour = [255, 255, 255]): Pixels {
    const data = new Uint8ClampedArray(WIDE * WIDE * 4).fill(255)
    for (let y = 0; y < WIDE; y++)
      for (let x = 0; x < WIDE; x++) data.set(thing(x, y) ? colour : ground, (y * WIDE + x) * 4)
    return { width: WIDE, height: WIDE, data }
  }
  const box =
    (width: number, height: number): Inside =>
    (x, y) =>
      x >= 15 && x < 15 + width && y >= 15 && y < 15 + height
  const share = (counts: readonly number[], at: number): number => counts[at]!
  const BLACK: Colour = [0, 0, 0]

  it('hues go round in twelve steps from red, what has no hue in four steps of grey', () => {
    const bins: readonly [Colour, number][] = [
      [[255, 0, 0], 0],
      [[255, 255, 0], 2],
      [[0, 255, 0], 4],
      [[0, 255, 255], 6],
      [[0, 0, 255], 8],
      [[255, 0, 255], 10],
      [[0, 0, 0], 12],
      [[100, 100, 100], 13],
      [[150, 150, 150], 14],
      [[123, 100, 100], 13],
      [[124, 100, 100], 0],
      [[100, 124, 100], 4],
      [[100, 100, 124], 8],
    ]
    for (const [colour, bin] of bins)
      expect(share(pictureFeatures(painted(box(20, 20), colour)).colour, bin), colour.join(' ')).to.equal(1)
  })

  it('the ground is what the border shows, in each of its three colours', () => {
    const ground: Colour = [10, 20, 200]
    expect(share(pictureFeatures(painted(box(20, 20), [255, 0, 0], ground)).colour, 0)).to.equal(1)
    expect(share(pictureFeatures(painted(box(20, 20), [10, 20, 255], ground)).rings, 0)).to.be.above(0)
    const darker = pictureFeatures(painted(box(20, 20), [10, 60, 200], ground))
    expect(darker.rings).to.deep.equal(pictureFeatures(painted(box(20, 20), BLACK)).rings)
  })

  it('edges of a flat thing are as strong as can be, and its inside has none', () => {
    const { texture } = pictureFeatures(painted(box(20, 20), BLACK))
    expect(texture).to.deep.equal([(18 * 18) / 400, 0, 0, 0, 0, 76 / 400])
  })

  it('a slope of brightness has the strength of its step', () => {
    const data = painted(() => false, BLACK).data as Uint8ClampedArray
    for (let y = 0; y < WIDE; y++)
      for (let x = 20; x < 40; x++)
        data.set([200 - 8 * (x - 20), 200 - 8 * (x - 20), 200 - 8 * (x - 20)], (y * WIDE + x) * 4)
    const { texture } = pictureFeatures({ width: WIDE, height: WIDE, data })
    // 8 to each side is 16 across, a quarter of the eightfold mask: the first step of six goes to 255 / 36
    expect(share(texture, 1)).to.be.above(0.8)
  })

  it('moments are those of the figure: (n² − 1) / 6n² for a square, none of the odd ones', () => {
    const square = pictureFeatures(painted(box(20, 20), BLACK)).moments
    expect(square[0]).to.be.closeTo(Math.log10((20 ** 2 - 1) / (6 * 20 ** 2) + 1e-7), 1e-9)
    expect(square[1]).to.be.closeTo(-7, 1e-6)
    for (const index of [2, 3, 4, 5, 6]) expect(square[index]).to.be.closeTo(-9.8, 1e-6)
    const flat = pictureFeatures(painted(box(30, 10), BLACK)).moments
    const [n20, n02] = [(30 ** 2 - 1) / (12 * 300), (10 ** 2 - 1) / (12 * 300)]
    expect(flat[0]).to.be.closeTo(Math.log10(n20 + n02 + 1e-7), 1e-9)
    expect(flat[1]).to.be.closeTo(Math.log10((n20 - n02) ** 2 + 1e-7), 1e-9)
  })

  it('moments of a figure without symmetry are the seven of Hu', () => {
    const hook: Inside = (x, y) => (x >= 15 && x < 21 && y >= 12 && y < 40) || (y >= 34 && y < 40 && x >= 15 && x < 33)
    const points: [number, number][] = []
    for (let y = 0; y < WIDE; y++) for (let x = 0; x < WIDE; x++) if (hook(x, y)) points.push([x, y])
    const mean = (axis: 0 | 1): number => points.reduce((sum, point) => sum + point[axis], 0) / points.length
    const [cx, cy] = [mean(0), mean(1)]
    const eta = (p: number, q: number): number =>
      points.reduce((sum, [x, y]) => sum + (x - cx) ** p * (y - cy) ** q, 0) / points.length ** (1 + (p + q) / 2)
    const [e30, e03, e21, e12] = [eta(3, 0), eta(0, 3), eta(2, 1), eta(1, 2)]
    const wanted = [
      eta(2, 0) + eta(0, 2),
      (eta(2, 0) - eta(0, 2)) ** 2 + 4 * eta(1, 1) ** 2,
      (e30 - 3 * e12) ** 2 + (3 * e21 - e03) ** 2,
      (e30 + e12) ** 2 + (e21 + e03) ** 2,
      (e30 - 3 * e12) * (e30 + e12) * ((e30 + e12) ** 2 - 3 * (e21 + e03) ** 2) +
        (3 * e21 - e03) * (e21 + e03) * (3 * (e30 + e12) ** 2 - (e21 + e03) ** 2),
      (eta(2, 0) - eta(0, 2)) * ((e30 + e12) ** 2 - (e21 + e03) ** 2) + 4 * eta(1, 1) * (e30 + e12) * (e21 + e03),
      (3 * e21 - e03) * (e30 + e12) * ((e30 + e12) ** 2 - 3 * (e21 + e03) ** 2) -
        (e30 - 3 * e12) * (e21 + e03) * (3 * (e30 + e12) ** 2 - (e21 + e03) ** 2),
    ]
    const { moments } = pictureFeatures(painted(hook, BLACK))
    wanted.forEach((value, index) =>
      expect(moments[index], `number ${index + 1}`).to.be.closeTo(
        Math.log10(Math.abs(value) + 1e-7 ** (index < 2 ? 1 : 1.4)),
        1e-6,
      ),
    )
  })

  it('rings of a disc hold what their area holds', () => {
    const { rings } = pictureFeatures(painted((x, y) => Math.hypot(x - 30, y - 30) <= 24, BLACK))
    rings.forEach((held, index) => expect(held, `ring ${index}`).to.be.closeTo((2 * index + 1) / 144, 0.03))
    expect(rings[11]).to.be.above(0.1)
  })

  it('an outline is strongest at the number of its arms, and flat for a disc', () => {
    const strongest = (thing: Inside): number => {
      const { outline } = pictureFeatures(painted(thing, BLACK))
      return outline.indexOf(Math.max(...outline)) + 1
    }
    expect(strongest((x, y) => Math.abs(x - 30) < 26 && Math.abs(y - 30) < 4)).to.equal(2)
    expect(
      strongest(
        (x, y) => (Math.abs(x - 30) < 4 && Math.abs(y - 30) < 26) || (Math.abs(y - 30) < 4 && Math.abs(x - 30) < 26),
      ),
    ).to.equal(4)
    const disc = pictureFeatures(painted((x, y) => Math.hypot(x - 30, y - 30) <= 24, BLACK)).outline
    expect(Math.max(...disc)).to.be.below(0.05)
  })

  it('a thing of almost nothing is the whole picture', () => {
    const speck = pictureFeatures(painted((x, y) => x === 30 && y === 30, BLACK))
    expect(share(speck.colour, 15)).to.be.above(0.99)
  })
})
