import { formatAmount, minor } from '#core/money/amount.ts'
import { stop } from '#core/reasons.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import type { ActionState, Sentence, StepJson } from '#contract/fields.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'
import { type Call, may } from '#server/call.ts'
import { budgetFigures } from '#server/ledger/budgetStore.ts'
import { gauge, sumsThroughOrders } from '#server/ledger/quantityStore.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { askedFor, readVisibleRequisition, type RequisitionLineRow, type RequisitionRow } from '#server/request/requisitionStore.ts'
import { usualDecision } from '#server/decide/reminders.ts'
import { formSaid } from '#server/request/forms.ts'
import { factsOf, lineContext } from '#server/request/lineContext.ts'
import { questionsOf } from '#server/request/questions.ts'
import { action, PATHS, sheetParts } from '#server/sheets/parts.ts'
import { threadOf } from '#server/sheets/thread.ts'

type ShownLine = RequisitionLineRow & {
  supplier: string | null
  address: string | null
  itemNumber: string | null
  orderId: string | null
  orderNumber: string | null
  buyer: string | null
}

const linesQuery = (call: Call, id: string): Promise<ShownLine[]> =>
  call
    .trx('requisitionLines as line')
    .leftJoin('suppliers', 'suppliers.id', 'line.supplierId')
    .leftJoin('addresses', 'addresses.id', 'line.addressId')
    .leftJoin('items', 'items.id', 'line.itemId')
    .leftJoin('people as buyer', 'buyer.id', 'line.buyerId')
    .joinRaw(
      `left join lateral (select o.id, o.number from order_lines ol join orders o on o.id = ol.order_id where ol.requisition_line_id = line.id and o.state <> 'cancelled' order by o.created_at desc limit 1) as bought on true`,
    )
    .where('line.requisitionId', id)
    .orderBy('line.position')
    .select(
      'line.*',
      'suppliers.name as supplier',
      call.trx.raw("nullif(concat_ws(', ', addresses.name, addresses.dock), '') as address"),
      'items.number as item_number',
      'buyer.name as buyer',
      'bought.id as order_id',
      'bought.number as order_number',
    ) as unknown as Promise<ShownLine[]>

const stepsQuery = (call: Call, requisition: RequisitionRow): Promise<(StepJson & { active: boolean; openedAt: string | null })[]> =>
  call
    .trx('approvalSteps as step')
    .join('people', 'people.id', 'step.approverId')
    .where({ requisitionId: requisition.id, round: requisition.round })
    .orderBy(['stage', 'people.name'])
    .select(
      'step.id',
      'step.stage',
      'step.approverId',
      'people.name as approver',
      'step.ruleName as rule',
      'step.costCentre',
      'step.because',
      'step.state',
      'step.decidedAt',
      'step.reason',
      'people.active',
      'step.openedAt',
    ) as never

export async function readRequisition(call: Call, id: string): Promise<ResponseOf<typeof ReadRequisition>> {
  const row = await readVisibleRequisition(call, id)
  const [lines, stepRows, requester, parts, thread, questions, form] = await Promise.all([
    linesQuery(call, id),
    stepsQuery(call, row),
    call.trx('people').where({ id: row.requesterId }).first('name') as Promise<{ name: string }>,
    sheetParts(call, id),
    threadOf(call, { requisitionId: id }),
    questionsOf(call, id),
    formSaid(call, row),
  ])
  const sums = await sumsThroughOrders(
    call,
    lines.map(line => line.id),
  )
  const context = await lineContext(call, lines, false)
  const open = questions.filter(one => one.answeredAt === null)
  const amounts = amountsByAccount(lines.map(line => ({ amount: minor(line.baseAmount), splits: line.splits })))
  const counted = !['draft', 'returned', 'rejected', 'withdrawn', 'cancelled'].includes(row.state)
  const steps = stepRows.map(({ active, openedAt: _opened, ...step }) => ({ ...step, stalled: !active && (step.state === 'open' || step.state === 'later') }))
  const mine = row.requesterId === call.actor.id
  const mayKnow = mine || may(call, 'requisition.personal') || stepRows.some(step => step.approverId === call.actor.id)
  const myStep = stepRows.find(step => step.approverId === call.actor.id && step.state === 'open')
  return {
    kind: 'requisition',
    id,
    number: row.number,
    title: row.title,
    state: row.state,
    version: row.version,
    ...parts,
    thread,
    budgets: await budgetFigures(call, amounts, counted),
    steps,
    sentence: open[0]
      ? {
          code: row.requesterId === call.actor.id ? 'requisition.is.askedYou' : 'requisition.is.asked',
          details: { who: requester.name, by: open[0].by, since: open[0].at, count: open.length },
        }
      : sentenceOf(
          row,
          steps,
          lines,
          stepRows.find(step => step.state === 'open')?.openedAt ?? row.changedAt,
          myStep !== undefined && row.state === 'waiting',
          await usualDecision(
            call,
            stepRows.filter(step => step.state === 'open').map(step => step.approverId),
          ),
        ),
    tone:
      open.length > 0
        ? 'attention'
        : steps.some(step => step.stalled) && row.state === 'waiting'
          ? 'stop'
          : ['returned', 'rejected'].includes(row.state) || (myStep && row.state === 'waiting')
            ? 'attention'
            : row.state === 'finished'
              ? 'settled'
              : 'plain',
    actions: actionsOf(call, row, lines, steps, mine, myStep !== undefined && row.state === 'waiting'),
    requester: requester.name,
    requesterId: row.requesterId,
    reason: row.reason,
    baseCurrency: call.base,
    total: formatAmount(row.total, call.base),
    needBy: row.needBy,
    mine,
    mayDecide: myStep !== undefined && row.state === 'waiting' && !mine,
    questions,
    form,
    lines: lines.map(line =>
      confide(mayKnow, {
        id: line.id,
        position: line.position,
        ...askedFor(line),
        state: line.state,
        amount: formatAmount(line.amount, line.currency),
        baseAmount: formatAmount(line.baseAmount, call.base),
        supplier: line.supplier,
        address: line.address,
        itemNumber: line.itemNumber,
        gauge: gauge(line.id, line.unit, line.quantity, sums(line.id)),
        orderNumber: line.orderNumber,
        orderPath: line.orderId && may(call, 'order.read') ? PATHS.order(line.orderId) : null,
        buyer: line.buyer,
        confidential: false,
        facts: factsOf(context, line),
      }),
    ),
  }
}

