import { type Clearer } from '#core/bill/holds.ts'
import { clearersOf, reminderOf } from '#core/bill/holdReminders.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { daysBetween } from '#core/calendar/days.ts'
import { formatAmount } from '#core/money/amount.ts'
import { againstOf } from '#core/bill/matchInvoice.ts'
import { keepInvoiceDesks } from '#server/bill/invoiceRefresh.ts'
import { heldInvoice, type KnownInvoice } from '#server/bill/invoiceStore.ts'
import { billingSettings } from '#server/bill/settingStore.ts'
import type { Write } from '#server/call.ts'
import { clockFor } from '#server/consent/clock.ts'
import { record } from '#server/documents/history.ts'
import { someIds } from '#server/database/rows.ts'
import { inTransaction, type JobParts, outside, settingOf } from '#server/jobs/parts.ts'
import { say } from '#server/mail/mail.ts'

/** Looks at all differences that wait, and reminds those who can clear them, or tells those above. Answers how many were told of. */
export async function watchHolds(parts: Pick<JobParts, 'db' | 'clock'>): Promise<number> {
  const call = outside(parts, await settingOf(parts))
  const { remindHours, escalateHours } = await billingSettings(call)
  if (remindHours === 0 && escalateHours === 0) return 0
  // no working hour is shorter than one that goes by
  const least = Math.min(...[remindHours, escalateHours].filter(hours => hours > 0))
  const { rows } = await parts.db.raw<{ rows: { id: string }[] }>(
    `select distinct i.id from invoices i join invoice_holds h on h.invoice_id = i.id and h.ended_at is null
     where i.state = any(:waiting) and coalesce(h.reminded_at, h.opened_at) <= :now::timestamptz - make_interval(hours => :least) order by 1`,
    { waiting: [...INVOICE_GROUPS.waiting], now: call.now, least },
  )
  let told = 0
  for (const { id } of rows) told += await inTransaction(parts, inside => watchOne(inside, id))
  return told
}

async function watchOne(call: Write, id: string): Promise<number> {
  const invoice = await heldInvoice(call, id)
  const patience = await billingSettings(call)
  const clock = await clockFor(call, [])
  const over = invoice.holds.flatMap((hold, at) => {
    const { openedAt, remindedAt } = invoice.holdRows[at]!
    const hoursOpen = clock.between(undefined, openedAt, call.now)
    const hoursQuiet = clock.between(undefined, remindedAt ?? openedAt, call.now)
    const says = reminderOf({ ...hold, hoursOpen, hoursQuiet }, patience)
    return says === null ? [] : [{ hold, says, hoursOpen }]
  })
  if (over.length === 0) return 0
  const ids = (wanted: 'escalate' | 'remind'): string[] =>
    over.filter(one => one.says === wanted).map(one => one.hold.id)
  await call.trx('invoiceHolds').whereIn('id', over.map(one => one.hold.id)).update({ remindedAt: call.now }) // prettier-ignore
  if (ids('escalate').length > 0) {
    await call.trx('invoiceHolds').whereIn('id', ids('escalate')).update({ escalatedAt: call.now })
    await record(call, { kind: 'invoice', id, action: 'escalated', changes: { holds: over.filter(one => one.says === 'escalate').map(one => one.hold.kind) } }) // prettier-ignore
  }
  for (const { hold, says, hoursOpen } of over) {
    const roles = says === 'escalate' ? clearersOf({ ...hold, escalated: true }) : clearersOf(hold)
    for (const personId of await peopleFor(call, invoice, roles, hold.position))
      await say(
        call,
        [{ template: `invoice.waits.${says}`, to: { kind: 'person', id: personId }, key: `hold:${hold.id}:${says}:${call.now}`, details: { number: invoice.number, supplier: invoice.supplier, difference: hold.kind, amount: formatAmount(hold.amount, invoice.currency), currency: invoice.currency, hours: Math.floor(hoursOpen), due: invoice.dueOn ?? '', days: invoice.dueOn ? daysBetween(call.today, invoice.dueOn) : 0, path: `/bill/${id}` } }], // prettier-ignore
        { kind: 'invoice', id },
      )
  }
  await keepInvoiceDesks(call, [id])
  return over.length
}

/** People with one of the roles; the requester is whoever asked for the line. */
async function peopleFor(
  call: Write,
  invoice: KnownInvoice,
  roles: readonly Clearer[],
  position: number | null,
): Promise<string[]> {
  const line = invoice.lines.find(one => one.position === position)
  const requester = roles.includes('requester') && line ? (againstOf(invoice, line)?.line.requesterId ?? null) : null
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select distinct p.id from people p where p.active and (p.id = any(:ids) or exists (select 1 from person_roles r where r.person_id = p.id and r.role = any(:roles))) order by 1`,
    { ids: someIds([requester]), roles: roles.filter(role => role !== 'requester') },
  )
  return rows.map(row => row.id)
}
