import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { ActOnAgreement, CreateAgreement, WriteAgreement } from '#contract/agreements/agreements.ts'
import type { AgreementContent } from '#core/agreements/content.ts'
import { agreementQuestion, askAgreement, decideAgreement, withdrawAgreement } from '#core/agreements/decide.ts'
import type { AgreementNext } from '#core/agreements/next.ts'
import { windDown } from '#core/agreements/windDown.ts'
import {
  beginAmendment,
  cancelAgreement,
  dropAmendment,
  proposed,
  writeAgreement as decideWrite,
} from '#core/agreements/write.ts'
import type { Decision } from '#core/acts/decision.ts'
import { minor, parseAmount, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { addDays } from '#core/calendar/days.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { ask, settleConsent } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { baseRate } from '#server/house/rates.ts'
import { say } from '#server/mail/mail.ts'
import { type Decided, ruled } from '#server/rules/ruledStore.ts'
import { heldAgreement, keepAgreementDesk, type KnownAgreement, searchText } from '#server/agreements/agreementStore.ts'
import { bringInForce, keepStanding } from '#server/agreements/inForce.ts'
import { linesOfOffers } from '#server/agreements/fromOffers.ts'
import { followAmendment } from '#server/agreements/openOrders.ts'
import { beginWindDown, goOnWindingDown } from '#server/agreements/windDownActs.ts'

const YEAR = 364

/** What a new agreement says before anybody has written on it. */
export const firstContent = (title: string, currency: string, today: string): AgreementContent => ({
  title,
  currency,
  startsOn: today,
  endsOn: addDays(today, YEAR),
  warnPercent: 80,
  whenOver: 'stop',
  ceilings: [],
  callers: { costCentres: [], addressIds: [], personIds: [] },
  incoterm: '',
  incotermPlace: '',
  serviceLevel: '',
  terms: '',
  lines: [],
})

export async function createAgreement(
  call: Write,
  { supplierId, title, fromOffers }: BodyOf<typeof CreateAgreement>,
): Promise<Done & { number: string }> {
  const lines = fromOffers ? await linesOfOffers(call, supplierId) : []
  const supplier = found(await call.trx('suppliers').where({ id: supplierId }).first('defaults'), 'supplier')
  const currency = lines[0]?.currency ?? supplier.defaults.currency ?? call.base
  return await insertAgreement(call, supplierId, { ...firstContent(title, currency, call.today), lines })
}

/** A new draft of this person. */
export async function insertAgreement(
  call: Write,
  supplierId: string,
  content: AgreementContent,
  eventId: string | null = null,
): Promise<Done & { number: string }> {
  const supplier = found(await call.trx('suppliers').where({ id: supplierId }).first('name'), 'supplier')
  const id = randomUUID()
  const number = await nextNumber(call, 'agreement')
  const { title, currency, startsOn, endsOn } = content
  await call.trx('agreements').insert({
    id,
    number,
    title,
    currency,
    startsOn,
    endsOn,
    state: 'draft',
    supplierId,
    ownerId: call.actor.id,
    eventId,
    content: json(content),
    createdAt: call.now,
    changedAt: call.now,
    search: searchText({ number, title }, supplier.name, content.lines),
  })
  await record(call, {
    kind: 'agreement',
    id,
    action: 'created',
    changes: { supplier: supplier.name, lines: content.lines.length },
  })
  await keepAgreementDesk(call, id)
  return { id, version: 1, number }
}

export async function writeAgreement(call: Write, id: string, body: BodyOf<typeof WriteAgreement>): Promise<Done> {
  await needVisible(call, 'agreement', id)
  const agreement = await heldAgreement(call, id, body.version)
  return await carryOut(call, agreement, decideWrite(agreement, body.content, call.actor))
}

/** Carries out what was decided about an agreement. */
async function carryOut(call: Write, agreement: KnownAgreement, decision: Decision<AgreementNext>): Promise<Done> {
  const decided = obey(decision)
  const { next } = decided
  const { id } = agreement
  if (next.consent && agreement.consent) await settleConsent(call, agreement.consent, next.consent)
  if (next.inForce) await bringInForce(call, agreement, next.inForce, next.reason ?? '')
  const done = await move(
    call,
    'agreement',
    agreement.row,
    { state: next.state, amendment: next.amendment, ...written(agreement, next) },
    decided.did,
  )
  await say(call, decided.says, { kind: 'agreement', id })
  if (next.inForce) {
    await keepStanding(call, id)
    await followAmendment(call, agreement, next.inForce)
  }
  await keepAgreementDesk(call, id)
  return done
}

/** A draft is written in its place; an amendment beside what holds, which is gone once it is in force or dropped. */
function written(agreement: KnownAgreement, next: AgreementNext) {
  if (next.writes === undefined) return {}
  if (agreement.state !== 'draft' || next.writes === null)
    return { wanted: next.writes === null ? null : json(next.writes) }
  const { title, currency, startsOn, endsOn } = next.writes
  return {
    content: json(next.writes),
    title,
    currency,
    startsOn,
    endsOn,
    search: searchText({ number: agreement.number, title }, agreement.supplier, next.writes.lines),
  }
}

type Act = BodyOf<typeof ActOnAgreement>

export async function actOnAgreement(call: Write, id: string, body: Act): Promise<Done> {
  await needVisible(call, 'agreement', id)
  const agreement = await heldAgreement(call, id, body.version)
  const { actor } = call
  const { reason } = body
  switch (body.act) {
    case 'putForward':
      return await askFor(call, agreement, body)
    case 'approve':
    case 'refuse':
      return await carryOut(
        call,
        agreement,
        decideAgreement(
          agreement,
          actor,
          body.act === 'approve' ? 'approve' : 'reject',
          reason,
          agreement.row.askedReason,
        ),
      )
    case 'withdraw':
      return await carryOut(call, agreement, withdrawAgreement(agreement, actor, reason))
    case 'amend':
      return await carryOut(call, agreement, beginAmendment(agreement, actor))
    case 'dropAmendment':
      return await carryOut(call, agreement, dropAmendment(agreement, actor))
    case 'cancel':
      return await carryOut(call, agreement, cancelAgreement(agreement, actor, reason))
    case 'windDown': {
      const done = await carryOut(call, agreement, windDown(agreement, actor, body.number ?? '', reason))
      await beginWindDown(call, await heldAgreement(call, id))
      return done
    }
    case 'goOn':
      await goOnWindingDown(call, agreement)
      return { id, version: agreement.row.version }
  }
}

/** Puts it to those whom the rules name; where they name nobody it is in force. */
async function askFor(call: Write, agreement: KnownAgreement, { reason, openOrders }: Act): Promise<Done> {
  const { question, origins } = await ruled(
    call,
    agreementQuestion(agreement, reason),
    await decidedAgreement(call, agreement),
  )
  const decision = askAgreement(agreement, question, call.actor, reason, call.today)
  const decided = obey(decision)
  const row = { askedReason: reason, openOrders: openOrders ?? 'keep' }
  await call.trx('agreements').where({ id: agreement.id }).update(row)
  const asked = decided.next.asks
    ? await ask(call, decided.next.asks, await about(call, agreement, reason), { origins })
    : null
  if (asked) await call.trx('agreements').where({ id: agreement.id }).update({ consentId: asked.id })
  return await carryOut(call, { ...agreement, row: { ...agreement.row, ...row } }, decision)
}

/** What may be called off in all, in the base currency: the ceiling of the whole, else all others together. */
async function worth(call: Read, content: AgreementContent) {
  const whole = content.ceilings.filter(one => one.scope === 'whole' && one.amount !== '')
  const counted = (whole.length > 0 ? whole : content.ceilings).filter(one => one.amount !== '')
  const sum = sumMinor(counted.map(one => parseAmount(one.amount, content.currency)))
  return toBase(sum, content.currency, await baseRate(call, content.currency), call.base)
}

async function about(call: Read, agreement: KnownAgreement, reason: string) {
  return {
    number: agreement.number,
    title: proposed(agreement).title,
    who: call.actor.name,
    extra: reason,
    amount: await worth(call, proposed(agreement)),
    currency: call.base,
    needBy: null,
    path: pathOf('agreement', agreement.id),
  }
}

/** An agreement as rules see it: one line with all that may be called off, at its supplier. */
async function decidedAgreement(call: Read, agreement: KnownAgreement): Promise<Decided> {
  const supplier = found(
    await call.trx('suppliers').where({ id: agreement.supplierId }).first('number', 'state'),
    'supplier',
  )
  const content = proposed(agreement)
  const amount = minor(await worth(call, content))
  const categories = [...new Set(content.lines.map(line => line.category).filter(Boolean))]
  return {
    kind: agreement.revision === 0 ? 'agreement' : 'amendment',
    requesterId: call.actor.id,
    total: amount,
    lines: [
      {
        id: agreement.id,
        facts: {
          supplier: supplier.number,
          supplierState: supplier.state,
          ...(categories.length > 0 ? { category: categories } : {}),
        },
        parts: [{ amount, facts: {} }],
      },
    ],
  }
}