type SheetLine = ResponseOf<typeof ReadRequisition>['lines'][number]

/** Whom a personal fee is for is seen by the requester, those who decide and those with the right; the others see that it is one, and what it costs. */
function confide(mayKnow: boolean, line: SheetLine): SheetLine {
  if (line.kind !== 'personalFee' || mayKnow) return line
  return { ...line, description: '', supplierId: null, supplier: null, routeReason: '', details: {}, confidential: true, orderPath: null, orderNumber: null }
}

function sentenceOf(row: RequisitionRow, steps: readonly StepJson[], lines: readonly ShownLine[], since: string, forMe: boolean, usual: number | null): Sentence {
  const open = steps.filter(step => step.state === 'open')
  if (row.state === 'waiting' && open.some(step => step.stalled))
    return {
      code: 'requisition.is.stalled',
      details: {
        who: open
          .filter(step => step.stalled)
          .map(step => step.approver)
          .join(', '),
      },
    }
  if (row.state === 'waiting')
    return {
      code: forMe ? 'requisition.is.waitingForYou' : usual === null ? 'requisition.is.waiting' : 'requisition.is.waitingUsually',
      details: { who: open.map(step => step.approver).join(', '), since, usual: usual === null ? '' : usual >= 36 ? `${Math.round(usual / 24)} days` : `${usual} h` },
    }
  const decided = [...steps].reverse().find(step => step.state === 'rejected' || step.state === 'returned')
  if (row.state === 'rejected' || row.state === 'returned') return { code: `requisition.is.${row.state}`, details: { who: decided?.approver ?? '', reason: decided?.reason ?? '' } }
  const toBuy = lines.filter(line => line.state === 'toBuy').length
  return { code: `requisition.is.${row.state}`, details: { lines: lines.length, toBuy, at: row.decidedAt ?? row.changedAt } }
}

function actionsOf(call: Call, row: RequisitionRow, lines: readonly ShownLine[], steps: readonly StepJson[], mine: boolean, myTurn: boolean): ActionState[] {
  const actions: ActionState[] = []
  if (row.state === 'draft' || row.state === 'returned') actions.push(action('submit', mine, { primary: true }), action('cancel', mine))
  if (row.state === 'waiting') {
    const waitsFor = steps.filter(step => step.state === 'open').map(step => step.approver)
    const why = mine ? [stop('decide.own')] : myTurn ? true : [stop('decide.waitsForOther', { who: waitsFor.join(', ') }, { clearedBy: waitsFor })]
    actions.push(action('approve', why, { primary: true }), action('return', why), action('reject', why))
    if (may(call, 'requisition.passOn')) actions.push(action('passOn', true, { primary: steps.some(step => step.stalled) }))
  }
  if (row.state === 'waiting' || row.state === 'approved') {
    const back = !mine ? false : lines.every(line => ['open', 'toBuy'].includes(line.state)) ? true : [stop('requisition.beingBought')]
    actions.push(action('change', back), action('withdraw', back))
  }
  if (row.state === 'waiting' && mine)
    actions.push(action('remind', row.remindedAt && Date.parse(call.now) - Date.parse(row.remindedAt) < 86_400_000 ? [stop('remind.already', { at: row.remindedAt })] : true))
  if (row.state === 'rejected' || row.state === 'withdrawn') actions.push(action('reopen', mine, { primary: true }))
  if (mine && row.state !== 'draft') actions.push(action('copy', true))
  return actions
}

