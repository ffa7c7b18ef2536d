import { randomUUID } from 'node:crypto'
import { type EventKind, NEW_KIND } from '#core/source/eventKind.ts'
import { publishEventKind, saveEventKind } from '#server/source/eventKindActs.ts'
import type { Write } from '#server/call.ts'
import { placeAward } from '#server/order/awardedActs.ts'
import {
  answer,
  heldAsked,
  heldBehalf,
  recordConsent,
  say,
  seen,
  suspend,
  writeFromSupplier,
} from '#server/source/askedActs.ts'
import { readAsked, readBehalf } from '#server/source/askedSheet.ts'
import { proposeAward } from '#server/source/awardActs.ts'
import { givePoints, readComparison } from '#server/source/comparisonSheet.ts'
import { bid, removeBid } from '#server/source/dayActs.ts'
import { changeEvent, createEvent, endEvent, inviteSuppliers, send } from '#server/source/eventActs.ts'
import { readEvent } from '#server/source/eventSheet.ts'
import { watchEvents } from '#server/source/watchEvents.ts'
import type { As } from '#demo/load.ts'
import type { Team } from '#demo/runThread.ts'

const TERMS = {
  en: 'Prices are binding for thirty days and without value added tax. Whoever answers keeps what is asked to itself. We may award line by line.',
  de: 'Preise gelten dreißig Tage und ohne Mehrwertsteuer. Wer antwortet, behält die Anfrage für sich. Wir können Zeile für Zeile vergeben.',
}

/** The kinds of event of the house. */
export const KINDS: readonly { readonly name: string; readonly prefix: string; readonly settings: EventKind }[] = [
  {
    name: 'Quote request',
    prefix: 'E-',
    settings: {
      ...NEW_KIND,
      pricing: 'components',
      components: [
        { key: 'freight', name: 'Freight', basis: 'perLot', kind: 'freight' },
        { key: 'tooling', name: 'Tooling', basis: 'perLine', kind: 'other' },
      ],
      texts: [
        {
          key: 'packing',
          name: 'Packing',
          place: 'head',
          seenBy: 'both',
          writtenBy: 'us',
          carried: true,
          words: {
            en: 'Pallets no higher than 1.60 m: the quay gate is low.',
            de: 'Paletten nicht höher als 1,60 m: das Tor am Kai ist niedrig.',
          },
        },
        { key: 'ourAim', name: 'What we hope for', place: 'head', seenBy: 'us', writtenBy: 'us', carried: false, words: {} },
      ],
      terms: TERMS,
      tells: 'place',
      landed: { ...NEW_KIND.landed, insurancePercent: '0.4', insured: '1.1', interestPercent: '4' },
    },
  },
  {
    name: 'Quote request for work',
    prefix: 'W-',
    settings: {
      ...NEW_KIND,
      bought: 'work',
      sealed: true,
      alternatives: false,
      partQuantity: false,
      terms: TERMS,
      tells: 'winningPrice',
      sections: [
        {
          title: 'How you work',
          weight: '70',
          questions: [
            { key: 'method', label: 'How would you go about it?', kind: 'text', choices: [], must: '', required: true, scoredBy: 'people', points: {}, most: '10', weight: '3' },
            { key: 'team', label: 'Who would come?', kind: 'text', choices: [], must: '', required: true, scoredBy: 'people', points: {}, most: '10', weight: '2' },
          ],
        },
        {
          title: 'What you have',
          weight: '30',
          questions: [
            { key: 'insured', label: 'Is your liability insured up to 2 million?', kind: 'yesNo', choices: [], must: 'yes', required: true, scoredBy: 'nobody', points: {}, most: '1', weight: '0' },
            { key: 'near', label: 'How soon can you be at the quay?', kind: 'choice', choices: ['within a day', 'within three days', 'later'], must: '', required: true, scoredBy: 'rule', points: { 'within a day': '10', 'within three days': '6', later: '0' }, most: '10', weight: '1' },
          ],
        },
      ],
      criteria: [
        { key: 'price', weight: '60' },
        { key: 'questions', weight: '40' },
      ],
      formula: 'lowestRatio',
    },
  },
  {
    name: 'Reverse auction',
    prefix: 'A-',
    settings: {
      ...NEW_KIND,
      format: 'auction',
      alternatives: false,
      partQuantity: false,
      terms: TERMS,
      lot: {
        minutes: 60,
        step: { kind: 'amount', value: '5', against: 'own' },
        extension: { withinSeconds: 300, bySeconds: 300, from: 'end', places: 1, most: 4 },
        shows: { place: true, best: false, bidders: false },
      },
    },
  },
] // prettier-ignore

