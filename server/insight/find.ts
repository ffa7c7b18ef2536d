import type { ResponseOf } from '#contract/endpoint.ts'
import type { Find } from '#contract/people/endpoints.ts'
import { documentKind } from '#core/documents/kinds.ts'
import { readNumbers } from '#core/documents/numbers.ts'
import { may, type Read } from '#server/call.ts'
import { numberRanges } from '#server/documents/number.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { searchCatalogue } from '#server/request/itemSearchStore.ts'
import { searchName } from '#server/source/supplierStore.ts'

type FoundItem = ResponseOf<typeof Find>['found'][number]

/** What is found of each kind by name. */
const MOST = 5

/** An exact document number goes straight to it; otherwise suppliers, items, orders, requests, events and build costings by name. */
export async function find(call: Read, q: string): Promise<{ found: FoundItem[] }> {
  const text = q.trim()
  if (text.length < 2) return { found: [] }
  const exact = await byNumber(call, text)
  if (exact.length > 0) return { found: exact }
  const like = `%${escaped(text.toLowerCase())}%`
  const found = [
    ...(may(call, 'supplier.read') ? await suppliersNamed(call, text) : []),
    ...(await itemsNamed(call, text)),
    ...(await searched(call, 'order', like)),
    ...(await searched(call, 'requisition', like)),
    ...(await searched(call, 'event', like)),
    ...(await searched(call, 'costing', like)),
  ]
  return { found }
}

const escaped = (text: string): string => text.replace(/[\\%_]/g, '\\$&')

async function suppliersNamed(call: Read, text: string): Promise<FoundItem[]> {
  const rows = await call
    .trx('suppliers')
    .whereNull('mergedInto')
    .whereRaw('search_name like ?', [`%${escaped(searchName(text))}%`])
    .orderBy('name')
    .limit(MOST)
    .select('id', 'name', 'number')
  return rows.map(row => ({
    kind: 'supplier',
    path: documentKind('supplier').path(row.id),
    label: row.name,
    detail: row.number,
    exact: false,
  }))
}

async function itemsNamed(call: Read, text: string): Promise<FoundItem[]> {
  const { items } = await searchCatalogue(call, { q: text }, false)
  return items.slice(0, MOST).map(row => ({
    kind: 'item',
    path: `/request/catalogue/${row.id}`,
    label: row.name,
    detail: row.number,
    exact: false,
  }))
}

/** Documents of a kind whose text has the words, those that this person sees. */
async function searched(
  call: Read,
  kind: 'order' | 'requisition' | 'event' | 'costing',
  like: string,
): Promise<FoundItem[]> {
  const seen = visibleSql(call, kind, 'document')
  const { rows } = await call.trx.raw<{ rows: { id: string; title: string; number: string }[] }>(
    `select document.id, document.title, document.number from ${snake(documentKind(kind).rows)} document where document.search like :like and ${seen} order by document.created_at desc limit ${MOST}`,
    { like, ...visibleBindings(call) },
  )
  return rows.map(row => ({
    kind,
    path: documentKind(kind).path(row.id),
    label: row.title,
    detail: row.number,
    exact: false,
  }))
}

const snake = (name: string): string => name.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)

/** Documents of whatever kind that have this number, those that this person sees. */
async function byNumber(call: Read, text: string): Promise<FoundItem[]> {
  const found: FoundItem[] = []
  for (const { kind, number } of readNumbers(text, await numberRanges(call))) {
    const { rows: table, title, home, path } = documentKind(kind)
    const seen = visibleSql(call, kind, 'document')
    const { rows } = await call.trx.raw<{ rows: { number: string; label: string | null; place: string }[] }>(
      `select document.number, document.${snake(title)}::text as label, document.${snake(home)}::text as place from ${snake(table)} document where document.number = :number and ${seen}`,
      { number, ...visibleBindings(call) },
    )
    found.push(
      ...rows.map(row => ({
        kind,
        path: path(row.place),
        label: row.label || row.number,
        detail: row.number,
        exact: true,
      })),
    )
  }
  return found
}