interface Listed {
  id: string
  number: string
  title: string
  state: string
  total: bigint
  needBy: string | null
  requester: string
  createdAt: string
  waitsFor: string | null
  lines: number
}

const listed = (defaultView: 'mine' | 'forMe'): ListDefinition<Listed> => ({
  id: 'requisitions.id',
  base: call => {
    const query = call.trx('requisitions').leftJoin('people', 'people.id', 'requisitions.requesterId')
    if (may(call, 'requisition.readAll')) return query
    return query.where(seen =>
      seen
        .where('requisitions.requesterId', call.actor.id)
        .orWhereIn('requisitions.id', call.trx('approvalSteps').where({ approverId: call.actor.id }).select('requisitionId'))
        .orWhereIn(
          'requisitions.id',
          call
            .trx('requisitionLines')
            .joinRaw(`cross join jsonb_array_elements(splits) as split join budget_accounts on budget_accounts.id = (split ->> 'accountId')::uuid`)
            .whereRaw('cost_centre = any(?)', [[...call.actor.costCentres]])
            .select('requisitionId'),
        ),
    )
  },
  select: [
    'requisitions.id',
    'requisitions.number',
    'requisitions.title',
    'requisitions.state',
    'requisitions.total',
    'requisitions.need_by',
    'requisitions.created_at',
    'requisitions.lines',
    'people.name as requester',
    `(select string_agg(approver.name, ', ') from approval_steps step join people approver on approver.id = step.approver_id where step.requisition_id = requisitions.id and step.round = requisitions.round and step.state = 'open' and requisitions.state = 'waiting') as waits_for`,
  ],
  views:
    defaultView === 'mine'
      ? {
          mine: (query, call) => void query.where('requisitions.requesterId', call.actor.id),
          open: query => void query.whereIn('requisitions.state', ['draft', 'returned', 'waiting', 'approved', 'inPurchasing', 'ordered']),
          all: () => undefined,
        }
      : {
          forMe: (query, call) =>
            void query
              .where('requisitions.state', 'waiting')
              .whereIn('requisitions.id', call.trx('approvalSteps').where({ approverId: call.actor.id, state: 'open' }).select('requisitionId')),
          coming: (query, call) =>
            void query
              .where('requisitions.state', 'waiting')
              .whereIn('requisitions.id', call.trx('approvalSteps').where({ approverId: call.actor.id, state: 'later' }).select('requisitionId')),
          decided: (query, call) =>
            void query.whereIn('requisitions.id', call.trx('approvalSteps').where({ approverId: call.actor.id }).whereNotNull('decidedAt').select('requisitionId')),
          stalled: query =>
            void query
              .where('requisitions.state', 'waiting')
              .whereExists(inner =>
                inner
                  .from('approvalSteps as step')
                  .join('people as approver', 'approver.id', 'step.approverId')
                  .whereRaw("step.requisition_id = requisitions.id and step.round = requisitions.round and step.state = 'open' and not approver.active"),
              ),
          waiting: query => void query.where('requisitions.state', 'waiting'),
        },
  sorts: {
    newest: { sql: 'requisitions.created_at', descending: true, type: 'timestamptz' },
    needBy: { sql: "coalesce(requisitions.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    amount: { sql: 'requisitions.total', descending: true, type: 'bigint' },
  },
  search: 'requisitions.search',
  states: { column: 'requisitions.state', values: ['draft', 'waiting', 'returned', 'approved', 'inPurchasing', 'ordered', 'finished', 'rejected', 'withdrawn', 'cancelled'] },
  columns: [
    { key: 'requester', numeric: false },
    { key: 'needBy', numeric: false },
    { key: 'lines', numeric: true },
    { key: 'waitsFor', numeric: false },
    { key: 'createdAt', numeric: false },
  ],
  row: (row, call) => ({
    id: row.id,
    path: defaultView === 'mine' ? PATHS.requisition(row.id) : `/decide/${row.id}`,
    number: row.number,
    title: row.title || row.number,
    subtitle: `${row.number}, ${row.requester}`,
    state: row.state,
    amount: formatAmount(row.total, call.base),
    currency: call.base,
    note: {
      code: defaultView === 'forMe' && row.waitsFor?.includes(call.actor.name) ? 'requisition.short.forYou' : `requisition.short.${row.state}`,
      details: { who: row.waitsFor ?? '', needBy: row.needBy ?? '' },
    },
    tone: ['returned', 'rejected'].includes(row.state) ? 'attention' : row.state === 'finished' ? 'settled' : 'plain',
    cells: { requester: row.requester, needBy: row.needBy, lines: String(row.lines), waitsFor: row.waitsFor, createdAt: row.createdAt.slice(0, 10) },
  }),
})

export const requisitionList = listed('mine')
export const decisionList = listed('forMe')
