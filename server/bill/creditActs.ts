import { randomUUID } from 'node:crypto'
import type { ActOnCredit, CreditBody, SupplierCredit, WriteDebit } from '#contract/bill/credits.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import type { Decision, Message } from '#core/acts/decision.ts'
import { creditDesk } from '#core/bill/creditDesk.ts'
import type { CreditFigures } from '#core/bill/creditFacts.ts'
import { CREDIT_GROUPS, CREDIT_STATES } from '#core/bill/creditStates.ts'
import { normalNumber } from '#core/bill/invoiceNumber.ts'
import { type CreditNext, creditTakenBack, endCredit, postCredit } from '#core/bill/postCredit.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { writeCredit } from '#core/bill/writeCredit.ts'
import { debitMail, whyNotDebit } from '#core/bill/debitNote.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { isIn, transition } from '#core/states.ts'
import { type CreditRow, creditsAgainst, writeCreditLines } from '#server/bill/creditStore.ts'
import { heldInvoice, type KnownInvoice } from '#server/bill/invoiceStore.ts'
import { creditedInvoice, heldCredit, knownCredit } from '#server/bill/knownCreditStore.ts'
import { endSetOffs, setOffAgainst } from '#server/bill/setOffStore.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { hangFiles } from '#server/files/fileActs.ts'
import { useFile } from '#server/files/fileStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { say } from '#server/mail/mail.ts'
import { refreshThread } from '#server/thread/refresh.ts'
import type { z } from 'zod'

export type Kept = Done & { number: string; state: string; gross: string }
type Note = z.output<typeof CreditBody>

interface NewCredit {
  readonly issuer: CreditRow['issuer']
  readonly source: CreditRow['source']
  readonly supplierNumber: string
  readonly issueDate: string
  readonly reason: string
  readonly figures: CreditFigures
  readonly fileId: string | null
}

const figuresFor = async (call: Write, invoice: KnownInvoice, note: Note, less?: string): Promise<CreditFigures> =>
  obey(
    writeCredit(
      await creditedInvoice(call, invoice, less),
      { ...note, charges: parseAmount(note.charges, invoice.currency) },
      call.today,
    ),
  ).next

/** Refuses a number under which the supplier has another credit note. */
async function needNew(call: Write, supplierId: string, number: string, less?: string): Promise<void> {
  if (number.trim() === '') throw new RuleBroken(stop('credit.number', {}, { place: 'number' }))
  const same = await call.trx('creditNotes').where({ supplierId, issuer: 'supplier', normalNumber: normalNumber(number) }).whereIn('state', [...CREDIT_GROUPS.numbered]).whereNot('id', less ?? '00000000-0000-0000-0000-000000000000').first('number') // prettier-ignore
  if (same) throw new RuleBroken(stop('credit.duplicate', { number: same.number, supplierNumber: number }, { place: 'number' })) // prettier-ignore
}

const columnsOf = (call: Write, invoice: KnownInvoice, { lines: _lines, taxes, ...sums }: CreditFigures) => ({
  ...sums,
  taxes: json([...taxes]),
  baseGross: toBase(sums.gross, invoice.currency, invoice.rate, call.base),
})

const searchOf = (number: string, theirs: string, invoice: KnownInvoice): string =>
  `${number} ${theirs} ${invoice.supplier} ${invoice.number} ${invoice.supplierNumber}`.toLowerCase()

/** Keeps a new credit note in a state. */
async function keep(call: Write, invoice: KnownInvoice, credit: NewCredit, state: CreditRow['state']): Promise<string> {
  const id = randomUUID()
  const number = await nextNumber(call, 'creditNote')
  const { figures, ...head } = credit
  await call.trx('creditNotes').insert({
    ...head,
    ...columnsOf(call, invoice, figures),
    id,
    number,
    state,
    normalNumber: credit.issuer === 'supplier' ? normalNumber(credit.supplierNumber) : '',
    supplierId: invoice.row.supplierId,
    invoiceId: invoice.id,
    currency: invoice.currency,
    receivedAt: call.now,
    byId: call.actor.id,
    changedAt: call.now,
    search: searchOf(number, credit.supplierNumber, invoice),
  })
  await writeCreditLines(call, id, figures.lines)
  const changes = { gross: formatAmount(figures.gross, invoice.currency), of: invoice.number }
  await record(call, { kind: 'creditNote', id, action: state === 'draft' ? 'written' : 'handedIn', changes, reason: credit.reason || null }) // prettier-ignore
  return id
}

