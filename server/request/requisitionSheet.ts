import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'
import { inWhoseName } from '#core/consent/consent.ts'
import { DECIDE_SETTINGS } from '#core/consent/settings.ts'
import { type Around as DecideAround, requisitionActions } from '#core/decide/actions.ts'
import { whyNotDecideRequisition } from '#core/decide/decideRequisition.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'
import { may, type Read } from '#server/call.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { type KeptConsent, latestConsent, usualHoursOf, lastNo, waitsFor } from '#server/consent/consentStore.ts'
import { namedIn, stepsJson } from '#server/consent/stepJson.ts'
import { byId } from '#server/database/rows.ts'
import { actionsJson, pathOf, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { shownFigures } from '#server/ledger/shownFigures.ts'
import { lastTimes } from '#server/request/lastTime.ts'
import { personNames } from '#server/people/peopleStore.ts'
import { gauge } from '#server/ledger/quantityStore.ts'
import { boughtCode } from '#core/request/progress.ts'
import { type BoughtLine, boughtLines, sumsThroughOrders } from '#server/request/progressStore.ts'
import { formSaid } from '#server/request/formStore.ts'
import { factsOf, type LineContext, lineContext } from '#server/request/lineStore.ts'
import { questionsOf } from '#server/request/questionActs.ts'
import { shownChanges } from '#server/request/changesStore.ts'
import { readersLines } from '#server/request/readersLinesStore.ts'
import { askedFor, type KnownRequisition, knownRequisition, liveLines } from '#server/request/requisitionStore.ts'
import { threadOf } from '#server/thread/thread.ts'

type Sheet = ResponseOf<typeof ReadRequisition>
type SheetLine = Sheet['lines'][number]

export async function readRequisition(call: Read, id: string): Promise<Sheet> {
  await needVisible(call, 'requisition', id)
  const request = await knownRequisition(call, id)
  const { row } = request
  const parts = await sheetParts(call, 'requisition', id)
  const questions = await questionsOf(call, id)
  const amounts = amountsByAccount(
    liveLines(request.rows).map(line => ({ amount: minor(line.baseAmount), splits: line.splits })),
  )
  const open = questions.filter(one => one.answeredAt === null)
  const bought = await boughtLines(
    call,
    request.lines.map(line => line.id),
  )
  const decides = whyNotDecideRequisition(request, call.actor).length === 0
  return {
    kind: 'requisition',
    id,
    number: row.number,
    title: row.title,
    state: row.state,
    version: row.version,
    ...parts,
    thread: await threadOf(call, { requisitionId: id }),
    budgets: await shownFigures(
      call,
      amounts,
      isIn(REQUISITION_GROUPS.counted, row.state),
      takesPart(call, request) || may(call, 'order.write'),
    ),
    steps: stepsJson(request.consent, call.base, await personNames(call, namedIn(request.consent))),
    sentence:
      open[0] === undefined
        ? await sentenceOf(call, request, bought, decides)
        : {
            code: row.requesterId === call.actor.id ? 'requisition.is.askedYou' : 'requisition.is.asked',
            details: { who: request.requester, by: open[0].by, since: open[0].at, count: open.length },
          },
    tone: toneOf(request, open.length > 0, decides),
    actions: actionsJson(
      requisitionActions(request, call.actor, call.now, {
        stalled: stalls(request.consent),
        ...(isIn(REQUISITION_GROUPS.deciding, row.state) ? await aroundDeciding(call, id) : NOT_DECIDING),
      }),
    ),
    requester: request.requester,
    requesterId: row.requesterId,
    reason: row.reason,
    baseCurrency: call.base,
    total: formatAmount(row.total, call.base),
    needBy: row.needBy,
    mine: row.requesterId === call.actor.id,
    mayDecide: decides,
    questions,
    changes: await shownChanges(call, request, maySeePeople(call, request)),
    form: await formSaid(call, row),
    lines: await sheetLines(call, request, bought),
  }
}

const NOT_DECIDING = { byHand: false, editing: DECIDE_SETTINGS.editing, skip: null }
async function aroundDeciding(call: Read, id: string): Promise<Omit<DecideAround, 'stalled'>> {
  const { addByHand, editing } = await decideSettings(call)
  return { byHand: addByHand, editing, skip: await latestConsent(call, id, 'skip') }
}

const stalls = (consent: KeptConsent | null): boolean => consent?.kept.some(step => step.stall !== null) ?? false

function toneOf(request: KnownRequisition, asked: boolean, decides: boolean): Sheet['tone'] {
  if (asked) return 'attention'
  if (stalls(request.consent)) return 'stop'
  if (isIn(REQUISITION_GROUPS.cameBack, request.state) || decides) return 'attention'
  return request.state === 'finished' ? 'settled' : 'plain'
}

type Bought = ReadonlyMap<string, readonly BoughtLine[]>

async function sentenceOf(call: Read, request: KnownRequisition, bought: Bought, decides: boolean): Promise<Sentence> {
  const { row, consent } = request
  if (isIn(REQUISITION_GROUPS.deciding, row.state)) return await waitingSentence(call, request, decides)
  if (isIn(REQUISITION_GROUPS.cameBack, row.state))
    return { code: `requisition.is.${row.state}`, details: lastNo(consent) }
  const toBuy = request.lines.filter(line => line.state === 'toBuy').length
  return {
    code: boughtCode(row.state, [...bought.values()].flat()),
    details: { lines: request.lines.length, toBuy, at: row.decidedAt ?? row.changedAt },
  }
}

async function waitingSentence(call: Read, request: KnownRequisition, decides: boolean): Promise<Sentence> {
  const open = request.consent?.kept.filter(step => step.state === 'open') ?? []
  const stalled = open.filter(step => step.stall !== null)
  if (stalled.length > 0)
    return {
      code: 'requisition.is.stalled',
      details: { who: stalled.map(step => step.who).join(', '), [stalled[0]!.stall!]: 1 },
    }
  const usual = await usualHoursOf(
    call,
    open.flatMap(step => step.approverIds),
  )
  return {
    code: decides
      ? 'requisition.is.waitingForYou'
      : usual === null
        ? 'requisition.is.waiting'
        : 'requisition.is.waitingUsually',
    details: {
      who: waitsFor(request.consent).join(', '),
      since: open[0]?.openedAt ?? request.changedAt,
      usual: usual === null ? '' : usual >= 36 ? `${Math.round(usual / 24)} days` : `${usual} h`,
    },
  }
}

interface ShownNames {
  supplier: string | null
  address: string | null
  itemNumber: string | null
  buyer: string | null
}

/** What a line names: its supplier, place, item and buyer. */
async function namesOf(call: Read, requisitionId: string): Promise<Map<string, ShownNames>> {
  const { rows } = await call.trx
    .raw<{ rows: (ShownNames & { id: string })[] }>(
      `select l.id, s.name as supplier, nullif(concat_ws(', ', a.name, a.dock), '') as address, i.number as item_number, b.name as buyer
       from requisition_lines l left join suppliers s on s.id = l.supplier_id left join addresses a on a.id = l.address_id left join items i on i.id = l.item_id left join people b on b.id = l.buyer_id where l.requisition_id = ?`,
      [requisitionId],
    )
    .options({ name: 'names-on-lines' })
  return byId(rows) as Map<string, ShownNames & { id: string }>
}

async function sheetLines(call: Read, request: KnownRequisition, bought: Bought): Promise<SheetLine[]> {
  const ids = request.rows.map(line => line.id)
  const sums = await sumsThroughOrders(call, ids)
  const names = await namesOf(call, request.id)
  const context: LineContext = await lineContext(call, request.rows, false)
  const mayKnow = maySeePeople(call, request)
  const deciding = isIn(REQUISITION_GROUPS.deciding, request.row.state)
  const lastTime = deciding ? await lastTimes(call, request.id, request.rows, context.rates) : new Map<string, never>()
  const mine = await readersLines(call, request)
  return request.rows.map(line => {
    const order = bought.get(line.id)?.[0]
    const { supplier, address, itemNumber, buyer } = names.get(line.id)!
    return confide(mayKnow, {
      id: line.id,
      position: line.position,
      ...askedFor(line),
      state: line.state,
      amount: formatAmount(line.amount, line.currency),
      baseAmount: formatAmount(line.baseAmount, call.base),
      supplier,
      address,
      itemNumber,
      buyer,
      gauge: gauge(line, line.quantity, sums(line.id)),
      orderNumber: order?.orderNumber ?? null,
      orderPath: order && may(call, 'order.read') ? pathOf('order', order.orderId) : null,
      confidential: false,
      mine: mine.has(line.id),
      lastTime: lastTime.get(line.id) ?? null,
      facts: factsOf(context, line),
    })
  })
}

/** Whom a personal fee is for is seen by the requester, those who decide and those with the right. */
const maySeePeople = (call: Read, request: KnownRequisition): boolean =>
  takesPart(call, request) || may(call, 'requisition.personal')

/** Whoever asked, decides it or has decided it. */
const takesPart = (call: Read, request: KnownRequisition): boolean =>
  request.requesterId === call.actor.id ||
  (request.consent?.kept ?? []).some(
    step => step.decidedBy === call.actor.id || inWhoseName(request.consent!, step, call.actor) !== undefined,
  )

/** The others see that it is one, and what it costs. */
function confide(mayKnow: boolean, line: SheetLine): SheetLine {
  if (line.kind !== 'personalFee' || mayKnow) return line
  return {
    ...line,
    description: '',
    supplierId: null,
    supplier: null,
    routeReason: '',
    details: {},
    confidential: true,
    orderPath: null,
    orderNumber: null,
  }
}