/** Puts the kinds of event to use, as the steward does; says which is which by its name. */
export async function addEventKinds(as: As, at: string): Promise<Map<string, string>> {
  const ids = new Map<string, string>()
  for (const { name, prefix, settings } of KINDS)
    await as('wren', at, async call => {
      const range = { prefix, digits: 0, next: '1001', last: '99999' }
      const saved = await saveEventKind(call, { code: randomUUID(), version: 0, name, settings: settings as never, range, outside: null }) // prettier-ignore
      await publishEventKind(call, saved.id, saved.version)
      ids.set(name, saved.id)
    })
  return ids
}

type EventBody = Awaited<ReturnType<typeof bodyOf>>
const bodyOf = async (call: Write, id: string) => (await readEvent(call, id)).body
interface DemoEvent {
  readonly kind: string
  readonly title: string
  readonly category: string
  readonly message?: string
  /** What, how many, in which unit, at which reference price. */
  readonly lines: readonly (readonly [what: string, quantity: string, unit: string, reference: string])[]
  readonly suppliers: readonly string[]
  /** Days before today on which it was made, and after today on which it ends; an auction opens instead. */
  readonly madeAgo: number
  readonly endsIn: number
  readonly minutes?: number
  readonly scorers?: readonly string[]
}
export const DAY = 86_400_000
export const later = (at: string, milliseconds: number): string => new Date(Date.parse(at) + milliseconds).toISOString()

/** Makes and sends an event, as the sourcing lead does. */
export async function ask(team: Team, kinds: ReadonlyMap<string, string>, one: DemoEvent): Promise<string> {
  const made = later(team.now, -one.madeAgo * DAY)
  const ends = later(team.now, one.endsIn * DAY)
  const { id } = await team.as('rasmus', made, call => createEvent(call, { kindId: kinds.get(one.kind)!, title: one.title, copyOf: null })) // prettier-ignore
  await team.as('rasmus', made, async call => {
    const body: EventBody = await bodyOf(call, id)
    const [lot] = body.lots
    const auction = one.minutes !== undefined
    const saved = await changeEvent(call, id, {
      ...body,
      version: 1,
      category: one.category,
      message: one.message ?? '',
      opensAt: auction ? ends : null,
      endsAt: auction ? null : ends,
      scorerIds: await scorerIds(call, one.scorers ?? []),
      lots: [{ ...lot!, title: one.title, minutes: one.minutes ?? lot!.minutes }],
      lines: one.lines.map(([description, quantity, unit, reference]) => ({
        id: randomUUID(),
        lotId: lot!.id,
        itemId: null,
        category: one.category,
        description,
        quantity,
        unit,
        needBy: null,
        addressId: null,
        incoterm: null,
        incotermPlace: '',
        reference,
        referenceFrom: reference === '' ? null : 'estimate',
        accountId: null,
        texts: {},
      })),
    })
    const supplierIds = one.suppliers.map(key => team.suppliers.get(key)!)
    if (supplierIds.length > 0) await inviteSuppliers(call, id, { version: saved.version, supplierIds })
  })
  return id
}

const scorerIds = async (call: Write, names: readonly string[]): Promise<string[]> =>
  await call
    .trx('people')
    .whereIn('name', [...names])
    .pluck<string[]>('id')

export const sendIt = async (team: Team, id: string, at: string): Promise<void> => {
  await team.as('rasmus', at, async call => {
    const { version } = await readEvent(call, id)
    await send(call, id, { version, reason: 'We need it all the same.' })
  })
}

