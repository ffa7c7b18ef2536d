import type { WantedOrderBody } from '#contract/order/endpoints.ts'
import { addBusinessDays, addDays, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { evenly } from '#core/order/schedule.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { LineBody } from '#contract/request/lines.ts'
import type { As } from '#demo/load.ts'
import { moment } from '#demo/load.ts'
import type { DemoThread, End } from '#demo/threads.ts'
import { ADDRESSES, PEOPLE } from '#demo/world.ts'
import { clearHold, post } from '#server/bill/invoiceActs.ts'
import { billOwnOrder } from '#server/bill/takeActs.ts'
import { decide } from '#server/decide/decideActs.ts'
import type { JobParts } from '#server/jobs/parts.ts'
import { respond } from '#server/order/answerActs.ts'
import { draftOrders } from '#server/order/draftActs.ts'
import { change, end, issue, settle } from '#server/order/orderActs.ts'
import { askForExcess } from '#server/order/excessActs.ts'
import { type OrderLineRow, orderRows, type OrderRow } from '#server/order/orderStore.ts'
import { receive } from '#server/receive/receiptActs.ts'
import type { OfferRow } from '#server/request/offerStore.ts'
import { createRequisition, saveRequisition } from '#server/request/draftActs.ts'
import { askedFor, requisitionLines } from '#server/request/requisitionStore.ts'
import { act, submit } from '#server/request/submitActs.ts'

export interface Team {
  readonly as: As
  readonly now: string
  readonly today: string
  readonly suppliers: ReadonlyMap<string, string>
  readonly accounts: ReadonlyMap<string, string>
  readonly parts: JobParts
}

const ORDER_OF_ENDS: readonly End[] = [
  'draft',
  'waiting',
  'toBuy',
  'draftOrder',
  'issued',
  'confirmed',
  'received',
  'matched',
  'posted',
]
const REACHES: Readonly<Record<End, End>> = {
  draft: 'draft',
  waiting: 'waiting',
  stalled: 'waiting',
  returned: 'waiting',
  rejected: 'waiting',
  withdrawn: 'waiting',
  toBuy: 'toBuy',
  changed: 'toBuy',
  draftOrder: 'draftOrder',
  dearer: 'draftOrder',
  issued: 'issued',
  proposed: 'issued',
  revised: 'issued',
  cancelled: 'issued',
  confirmed: 'confirmed',
  part: 'received',
  received: 'received',
  over: 'received',
  heldPrice: 'matched',
  askedPrice: 'matched',
  heldProof: 'matched',
  matched: 'matched',
  posted: 'posted',
  inRun: 'posted',
  paid: 'posted',
  sealed: 'posted',
}
const reaches = (thread: DemoThread, end: End): boolean =>
  ORDER_OF_ENDS.indexOf(REACHES[thread.end]) >= ORDER_OF_ENDS.indexOf(end)

/** Drives one thread through the services up to its end; says what was bought, where it came so far. */
export async function runThread(team: Team, thread: DemoThread): Promise<Bought | undefined> {
  const on = (after: number, hour: number): string =>
    moment(addDays(team.today, Math.min(0, after - thread.ago)), hour, team.now)
  const lines = await requestedLines(team, thread, on(0, 8))
  const draft = await team.as(thread.who, on(0, 8), call =>
    createRequisition(call, { title: thread.title, reason: thread.reason ?? '', lines }),
  )
  if (!reaches(thread, 'waiting')) return undefined
  const submitted = await team.as(thread.who, on(0, 9), call =>
    submit(call, draft.id, draft.version, 'Needed for the animals; the date is tight.'),
  )
  if (thread.end === 'withdrawn')
    return void (await team.as(thread.who, on(1, 8), call =>
      act(call, draft.id, 'withdraw', submitted.version, 'The open day was moved.'),
    ))
  await decideIt(team, thread, draft.id, on)
  if (thread.end === 'changed') return void (await changeIt(team, thread, draft.id, on))
  if (!reaches(thread, 'draftOrder')) return undefined
  const order = await orderIt(team, thread, draft.id, on)
  if (!order || thread.end === 'cancelled' || thread.end === 'revised' || !reaches(thread, 'confirmed'))
    return undefined
  await receiveIt(team, thread, order, on)
  if (reaches(thread, 'matched')) await billIt(team, thread, order, on)
  return order
}

/** Its requester takes it back after it was approved, and asks for it anew. */
async function changeIt(
  team: Team,
  thread: DemoThread,
  id: string,
  on: (after: number, hour: number) => string,
): Promise<void> {
  const versionOf = async (): Promise<number> =>
    (await team.parts.db('requisitions').where({ id }).first<{ version: number }>('version')).version
  const version = await versionOf()
  await team.as(thread.who, on(3, 9), call => act(call, id, 'change', version, 'One tank more.'))
  const back = await versionOf()
  await team.as(thread.who, on(3, 9), async call => {
    const lines = (await requisitionLines(call, id)).map(line => ({ ...askedFor(line), id: line.id, quantity: '100' }))
    await saveRequisition(call, id, { title: thread.title, reason: '', lines }, back)
  })
  const taken = await versionOf()
  await team.as(thread.who, on(3, 10), call => submit(call, id, taken, 'Needed for the animals; the date is tight.'))
}

async function requestedLines(team: Team, thread: DemoThread, at: string): Promise<LineBody[]> {
  const year = at.slice(0, 4)
  const splits = thread.on.map(([centre, account, project, share]) => ({
    accountId: team.accounts.get(`${centre} ${account} ${project ?? ''} ${year}`)!,
    share: share ?? '1',
  }))
  const addressId = ADDRESSES[thread.place].id
  return await Promise.all(
    thread.lines.map(async line => {
      if ('work' in line) {
        const supplierId = team.suppliers.get(line.supplier)!
        return {
          kind: 'fixedPriceWork' as const,
          itemId: null,
          offerId: null,
          description: line.work,
          quantity: '1',
          unit: 'E48',
          price: line.price,
          priceBase: '1',
          currency: 'EUR' as const,
          supplierId,
          needBy: addBusinessDays(at.slice(0, 10), 9, PLAIN_CALENDAR),
          addressId,
          splits,
        }
      }
      if ('hours' in line) {
        const agreed = (await team.parts
          .db('agreementLines')
          .join('agreements', 'agreements.id', 'agreementLines.agreementId')
          .where('agreementLines.description', line.of)
          .first<{ id: string; unit: string; category: string; supplierId: string } | undefined>('agreementLines.id', 'unit', 'category', 'supplierId'))! // prettier-ignore
        return {
          kind: 'workByRate' as const,
          itemId: null,
          offerId: null,
          agreementLineId: agreed.id,
          routes: ['callOff' as const],
          description: line.of,
          quantity: line.hours,
          unit: agreed.unit,
          price: '0',
          priceBase: '1',
          currency: 'EUR' as const,
          supplierId: agreed.supplierId,
          category: agreed.category,
          needBy: addBusinessDays(at.slice(0, 10), 9, PLAIN_CALENDAR),
          addressId,
          splits,
        }
      }
      const offer = await team.parts
        .db('offers')
        .join('items', 'items.id', 'offers.itemId')
        .where('items.number', line.item)
        .orderByRaw(thread.callOff ? "(agreement = ''), supplier_item" : "supplier_item, (agreement <> '')")
        .first<OfferRow & { name: string }>('offers.*', 'items.name')
      return {
        kind: 'goods' as const,
        itemId: offer.itemId,
        offerId: offer.id,
        description: offer.name,
        quantity: line.quantity,
        unit: offer.unit,
        price: '1',
        priceBase: offer.priceBase,
        currency: offer.currency as LineBody['currency'],
        supplierId: offer.supplierId,
        needBy: addBusinessDays(at.slice(0, 10), offer.leadTimeDays + 2, PLAIN_CALENDAR),
        addressId,
        splits,
        ...(thread.callOff ? { routes: ['callOff' as const] } : {}),
        ...(line.byPlan ? { proof: 'none' as const } : {}),
      }
    }),
  )
}

/** Lets those who are asked decide, stage by stage, as the end wants it. */
async function decideIt(
  team: Team,
  thread: DemoThread,
  id: string,
  on: (after: number, hour: number) => string,
): Promise<void> {
  for (let turn = 0; turn < 6; turn++) {
    const head = (await team.parts.db('requisitions').where({ id }).first('state', 'version'))!
    const step = await team.parts
      .db('consentSteps as step')
      .join('consents', 'consents.id', 'step.consentId')
      .joinRaw('join people on people.id = any(step.approver_ids)')
      .where({ 'consents.documentId': id, 'consents.state': 'open', 'step.state': 'open' })
      .first<{ name: string; active: boolean } | undefined>('people.name', 'people.active')
    if (head.state !== 'waiting' || !step?.active || thread.end === 'waiting') return
    const key = PEOPLE.find(person => person.name === step.name)!.key
    const at = on(Math.min(1 + turn, thread.ago), 10 + turn)
    if (thread.end === 'returned')
      return void (await team.as(key, at, call =>
        decide(
          call,
          id,
          'return',
          head.version,
          'Please split it between the two weeks; January is another budget year.',
        ),
      ))
    if (thread.end === 'rejected')
      return void (await team.as(key, at, call =>
        decide(call, id, 'reject', head.version, 'The pup pool closes in February; borrow the one from quarantine.'),
      ))
    await team.as(key, at, call => decide(call, id, 'approve', head.version, ''))
  }
}

export interface Bought {
  order: OrderRow
  lines: OrderLineRow[]
  supplier: string
}

function chargesOf({ freight, discount }: DemoThread): WantedOrderBody['charges'] {
  const rest = { words: '', splits: [] }
  return [
    ...(freight === undefined ? [] : [{ ...rest, kind: 'freight' as const, percent: null, amount: freight }]),
    ...(discount === undefined ? [] : [{ ...rest, kind: 'discount' as const, percent: discount, amount: '0', words: 'For the whole year’s need' }]), // prettier-ignore
  ]
}

/** A line in equal deliveries, a fortnight apart. */
const inParts = ({ inParts: count }: DemoThread, { quantity, needBy }: OrderLineRow) =>
  count === undefined || needBy === null
    ? {}
    : { schedule: evenly(quantity, count).map((part, at) => ({ quantity: part, date: addDays(needBy, 14 * at), addressId: null })) } // prettier-ignore

async function orderIt(
  team: Team,
  thread: DemoThread,
  requisitionId: string,
  on: (after: number, hour: number) => string,
): Promise<Bought | undefined> {
  const lineIds = await team.parts.db('requisitionLines').where({ requisitionId }).orderBy('position').pluck('id')
  const [draft] = await team.as('pilar', on(2, 13), call =>
    draftOrders(call, lineIds, thread.callOff ? 'callOff' : 'orderNow'),
  )
  if (thread.freight ?? thread.priceFactor ?? thread.discount ?? thread.inParts) {
    const order = (await team.parts.db('orders').where({ id: draft!.id }).first())!
    const lines = await team.parts.db('orderLines').where({ orderId: draft!.id }).orderBy('position')
    draft!.version = (
      await team.as('pilar', on(2, 14), call =>
        change(
          call,
          draft!.id,
          {
            title: order.title,
            message: thread.freight === undefined ? '' : 'Please call the gate an hour before you arrive.',
            charges: chargesOf(thread),
            reason: '',
            lines: lines.map(line => ({
              id: line.id,
              quantity: line.quantity,
              price: new Decimal(line.price)
                .times(thread.priceFactor ?? 1)
                .toDecimalPlaces(2)
                .toString(),
              needBy: line.needBy,
              description: line.description,
              ...inParts(thread, line),
            })),
          },
          draft!.version,
        ),
      )
    ).version
  }
  if (thread.end === 'dearer')
    await team.as('pilar', on(3, 9), call =>
      askForExcess(call, draft!.id, {
        version: draft!.version,
        reason: 'The casting went up since we asked; nobody else has this pattern.',
        wanted: null,
      }),
    )
  if (!reaches(thread, 'issued')) return undefined
  const issued = await team.as('pilar', on(2, 15), call => issue(call, draft!.id, draft!.version))
  const bought = await team.as('pilar', on(2, 15), async call => ({
    order: (await call.trx('orders').where({ id: draft!.id }).first())!,
    lines: await orderRows(call, draft!.id),
  }))
  const supplier = [...team.suppliers].find(([, id]) => id === bought.order.supplierId)![0]
  if (thread.end === 'cancelled')
    await team.as('pilar', on(4, 9), call =>
      end(
        call,
        draft!.id,
        'cancel',
        issued.version,
        'Ordered in the wrong size.',
        thread.title.startsWith('Conductivity'),
      ),
    )
  if (thread.end === 'revised') await revise(team, bought, ONE_LESS, issued.version, on(5, 9))
  if (thread.slowly) await agreeSlowly(team, bought, supplier, on)
  if (thread.end === 'proposed') await answer(team, bought, supplier, 0, on(3, 10), true)
  else if (reaches(thread, 'confirmed')) await answer(team, bought, supplier, 0, on(3, 10), false)
  return { ...bought, supplier }
}

const ONE_LESS = { fewer: 1, days: 7, reason: 'One less is needed, and a week later.' }

/** The change is answered otherwise, refused, and followed by another: the order stands at its third revision, and is not answered yet. */
async function agreeSlowly(
  team: Team,
  bought: Omit<Bought, 'supplier'>,
  supplier: string,
  on: (after: number, hour: number) => string,
): Promise<void> {
  const { id } = bought.order
  const now = async (): Promise<Omit<Bought, 'supplier'>> => ({
    order: (await team.parts.db('orders').where({ id }).first())!,
    lines: await team.parts.db('orderLines').where({ orderId: id }).orderBy('position'),
  })
  await answer(team, await now(), supplier, 1, on(7, 10), true)
  const proposed = (await team.parts.db('orderResponses').where({ orderId: id, state: 'waiting' }).first('id'))!
  const asked = await now()
  await team.as('pilar', on(8, 9), call =>
    settle(call, id, proposed.id, asked.order.version, 'refuse', 'The pool opens before that. Three days more is all.'),
  )
  const refused = await now()
  const last = { fewer: 0, days: 3, reason: 'Three days later, and not more.' }
  await revise(team, refused, last, refused.order.version, on(9, 9))
}

async function revise(
  team: Team,
  { order, lines }: Omit<Bought, 'supplier'>,
  { fewer, days, reason }: { fewer: number; days: number; reason: string },
  version: number,
  at: string,
): Promise<void> {
  await team.as('pilar', at, call =>
    change(
      call,
      order.id,
      {
        title: order.title,
        message: order.message,
        charges: [],
        reason,
        lines: lines.map(line => ({
          id: line.id,
          quantity: new Decimal(line.quantity).minus(fewer).toString(),
          price: line.price,
          needBy: line.needBy ? addDays(line.needBy, days) : null,
          description: line.description,
        })),
      },
      version,
    ),
  )
}

/** The supplier confirms, or proposes later for a part and a little dearer. */
async function answer(
  team: Team,
  { order, lines }: Omit<Bought, 'supplier'>,
  supplier: string,
  revision: number,
  at: string,
  differs: boolean,
): Promise<void> {
  await team.as(`at ${supplier}`, at, call =>
    respond(
      call,
      order.id,
      revision,
      lines.map((line, index) => ({
        lineId: line.id,
        quantity:
          differs && index === 0
            ? new Decimal(line.quantity).times('0.75').toDecimalPlaces(0).toString()
            : line.quantity,
        price: differs && index > 0 ? new Decimal(line.price).times('1.042').toDecimalPlaces(2).toString() : line.price,
        date: differs ? addDays(line.needBy!, 7) : line.needBy!,
      })),
      differs ? 'The rest follows from the next casting.' : '',
    ),
  )
}

async function receiveIt(
  team: Team,
  thread: DemoThread,
  { order, lines }: Bought,
  on: (after: number, hour: number) => string,
): Promise<void> {
  if (!reaches(thread, 'received') || thread.end === 'heldProof') return
  const share = { part: '0.5', over: '1.05' }[thread.end as string] ?? '1'
  const receivedAt = on(Math.min(10 + (thread.late ?? 0), thread.ago), 9)
  for (const line of lines) {
    const quantity = new Decimal(line.quantity).times(share).toDecimalPlaces(0).toString()
    await team.as(
      line.kind === 'goods' ? (thread.place === 'hatchery' ? 'dov' : 'yuki') : thread.who,
      receivedAt,
      call =>
        receive(call, order.id, {
          receivedOn: call.today,
          placeId: ADDRESSES[thread.place].id,
          note: thread.end === 'part' ? 'The rest is promised for next week.' : '',
          checkReason: thread.end === 'over' ? 'Full boxes, we keep them.' : undefined,
          lines: [{ lineId: line.id, quantity }],
        }),
    )
    if (thread.end === 'part') break
  }
}

async function billIt(
  team: Team,
  thread: DemoThread,
  { order, lines, supplier }: Bought,
  on: (after: number, hour: number) => string,
): Promise<void> {
  const at = on(Math.min(12 + (thread.late ?? 0), thread.ago), 11)
  const made = await team.as(`at ${supplier}`, at, call =>
    billOwnOrder(call, order.id, {
      revision: 0,
      number: `${supplier.slice(0, 3).toUpperCase()}-${order.number.slice(2)}`,
      issueDate: call.today,
      freight: thread.freight ?? '0.00',
      taxCategory: 'AE',
      taxRate: '0',
      lines: lines.map(line => ({
        lineId: line.id,
        quantity: line.quantity,
        price:
          thread.end === 'heldPrice' || thread.end === 'askedPrice'
            ? new Decimal(line.price).times('1.065').toDecimalPlaces(2).toString()
            : line.price,
      })),
    }),
  )
  if (thread.end === 'askedPrice') {
    const hold = (await team.parts.db('invoiceHolds').where({ invoiceId: made.id, kind: 'price' }).first('id'))!
    const held = (await team.parts.db('invoices').where({ id: made.id }).first('version'))!
    await team.as('pilar', on(Math.min(13 + (thread.late ?? 0), thread.ago), 9), call =>
      clearHold(
        call,
        made.id,
        hold.id,
        held.version,
        'They told us of the new list price; I had not changed the order.',
      ),
    )
  }
  if (!reaches(thread, 'posted')) return
  const { version } = (await team.parts.db('invoices').where({ id: made.id }).first('version'))!
  await team.as('leonie', on(Math.min(13 + (thread.late ?? 0), thread.ago), 10), call => post(call, made.id, version))
}
