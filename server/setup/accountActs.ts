import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadOwnAccount, SaveOwnAccount } from '#contract/setup/endpoints.ts'
import { refuseStops } from '#core/reasons.ts'
import { checkIban, normalIdentifier } from '#core/source/identifiers.ts'
import type { Read, Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { readSetting, writeSetting } from '#server/house/house.ts'

/** The account that we pay from. */
export const readOwnAccount = async (call: Read): Promise<ResponseOf<typeof ReadOwnAccount>> => ({
  account: (await readSetting(call, 'payFrom')) ?? null,
})

/** A wrong account would be refused with every run, so it is checked like a supplier's. */
export async function saveOwnAccount(
  call: Write,
  body: BodyOf<typeof SaveOwnAccount>,
): Promise<ResponseOf<typeof SaveOwnAccount>> {
  refuseStops(checkIban(body.iban, 'iban'))
  const before = await readSetting(call, 'payFrom')
  const account = { name: body.name.trim(), iban: normalIdentifier(body.iban), bic: body.bic }
  await writeSetting(call, 'payFrom', account)
  await record(call, {
    kind: 'house',
    id: HOUSE,
    action: 'accountChanged',
    changes: { before: before ?? null, after: account },
  })
  return { account }
}

/** What is set up for the house as a whole has one history. */
const HOUSE = '00000000-0000-4000-8000-000000000002'
