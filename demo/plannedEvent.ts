import { randomUUID } from 'node:crypto'
import { NO_TERMS } from '#core/award/eventFacts.ts'
import { changeAwardPlan, readAwardPlan } from '#server/award/planActs.ts'
import { runLongJob } from '#server/jobs/longJobs.ts'
import { answer, heldAsked, say, seen } from '#server/source/askedActs.ts'
import { readAsked } from '#server/source/askedSheet.ts'
import { watchEvents } from '#server/source/watchEvents.ts'
import { ask, DAY, later, sendIt } from '#demo/events.ts'
import type { Team } from '#demo/runThread.ts'

/** What goes into two skids, with what a unit is thought to cost. */
const LINES: readonly (readonly [what: string, quantity: string, unit: string, reference: string])[] = [
  ['Circulation pump 12 m³/h, bronze', '24', 'C62', '2080'],
  ['Circulation pump 24 m³/h, bronze', '10', 'C62', '3390'],
  ['Metering pump 2 l/h', '16', 'C62', '612'],
  ['Booster pump 6 bar', '8', 'C62', '1240'],
  ['UV steriliser 80 W', '16', 'C62', '1118'],
  ['Heat exchanger, titanium, 40 kW', '8', 'C62', '3378'],
  ['Protein skimmer 20 m³/h', '8', 'C62', '4120'],
  ['Sand filter 24 m³/h', '8', 'C62', '2860'],
  ['Ball valve PVC-U 50 mm', '240', 'C62', '34.1'],
  ['Ball valve PVC-U 75 mm', '120', 'C62', '58.4'],
  ['Butterfly valve DN 100', '64', 'C62', '117'],
  ['Non-return valve DN 80', '48', 'C62', '84.5'],
  ['Pipe PVC-U 32 mm', '1800', 'MTR', '3.92'],
  ['Pipe PVC-U 75 mm', '900', 'MTR', '8.6'],
  ['Pipe PVC-U 110 mm', '420', 'MTR', '13.9'],
  ['Elbow 75 mm', '520', 'C62', '6.1'],
  ['Tee 75 mm', '260', 'C62', '8.8'],
  ['Union 50 mm', '320', 'C62', '9.2'],
  ['Dosing unit with two tanks', '16', 'C62', '846'],
  ['pH probe with cable', '32', 'C62', '146'],
  ['Flow meter DN 80', '24', 'C62', '498'],
  ['Pressure sensor 0–6 bar', '40', 'C62', '128'],
  ['Control cabinet, wired', '8', 'C62', '5240'],
  ['Frame, stainless steel', '8', 'C62', '3960'],
]
/** Who answers, how dear, what it charges for the freight of all of it, from which line on it is at its best. */
const ANSWERING: readonly (readonly [key: string, level: number, freight: number, strong: number, days: number])[] = [
  ['nordhavn', 1.0, 2800, 0, 28],
  ['seefelder', 1.03, 1900, 1, 21],
  ['aquanera', 0.98, 4400, 4, 42],
  ['orrin', 1.0, 2600, 8, 18],
  ['tern', 1.02, 1900, 12, 14],
  ['coldline', 1.01, 2300, 5, 35],
  ['toshima', 0.97, 5700, 18, 56],
  ['merilaite', 1.04, 2200, 19, 25],
  ['peltier', 1.05, 1700, 22, 30],
]
/** About what a euro is in the currencies of suppliers. */
const IN_CURRENCY: Readonly<Record<string, number>> = { EUR: 1, GBP: 0.86, NOK: 11.6, CHF: 0.95, USD: 1.09, JPY: 163 }
const SPREAD = 19
const STRONG_WIDTH = 5

/** How dear a line is at a supplier: near its field cheaper, elsewhere dearer, never the same twice. */
function dearness(line: number, supplier: number, level: number, strong: number): number {
  const away = Math.abs(line - strong)
  const field = away < STRONG_WIDTH ? -0.05 + away * 0.012 : 0.03
  return level * (1 + field + (((line * 7 + supplier * 11) % SPREAD) - SPREAD / 2) / 160)
}

