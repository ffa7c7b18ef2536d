import { keepAgreementDesk } from '#server/agreements/agreementStore.ts'
import { consentsById, keepConsentDesks } from '#server/consent/consentStore.ts'
import type { Write } from '#server/call.ts'
import { keepNoteDesks } from '#server/files/noteActs.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { keepEventDesk } from '#server/source/eventStore.ts'
import { keepOnboardingDesk } from '#server/source/onboardingStore.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'
import { refreshThread } from '#server/thread/refresh.ts'

type Table =
  'requisitions' | 'orders' | 'invoices' | 'suppliers' | 'onboardings' | 'consents' | 'notes' | 'events' | 'agreements'

/** What is kept beside the rows of each table: figures, standings, and what waits for whom. */
const KEPT: readonly { readonly table: Table; readonly keep: (call: Write, ids: string[]) => Promise<void> }[] = [
  { table: 'suppliers', keep: refreshSuppliers },
  { table: 'orders', keep: (call, orderIds) => refreshThread(call, { orderIds }) },
  { table: 'requisitions', keep: (call, requisitionIds) => refreshThread(call, { requisitionIds }) },
  { table: 'invoices', keep: (call, invoiceIds) => refreshThread(call, { invoiceIds }) },
  {
    table: 'onboardings',
    keep: async (call, ids) => {
      for (const id of ids) await keepOnboardingDesk(call, id)
    },
  },
  {
    table: 'consents',
    keep: async (call, ids) => keepConsentDesks(call, [...(await consentsById(call, ids)).values()]),
  },
  { table: 'notes', keep: keepNoteDesks },
  {
    table: 'agreements',
    keep: async (call, ids) => {
      for (const id of ids) await keepAgreementDesk(call, id)
    },
  },
  {
    table: 'events',
    keep: async (call, ids) => {
      for (const id of ids) await keepEventDesk(call, id)
    },
  },
]

const BATCH = 100
const FIRST = '00000000-0000-0000-0000-000000000000'

/**
 * Computes anew what is kept beside documents, where a migration asked for it: some documents at a time, each part in a transaction of its
 * own. One that is broken off begins again at the next start.
 */
export async function rebuild(parts: Pick<JobParts, 'db' | 'clock'>): Promise<boolean> {
  const asked = await parts.db('settings').where({ key: 'rebuild' }).first('key')
  if (!asked) return false
  for (const { table, keep } of KEPT)
    for (let after = FIRST; ;) {
      const ids = await parts.db(table).where('id', '>', after).orderBy('id').limit(BATCH).pluck<string[]>('id')
      if (ids.length === 0) break
      await inTransaction(parts, call => keep(call, ids))
      after = ids.at(-1)!
    }
  await parts.db('settings').where({ key: 'rebuild' }).delete()
  return true
}
