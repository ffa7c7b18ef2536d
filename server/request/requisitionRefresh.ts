import { requisitionDesk } from '#core/request/desk.ts'
import { REQUISITION_GROUPS, headState, type LineState, lineState } from '#core/request/states.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { toOrder } from '#core/ledger/quantity.ts'
import { isIn } from '#core/states.ts'
import type { Write } from '#server/call.ts'
import { keepDesks } from '#server/desk/deskStore.ts'
import { holdAll } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { tellChanged } from '#server/news/tell.ts'
import { type KnownRequisition, knownRequisitions } from '#server/request/requisitionStore.ts'
import type { Touched } from '#server/thread/refresh.ts'

/** Brings requests along after something happened to their orders: the states of their lines, of the head, and what waits because of them. */
export async function refreshRequests(call: Write, { requisitionIds }: Touched): Promise<undefined> {
  if (requisitionIds.length === 0) return
  await holdAll(call, 'requisition', [...requisitionIds])
  const requests = [...(await knownRequisitions(call, [...requisitionIds].sort())).values()]
  const bought = await orderedLines(
    call,
    requests.flatMap(request => request.rows.map(row => row.id)),
  )
  const moved: KnownRequisition[] = []
  for (const request of requests) moved.push(await bringAlong(call, request, bought))
  await keepDesks(
    call,
    moved.map(request => ({
      document: { kind: 'requisition' as const, id: request.id },
      entries: requisitionDesk(request),
    })),
  )
  await tellChanged(
    call,
    moved.map(request => ({ kind: 'requisition' as const, id: request.id })),
  )
}

interface Bought {
  drafted: boolean
  settled: boolean[]
}

/** What the orders say of requested lines. */
async function orderedLines(call: Write, lineIds: readonly string[]): Promise<Map<string, Bought>> {
  const { rows } = await call.trx
    .raw<{ rows: ({ id: string } & Bought)[] }>(
      `select l.requisition_line_id as id, bool_or(o.state = 'draft') as drafted, coalesce(array_agg(l.settled) filter (where o.state = any(:counted)), '{}') as settled
       from order_lines l join orders o on o.id = l.order_id where l.requisition_line_id = any(:ids) group by 1`,
      { ids: [...lineIds], counted: [...ORDER_GROUPS.counted] },
    )
    .options({ name: 'bought-lines' })
  return new Map(rows.map(({ id, ...line }) => [id, line]))
}

async function bringAlong(
  call: Write,
  request: KnownRequisition,
  bought: ReadonlyMap<string, Bought>,
): Promise<KnownRequisition> {
  const states = new Map(
    request.lines.map(line => {
      const orders = bought.get(line.id) ?? { drafted: false, settled: [] }
      const next = lineState({ state: line.state, toOrder: toOrder(line.sums), ordered: line.sums.ordered, ...orders })
      return [line.id, next] as const
    }),
  )
  const changed = request.lines.filter(line => states.get(line.id) !== line.state)
  for (const state of new Set(changed.map(line => states.get(line.id)!)))
    await call
      .trx('requisitionLines')
      .whereIn(
        'id',
        changed.filter(line => states.get(line.id) === state).map(line => line.id),
      )
      .update({ state })
  const lines = request.lines.map(line => ({ ...line, state: states.get(line.id) as LineState }))
  if (!isIn(REQUISITION_GROUPS.decided, request.state)) return { ...request, lines }
  const state = headState(lines.map(line => line.state))
  if (state === request.state) return { ...request, lines }
  const { version } = await move(
    call,
    'requisition',
    request.row,
    { state },
    {
      action: 'progressed',
      changes: { from: request.state, to: state },
      reason: null,
    },
  )
  return { ...request, lines, state, row: { ...request.row, state, version } }
}
