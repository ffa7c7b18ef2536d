import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { DraftGroups, KeepPoolRules, ReadProposals } from '#contract/order/pool.ts'
import { toOrder } from '#core/ledger/quantity.ts'
import { formatAmount, lineAmount } from '#core/money/amount.ts'
import { minorDigits } from '#core/money/currency.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { draftOrders, type PoolLine, whyNotBuy } from '#core/order/draftOrders.ts'
import { POOL_RULES, type PoolRules, routeOf, whyNotGroups, whyNotOneOrder } from '#core/order/proposeOrders.ts'
import { plainWords } from '#core/request/personalFee.ts'
import { effective, HOUSE_DEFAULTS, type Level, type SupplierDefaults } from '#core/source/defaults.ts'
import type { Read, Write } from '#server/call.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { readSetting, writeSetting } from '#server/house/house.ts'
import { baseRates } from '#server/house/rates.ts'
import { insertDraft } from '#server/order/newOrderStore.ts'
import { heldToBuy, poolLines } from '#server/order/poolStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

declare module '#server/house/house.ts' {
  interface SettingValues {
    poolRules: PoolRules
  }
}

/** Lines that are looked at, those needed soonest first. */
const MOST_LINES = 2000

/** What is still to be ordered of a line, and what it comes to in its currency. */
const openPart = (line: PoolLine) => {
  const quantity = tidy(toOrder(line.sums))
  return { quantity, amount: lineAmount({ ...line, quantity }) }
}

/** Lines that wait to be bought with what decides into which order they go, and what their suppliers want of an order. */
export async function readProposals(call: Read): Promise<ResponseOf<typeof ReadProposals>> {
  const ids = (await call
    .trx('requisitionLines')
    .where({ state: 'toBuy' })
    .orderByRaw('need_by nulls last, id')
    .limit(MOST_LINES)
    .pluck('id')) as string[]
  const lines = await poolLines(call, ids)
  const places = byId(
    await call
      .trx('addresses')
      .whereIn('id', someIds(lines.map(line => line.addressId)))
      .select('id', 'name'),
  )
  const judged = lines.map(line => ({ line, reasons: whyNotBuy(line, routeOf(line)) }))
  const fine = judged.filter(one => one.reasons.length === 0).map(one => one.line)
  return {
    rules: (await readSetting(call, 'poolRules')) ?? POOL_RULES,
    lines: fine.map(line => {
      const { quantity, amount } = openPart(line)
      return {
        id: line.id,
        requisition: line.requisition,
        requisitionPath: pathOf('requisition', line.requisitionId),
        description: plainWords(line),
        quantity,
        unit: line.unit,
        amount: formatAmount(amount, line.currency),
        currency: line.currency,
        supplierId: line.supplierId!,
        supplier: line.supplierName,
        addressId: line.addressId,
        place: places.get(line.addressId ?? '')?.name ?? '',
        incoterm: line.incoterm,
        incotermPlace: line.incotermPlace,
        needBy: line.needBy,
        agreement: line.agreement,
        routes: [...line.routes],
      }
    }),
    left: judged.flatMap(({ line, reasons }) =>
      reasons.length === 0
        ? []
        : [
            {
              id: line.id,
              requisition: line.requisition,
              description: plainWords(line),
              reasons: reasonsJson(reasons.slice(0, 1)),
            },
          ],
    ),
    limits: await limitsOf(call, fine),
  }
}

/** What each supplier says of the orders that it takes, where it is said in the currency of the order. */
async function limitsOf(call: Read, lines: readonly PoolLine[]): Promise<ResponseOf<typeof ReadProposals>['limits']> {
  const { rows } = await call.trx.raw<{
    rows: { id: string; supplier: SupplierDefaults; location: SupplierDefaults | null }[]
  }>(
    `select s.id, s.defaults as supplier, (select l.defaults from supplier_locations l where l.supplier_id = s.id and 'takesOrders' = any(l.roles) order by l.position limit 1) as location
     from suppliers s where s.id = any(?)`,
    [someIds(lines.map(line => line.supplierId))],
  )
  return rows.map(({ id, supplier, location }) => {
    const levels: (readonly [Level, SupplierDefaults])[] = [
      ['house', { ...HOUSE_DEFAULTS, currency: call.base }],
      ['supplier', supplier],
      ['location', location ?? {}],
    ]
    const currency = effective(levels, 'currency')
    const amount = (key: 'minimumOrder' | 'freight' | 'freightFrom'): string | null => {
      const value = effective(levels, key)
      return value === '' ? null : new Decimal(value).toFixed(minorDigits(currency))
    }
    return {
      supplierId: id,
      currency,
      minimumOrder: amount('minimumOrder'),
      freight: amount('freight'),
      freightFrom: amount('freightFrom'),
    }
  })
}

export async function keepPoolRules(call: Write, rules: BodyOf<typeof KeepPoolRules>): Promise<PoolRules> {
  await writeSetting(call, 'poolRules', rules)
  return rules
}

/** Drafts each group of lines as one order, all or none. */
export async function draftGroups(
  call: Write,
  { groups }: BodyOf<typeof DraftGroups>,
): Promise<ResponseOf<typeof DraftGroups>> {
  refuse(whyNotGroups(groups))
  const lines = byId(await heldToBuy(call, groups.flatMap(group => group.lineIds))) // prettier-ignore
  const rates = await baseRates(call, [...lines.values()].map(line => line.currency)) // prettier-ignore
  const orders = []
  for (const { route, lineIds } of groups) {
    const own = lineIds.map(id => lines.get(id)!)
    refuse(whyNotOneOrder(own.map(line => ({ ...line, amount: openPart(line).amount })), route)) // prettier-ignore
    for (const order of obey(draftOrders(own, route, rates, call.base)).next.orders)
      orders.push(await insertDraft(call, order))
  }
  await refreshThread(call, {
    orderIds: orders.map(order => order.id),
    requisitionIds: [...new Set([...lines.values()].map(line => line.requisitionId))],
  })
  return { orders }
}
