/** Pixels as a canvas gives them: red, green, blue and opacity, row by row. */
export interface Pixels {
  readonly width: number
  readonly height: number
  readonly data: ArrayLike<number>
}

/**
 * What is remembered of a picture, in three parts that are compared by themselves. Shape and texture know nothing of colour or of how the
 * picture is turned; all lists add up to one, but for the moments.
 */
export interface PictureFeatures {
  /** How far the thing reaches from its centre, by rank of distance: rings of equal width with the share of the thing in each. */
  readonly rings: readonly number[]
  /** Logarithms of the seven invariant moments (Hu, Visual pattern recognition by moment invariants, 1962). */
  readonly moments: readonly number[]
  /** How uneven each ring is, seen all round: strengths of the first eight angular frequencies of the outline. */
  readonly outline: readonly number[]
  /** Shares of edge strengths inside the thing. */
  readonly texture: readonly number[]
  /** Shares of hues (twelve, and grey in four steps). */
  readonly colour: readonly number[]
}

const RINGS = 12
const RAYS = 72
const FREQUENCIES = 8
const EDGE_STEPS = 6
const HUES = 12
const GREYS = 4

/** The thing in a picture: what differs from the ground, which is taken from the border of the picture. */
function thingIn(pixels: Pixels): { inside: Uint8Array; count: number } {
  const { width, height, data } = pixels
  const border: number[][] = []
  for (let x = 0; x < width; x++) border.push(rgb(data, x), rgb(data, (height - 1) * width + x))
  for (let y = 0; y < height; y++) border.push(rgb(data, y * width), rgb(data, y * width + width - 1))
  const ground = [0, 1, 2].map(channel => middle(border.map(colour => colour[channel]!)))
  const inside = new Uint8Array(width * height)
  let count = 0
  for (let index = 0; index < width * height; index++) {
    const colour = rgb(data, index)
    const distance = Math.max(...[0, 1, 2].map(channel => Math.abs(colour[channel]! - ground[channel]!)))
    if (distance > 30) {
      inside[index] = 1
      count++
    }
  }
  return count < width * height * 0.004 ? { inside: inside.fill(1), count: width * height } : { inside, count }
}

/** Over white, as pictures with holes are shown. */
function rgb(data: ArrayLike<number>, index: number): number[] {
  const opacity = data[index * 4 + 3]! / 255
  return [0, 1, 2].map(channel => data[index * 4 + channel]! * opacity + 255 * (1 - opacity))
}
const middle = (numbers: number[]): number => numbers.sort((a, b) => a - b)[Math.floor(numbers.length / 2)] ?? 255
const shares = (counts: readonly number[]): number[] => {
  const sum = counts.reduce((total, count) => total + count, 0)
  return sum === 0 ? counts.map(() => 0) : counts.map(count => count / sum)
}

/** Computes what is remembered of a picture. Cost is linear in its pixels; pictures are best shrunk to about 96 pixels a side before. */
export function pictureFeatures(pixels: Pixels): PictureFeatures {
  const { width, height, data } = pixels
  const { inside, count } = thingIn(pixels)
  const centre = { x: 0, y: 0 }
  for (let index = 0; index < inside.length; index++)
    if (inside[index]) {
      centre.x += (index % width) / count
      centre.y += Math.floor(index / width) / count
    }
  const reach = new Float64Array(RAYS)
  const distances: number[] = []
  const colour = new Array<number>(HUES + GREYS).fill(0)
  const edges: number[] = []
  for (let index = 0; index < inside.length; index++) {
    if (!inside[index]) continue
    const [x, y] = [index % width, Math.floor(index / width)]
    const [dx, dy] = [x - centre.x, y - centre.y]
    const distance = Math.hypot(dx, dy)
    distances.push(distance)
    const ray = Math.floor(((Math.atan2(dy, dx) + Math.PI) / (2 * Math.PI)) * RAYS) % RAYS
    reach[ray] = Math.max(reach[ray]!, distance)
    const bin = hueBin(rgb(data, index))
    colour[bin] = colour[bin]! + 1
    if (x > 0 && y > 0 && x < width - 1 && y < height - 1) edges.push(edgeAt(data, index, width))
  }
  const furthest = distances.reduce((most, distance) => Math.max(most, distance), 1)
  const rings = new Array<number>(RINGS).fill(0)
  for (const distance of distances) {
    const ring = Math.min(RINGS - 1, Math.floor((distance / furthest) * RINGS))
    rings[ring] = rings[ring]! + 1
  }
  const steps = new Array<number>(EDGE_STEPS).fill(0)
  for (const edge of edges) {
    const step = Math.min(EDGE_STEPS - 1, Math.floor(Math.sqrt(edge / 255) * EDGE_STEPS))
    steps[step] = steps[step]! + 1
  }
  return {
    rings: shares(rings),
    moments: huMoments(inside, width, height, centre, count),
    outline: frequencies(reach, furthest),
    texture: shares(steps),
    colour: shares(colour),
  }
}

