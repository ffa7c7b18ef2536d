import type { ResponseOf } from '#contract/endpoint.ts'
import type { Find } from '#contract/people/endpoints.ts'
import { type Call, may } from '#server/call.ts'
import { readVisibleRequisition } from '#server/request/requisitionStore.ts'
import { PATHS } from '#server/sheets/parts.ts'
import { searchName } from '#server/source/supplierStore.ts'
import { searchCatalogue } from '#server/request/search.ts'

type FoundItem = ResponseOf<typeof Find>['found'][number]

const NUMBERED = {
  S: ['suppliers', 'supplier', 'name'],
  R: ['requisitions', 'requisition', 'title'],
  O: ['orders', 'order', 'title'],
  I: ['invoices', 'invoice', 'supplierNumber'],
  P: ['paymentRuns', 'paymentRun', 'number'],
} as const
const RIGHTS = { supplier: 'supplier.read', order: 'order.read', invoice: 'invoice.read', paymentRun: 'payment.read', requisition: null } as const

/** An exact document number goes straight to it; otherwise suppliers, items, orders, requests and people by name. */
export async function find(call: Call, q: string): Promise<{ found: FoundItem[] }> {
  const text = q.trim()
  if (text.length < 2) return { found: [] }
  const exact = await byNumber(call, text)
  if (exact.length > 0) return { found: exact }
  const like = `%${text.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`
  const [suppliers, items, orders, requests] = await Promise.all([
    call
      .trx('suppliers')
      .whereNull('mergedInto')
      .whereRaw('search_name like ?', [`%${searchName(text).replace(/[\\%_]/g, '\\$&')}%`])
      .orderBy('name')
      .limit(5)
      .select('id', 'name', 'number') as Promise<{ id: string; name: string; number: string }[]>,
    searchCatalogue(call, { q: text }, false),
    may(call, 'order.read')
      ? (call.trx('orders').whereRaw('search like ?', [like]).orderBy('createdAt', 'desc').limit(5).select('id', 'title', 'number') as Promise<
          { id: string; title: string; number: string }[]
        >)
      : [],
    call
      .trx('requisitions')
      .whereRaw('search like ?', [like])
      .modify(query => {
        if (!may(call, 'requisition.readAll')) void query.where({ requesterId: call.actor.id })
      })
      .orderBy('createdAt', 'desc')
      .limit(5)
      .select('id', 'title', 'number') as Promise<{ id: string; title: string; number: string }[]>,
  ])
  return {
    found: [
      ...suppliers.map(row => ({ kind: 'supplier', path: PATHS.supplier(row.id), label: row.name, detail: row.number, exact: false })),
      ...items.items.slice(0, 5).map(row => ({ kind: 'item', path: `/request/catalogue/${row.id}`, label: row.name, detail: row.number, exact: false })),
      ...orders.map(row => ({ kind: 'order', path: PATHS.order(row.id), label: row.title, detail: row.number, exact: false })),
      ...requests.map(row => ({ kind: 'requisition', path: PATHS.requisition(row.id), label: row.title, detail: row.number, exact: false })),
    ],
  }
}

async function byNumber(call: Call, text: string): Promise<FoundItem[]> {
  const parts = /^([SROIP])?-?\s*(\d{2,9})$/i.exec(text)
  if (!parts) return []
  const letters = parts[1] ? [parts[1].toUpperCase() as keyof typeof NUMBERED] : (Object.keys(NUMBERED) as (keyof typeof NUMBERED)[])
  const found = await Promise.all(
    letters.map(async letter => {
      const [table, kind, label] = NUMBERED[letter]
      const right = RIGHTS[kind]
      if (right && !may(call, right)) return []
      const row = (await call
        .trx(table)
        .where({ number: `${letter}-${parts[2]}` })
        .first('id', 'number', `${label} as label`)) as { id: string; number: string; label: string } | undefined
      if (!row || (kind === 'requisition' && !(await readVisibleRequisition(call, row.id).catch(() => undefined)))) return []
      return [{ kind, path: PATHS[kind](row.id), label: row.label || row.number, detail: row.number, exact: true }]
    }),
  )
  return found.flat()
}
