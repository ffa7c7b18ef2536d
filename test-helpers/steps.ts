import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { PostInvoice, ReadInvoice, SupplierInvoice } from '#contract/bill/endpoints.ts'
import { EndAway, SaveAway } from '#contract/consent/endpoints.ts'
import { Decide } from '#contract/decide/endpoints.ts'
import { DraftOrders, IssueOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { RespondToOrder } from '#contract/order/supplierOrders.ts'
import { Receive } from '#contract/receive/endpoints.ts'
import { CreateRequisition, ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { addDays } from '#core/calendar/days.ts'
import { ADDRESSES } from '#demo/world.ts'
import type { World } from '#test-helpers/world.ts'

export const today = (): string => new Intl.DateTimeFormat('sv-SE', { timeZone: 'Europe/Amsterdam' }).format(new Date())
export const PLACE = ADDRESSES.quay.id

/** One sum of freight, as orders carry it. */
export const freight = (amount: string) => [{ kind: 'freight' as const, words: '', percent: null, amount, splits: [] }]

/** Builders that take a thread one step further through the API, as the people of the demo. */
export async function goodsLine(
  world: World,
  number: string,
  quantity: string,
  changed: Partial<LineBody> = {},
): Promise<LineBody> {
  const offer = (await world
    .db('offers')
    .join('items', 'items.id', 'offers.itemId')
    .where('items.number', number)
    .orderByRaw(
      changed.routes?.includes('callOff') ? "(agreement = ''), supplier_item" : "supplier_item, (agreement <> '')",
    )
    .first('offers.*', 'items.name')) as {
    id: string
    itemId: string
    name: string
    unit: string
    priceBase: string
    currency: string
    supplierId: string
  }
  return {
    kind: 'goods',
    itemId: offer.itemId,
    offerId: offer.id,
    description: offer.name,
    quantity,
    unit: offer.unit,
    price: '1',
    priceBase: offer.priceBase,
    currency: offer.currency as 'EUR',
    supplierId: offer.supplierId,
    needBy: addDays(today(), 70),
    addressId: PLACE,
    splits: [{ accountId: await account(world, 'LS-210', '6210'), share: '1' }],
    ...changed,
  }
}

export async function account(
  world: World,
  costCentre: string,
  naturalAccount: string,
  project: string | null = null,
): Promise<string> {
  return (
    (await world
      .db('budgetAccounts')
      .where({ costCentre, naturalAccount, project, fiscalYear: Number(today().slice(0, 4)) })
      .first('id')) as { id: string }
  ).id
}

export async function draft(
  world: World,
  lines: LineBody[],
  title = 'Something for the pumps',
): Promise<{ id: string; version: number }> {
  return await (await world.as('Joren')).do(CreateRequisition, { body: { title, reason: '', lines } })
}

/** Submitted and approved: its lines wait to be bought. */
export async function approved(world: World, lines: LineBody[], title?: string): Promise<string> {
  const { id, version } = await draft(world, lines, title)
  await (
    await world.as('Joren')
  ).do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'It is needed.' } })
  for (let turn = 0; turn < 4; turn++) {
    const open = await world
      .db('consentSteps as step')
      .join('consents', 'consents.id', 'step.consentId')
      .joinRaw('join people on people.id = any(step.approver_ids)')
      .where({ 'consents.documentId': id, 'step.state': 'open' })
      .first<{ name: string } | undefined>('people.name')
    if (!open) break
    const person = await world.as(open.name.split(' ')[0]!)
    const sheet = await person.do(ReadRequisition, { params: { id } })
    await person.do(Decide, { params: { id }, body: { version: sheet.version, decision: 'approve', reason: '' } })
  }
  return id
}

export async function drafted(
  world: World,
  lines: LineBody[],
  title?: string,
): Promise<{ id: string; version: number; number: string }> {
  return await draftedFrom(world, await approved(world, lines, title))
}

/** The lines of an approved request on a draft order. */
export async function draftedFrom(
  world: World,
  requisitionId: string,
): Promise<{ id: string; version: number; number: string }> {
  const ids = (
    (await world.db('requisitionLines').where({ requisitionId }).orderBy('position').select('id')) as { id: string }[]
  ).map(row => row.id)
  const { orders } = await (await world.as('Pilar')).do(DraftOrders, { body: { lineIds: ids } })
  return orders[0]!
}