/** Everything that shows something of it: its invoice is matched anew, and what waits because of it is kept on the Desks. */
async function follow(call: Write, id: string, invoice: KnownInvoice): Promise<void> {
  await refreshThread(call, { orderIds: invoice.orders.map(order => order.id), invoiceIds: [invoice.id] })
  await keepCreditDesk(call, id)
}

/** What waits because of credit notes of these invoices. */
export async function keepCreditDesks(call: Write, invoiceIds: readonly string[]): Promise<void> {
  const standing = await creditsAgainst(call, invoiceIds)
  for (const { row } of [...standing.values()].flat()) await keepCreditDesk(call, row.id)
}

async function keepCreditDesk(call: Write, id: string): Promise<void> {
  await keepDesk(call, { kind: 'creditNote', id }, creditDesk(await knownCredit(call, id)))
}

const answerOf = async (call: Write, id: string): Promise<Kept> => {
  const row = found(await call.trx('creditNotes').where({ id }).first(), 'creditNote')
  return { id, version: row.version, number: row.number, state: row.state, gross: formatAmount(row.gross, row.currency) } // prettier-ignore
}

/** A supplier writes a credit note on one of its invoices, or hands it in. */
export async function writeSupplierCredit(
  call: Write,
  invoiceId: string,
  { creditId, version, send, note, fileIds }: BodyOf<typeof SupplierCredit>,
): Promise<Kept> {
  found(
    await call
      .trx('invoices')
      .where({ id: invoiceId, supplierId: call.actor.supplierId ?? '' })
      .first('id'),
    'invoice',
  )
  const invoice = await heldInvoice(call, invoiceId)
  if (send || note.number.trim() !== '') await needNew(call, invoice.row.supplierId, note.number, creditId ?? undefined)
  const figures = await figuresFor(call, invoice, note, creditId ?? undefined)
  const head = { supplierNumber: note.number.trim(), issueDate: note.issueDate, reason: note.reason }
  let id = creditId
  if (id === null)
    id = await keep(call, invoice, { ...head, issuer: 'supplier', source: 'supplierPages', figures, fileId: null }, send ? 'waiting' : 'draft') // prettier-ignore
  else {
    const row = await hold(call, 'creditNote', id, version ?? undefined)
    found(row.invoiceId === invoiceId && row.issuer === 'supplier' ? row : undefined, 'creditNote')
    const next = transition(CREDIT_STATES, 'creditNote', row.state, send ? 'send' : 'write')
    if (!next.ok) throw new RuleBroken(next.reasons)
    await writeCreditLines(call, id, figures.lines)
    await move(call, 'creditNote', row, { ...head, ...columnsOf(call, invoice, figures), normalNumber: normalNumber(head.supplierNumber), state: next.state, receivedAt: call.now, search: searchOf(row.number, head.supplierNumber, invoice) }, { action: send ? 'handedIn' : 'written', changes: {}, reason: note.reason || null }) // prettier-ignore
  }
  await hangFiles(call, { kind: 'creditNote', id }, fileIds)
  if (fileIds.length > 0) await call.trx('attachments').insert(fileIds.map(fileId => ({ id: randomUUID(), documentKind: 'creditNote' as const, documentId: id, fileId, byId: call.actor.id, at: call.now }))) // prettier-ignore
  await follow(call, id, invoice)
  return await answerOf(call, id)
}

/** Takes in a credit note that was read from a file: its figures are the document's own. */
export async function takeCredit(
  call: Write,
  invoice: KnownInvoice,
  credit: Omit<NewCredit, 'issuer' | 'source'>,
): Promise<Kept> {
  await needNew(call, invoice.row.supplierId, credit.supplierNumber)
  const id = await keep(call, invoice, { ...credit, issuer: 'supplier', source: 'file' }, 'waiting')
  if (credit.fileId) await useFile(call, credit.fileId, { kind: 'creditNote', id })
  await follow(call, id, invoice)
  return await answerOf(call, id)
}

/** We write a debit note: it counts at once where its invoice is matched, and posts with it, or now where that one is in the books. */
export async function writeDebit(
  call: Write,
  invoiceId: string,
  { version, note }: BodyOf<typeof WriteDebit>,
): Promise<Kept> {
  const invoice = await heldInvoice(call, invoiceId, version)
  refuse(whyNotDebit(invoice, note.reason, call.actor))
  const figures = await figuresFor(call, invoice, { ...note, number: '' })
  const id = await keep(call, invoice, { issuer: 'house', source: 'team', supplierNumber: '', issueDate: note.issueDate, reason: note.reason, figures, fileId: null }, 'waiting') // prettier-ignore
  if (isIn(INVOICE_GROUPS.posted, invoice.state)) await postNote(call, id)
  else await follow(call, id, invoice)
  const kept = await answerOf(call, id)
  await say(call, [debitMail(invoice, kept.number, figures.gross, note.reason)], { kind: 'creditNote', id })
  return kept
}

