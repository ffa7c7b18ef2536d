import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadSupplier, SaveCertificate } from '#contract/source/endpoints.ts'
import { ATTACHABLE } from '#contract/files/endpoints.ts'
import { type Certificate, lapseReasons, reminderDue, ruleStanding, standing } from '#core/source/certificates.ts'
import { daysBetween } from '#core/calendar/days.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found } from '#server/call.ts'
import { ownFile } from '#server/files/fileService.ts'
import type { FileAnswer } from '#server/http/app.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'
import { categoriesOf, certificateRules } from '#server/source/categories.ts'
import { mailSupplier } from '#server/source/messages.ts'
import { lockSupplier, touch } from '#server/source/supplierStore.ts'

export interface CertificateRow {
  id: string
  supplierId: string
  kind: string
  category: string
  issuer: string
  number: string
  validFrom: string
  validTo: string | null
  fileId: string | null
  fileName: string | null
  state: 'current' | 'replaced' | 'withdrawn'
  reminded: number[]
  lapseTold: boolean
}
type Body = BodyOf<typeof SaveCertificate>

/** Records a certificate, by itself or as the next version of one that is there. */
export async function saveCertificate(call: Call, supplierId: string, body: Body): Promise<Done> {
  const supplier = await lockSupplier(call, supplierId)
  if (body.validTo !== null && body.validTo < body.validFrom) throw new RuleBroken(stop('question.certificateEnd', { question: body.kind }, { place: 'validTo' }))
  if (body.fileId !== null) await attachable(call, body.fileId)
  await addCertificate(call, supplierId, body)
  return touch(call, supplier)
}

async function attachable(call: Call, fileId: string): Promise<void> {
  const file = await ownFile(call, fileId)
  if (!ATTACHABLE.some(type => type === file.mediaType)) throw new RuleBroken(stop('file.type', { type: file.mediaType }, { place: 'fileId' }))
}

/** Adds the certificate; the one that it follows, or the earlier one of the same kind and category when it ends later, is replaced. */
export async function addCertificate(call: Call, supplierId: string, { replaces, ...body }: Body): Promise<void> {
  const id = randomUUID()
  const earlier = call.trx('supplierCertificates').where({ supplierId, state: 'current' })
  if (replaces) void earlier.where({ id: replaces })
  else void earlier.where({ kind: body.kind, category: body.category }).andWhere('validFrom', '<=', body.validFrom)
  await earlier.update({ state: 'replaced' })
  await call.trx('supplierCertificates').insert({ id, supplierId, ...body, state: 'current', byId: call.actor.id, at: call.now })
  await record(call, { kind: 'supplier', id: supplierId, action: 'certificateAdded', changes: { kind: body.kind, number: body.number, validTo: body.validTo } })
}

export async function withdrawCertificate(call: Call, supplierId: string, certificateId: string, reason: string): Promise<Done> {
  const supplier = await lockSupplier(call, supplierId)
  const row = found((await call.trx('supplierCertificates').where({ id: certificateId, supplierId, state: 'current' }).first()) as CertificateRow | undefined, 'certificate')
  await call.trx('supplierCertificates').where({ id: certificateId }).update({ state: 'withdrawn' })
  await record(call, { kind: 'supplier', id: supplierId, action: 'certificateWithdrawn', changes: { kind: row.kind, number: row.number }, reason })
  return touch(call, supplier)
}

export async function certificateFile(call: Call, id: string): Promise<FileAnswer> {
  const file = found(
    (await call
      .trx('supplierCertificates')
      .join('files', 'files.id', 'supplierCertificates.fileId')
      .where('supplierCertificates.id', id)
      .first('files.name', 'files.mediaType', 'files.content')) as { name: string; mediaType: string; content: Buffer } | undefined,
    'file',
  )
  return { name: file.name, mediaType: file.mediaType, bytes: file.content }
}

export const readCertificates = async (call: Call, supplierId: string): Promise<CertificateRow[]> =>
  (await call
    .trx('supplierCertificates')
    .leftJoin('files', 'files.id', 'supplierCertificates.fileId')
    .where({ supplierId })
    .orderByRaw("state = 'current' desc, kind, valid_from desc")
    .select('supplierCertificates.*', 'files.name as fileName')) as CertificateRow[]

type Sheet = ResponseOf<typeof ReadSupplier>

