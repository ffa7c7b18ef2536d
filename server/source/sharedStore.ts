import type { SupplierBody } from '#contract/source/record.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { STRONG_SCHEMES } from '#core/source/schemes.ts'
import type { Read } from '#server/call.ts'

const CLEARED_BY = ['buyer', 'sourcingLead', 'financeController']

/** Strong identifiers of a record that another one has. Registration numbers count within their country. */
export async function sharedIdentifiers(
  call: Read,
  body: Pick<SupplierBody, 'identifiers'>,
  exceptId: string | null,
): Promise<Reason[]> {
  const strong = body.identifiers
    .map((one, index) => ({ ...one, value: normalIdentifier(one.value), index }))
    .filter(one => STRONG_SCHEMES.has(one.scheme) && one.value !== '')
  if (strong.length === 0) return []
  const rows = await call
    .trx('supplierIdentifiers as identifier')
    .join('suppliers', 'suppliers.id', 'identifier.supplierId')
    .whereIn(
      'identifier.value',
      strong.map(one => one.value),
    )
    .whereNull('suppliers.mergedInto')
    .modify(query => {
      if (exceptId) void query.whereNot('suppliers.id', exceptId).whereNull('identifier.consentId')
    })
    .select<{ scheme: string; value: string; name: string; number: string }[]>(
      'identifier.scheme',
      'identifier.value',
      'suppliers.name',
      'suppliers.number',
    )
  const agreed = exceptId ? await agreedOf(call, exceptId) : new Set<string>()
  return strong.flatMap(one => {
    const other = rows.find(row => row.scheme === one.scheme && row.value === one.value)
    if (!other || agreed.has(`${one.scheme} ${one.value}`)) return []
    const details = { scheme: one.scheme, value: one.value, name: other.name, number: other.number }
    return [stop('source.shared', details, { place: `identifiers.${one.index}.value`, clearedBy: CLEARED_BY })]
  })
}

/** Identifiers that a second person has let this record share. */
async function agreedOf(call: Read, supplierId: string): Promise<Set<string>> {
  const rows = await call
    .trx('supplierIdentifiers')
    .where({ supplierId })
    .whereNotNull('consentId')
    .select('scheme', 'value')
  return new Set(rows.map(row => `${row.scheme} ${row.value}`))
}

/** Another supplier that is paid to this account. */
export async function sharedAccount(call: Read, iban: string): Promise<Reason[]> {
  if (iban.trim() === '') return []
  const value = normalIdentifier(iban)
  const other = await call
    .trx('supplierBankAccounts as account')
    .join('suppliers', 'suppliers.id', 'account.supplierId')
    .where('account.iban', value)
    .whereNot('account.state', 'closed')
    .first<{ name: string; number: string } | undefined>('suppliers.name', 'suppliers.number')
  if (!other) return []
  const details = { scheme: 'iban', value, name: other.name, number: other.number }
  return [stop('source.shared', details, { place: 'iban', clearedBy: CLEARED_BY })]
}