/** What a supplier says: its prices line by line; null: not offered. */
async function answerBy(
  team: Team,
  id: string,
  supplier: string,
  at: string,
  prices: readonly (string | null)[],
  more: {
    readonly note?: string
    readonly questions?: Readonly<Record<string, string>>
    readonly freight?: string
  } = {},
): Promise<void> {
  const key = `at ${supplier}`
  await team.as(key, at, call => seen(call, id))
  await team.as(key, later(at, 60_000), async call => say(call, await heldAsked(call, id), { say: 'accept', reason: '' })) // prettier-ignore
  await team.as(key, later(at, 600_000), async call => {
    const asked = await readAsked(call, id)
    const lines = asked.answer.lines.map((line, index) => ({ ...line, declined: prices[index] === null, price: prices[index] ?? '', leadDays: 21 + index * 7 })) // prettier-ignore
    const lump = more.freight ? { [asked.lots[0]!.id]: { freight: more.freight } } : {}
    const content = {
      ...asked.answer,
      lines,
      lump,
      note: more.note ?? '',
      questions: { ...more.questions },
      paymentDays: 30,
    }
    await answer(call, await heldAsked(call, id), { answer: content, submit: true })
  })
}

/** Events in every state: a draft, open ones, one with late answers, one that is compared, one settled, one for work, a finished auction, a cancelled one. */
export async function addEvents(team: Team, kinds: ReadonlyMap<string, string>): Promise<void> {
  await settledOne(team, kinds)
  const open = await ask(team, kinds, { kind: 'Quote request', title: 'Probes for the jelly nursery', category: 'Probes & dosing', message: 'Calibration certificates with each probe, please.', lines: [['pH probe, sea water, 3 m cable', '12', 'C62', '148'], ['Redox probe, 3 m cable', '8', 'C62', '162'], ['Calibration set', '4', 'C62', '39.5']], suppliers: ['toshima', 'merilaite', 'marlowe'], madeAgo: 4, endsIn: 6 }) // prettier-ignore
  await sendIt(team, open, later(team.now, -3 * DAY))
  await answerBy(team, open, 'merilaite', later(team.now, -1.5 * DAY), ['139', '155.5', '42'], { freight: '38' })
  await team.as('at toshima', later(team.now, -1 * DAY), call => seen(call, open))
  await team.as('at toshima', later(team.now, -0.9 * DAY), call => writeFromSupplier(call, open, { text: 'Does the cable have to be armoured?', fileIds: [] })) // prettier-ignore
  const late = await ask(team, kinds, { kind: 'Quote request', title: 'Acrylic panels for the touch pools', category: 'Panels & tanks', lines: [['Panel 1 800 × 900 × 30 mm, polished edges', '4', 'C62', '2150'], ['Panel 900 × 900 × 20 mm', '6', 'C62', '640']], suppliers: ['peltier', 'wlokna'], madeAgo: 12, endsIn: -1 }) // prettier-ignore
  await sendIt(team, late, later(team.now, -11 * DAY))
  await answerBy(team, late, 'peltier', later(team.now, -4 * DAY), ['2080', '655'], { freight: '290', note: 'Edges flame-polished.' }) // prettier-ignore
  await workOne(team, kinds)
  await auctionOne(team, kinds)
  await ask(team, kinds, { kind: 'Quote request', title: 'Titanium heat exchangers, spare', category: 'Heat exchange', lines: [['Plate heat exchanger, titanium, 40 kW', '2', 'C62', '3420']], suppliers: ['coldline'], madeAgo: 1, endsIn: 12 }) // prettier-ignore
  const cancelled = await ask(team, kinds, { kind: 'Quote request', title: 'Rope by the metre', category: 'Diving & rope access', lines: [['Kernmantle rope 11 mm', '400', 'MTR', '2.4']], suppliers: ['ropeline', 'brightwater'], madeAgo: 20, endsIn: -8 }) // prettier-ignore
  await sendIt(team, cancelled, later(team.now, -19 * DAY))
  await team.as('rasmus', later(team.now, -15 * DAY), async call => endEvent(call, cancelled, { version: (await readEvent(call, cancelled)).version, how: 'cancel', reason: 'The rope comes with the inspection.' })) // prettier-ignore
  await watchEvents(team.parts)
}

