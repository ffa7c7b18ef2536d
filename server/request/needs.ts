import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadNeeds } from '#contract/request/endpoints.ts'
import { formatAmount } from '#core/money/amount.ts'
import { isWork, type LineKind } from '#core/request/kinds.ts'
import { boughtCode } from '#core/request/progress.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'
import { may, type Read } from '#server/call.ts'
import { lastNo, waitsFor } from '#server/consent/consentStore.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { gauge, type SumsOf } from '#server/ledger/quantityStore.ts'
import { type BoughtLine, boughtLines, sumsThroughOrders } from '#server/request/progressStore.ts'
import { type KnownRequisition, knownRequisitions } from '#server/request/requisitionStore.ts'

type Need = ResponseOf<typeof ReadNeeds>['needs'][number]
const MOST = 60

interface Around {
  readonly bought: ReadonlyMap<string, readonly BoughtLine[]>
  readonly sums: SumsOf
}

/** Everything this person asked for, newest first, with how far each line has come and what is theirs to do now. */
export async function readNeeds(call: Read, view: 'open' | 'all'): Promise<ResponseOf<typeof ReadNeeds>> {
  const query = call.trx('requisitions').where({ requesterId: call.actor.id })
  if (view === 'open') void query.whereIn('state', [...REQUISITION_GROUPS.open])
  const heads = await query.clone().orderByRaw('need_by nulls last, created_at desc').limit(MOST).select('id')
  const count = await query.clone().count<{ count: bigint }[]>('* as count')
  const requests = [
    ...(
      await knownRequisitions(
        call,
        heads.map(head => head.id),
      )
    ).values(),
  ]
  const lineIds = requests.flatMap(request => request.lines.map(line => line.id))
  const around = { bought: await boughtLines(call, lineIds), sums: await sumsThroughOrders(call, lineIds) }
  const needs = requests.map(request => needOf(call, request, around))
  const urgent = (need: Need): string => `${need.toDo.length > 0 ? 0 : 1} ${need.needBy ?? '9999-12-31'}`
  return {
    needs: needs.sort((a, b) => (urgent(a) < urgent(b) ? -1 : 1)),
    hidden: Math.max(0, Number(count[0]?.count ?? 0) - heads.length),
  }
}

const needOf = (call: Read, request: KnownRequisition, around: Around): Need => ({
  id: request.id,
  number: request.number,
  title: request.title || request.number,
  state: request.state,
  sentence: sentenceOf(request, around),
  tone:
    request.question !== null || isIn(REQUISITION_GROUPS.cameBack, request.state)
      ? 'attention'
      : request.state === 'finished'
        ? 'settled'
        : 'plain',
  needBy: request.needBy,
  total: formatAmount(request.total, call.base),
  currency: call.base,
  lines: request.rows.map(line => ({
    id: line.id,
    description: line.description,
    state: line.state,
    gauge: gauge(line, line.quantity, around.sums(line.id)),
  })),
  toDo: toDo(call, request, around),
})

function sentenceOf(request: KnownRequisition, { bought }: Around): Sentence {
  if (request.question !== null) return { code: 'need.is.asked', details: {} }
  const holders = waitsFor(request.consent)
  if (holders.length > 0)
    return {
      code: 'requisition.is.waiting',
      details: { who: holders.join(', '), since: openedAt(request) },
    }
  return {
    code: boughtCode(
      request.state,
      request.lines.flatMap(line => bought.get(line.id) ?? []),
    ),
    details: {
      lines: request.lines.length,
      toBuy: request.lines.filter(line => line.state === 'toBuy').length,
      at: request.decidedAt ?? request.changedAt,
      ...lastNo(request.consent),
      since: request.changedAt,
    },
  }
}

/** Since when it waits for those who hold it now. */
const openedAt = (request: KnownRequisition): string =>
  request.consent?.kept
    .flatMap(step => (step.state === 'open' && step.openedAt !== null ? [step.openedAt] : []))
    .sort()[0] ?? request.changedAt

function toDo(call: Read, request: KnownRequisition, { bought }: Around): Need['toDo'] {
  const todo: Need['toDo'] = []
  const path = pathOf('requisition', request.id)
  if (request.question !== null) todo.push({ what: 'answer', path })
  if (isIn(REQUISITION_GROUPS.drafts, request.state)) todo.push({ what: 'submit', path })
  const prove = (what: 'acceptWork' | 'receive', fits: (kind: LineKind) => boolean): void => {
    const coming = request.rows
      .filter(line => fits(line.kind))
      .flatMap(line => (bought.get(line.id) ?? []).filter(order => order.comes))
    for (const orderId of new Set(coming.map(order => order.orderId)))
      todo.push({ what, path: pathOf('delivery', orderId) })
  }
  prove('acceptWork', isWork)
  if (may(call, 'delivery.receive')) prove('receive', kind => !isWork(kind))
  return todo
}
