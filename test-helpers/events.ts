import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { AnswerAsked, ReadAsked, SayAsked } from '#contract/source/asked.ts'
import { ListEventKinds, PublishEventKind, SaveEventKind } from '#contract/source/eventKinds.ts'
import { ChangeEvent, CreateEvent, InviteSuppliers, ReadEvent, SendEvent } from '#contract/source/events.ts'
import { type AnswerContent, emptyAnswer, emptyLine } from '#core/source/answer.ts'
import type { EventFacts, EventLine, EventLot, Invited } from '#core/source/event.ts'
import { type EventKind, NEW_KIND } from '#core/source/eventKind.ts'
import type { Client, World } from '#test-helpers/world.ts'

/** In so many days at noon, as an instant. */
export const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString()

/* In memory, for the core */

export const NOW = '2026-03-02T10:00:00.000Z'
export const eventLine = (id: string, changed: Partial<EventLine> = {}): EventLine => ({
  id,
  lotId: 'lot',
  position: 1,
  itemId: null,
  category: 'Pumps',
  description: `Pump ${id}`,
  quantity: '10',
  unit: 'C62',
  needBy: null,
  addressId: null,
  incoterm: null,
  incotermPlace: '',
  reference: '',
  referenceFrom: null,
  requisitionLineId: null,
  accountId: null,
  texts: {},
  goneAt: null,
  ...changed,
})
export const eventLot = (id = 'lot', changed: Partial<EventLot> = {}): EventLot => ({
  id,
  position: 1,
  title: `Lot ${id}`,
  ceiling: '',
  lineCeilings: {},
  byHand: false,
  ...NEW_KIND.lot,
  ...changed,
})
export const invitedOne = (supplierId: string, changed: Partial<Invited> = {}): Invited => ({
  id: `invited ${supplierId}`,
  supplierId,
  name: `Supplier ${supplierId}`,
  contactName: 'Somebody',
  email: `${supplierId}@example.example`,
  language: 'en',
  currency: 'EUR',
  sentAt: '2026-03-01T10:00:00.000Z',
  openedAt: null,
  acceptedAt: null,
  means: null,
  declinedAt: null,
  suspendedAt: null,
  answeredAt: null,
  withdrawnAt: null,
  onBehalf: false,
  reasons: [],
  ...changed,
})
/** An event that asks for one line of ten pumps until noon. */
export const eventFacts = (
  changed: Partial<Omit<EventFacts, 'kind'>> & { readonly kind?: Partial<EventKind> } = {},
): EventFacts => ({
  id: 'event',
  number: 'E-1',
  title: 'Pumps',
  state: 'asking',
  currency: 'EUR',
  ownerId: 'rasmus',
  opensAt: null,
  endsAt: '2026-03-02T12:00:00.000Z',
  zone: 'Europe/Amsterdam',
  sentAt: '2026-03-01T10:00:00.000Z',
  lots: [eventLot()],
  lines: [eventLine('a')],
  invited: [invitedOne('s1'), invitedOne('s2')],
  ...changed,
  kind: { ...NEW_KIND, ...changed.kind },
})
export const answerOf = (
  event: EventFacts,
  prices: Readonly<Record<string, string>>,
  changed: Partial<AnswerContent> = {},
): AnswerContent => ({
  ...emptyAnswer(event, 'EUR'),
  lines: event.lines.map(line => ({ ...emptyLine(line.id), price: prices[line.id] ?? '', declined: prices[line.id] === undefined })), // prettier-ignore
  ...changed,
})

/* Through the API */

type Sheet = ResponseOf<typeof ReadEvent>
export const kindOf = async (world: World, name: string): Promise<string> =>
  (await (await world.as('Rasmus')).do(ListEventKinds)).kinds.find(one => one.name === name && one.state === 'live')!.id

/** A kind of event that a steward has put to use, for one test. */
export async function kindWith(
  world: World,
  settings: Partial<EventKind>,
  name = `Kind ${randomUUID().slice(0, 6)}`,
  outside: BodyOf<typeof SaveEventKind>['outside'] = null,
) {
  const wren = await world.as('Wren')
  const prefix = `T${randomUUID().slice(0, 5).toUpperCase()}-`
  const range = { prefix, digits: 0, next: '1', last: '99' }
  const saved = await wren.do(SaveEventKind, { body: { code: randomUUID(), version: 0, name, settings: { ...NEW_KIND, ...settings } as never, range, outside } }) // prettier-ignore
  await wren.do(PublishEventKind, { params: { id: saved.id }, body: { version: saved.version } })
  return saved.id
}

export const supplierIds = async (world: World, names: readonly string[]): Promise<string[]> => {
  const rows = await world
    .db('suppliers')
    .whereIn('name', [...names])
    .select('id', 'name')
  return names.map(name => rows.find(row => row.name === name)!.id)
}

export const sheetOf = async (world: World, id: string, who = 'Rasmus'): Promise<Sheet> =>
  await (await world.as(who)).do(ReadEvent, { params: { id } })

export const lineBody = (lotId: string, changed: Partial<BodyOf<typeof ChangeEvent>['lines'][number]> = {}) => ({
  id: randomUUID(),
  lotId,
  itemId: null,
  category: '',
  description: 'Circulation pump',
  quantity: '10',
  unit: 'C62',
  needBy: null,
  addressId: null,
  incoterm: null,
  incotermPlace: '',
  reference: '',
  referenceFrom: null,
  accountId: null,
  texts: {},
  ...changed,
})

/** A draft with what is asked and who is asked, made by Rasmus from scratch. */
export async function eventDraft(
  world: World,
  kindId: string,
  suppliers: readonly string[],
  changed: (body: Sheet['body']) => Partial<Sheet['body']> = () => ({}),
): Promise<{ id: string; version: number }> {
  const rasmus = await world.as('Rasmus')
  const { id } = await rasmus.do(CreateEvent, { body: { kindId, title: 'Pumps for the quay', copyOf: null } })
  const { body, version } = await sheetOf(world, id)
  const saved = await rasmus.do(ChangeEvent, {
    params: { id },
    body: { ...body, lines: [lineBody(body.lots[0]!.id)], endsAt: inDays(9), ...changed(body), version },
  })
  if (suppliers.length === 0) return saved
  return await rasmus.do(InviteSuppliers, { params: { id }, body: { version: saved.version, supplierIds: await supplierIds(world, suppliers) } }) // prettier-ignore
}

/** The same, sent. */
export async function eventSent(
  world: World,
  kindId: string,
  suppliers: readonly string[],
  changed?: Parameters<typeof eventDraft>[3],
): Promise<string> {
  const { id, version } = await eventDraft(world, kindId, suppliers, changed)
  await (await world.as('Rasmus')).do(SendEvent, { params: { id }, body: { version, reason: 'It is what we need.' } })
  return id
}

/** What a supplier hands in: a price for each line, in the order of the lines; null: not offered. */
export async function answers(
  supplier: Client,
  id: string,
  prices: readonly (string | null)[],
  changed: Partial<BodyOf<typeof AnswerAsked>['answer']> = {},
) {
  const asked = await supplier.do(ReadAsked, { params: { id } })
  if (asked.terms !== '' && !asked.accepted)
    await supplier.do(SayAsked, { params: { id }, body: { say: 'accept', reason: '' } })
  const lines = asked.lines.map((line, index) => ({ ...emptyLine(line.id), components: {}, texts: {}, declined: prices[index] === null, price: prices[index] ?? '' })) // prettier-ignore
  return await supplier.call(AnswerAsked, {
    params: { id },
    body: { answer: { ...asked.answer, lines, ...changed }, submit: true },
  })
}
