import type { Knex } from 'knex'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadWay } from '#contract/decide/endpoints.ts'
import { inWhoseName } from '#core/consent/consent.ts'
import { whyNotWay } from '#core/decide/way.ts'
import { available } from '#core/ledger/budget.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { found, type Read, type Write, writing } from '#server/call.ts'
import { useWay, type WayKind, wayOf, type WayRow } from '#server/consent/ways.ts'
import { askRequester } from '#server/decide/askActs.ts'
import { decide } from '#server/decide/decideActs.ts'
import { refuse } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { accountLabel, budgetSums } from '#server/ledger/budgetStore.ts'
import { getActor } from '#server/people/sessions.ts'
import { shownChanges } from '#server/request/changesStore.ts'
import { type KnownRequisition, knownRequisition, liveLines } from '#server/request/requisitionStore.ts'
import { seenHash } from '#server/request/seenStore.ts'

interface OpenWay {
  readonly way: WayRow
  readonly kind: WayKind
  readonly request: KnownRequisition
  readonly person: { readonly name: string; readonly email: string; readonly locale: string; readonly active: boolean }
  readonly reasons: readonly Reason[]
}

/** Who is signed in where a link is opened: a mail that was passed on decides nothing in another's session. */
const readerOf = (call: Read): string | undefined => (call.actor.id === '' ? undefined : call.actor.id)

/** The way of a token with what it leads to, and why it leads nowhere any more. @throws RuleBroken way.unknown */
export async function openWay(call: Read, token: string, reader?: string): Promise<OpenWay> {
  const { way, kind } = await wayOf(call, token)
  const consent = found(await call.trx('consents').where({ id: way.consentId }).first('documentId'), 'consent')
  const step = found(await call.trx('consentSteps').where({ id: way.stepId }).first('state'), 'step')
  const person = found(await call.trx('people').where({ id: way.personId }).first('name', 'email', 'locale', 'active'), 'person') // prettier-ignore
  const request = await knownRequisition(call, consent.documentId)
  const facts = { ...way, hashNow: seenHash(request), stepState: step.state, active: person.active }
  const others = reader !== undefined && reader !== way.personId ? [stop('way.notYours', { person: person.name })] : []
  return { way, kind, request, person, reasons: [...others, ...whyNotWay(facts, call.now)].slice(0, 1) }
}

/** What a link of a mail shows. A dead one tells no more than which request it was about. */
export async function readWay(call: Read, token: string): Promise<ResponseOf<typeof ReadWay>> {
  const { way, kind, request, person, reasons } = await openWay(call, token, readerOf(call))
  const open = reasons.length === 0
  return {
    offers: kind === 'n' ? 'reject' : 'approve',
    number: request.number,
    title: request.title,
    requester: open ? request.requester : '',
    reason: open ? request.row.reason : '',
    total: formatAmount(open ? request.total : minor(0), call.base),
    currency: call.base,
    needBy: open ? request.needBy : null,
    lines: open
      ? liveLines(request.rows).map(line => ({
          what: line.description,
          quantity: line.kind === 'goods' ? tidy(line.quantity) : null,
          unit: line.unit,
          amount: formatAmount(minor(line.baseAmount), call.base),
        }))
      : [],
    changes: open
      ? (await shownChanges(call, request, true)).map(({ line, before, after }) => ({ line, before, after }))
      : [],
    budgets: open ? await budgetsOf(call, request) : [],
    person: person.name,
    inPlaceOf: open ? await inPlaceOf(call, way, request) : '',
    until: way.expiresAt,
    reasons: reasonsJson([...reasons]),
  }
}

async function budgetsOf(call: Read, request: KnownRequisition): Promise<{ label: string; left: string }[]> {
  const ids = [...new Set(liveLines(request.rows).flatMap(line => line.splits.map(split => split.accountId)))]
  const accounts = await call.trx('budgetAccounts').whereIn('id', ids).orderBy(['costCentre', 'naturalAccount'])
  const sums = await budgetSums(call, ids)
  return accounts.map(account => ({
    label: accountLabel(account),
    left: formatAmount(available(sums.get(account.id)!), call.base),
  }))
}

async function inPlaceOf(call: Read, way: WayRow, request: KnownRequisition): Promise<string> {
  const actor = await getActor(call.trx as Knex, way.personId, call.now)
  const step = request.consent?.kept.find(one => one.id === way.stepId)
  const of = step && inWhoseName(request.consent!, step, actor)
  return of ? (step.people.find(one => one.id === of)?.name ?? '') : ''
}

export type WayAnswer = 'approve' | 'reject' | 'ask'

/** Decides by a way, as whoever got the mail, once: what is refused leaves it as it was. */
export async function decideByWay(
  call: Write,
  token: string,
  answer: WayAnswer,
  reason: string,
  reader?: string,
): Promise<OpenWay> {
  const opened = await openWay(call, token, reader)
  refuse([...opened.reasons])
  const { way, request } = opened
  await useWay(call, way.id, answer)
  const actor = await getActor(call.trx as Knex, way.personId, call.now)
  const as = writing(call.trx, { ...call, actor, channel: 'mail' })
  if (answer === 'ask') await askRequester(as, request.id, request.row.version, reason)
  else await decide(as, request.id, answer, request.row.version, reason, way.stepId)
  return opened
}

/** The same from the page that a link opens, in a transaction of its own. */
export const useWayNow = (call: Write, token: string, answer: WayAnswer, reason: string) =>
  (call.trx as Knex).transaction(async trx => {
    const { request } = await decideByWay(writing(trx, call), token, answer, reason, readerOf(call))
    return { number: request.number, answer }
  })
