import type { OwnAccount } from '#core/pay/ownAccounts.ts'
import type { Read } from '#server/call.ts'

/** Our open accounts in the order of their codes. */
export async function ownAccounts(call: Read): Promise<OwnAccount[]> {
  const rows = await call
    .trx('setupEntries')
    .where({ register: 'ownAccounts', open: true })
    .orderBy('code')
    .select('values')
  return rows.map(({ values: { name = '', iban = '', bic = '', currency = '' } }) => ({ name, iban, bic, currency }))
}