/** Posts one, sets it off against what is unpaid of its invoice, and brings everything along. */
export async function postNote(call: Write, id: string, version?: number): Promise<Done> {
  const { held, ...credit } = await heldCredit(call, id, version)
  const decision = postCredit(credit, call.actor)
  const done = await carryOut(call, credit.row, decision, { postedAt: call.now })
  await setOffAgainst(call, [held.id])
  await follow(call, id, held)
  return done
}

async function carryOut(
  call: Write,
  row: CreditRow,
  decision: Decision<CreditNext>,
  also: Partial<CreditRow> = {},
): Promise<Done> {
  // prettier-ignore
  const decided = obey(decision)
  await postLedgers(call, { kind: 'creditNote', id: row.id }, decided)
  return await move(call, 'creditNote', row, { ...also, state: decided.next.state }, decided.did)
}

/** Posts, rejects, takes back or voids a credit note. */
export async function actOnCredit(
  call: Write,
  id: string,
  { version, action, reason }: BodyOf<typeof ActOnCredit>,
): Promise<Done> {
  if (action === 'post') return await postNote(call, id, version)
  return await end(call, id, action, version, reason)
}

/** A supplier takes back what it has handed in, or drops a draft. */
export async function withdrawOwn(call: Write, id: string, version: number, reason: string): Promise<Done> {
  found(await call.trx('creditNotes').where({ id, supplierId: call.actor.supplierId ?? '', issuer: 'supplier' }).first('id'), 'creditNote') // prettier-ignore
  return await end(call, id, 'withdraw', version, reason)
}

async function end(
  call: Write,
  id: string,
  how: 'reject' | 'withdraw' | 'void',
  version: number,
  reason: string,
): Promise<Done> {
  // prettier-ignore
  const { held, ...credit } = await heldCredit(call, id, version)
  const decision = endCredit(credit, how, call.actor, reason)
  obey(decision)
  if (how === 'void') await endSetOffs(call, { creditId: id })
  const row = found(await call.trx('creditNotes').where({ id }).first(), 'creditNote')
  const done = await carryOut(call, row, decision)
  await follow(call, id, held)
  if (how === 'reject') await say(call, [rejectedMail(credit, reason)], { kind: 'creditNote', id })
  return done
}

const rejectedMail = (credit: Awaited<ReturnType<typeof knownCredit>>, reason: string): Message => ({
  template: 'credit.rejected',
  to: { kind: 'supplier', id: credit.supplierId, message: 'invoices' },
  key: `credit-rejected:${credit.id}`,
  details: { number: credit.supplierNumber, invoice: credit.invoice.supplierNumber, reason, path: `/supplier/invoices/${credit.invoice.id}` }, // prettier-ignore
})

/** An invoice was posted: the credit notes that waited for it post with it. */
export async function postCreditsOf(call: Write, invoiceId: string): Promise<void> {
  const waiting = (await creditsAgainst(call, [invoiceId], CREDIT_GROUPS.waiting)).get(invoiceId) ?? []
  for (const { row } of waiting) await postNote(call, row.id)
}

/** An invoice was rejected: what waited to be credited on it has nothing to be taken from. */
export async function rejectCreditsOf(call: Write, invoiceId: string, reason: string): Promise<void> {
  const waiting = (await creditsAgainst(call, [invoiceId], CREDIT_GROUPS.waiting)).get(invoiceId) ?? []
  for (const { row } of waiting) await end(call, row.id, row.issuer === 'supplier' ? 'reject' : 'withdraw', row.version, reason) // prettier-ignore
}

/** An invoice goes out of the books: what was credited on it waits with it again, and is set off against nothing. */
export async function unpostCreditsOf(call: Write, invoiceId: string): Promise<void> {
  const posted = (await creditsAgainst(call, [invoiceId], CREDIT_GROUPS.posted)).get(invoiceId) ?? []
  await endSetOffs(call, { invoiceId })
  for (const { row } of posted) {
    await endSetOffs(call, { creditId: row.id })
    const credit = await knownCredit(call, row.id)
    await postLedgers(call, { kind: 'creditNote', id: row.id }, creditTakenBack(credit))
    await move(call, 'creditNote', credit.row, { state: 'waiting', postedAt: null }, { action: 'unpost', changes: {}, reason: null }) // prettier-ignore
    await keepCreditDesk(call, row.id)
  }
}