function hueBin([red = 0, green = 0, blue = 0]: number[]): number {
  const [high, low] = [Math.max(red, green, blue), Math.min(red, green, blue)]
  if (high - low < 24) return HUES + Math.min(GREYS - 1, Math.floor((high / 256) * GREYS))
  const sector =
    high === red
      ? ((green - blue) / (high - low) + 6) % 6
      : high === green
        ? (blue - red) / (high - low) + 2
        : (red - green) / (high - low) + 4
  return Math.floor((sector / 6) * HUES) % HUES
}

/** Strength of the change of brightness (Sobel's two masks), 0 to 255. */
function edgeAt(data: ArrayLike<number>, index: number, width: number): number {
  const light = (offset: number): number => {
    const [red = 0, green = 0, blue = 0] = rgb(data, index + offset)
    return 0.3 * red + 0.59 * green + 0.11 * blue
  }
  const across =
    light(1 - width) + 2 * light(1) + light(1 + width) - light(-1 - width) - 2 * light(-1) - light(width - 1)
  const down =
    light(width - 1) + 2 * light(width) + light(width + 1) - light(-width - 1) - 2 * light(-width) - light(1 - width)
  return Math.min(255, Math.hypot(across, down) / 4)
}

/** Strengths of the outline's angular frequencies: turning the thing moves only their phases. */
function frequencies(reach: Float64Array, furthest: number): number[] {
  return Array.from({ length: FREQUENCIES }, (_, index) => {
    let [real, imaginary] = [0, 0]
    for (let ray = 0; ray < RAYS; ray++) {
      const angle = (2 * Math.PI * (index + 1) * ray) / RAYS
      real += (reach[ray]! / furthest) * Math.cos(angle)
      imaginary += (reach[ray]! / furthest) * Math.sin(angle)
    }
    return (2 * Math.hypot(real, imaginary)) / RAYS
  })
}

function huMoments(
  inside: Uint8Array,
  width: number,
  height: number,
  centre: { x: number; y: number },
  count: number,
): number[] {
  const moment = (p: number, q: number): number => {
    let sum = 0
    for (let index = 0; index < inside.length; index++)
      if (inside[index]) sum += ((index % width) - centre.x) ** p * (Math.floor(index / width) - centre.y) ** q
    return sum / count ** (1 + (p + q) / 2)
  }
  const [n20, n02, n11, n30, n03, n21, n12] = [
    moment(2, 0),
    moment(0, 2),
    moment(1, 1),
    moment(3, 0),
    moment(0, 3),
    moment(2, 1),
    moment(1, 2),
  ]
  const [a, b, c, d] = [n30 + n12, n21 + n03, n30 - 3 * n12, 3 * n21 - n03]
  const invariants = [
    n20 + n02,
    (n20 - n02) ** 2 + 4 * n11 ** 2,
    c ** 2 + d ** 2,
    a ** 2 + b ** 2,
    c * a * (a ** 2 - 3 * b ** 2) + d * b * (3 * a ** 2 - b ** 2),
    (n20 - n02) * (a ** 2 - b ** 2) + 4 * n11 * a * b,
    d * a * (a ** 2 - 3 * b ** 2) - c * b * (3 * a ** 2 - b ** 2),
  ]
  return invariants.map((value, index) => Math.log10(Math.abs(value) + 1e-7 ** (index < 2 ? 1 : 1.4)))
}

const overlap = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((sum, value, index) => sum + Math.min(value, b[index] ?? 0), 0)
const near = (a: readonly number[], b: readonly number[], scale: number): number =>
  Math.exp(-Math.sqrt(a.reduce((sum, value, index) => sum + (value - (b[index] ?? 0)) ** 2, 0) / a.length) / scale)

/** Shape counts most: a copy in other colours, turned or out of focus keeps it. */
const WEIGHTS = { rings: 0.28, outline: 0.27, moments: 0.2, texture: 0.1, colour: 0.15 } as const

/** How alike two pictures are, 0 to 100 per cent, with what each part says. likeness(a, a).percent //=> 100 */
export function likeness(
  a: PictureFeatures,
  b: PictureFeatures,
): { percent: number; shape: number; texture: number; colour: number } {
  const [rings, outline, moments] = [
    overlap(a.rings, b.rings),
    near(a.outline, b.outline, 0.06),
    near(a.moments.slice(0, 4), b.moments.slice(0, 4), 0.9),
  ]
  const [texture, colour] = [overlap(a.texture, b.texture), overlap(a.colour, b.colour)]
  const whole =
    WEIGHTS.rings * rings +
    WEIGHTS.outline * outline +
    WEIGHTS.moments * moments +
    WEIGHTS.texture * texture +
    WEIGHTS.colour * colour
  const percent = (part: number): number => Math.round(Math.max(0, Math.min(1, part)) * 100)
  return {
    percent: percent(whole),
    shape: percent((WEIGHTS.rings * rings + WEIGHTS.outline * outline + WEIGHTS.moments * moments) / 0.75),
    texture: percent(texture),
    colour: percent(colour),
  }
}
