import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { SaveCertificate } from '#contract/source/endpoints.ts'
import { ATTACHABLE } from '#contract/files/endpoints.ts'
import { daysBetween } from '#core/calendar/days.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { reminderDue, REMINDER_DAYS } from '#core/source/certificates.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { ownFile, sentFile } from '#server/files/fileActs.ts'
import { type FileRow, useFile } from '#server/files/fileStore.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { say } from '#server/mail/mail.ts'
import type { CertificateRow } from '#server/source/certificateStore.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'

type Body = BodyOf<typeof SaveCertificate>

/** Records a certificate, by itself or as the next version of one that is there. */
export async function saveCertificate(call: Write, supplierId: string, body: Body): Promise<Done> {
  const supplier = await hold(call, 'supplier', supplierId)
  if (body.validTo !== null && body.validTo < body.validFrom)
    throw new RuleBroken(stop('question.certificateEnd', { question: body.kind }, { place: 'validTo' }))
  if (body.fileId !== null) await attachable(call, body.fileId)
  await addCertificate(call, supplierId, body)
  const done = await move(call, 'supplier', supplier, {}, added(body))
  await refreshSuppliers(call, [supplierId])
  return done
}

async function attachable(call: Read, fileId: string): Promise<void> {
  const file = await ownFile(call, fileId)
  if (!ATTACHABLE.some(type => type === file.mediaType))
    throw new RuleBroken(stop('file.type', { type: file.mediaType }, { place: 'fileId' }))
}

/** What is recorded of a certificate that was added. */
export const added = (body: Pick<Body, 'kind' | 'number' | 'validTo'>) => ({
  action: 'certificateAdded',
  changes: { kind: body.kind, number: body.number, validTo: body.validTo },
  reason: null,
})

/** Adds the certificate; the one that it follows, or the earlier one of the same kind and category when it ends later, is replaced. */
export async function addCertificate(call: Write, supplierId: string, { replaces, ...body }: Body): Promise<void> {
  const id = randomUUID()
  const earlier = call.trx('supplierCertificates').where({ supplierId, state: 'current' })
  if (replaces) void earlier.where({ id: replaces })
  else void earlier.where({ kind: body.kind, category: body.category }).andWhere('validFrom', '<=', body.validFrom)
  await earlier.update({ state: 'replaced' })
  await call
    .trx('supplierCertificates')
    .insert({ id, supplierId, ...body, state: 'current', byId: call.actor.id, at: call.now })
  if (body.fileId !== null) await useFile(call, body.fileId, { kind: 'supplier', id: supplierId })
}

export async function withdrawCertificate(
  call: Write,
  supplierId: string,
  certificateId: string,
  reason: string,
): Promise<Done> {
  const supplier = await hold(call, 'supplier', supplierId)
  const row = found(
    await call.trx('supplierCertificates').where({ id: certificateId, supplierId, state: 'current' }).first(),
    'certificate',
  )
  await call.trx('supplierCertificates').where({ id: certificateId }).update({ state: 'withdrawn' })
  const did = { action: 'certificateWithdrawn', changes: { kind: row.kind, number: row.number }, reason }
  const done = await move(call, 'supplier', supplier, {}, did)
  await refreshSuppliers(call, [supplierId])
  return done
}

export async function certificateFile(call: Read, id: string): Promise<FileAnswer> {
  const file = found(
    await call
      .trx('supplierCertificates')
      .join('files', 'files.id', 'supplierCertificates.fileId')
      .where('supplierCertificates.id', id)
      .first<Pick<FileRow, 'id' | 'name' | 'mediaType'> | undefined>('files.id', 'files.name', 'files.mediaType'),
    'file',
  )
  return sentFile(call, file)
}

type Ending = CertificateRow & { supplier: string; ownerId: string | null; validTo: string }

/** Reminds the supplier and the record's owner 60, 30 and 7 days before a certificate ends, and tells them on the day it has lapsed. Each once. */
export async function remindOfCertificates(call: Write): Promise<number> {
  const { rows } = await call.trx.raw<{ rows: Ending[] }>(
    `select c.*, s.name as supplier, s.owner_id from supplier_certificates c join suppliers s on s.id = c.supplier_id
     where c.state = 'current' and c.valid_to is not null and c.valid_to <= :today::date + ${REMINDER_DAYS[0]} and s.state in ('active', 'paused', 'onboarding') and not (c.valid_to < :today::date and c.lapse_told) order by c.supplier_id, c.id`,
    { today: call.today },
  )
  let told = 0
  for (const row of rows) told += (await remindOf(call, row)) ? 1 : 0
  return told
}

async function remindOf(call: Write, row: Ending): Promise<boolean> {
  const lapsed = row.validTo < call.today
  const days = lapsed ? 0 : reminderDue(row.validTo, row.reminded, call.today)
  if (days === undefined) return false
  await hold(call, 'supplier', row.supplierId)
  await call
    .trx('supplierCertificates')
    .where({ id: row.id })
    .update(lapsed ? { lapseTold: true } : { reminded: [...row.reminded, days] })
  const details = {
    kind: row.kind,
    number: row.number,
    supplier: row.supplier,
    lapsed: lapsed ? row.validTo : '',
    days: lapsed ? '' : daysBetween(call.today, row.validTo),
  }
  const document = { kind: 'supplier' as const, id: row.supplierId }
  await say(
    call,
    [
      {
        template: 'supplier.certificate',
        to: { kind: 'supplier', id: row.supplierId, message: 'certificates' },
        key: `certificate:${row.id}:${days}`,
        details: { ...details, path: '/supplier/company' },
      },
      ...(row.ownerId === null
        ? []
        : [
            {
              template: 'supplier.certificateOwner',
              to: { kind: 'person' as const, id: row.ownerId },
              key: `certificate-owner:${row.id}:${days}`,
              details: { ...details, path: `/source/${row.supplierId}` },
            },
          ]),
    ],
    document,
  )
  await record(call, {
    ...document,
    action: lapsed ? 'certificateLapsed' : 'certificateReminded',
    changes: { kind: row.kind, validTo: row.validTo, days },
  })
  return true
}
