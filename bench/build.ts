import { HyperFormula } from 'hyperformula'
import { costBuild } from '#core/build/costBuild.ts'
import { costCurve } from '#core/build/curve.ts'
import type { BuildFacts, BuildItem } from '#core/build/facts.ts'
import type { BuildOffer } from '#core/build/offers.ts'
import type { PartLine } from '#core/build/partsList.ts'
import { prepareBuild, type ReadyBuild } from '#core/build/prepareBuild.ts'
import { firstSettings } from '#core/build/settings.ts'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { type Figure, figure, WARM } from '#bench/figures.ts'
import { dice } from '#bench/suppliers.ts'

const PARTS = 1000
const OFFERS = 50
const FROMS = [1, 50, 200, 1000]
const NOK = '0.0863'
const WASTAGE = '3'
/** Builds that the slider stands at, one after the other. */
const STOPS = [40, 77, 112, 141, 96, 58, 133, 84]
const CURVE = 2000
const FRAME = 16

const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!

interface Invented {
  readonly facts: BuildFacts
  readonly ready: ReadyBuild
}

/** A build of a thousand parts with fifty offers each: tiers, minimums, multiples, fees, two currencies. */
function inventedBuild(parts: number): Invented {
  const roll = dice(7)
  const items: BuildItem[] = []
  const lines: PartLine[] = []
  const offers: BuildOffer[] = []
  for (let part = 0; part < parts; part++) {
    const id = `i${part}`
    items.push({
      id,
      number: id,
      name: `Part ${part}`,
      unit: 'C62',
      category: '',
      packs: [],
      discontinued: false,
      replacedBy: null,
    })
    lines.push({
      parent: null,
      number: id,
      maker: '',
      makerNumber: '',
      gtin: '',
      description: '',
      quantity: String(1 + roll(12)),
      unit: 'C62',
      places: '',
      remarks: '',
      itemId: id,
    })
    const level = 50 + roll(5000)
    for (let place = 0; place < OFFERS; place++)
      offers.push(inventedOffer(`${id}-${place}`, id, place, level * (0.8 + roll(60) / 100), roll))
  }
  const facts = {
    lines,
    items,
    offers,
    suppliers: [],
    rates: { EUR: '1', NOK },
    pricedOn: '2026-12-01',
    calendar: PLAIN_CALENDAR,
  }
  const settings = { ...firstSettings('EUR'), wastage: { percent: WASTAGE, pieces: '0' } }
  return { facts, ready: prepareBuild(facts, settings, {}) }
}

const inventedOffer = (
  id: string,
  itemId: string,
  place: number,
  cents: number,
  roll: (sides: number) => number,
): BuildOffer => ({
  id,
  itemId,
  supplierId: `s${place}`,
  unit: 'C62',
  holds: '1',
  currency: place % 3 === 0 ? 'NOK' : 'EUR',
  priceBase: place % 5 === 0 ? '100' : '1',
  minimum: String(1 + roll(50)),
  multiple: String([1, 1, 5, 10, 25][roll(5)]),
  leadTimeDays: roll(40),
  validFrom: '2026-01-01',
  validTo: null,
  tiers: FROMS.map((from, tier) => ({
    from: String(from),
    price: ((cents / 100) * (place % 3 === 0 ? 12 : 1) * (place % 5 === 0 ? 100 : 1) * (1 - tier * 0.05)).toFixed(4),
  })),
  fee: roll(4) === 0 ? '15' : '',
  stock: '',
  country: 'NL',
})

/** The same as a spreadsheet has it: for each offer a cell with the quantity and one with its cost, the least of each row, and their sum. */
function spreadsheet({ facts }: Invented): HyperFormula {
  const rows: (string | number)[][] = [[STOPS[0]!, `=SUM(C2:C${facts.lines.length + 1})`]]
  for (const [at, line] of facts.lines.entries()) {
    const offers = facts.offers.slice(at * OFFERS, (at + 1) * OFFERS)
    const row = at + 2
    const cells = offers.flatMap((offer, place) => sheetCells(offer, row, 3 + place * 2))
    const costs = offers.map((_one, place) => `${columnName(4 + place * 2)}${row}`)
    rows.push([line.quantity!, `=ROUNDUP($A$1*A${row}*1.03,0)`, `=MIN(${costs.join(',')})`, ...cells])
  }
  return HyperFormula.buildFromArray(rows, { licenseKey: 'gpl-v3', maxColumns: 200 })
}

