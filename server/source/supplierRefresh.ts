import { supplierDesk } from '#core/source/desk.ts'
import type { Write } from '#server/call.ts'
import { keepDesks } from '#server/desk/deskStore.ts'
import { keepStandings } from '#server/source/certificateStore.ts'
import type { SupplierRow } from '#server/source/supplierStore.ts'

type Waits = Pick<SupplierRow, 'id' | 'number' | 'name' | 'state' | 'ownerId'> & {
  certificates: { kind: string; validTo: string }[]
  revisions: { count: number; since: string } | null
  bounced: { emails: string[]; since: string } | null
}

const WAITS = `
  select s.id, s.number, s.name, s.state, s.owner_id,
    (select coalesce(json_agg(json_build_object('kind', c.kind, 'validTo', c.valid_to) order by c.valid_to, c.kind), '[]') from supplier_certificates c where c.supplier_id = s.id and c.state = 'current' and c.valid_to is not null) as certificates,
    (select json_build_object('count', count(*)::int, 'since', min(r.at)) from supplier_revisions r where r.supplier_id = s.id and r.state = 'waiting' having count(*) > 0) as revisions,
    (select json_build_object('emails', array_agg(distinct a.email), 'since', min(a.bounced_at)) from supplier_addresses a where a.supplier_id = s.id and a.bounced_at is not null having count(*) > 0) as bounced
  from suppliers s where s.id = any(?) order by s.id`

const instant = (at: string): string => new Date(at).toISOString()

/** Keeps what lists and Desks read of suppliers, after something about them changed. */
export async function refreshSuppliers(call: Write, ids: readonly string[]): Promise<void> {
  const wanted = [...new Set(ids)]
  if (wanted.length === 0) return
  await keepStandings(call, wanted)
  const { rows } = await call.trx.raw<{ rows: Waits[] }>(WAITS, [wanted]).options({ name: 'supplier-waits' })
  await keepDesks(
    call,
    rows.map(({ revisions, bounced, ...row }) => ({
      document: { kind: 'supplier' as const, id: row.id },
      entries: supplierDesk({
        ...row,
        revisions: revisions && { ...revisions, since: instant(revisions.since) },
        bounced: bounced && { ...bounced, since: instant(bounced.since) },
      }),
    })),
  )
}

/** A mail to an address bounced: the address is marked, so that the supplier's administrator and the buyer see it. */
export async function markBounced(call: Write, email: string, bounce: string): Promise<void> {
  const marked = await call
    .trx('supplierAddresses')
    .where({ email: email.toLowerCase() })
    .whereNull('bouncedAt')
    .update({ bouncedAt: call.now, bounce })
    .returning('supplierId')
  await refreshSuppliers(
    call,
    marked.map(row => row.supplierId),
  )
}
