import { randomUUID } from 'node:crypto'
import type { AgreementContent, AgreementLine } from '#core/agreements/content.ts'
import { addDays } from '#core/calendar/days.ts'
import { Decimal } from '#core/money/decimal.ts'
import { actOnAgreement, firstContent, insertAgreement } from '#server/agreements/agreementActs.ts'
import { saveIndex } from '#server/agreements/indexActs.ts'
import { moment } from '#demo/load.ts'
import type { Team } from '#demo/runThread.ts'
import type { DemoThread } from '#demo/threads.ts'
import type { OfferRow } from '#server/request/offerStore.ts'

/** What the list asks above the price of the agreement, as a share of it. */
const LIST = '1.09'
type Wanted = Omit<AgreementContent, 'currency' | 'startsOn' | 'lines' | 'ceilings'> & {
  readonly supplier: string
  readonly lines: readonly AgreementLine[]
  readonly ceilings: (lines: readonly AgreementLine[]) => AgreementContent['ceilings']
}

/** A line of an agreement out of the supplier's own offer of an item. */
async function lineOf(team: Team, number: string, supplier: string): Promise<AgreementLine> {
  const offer = (await team.parts
    .db('offers')
    .join('items', 'items.id', 'offers.itemId')
    .where('items.number', number)
    .where('offers.supplierId', team.suppliers.get(supplier)!)
    .where('offers.agreement', '')
    .first<(OfferRow & { name: string; category: string }) | undefined>('offers.*', 'items.name', 'items.category'))!
  return {
    id: randomUUID(),
    itemId: offer.itemId,
    description: offer.name,
    category: offer.category,
    unit: offer.unit,
    currency: offer.currency,
    pricing: { kind: 'tiers', tiers: offer.tiers },
    priceBase: offer.priceBase,
    listPrice: new Decimal(offer.tiers[0]!.price).times(LIST).toDecimalPlaces(2).toString(),
    minimum: offer.minimum,
    multiple: offer.multiple,
    leadTimeDays: offer.leadTimeDays,
    incoterm: '',
    incotermPlace: '',
  }
}

const whole = (amount: string): AgreementContent['ceilings'][number] => ({ scope: 'whole', category: '', lineId: null, amount, quantity: '' }) // prettier-ignore
const ofLine = (line: AgreementLine, quantity: string): AgreementContent['ceilings'][number] => ({ scope: 'line', category: '', lineId: line.id, amount: '', quantity }) // prettier-ignore