function sheetCells(offer: BuildOffer, row: number, column: number): string[] {
  const rate = (offer.currency === 'NOK' ? Number(NOK) : 1) / Number(offer.priceBase)
  const prices = offer.tiers.map(tier => Number(tier.price) * rate)
  const fee = Number(offer.fee || '0') * (offer.currency === 'NOK' ? Number(NOK) : 1) || 0
  const cell = `${columnName(column)}${row}`
  const start = (tier: number): number =>
    Math.ceil(Math.max(FROMS[tier]!, Number(offer.minimum)) / Number(offer.multiple)) * Number(offer.multiple)
  const tierOf = (quantity: number): number => FROMS.reduce((last, from, tier) => (quantity >= from ? tier : last), 0)
  const above = [1, 2, 3].map(
    tier => `IF(${cell}<${FROMS[tier]},${start(tier) * prices[tierOf(start(tier))]! + fee},1E+99)`,
  )
  const price = `IF(${cell}>=1000,${prices[3]},IF(${cell}>=200,${prices[2]},IF(${cell}>=50,${prices[1]},${prices[0]})))`
  return [
    `=CEILING(MAX($B${row},${offer.minimum}),${offer.multiple})`,
    `=ROUND(MIN(${cell}*${price}+${fee},${above.join(',')}),2)`,
  ]
}

/** The name of a column from its place, from zero. columnName(27) //=> 'AB' */
const columnName = (at: number): string => {
  const letter = String.fromCharCode(65 + (at % 26))
  return at < 26 ? letter : columnName(Math.floor(at / 26) - 1) + letter
}

/** Milliseconds of one recomputation while a slider moves, against a spreadsheet package that computes the same cells anew. */
export function recomputeBuild(_world: unknown, _runs: number, small: boolean): Promise<Figure> {
  const invented = inventedBuild(small ? PARTS / 10 : PARTS)
  const sheet = spreadsheet(invented)
  const theirs: number[] = []
  for (const builds of STOPS.slice(0, small ? 3 : 5)) {
    const begun = performance.now()
    sheet.setCellContents({ sheet: 0, row: 0, col: 0 }, builds)
    theirs.push(performance.now() - begun)
    const total = sheet.getCellValue({ sheet: 0, row: 0, col: 1 })
    const own = Number(costBuild(invented.ready, builds).total) / 100
    if (Math.abs(Number(total) - own) > 0.01 * PARTS)
      throw new Error(`The spreadsheet says ${String(total)}, we say ${own}.`)
  }
  sheet.destroy()
  const ours: number[] = []
  for (let round = 0; round < WARM / 4 + 4; round++)
    for (const builds of STOPS) {
      const begun = performance.now()
      costBuild(invented.ready, builds)
      if (round >= WARM / 4) ours.push(performance.now() - begun)
    }
  const one = figure('build.recompute-1000x50', middle(ours), middle(theirs), 0.02)
  return Promise.resolve({
    ...one,
    ok: one.ok && middle(ours) <= FRAME,
    note: `one frame is ${FRAME} ms; baseline: HyperFormula, the same cells`,
  })
}

/** Milliseconds of the curve from one build to two thousand, against computing each of some points alone. */
export function buildCurve(_world: unknown, _runs: number, small: boolean): Promise<Figure> {
  const { ready } = inventedBuild(small ? PARTS / 10 : PARTS)
  costCurve(ready, CURVE / 10)
  const begun = performance.now()
  const { totals } = costCurve(ready, CURVE)
  const ours = performance.now() - begun
  const points = Array.from({ length: 40 }, (_one, at) => 1 + at * 50)
  const from = performance.now()
  for (const point of points)
    if (BigInt(totals[point - 1]!) !== costBuild(ready, point).total) throw new Error(`The curve differs at ${point}.`)
  const baseline = ((performance.now() - from) / points.length) * CURVE
  const one = figure('build.curve-2000', ours, baseline, 0.5)
  return Promise.resolve({
    ...one,
    ok: one.ok && ours <= 2000,
    note: 'two seconds are the limit; baseline: every point alone',
  })
}
