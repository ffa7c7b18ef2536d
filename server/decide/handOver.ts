import type { ResponseOf } from '#contract/endpoint.ts'
import type { Permission } from '#contract/permissions.ts'
import type { HandOver, ReadHandOver } from '#contract/decide/endpoints.ts'
import { rightOfStep } from '#core/consent/passQuestion.ts'
import type { ConsentPurpose } from '#core/consent/consent.ts'
import { stepById } from '#core/consent/passStep.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { handOver, type LeftStep, whyNotHandOver } from '#core/decide/handOver.ts'
import { waitingMail } from '#core/decide/decideRequisition.ts'
import { APPROVAL_RIGHT } from '#core/request/submitRequisition.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { consentsById, type KeptConsent, passStep, refreshAskedOf } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { refuse } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { endStreams } from '#server/people/sessions.ts'
import { teamMember } from '#server/people/peopleStore.ts'
import { sayOfRequest } from '#server/request/decisionMailStore.ts'
import { heldRequisition } from '#server/request/requisitionStore.ts'
import { setInForce } from '#server/rules/ruleStore.ts'

interface LeftRow {
  id: string
  consentId: string
  purpose: ConsentPurpose
  documentKind: DocumentKind
  documentId: string
  number: string
  title: string
  path: string
  state: 'open' | 'later'
}

/** Decisions of every kind that wait for somebody by name, now or later. */
async function leftBy(call: Read, personId: string): Promise<LeftRow[]> {
  const { rows } = await call.trx.raw<{ rows: LeftRow[] }>(
    `select s.id, s.consent_id, c.purpose, c.document_kind, c.document_id, c.about->>'number' as number, c.about->>'title' as title, c.about->>'path' as path, s.state
     from consent_steps s join consents c on c.id = s.consent_id and c.state = 'open'
     where s.approver_ids @> ? and s.state in ('open', 'later') order by c.document_kind, c.document_id, s.id`,
    [[personId]],
  )
  return rows
}

export async function readHandOver(call: Read, id: string): Promise<ResponseOf<typeof ReadHandOver>> {
  const person = found(await call.trx('people').where({ id, realm: 'team' }).first('name', 'active'), 'person')
  const left = await leftBy(call, id)
  const inForce = await setInForce(call, call.today)
  const { rows: rules } = await call.trx.raw<{ rows: { version: number; name: string; draft: boolean }[] }>(
    `select v.number as version, r.name, v.state = 'draft' as draft from rules r join rule_sets v on v.id = r.set_id
     where (v.id = ? or v.state = 'draft') and r.who->>'kind' = 'people' and r.who->'personIds' @> ?::jsonb order by v.number, r.name`,
    [inForce?.id ?? null, JSON.stringify([id])],
  )
  const standsInFor = await call
    .trx('awayTimes')
    .join('people', 'people.id', 'awayTimes.personId')
    .where({ standInId: id })
    .where('toDay', '>=', call.today)
    .orderBy('people.name')
    .distinct<{ name: string }[]>('people.name')
  const people = await call.trx('people').where({ realm: 'team', active: true }).whereNot({ id }).orderBy('name').select('id', 'name') // prettier-ignore
  const below = await call.trx('people').where({ managerId: id, active: true }).orderBy('name').select('name')
  const centres = await call.trx('costCentres').where({ holderId: id }).orderBy('code').select('code', 'name')
  return {
    name: person.name,
    open: person.active,
    decisions: left.map(row => ({
      id: row.id,
      number: row.number,
      title: row.title,
      path: row.path,
      now: row.state === 'open',
    })),
    rules,
    centres: centres.map(one => `${one.code} ${one.name}`),
    below: below.map(one => one.name),
    standsInFor: standsInFor.map(one => one.name),
    people: people.map(one => ({ id: one.id, label: one.name })),
  }
}

/** Gives everything that waits for somebody to another; the person is held first, documents in the order of their ids. */
export async function giveOver(
  call: Write,
  id: string,
  toPersonId: string,
  reason: string,
): Promise<ResponseOf<typeof HandOver>> {
  const to = await teamMember(call, toPersonId, APPROVAL_RIGHT)
  refuse(whyNotHandOver(id, to))
  const leaving = await hold(call, 'person', id)
  const rows = await leftBy(call, id)
  const consents = await consentsById(call, [...new Set(rows.map(row => row.consentId))])
  const given = handOver(await leftSteps(call, rows, consents, to.id), to, reason)
  for (const one of given.filter(other => other.kind === 'gives')) {
    const row = rows.find(other => other.id === one.id)!
    const request = row.purpose === 'approval' ? await heldRequisition(call, row.documentId) : null
    if (request === null) await hold(call, row.documentKind, row.documentId)
    await passStep(call, row.consentId, row.id, to.id)
    await record(call, {
      kind: row.documentKind,
      id: row.documentId,
      action: 'passedOn',
      changes: { to: to.name },
      reason,
    })
    if (request !== null && row.state === 'open') await sayOfRequest(call, request.id, [waitingMail(request, to.id, request.round)]) // prettier-ignore
  }
  await followChain(call, leaving, to.id)
  return {
    given: given.filter(one => one.kind === 'gives').length,
    others: given.filter(one => one.kind === 'others').length,
    left: given.flatMap(one =>
      one.kind === 'cannot' ? [{ number: one.number, reasons: reasonsJson([...one.reasons]) }] : [],
    ),
  }
}

/** The steps that wait, each with whether who takes over may decide such a question. */
async function leftSteps(
  call: Read,
  rows: readonly LeftRow[],
  consents: ReadonlyMap<string, KeptConsent>,
  toId: string,
): Promise<LeftStep[]> {
  const steps: LeftStep[] = []
  for (const { id, number, consentId } of rows) {
    const consent = consents.get(consentId)!
    const right = rightOfStep(consent, id)
    const able = right === null || (await teamMember(call, toId, right as Permission)).able
    steps.push({ id, number, step: stepById(consent, id)!, able })
  }
  return steps
}

/** Whoever had them next in the chain has the successor now, who has whom they had. Whom they stood in for is away without a stand-in, which the stewards see. */
async function followChain(
  call: Write,
  { id, managerId }: { readonly id: string; readonly managerId: string | null },
  toId: string,
): Promise<void> {
  await call.trx('people').where({ managerId: id }).whereNot({ id: toId }).update({ managerId: toId })
  await call.trx('people').where({ id: toId, managerId: id }).update({ managerId })
  const over = await call
    .trx('awayTimes')
    .where({ standInId: id })
    .where('toDay', '>=', call.today)
    .select('id', 'personId', 'away')
  for (const one of over) {
    const time = call.trx('awayTimes').where({ id: one.id })
    await (one.away ? time.update({ standInId: null, kinds: [], amountLimit: null }) : time.delete())
    await refreshAskedOf(call, one.personId)
  }
  await record(call, { kind: 'person', id, action: 'workHandedOver', changes: { to: toId } })
  await endStreams(call, toId)
}