/** Asked, compared, shared between two, approved where a rule asks, ordered, told to all. */
async function settledOne(team: Team, kinds: ReadonlyMap<string, string>): Promise<void> {
  const id = await ask(team, kinds, { kind: 'Quote request', title: 'Valves and pipe for the ring main', category: 'Valves & pipe', lines: [['Butterfly valve DN 100, PVC-U', '12', 'C62', '118'], ['Pipe PVC-U 110 mm', '180', 'MTR', '9.8']], suppliers: ['orrin', 'tern'], madeAgo: 40, endsIn: -28 }) // prettier-ignore
  await sendIt(team, id, later(team.now, -39 * DAY))
  await answerBy(team, id, 'orrin', later(team.now, -33 * DAY), ['109.5', '10.1'], { freight: '120' })
  await behalf(team, id, 'tern', later(team.now, -31 * DAY), ['121', '8.9'])
  const at = later(team.now, -27 * DAY)
  await team.as('rasmus', at, async call => {
    const { lines, suppliers } = await readComparison(call, id)
    const shares = lines.map((line, index) => ({ lineId: line.id, supplierId: suppliers.find(one => one.name.startsWith(index === 0 ? 'Orrin' : 'Tern'))!.supplierId, quantity: line.quantity })) // prettier-ignore
    await proposeAward(call, id, { version: (await readEvent(call, id)).version, shares, reason: 'Valves and pipe come from two makers; each is the better one for its part.' }) // prettier-ignore
  })
  const account = team.accounts.get(`LS-210 6210  ${team.today.slice(0, 4)}`)
  await team.as('pilar', later(at, DAY), async call => {
    const sheet = await readEvent(call, id)
    if (sheet.state !== 'awarded' || !account) return
    const accounts = Object.fromEntries(sheet.body.lines.map(line => [line.id, account]))
    await placeAward(call, id, { version: sheet.version, how: 'orders', accounts, offers: false, letters: true })
  })
}

/** Typed in for a supplier who asked for it by telephone. */
async function behalf(team: Team, id: string, supplier: string, at: string, prices: readonly string[]): Promise<void> {
  await team.as('rasmus', at, async call => {
    const sheet = await readEvent(call, id)
    const one = sheet.invited.find(other => other.supplierId === team.suppliers.get(supplier))!
    await recordConsent(call, id, one.id, { version: sheet.version, who: 'Dana Whitcombe, sales', on: call.today, how: 'telephone', note: 'Their system is down until Friday.', fileId: null }) // prettier-ignore
    await say(call, await heldBehalf(call, id, one.id), { say: 'accept', reason: '' })
    const asked = await readBehalf(call, id, one.id)
    const lines = asked.answer.lines.map((line, index) => ({ ...line, price: prices[index]!, leadDays: 30 }))
    await answer(call, await heldBehalf(call, id, one.id), { answer: { ...asked.answer, lines }, submit: true })
  })
}

/** Work with questions that two people score: one is done, the other is not. */
async function workOne(team: Team, kinds: ReadonlyMap<string, string>): Promise<void> {
  const id = await ask(team, kinds, { kind: 'Quote request for work', title: 'Inspection of the intake by divers', category: 'Diving & rope access', lines: [['Inspection of both intake lines, with report and film', '1', 'E48', '5400'], ['Cleaning of the screens, spring and autumn', '2', 'E48', '1900']], suppliers: ['brightwater', 'ropeline'], madeAgo: 16, endsIn: -2, scorers: ['Marit Oland', 'Rasmus Tielemann'] }) // prettier-ignore
  await sendIt(team, id, later(team.now, -15 * DAY))
  const said = (method: string, people: string, near: string) => ({ method, team: people, insured: 'yes', near })
  await answerBy(team, id, 'brightwater', later(team.now, -6 * DAY), ['5150', '1980'], { questions: said('Two divers on surface supply, one line a day, film with depth on it.', 'A supervisor and four divers, all with the commercial licence.', 'within a day') }) // prettier-ignore
  await answerBy(team, id, 'ropeline', later(team.now, -5 * DAY), ['4890', '2100'], { questions: said('A remote camera first, divers only where it shows something.', 'One diver, one pilot.', 'within three days') }) // prettier-ignore
  await watchEvents(team.parts)
  await team.as('marit', later(team.now, -1 * DAY), async call => {
    const { suppliers } = await readComparison(call, id)
    const given: Readonly<Record<string, readonly [string, string]>> = { 'Brightwater Diving': ['8', '9'], 'Ropeline Access Crew': ['7', '5'] } // prettier-ignore
    const points = suppliers.flatMap(one => {
      const [method, people] = given[one.name] ?? ['5', '5']
      return [
        { supplierId: one.supplierId, question: 'method', points: method, note: '' },
        { supplierId: one.supplierId, question: 'team', points: people, note: '' },
      ]
    })
    await givePoints(call, id, { points, done: true })
  })
}