/** Asked of nine, compared, planned: by hand it would be visibly dearer, because freight and rebates count for the whole. */
export async function plannedOne(team: Team, kinds: ReadonlyMap<string, string>): Promise<void> {
  const id = await ask(team, kinds, {
    kind: 'Quote request',
    title: 'Life-support skids three and four',
    category: 'Pumps',
    message: 'Prices by line; freight for all that you offer.',
    lines: LINES,
    suppliers: ANSWERING.map(([key]) => key),
    madeAgo: 24,
    endsIn: -3,
  })
  await sendIt(team, id, later(team.now, -22 * DAY))
  for (const [at, [supplier, level, freight, strong, days]] of ANSWERING.entries()) {
    const moment = later(team.now, (-14 + at) * DAY)
    const key = `at ${supplier}`
    await team.as(key, moment, call => seen(call, id))
    await team.as(key, later(moment, 60_000), async call =>
      say(call, await heldAsked(call, id), { say: 'accept', reason: '' }),
    )
    await team.as(key, later(moment, 3_600_000), async call => {
      const asked = await readAsked(call, id)
      const inCurrency = IN_CURRENCY[asked.currency] ?? 1
      const digits = asked.currency === 'JPY' ? 0 : 2
      const lines = asked.answer.lines.map((line, index) => ({
        ...line,
        // each leaves out some of what is far from its field, and makes only so many of what is near
        declined: Math.abs(index - strong) > 12 && (index + at) % 3 === 0,
        price: (Number(LINES[index]![3]) * dearness(index, at, level, strong) * inCurrency).toFixed(digits),
        quantity:
          (index + at) % 7 === 0 && Math.abs(index - strong) < STRONG_WIDTH
            ? String(Math.ceil(Number(LINES[index]![1]) * 0.6))
            : '',
        leadDays: days + (index % 4) * 3,
      }))
      const lump = { [asked.lots[0]!.id]: { freight: String(Math.round(freight * inCurrency)) } }
      await answer(call, await heldAsked(call, id), {
        answer: { ...asked.answer, lines, lump, paymentDays: 30 },
        submit: true,
      })
    })
  }
  await watchEvents(team.parts)
  await team.as('rasmus', later(team.now, -DAY), async call => {
    const { lines } = await readAwardPlan(call, id)
    const supplier = (key: string): string => team.suppliers.get(key)!
    const wish = { must: true, worth: '', worthIn: 'amount' as const }
    const lineIds = (from: number, to: number): string[] => lines.slice(from, to).map(one => one.id)
    await changeAwardPlan(call, id, {
      version: 0,
      terms: {
        ...NO_TERMS,
        bids: {},
        bundles: [{ supplierId: supplier('seefelder'), lineIds: lineIds(0, 4), percent: '2.5' }],
        quantities: {},
        suppliers: {
          [supplier('orrin')]: {
            charge: '',
            rebates: [
              { from: '100000', percent: '2.5' },
              { from: '160000', percent: '6' },
            ],
            rebateOn: 'everything',
          },
          [supplier('nordhavn')]: {
            charge: '1500',
            rebates: [
              { from: '120000', percent: '3' },
              { from: '170000', percent: '5' },
            ],
            rebateOn: 'everything',
          },
          [supplier('aquanera')]: { charge: '', rebates: [{ from: '60000', percent: '7' }], rebateOn: 'above' },
        },
      },
      wishes: [
        { ...wish, id: randomUUID(), what: { kind: 'mostSuppliers', count: 4 } },
        {
          ...wish,
          id: randomUUID(),
          what: {
            kind: 'share',
            whom: { kind: 'suppliers', supplierIds: [supplier('nordhavn')] },
            in: 'percent',
            least: '',
            most: '60',
          },
        },
        { ...wish, id: randomUUID(), what: { kind: 'deliveredWithin', days: 45 } },
        {
          ...wish,
          id: randomUUID(),
          must: false,
          worth: '3000',
          what: { kind: 'oneSupplier', lineIds: lineIds(0, 4) },
        },
        {
          ...wish,
          id: randomUUID(),
          must: false,
          worth: '1',
          worthIn: 'percent',
          what: { kind: 'shareLine', lineIds: lineIds(8, 12), most: '70' },
        },
      ],
    })
  })
  const [run] = await team.parts.db('awardPlanRuns').where({ eventId: id })
  await runLongJob(team.parts, run!.jobId)
}