/** Certificates and how the rules of the supplier's categories are met, as its Sheet shows them. */
export async function qualification(call: Call, supplierId: string, categories: readonly string[]): Promise<Pick<Sheet, 'certificates' | 'certificateRules'>> {
  const rows = await readCertificates(call, supplierId)
  const current = currentOf(rows)
  const rules = certificateRules(await categoriesOf(call, categories))
  return {
    certificates: rows.map(row => ({
      id: row.id,
      kind: row.kind,
      category: row.category,
      issuer: row.issuer,
      number: row.number,
      validFrom: row.validFrom,
      validTo: row.validTo,
      fileId: row.fileId,
      fileName: row.fileName,
      state: row.state,
      standing: standing(row, call.today),
    })),
    certificateRules: rules.map(rule => {
      const how = ruleStanding(rule, current, call.today)
      return { kind: rule.kind, category: rule.category, lapse: rule.lapse, standing: how.standing, validTo: how.certificate?.validTo ?? null }
    }),
  }
}

const currentOf = (rows: readonly CertificateRow[]): Certificate[] => rows.filter(row => row.state === 'current')

/** What the supplier's certificates say about an order for these items' categories; lines without an item count for all that the supplier sells. */
export async function certificateReasons(call: Call, supplierId: string, itemIds: readonly (string | null)[]): Promise<Reason[]> {
  const items = (await call
    .trx('items')
    .whereIn(
      'id',
      itemIds.filter(id => id !== null),
    )
    .distinct('category')) as { category: string }[]
  const supplier = (await call.trx('suppliers').where({ id: supplierId }).first('categories')) as { categories: string[] }
  const categories = [...new Set([...items.map(item => item.category), ...(itemIds.some(id => id === null) ? supplier.categories : [])])]
  const rules = certificateRules(await categoriesOf(call, categories))
  if (rules.length === 0) return []
  return lapseReasons(rules, currentOf(await readCertificates(call, supplierId)), categories, call.today)
}

/** Reminds the supplier and the record's owner 60, 30 and 7 days before a certificate ends, and tells them on the day it has lapsed. Each once. */
export async function remindOfCertificates(call: Call): Promise<number> {
  const { rows } = (await call.trx.raw(
    `select c.*, s.name as supplier, s.number, s.state as supplier_state, owner.email as owner_email, owner.name as owner from supplier_certificates c join suppliers s on s.id = c.supplier_id left join people owner on owner.id = s.owner_id and owner.active
     where c.state = 'current' and c.valid_to is not null and c.valid_to <= ?::date + 60 and s.state in ('active', 'paused', 'onboarding') and not (c.valid_to < ?::date and c.lapse_told) order by c.id for no key update of c`,
    [call.today, call.today],
  )) as { rows: (CertificateRow & { supplier: string; number: string; ownerEmail: string | null; owner: string | null; validTo: string })[] }
  let told = 0
  for (const row of rows) {
    const lapsed = row.validTo < call.today
    const days = lapsed ? 0 : reminderDue(row.validTo, row.reminded, call.today)
    if (days === undefined) continue
    await call
      .trx('supplierCertificates')
      .where({ id: row.id })
      .update(lapsed ? { lapseTold: true } : { reminded: [...row.reminded, days] })
    const left = daysBetween(call.today, row.validTo)
    const subject = lapsed ? `${row.kind} of ${row.supplier} has lapsed` : `${row.kind} of ${row.supplier} ends in ${left} days`
    const body = lapsed ? `ended on ${row.validTo}. Depending on what is ordered, new orders stop until there is a new one.` : `ends on ${row.validTo}, in ${left} days.`
    const document = { kind: 'supplier', id: row.supplierId }
    await mailSupplier(call, row.supplierId, 'certificates', `certificate:${row.id}:${days}`, document, {
      subject,
      text: name =>
        `Dear ${name || row.supplier},\n\nyour ${row.kind}, number ${row.number}, ${body}\nPlease put the new one on your pages: /supplier/company\n\nSaltmere Aquarium Trust\n`,
    })
    if (row.ownerEmail)
      await mail(call, `certificate-owner:${row.id}:${days}`, document, {
        to: row.ownerEmail,
        subject,
        text: `${row.kind}, number ${row.number}, of ${row.supplier} ${body}\n\n/source/${row.supplierId}\n`,
      })
    await record(call, {
      kind: 'supplier',
      id: row.supplierId,
      action: lapsed ? 'certificateLapsed' : 'certificateReminded',
      changes: { kind: row.kind, validTo: row.validTo, days },
    })
    told++
  }
  return told
}