/** The four agreements of the house, in force since `begun`: salt by the tonne, krill by season, divers by the hour, valves that are nearly all called off. */
export async function addAgreements(team: Team, begun: string): Promise<void> {
  const { today } = team
  const at = moment(begun, 9, team.now)
  const terms = { warnPercent: 80, whenOver: 'stop' as const, callers: { costCentres: [], addressIds: [], personIds: [] }, serviceLevel: '', terms: '' } // prettier-ignore
  const salt = await Promise.all(['SW-1200', 'SW-1220'].map(number => lineOf(team, number, 'salines')))
  const krill = await lineOf(team, 'FK-1200', 'krill')
  const herring = await lineOf(team, 'FK-1220', 'krill')
  const valve = await lineOf(team, 'BV-1200', 'orrin')
  const pipe = await lineOf(team, 'PP-1240', 'orrin')
  const spring = `${begun.slice(0, 4)}-03-01`
  const season = (line: AgreementLine): AgreementLine => {
    const tiers = line.pricing.kind === 'tiers' ? line.pricing.tiers : []
    const dearer = tiers.map(tier => ({ ...tier, price: new Decimal(tier.price).times('1.06').toDecimalPlaces(2).toString() })) // prettier-ignore
    const from = [begun, spring, `${begun.slice(0, 4)}-10-01`, addDays(`${begun.slice(0, 4)}-03-01`, 365), addDays(`${begun.slice(0, 4)}-10-01`, 365)].filter(day => day >= begun && day <= addDays(today, 190)).sort() // prettier-ignore
    const winter = (day: string): boolean => ['10', '11', '12', '01', '02'].includes(day.slice(5, 7))
    return { ...line, pricing: { kind: 'periods', periods: [...new Set(from)].map(day => ({ from: day, tiers: winter(day) ? dearer : tiers })) } } // prettier-ignore
  }
  await team.as('rasmus', at, call =>
    saveIndex(call, 'PVC-NWE', {
      name: 'Suspension PVC, north-west Europe',
      source: 'Monthly, by the trade paper',
      values: [0, 31, 62].map((days, index) => ({ month: `${addDays(begun, days).slice(0, 8)}01`, value: ['100', '101.5', '103.2'][index]! })), // prettier-ignore
    }),
  )
  const diver: AgreementLine = { id: randomUUID(), itemId: null, description: 'Diver-hours, inspection', category: 'Diving & rope access', unit: 'HUR', currency: 'EUR', pricing: { kind: 'tiers', tiers: [{ from: '0', price: '96' }] }, priceBase: '1', listPrice: '108', minimum: '1', multiple: '0', leadTimeDays: 5, incoterm: '', incotermPlace: '' } // prettier-ignore
  const indexed: AgreementLine = { ...pipe, pricing: { kind: 'index', index: 'PVC-NWE', basePrice: pipe.pricing.kind === 'tiers' ? pipe.pricing.tiers[0]!.price : '4', fixedShare: '0.4', baseValue: '100', lowest: '', highest: '' } } // prettier-ignore
  const wanted: readonly Wanted[] = [
    { ...terms, supplier: 'salines', title: 'Sea salt in bags and by the pallet', endsOn: addDays(today, 71), incoterm: 'DAP', incotermPlace: 'Saltmere', serviceLevel: 'Delivered within six working days, 98 % on time. A tipper is announced a day before.', lines: salt, ceilings: lines => [whole('36000'), ofLine(lines[0]!, '1600')] }, // prettier-ignore
    { ...terms, supplier: 'krill', title: 'Frozen krill and herring, by season', endsOn: addDays(today, 190), incoterm: 'CPT', incotermPlace: 'Saltmere', lines: [season(krill), season(herring)], ceilings: () => [whole('150000')] }, // prettier-ignore
    { ...terms, supplier: 'brightwater', title: 'Diving inspections by the hour', endsOn: addDays(today, 118), incoterm: '', incotermPlace: '', whenOver: 'check', serviceLevel: 'Two divers on site within five working days; within one day when animals are at risk.', lines: [diver], ceilings: lines => [whole('11500'), ofLine(lines[0]!, '120')] }, // prettier-ignore
    { ...terms, supplier: 'orrin', title: 'Ball valves and pipe for the skids', endsOn: addDays(today, 40), incoterm: 'DAP', incotermPlace: 'Saltmere', lines: [valve, indexed], ceilings: lines => [ofLine(lines[0]!, '60'), ofLine(lines[1]!, '100')] }, // prettier-ignore
  ]
  for (const { supplier, lines, ceilings, ...rest } of wanted) {
    const supplierId = team.suppliers.get(supplier)!
    const content = {
      ...firstContent(rest.title, lines[0]!.currency, begun),
      ...rest,
      lines,
      ceilings: ceilings(lines),
    }
    const { id, version } = await team.as('rasmus', at, call => insertAgreement(call, supplierId, content))
    await team.as('rasmus', at, call =>
      actOnAgreement(call, id, { version, act: 'putForward', reason: 'The house buys this all year.' }),
    )
  }
}

const VALVES = { who: 'joren', place: 'ropeworks', on: [['LS-210', '6210', null]], callOff: true } as const
const DIVES = { who: 'joren', place: 'quay', on: [['EX-310', '6310', null]], callOff: true } as const
/** What was called off besides: of the valves all there was, in orders in every state; of the divers nearly all. `always`: without the history, too. */
export const AGREED_THREADS: readonly (DemoThread & { readonly always?: true })[] = [
  { ...VALVES, title: 'Valves and pipe for the first skids', lines: [{ item: 'BV-1200', quantity: '20' }, { item: 'PP-1240', quantity: '100' }], end: 'sealed', ago: 70 }, // prettier-ignore
  { ...VALVES, title: 'Valves for skid 3', lines: [{ item: 'BV-1200', quantity: '12' }], end: 'posted', ago: 48 },
  { ...VALVES, title: 'Valves for skid 4', lines: [{ item: 'BV-1200', quantity: '10' }], end: 'received', ago: 30 },
  { ...VALVES, title: 'Valves for skid 5', lines: [{ item: 'BV-1200', quantity: '10' }], end: 'confirmed', ago: 12 },
  { ...VALVES, title: 'Valves for skid 6', lines: [{ item: 'BV-1200', quantity: '8' }], end: 'draftOrder', ago: 5 },
  { ...DIVES, title: 'Ray tank: liner and seams', lines: [{ hours: '50', of: 'Diver-hours, inspection' }], end: 'posted', ago: 60, always: true }, // prettier-ignore
  { ...DIVES, title: 'Intake screens before winter', lines: [{ hours: '50', of: 'Diver-hours, inspection' }], end: 'confirmed', ago: 14 }, // prettier-ignore
]