/** A finished auction: bids of four, one on behalf, one taken out, one supplier suspended, an end that moved. */
async function auctionOne(team: Team, kinds: ReadonlyMap<string, string>): Promise<void> {
  const suppliers = ['nordhavn', 'seefelder', 'aquanera']
  const id = await ask(team, kinds, { kind: 'Reverse auction', title: 'Circulation pumps 12 m³/h', category: 'Pumps', lines: [['Circulation pump 12 m³/h, bronze', '24', 'C62', '2190']], suppliers, madeAgo: 9, endsIn: -3, minutes: 40 }) // prettier-ignore
  await sendIt(team, id, later(team.now, -8 * DAY))
  for (const [index, supplier] of suppliers.entries())
    await team.as(`at ${supplier}`, later(team.now, (-7 + index * 0.2) * DAY), async call => say(call, await heldAsked(call, id), { say: 'accept', reason: '' })) // prettier-ignore
  const opened = later(team.now, -3 * DAY)
  const at = (minutes: number): string => later(opened, minutes * 60_000)
  const { lineId, lotId } = await team.as('rasmus', opened, async call => {
    const { body } = await readEvent(call, id)
    return { lineId: body.lines[0]!.id, lotId: body.lots[0]!.id }
  })
  const bids = (supplier: string, minutes: number, price: string): Promise<string> => {
    const bidId = randomUUID()
    return team.as(`at ${supplier}`, at(minutes), async call => {
      await bid(call, await heldAsked(call, id), { bidId, lotId, prices: { [lineId]: price } }, '192.0.2.17')
      return bidId
    })
  }
  await bids('nordhavn', 1, '2185')
  await bids('aquanera', 3, '2260')
  await bids('seefelder', 4, '2230')
  await bids('nordhavn', 8, '2150')
  await bids('seefelder', 11, '2140')
  const wrong = await bids('aquanera', 14, '1040')
  await team.as('rasmus', at(16), call => removeBid(call, id, wrong, { reason: 'Typed for one pump of another size.' }))
  await bids('nordhavn', 19, '2110')
  await bids('aquanera', 22, '2155')
  await team.as('rasmus', at(24), async call => {
    const sheet = await readEvent(call, id)
    const one = sheet.invited.find(other => other.supplierId === team.suppliers.get('seefelder'))!
    await recordConsent(call, id, one.id, { version: sheet.version, who: 'Lorenz Aigner', on: call.today, how: 'mail', note: '', fileId: null }) // prettier-ignore
    await bid(
      call,
      await heldBehalf(call, id, one.id),
      { bidId: randomUUID(), lotId, prices: { [lineId]: '2095' } },
      '',
    )
  })
  await bids('nordhavn', 31, '2074')
  await team.as('rasmus', at(33), async call => {
    const sheet = await readEvent(call, id)
    const one = sheet.invited.find(other => other.supplierId === team.suppliers.get('aquanera'))!
    await suspend(call, id, one.id, { version: sheet.version, lift: false, reason: 'Says that the terms do not hold for it.' }) // prettier-ignore
  })
  await bids('nordhavn', 38, '2061')
  await watchEvents(team.parts)
}