export interface Issued {
  readonly id: string
  readonly number: string
  readonly company: string
  readonly lines: { id: string; quantity: string; price: string }[]
}

/** An issued order, confirmed in full unless `answer` is false. */
export async function ordered(
  world: World,
  lines: LineBody[],
  options: { title?: string; answer?: boolean } = {},
): Promise<Issued> {
  return await issuedFrom(world, await drafted(world, lines, options.title), options.answer)
}

/** A draft that is issued, and confirmed in full unless `answer` is false. */
export async function issuedFrom(
  world: World,
  order: { id: string; version: number; number: string },
  answer = true,
): Promise<Issued> {
  const pilar = await world.as('Pilar')
  await pilar.do(IssueOrder, { params: { id: order.id }, body: { version: order.version } })
  const sheet = await pilar.do(ReadOrder, { params: { id: order.id } })
  if (answer)
    await (
      await world.as(`at ${sheet.supplier}`)
    ).do(RespondToOrder, {
      params: { id: order.id },
      body: {
        revision: 0,
        note: '',
        lines: sheet.lines.map(line => ({
          lineId: line.id,
          quantity: line.quantity,
          price: line.price,
          date: line.needBy ?? today(),
        })),
      },
    })
  return {
    id: order.id,
    number: order.number,
    company: sheet.supplier,
    lines: sheet.lines.map(line => ({ id: line.id, quantity: line.quantity, price: line.price })),
  }
}

export async function received(world: World, order: Issued, quantity?: string): Promise<void> {
  await (
    await world.as('Yuki')
  ).do(Receive, {
    params: { id: order.id },
    body: {
      receivedOn: today(),
      placeId: PLACE,
      note: '',
      lines: order.lines.map(line => ({ lineId: line.id, quantity: quantity ?? line.quantity })),
    },
  })
}

export async function billed(
  world: World,
  order: Issued,
  changed: { number?: string; price?: string; quantity?: string; freight?: string } = {},
): Promise<{ id: string; state: string }> {
  return await (
    await world.as(`at ${order.company}`)
  ).do(SupplierInvoice, {
    params: { id: order.id },
    body: {
      revision: 0,
      number: changed.number ?? `T-${order.number}`,
      issueDate: today(),
      freight: changed.freight ?? '0.00',
      taxCategory: 'AE',
      taxRate: '0',
      lines: order.lines.map(line => ({
        lineId: line.id,
        quantity: changed.quantity ?? line.quantity,
        price: changed.price ?? line.price,
      })),
    },
  })
}

export async function posted(world: World, id: string): Promise<void> {
  const leonie = await world.as('Leonie')
  const sheet = await leonie.do(ReadInvoice, { params: { id } })
  expect(sheet.state).to.equal('matched')
  await leonie.do(PostInvoice, { params: { id }, body: { version: sheet.version } })
}

export interface Figures {
  readonly reserved: bigint
  readonly committed: bigint
  readonly spent: bigint
  readonly accrued: bigint
}

/** The kept balances of an account, in cents. */
export async function figures(world: World, accountId: string): Promise<Figures> {
  const rows = (await world.db('budgetBalances').where({ accountId }).select('kind', 'amount')) as {
    kind: keyof Figures
    amount: bigint
  }[]
  return {
    reserved: 0n,
    committed: 0n,
    spent: 0n,
    accrued: 0n,
    ...Object.fromEntries(rows.map(row => [row.kind, row.amount])),
  }
}

/** What changed between two looks at an account. */
export const moved = (before: Figures, after: Figures): Figures => ({
  reserved: after.reserved - before.reserved,
  committed: after.committed - before.committed,
  spent: after.spent - before.spent,
  accrued: after.accrued - before.accrued,
})

/** Lets somebody of the team decide in another's place on some days; says how it ends. */
export async function standIn(
  world: World,
  of: string,
  who: string,
  days: { readonly fromDay?: string; readonly toDay?: string; readonly limit?: string } = {},
): Promise<() => Promise<void>> {
  const personId = async (name: string): Promise<string> =>
    (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id
  const client = await world.as(of)
  const params = { id: randomUUID() }
  await client.do(SaveAway, {
    params,
    body: {
      version: 0,
      personId: await personId(of),
      standInId: await personId(who),
      fromDay: days.fromDay ?? today(),
      toDay: days.toDay ?? today(),
      kinds: [],
      limit: days.limit ?? null,
      away: true,
      note: '',
    },
  })
  return async () => void (await client.do(EndAway, { params }))
}
