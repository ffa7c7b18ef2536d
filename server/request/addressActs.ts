import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListAddresses, SaveAddress } from '#contract/request/forms.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Write, type Read } from '#server/call.ts'
import { record } from '#server/documents/history.ts'

/** The address book: sites with dock, hours and whom to call; delivery places, places where work is done, or both. */
export async function listAddresses(call: Read): Promise<ResponseOf<typeof ListAddresses>> {
  const addresses = await call
    .trx('addresses')
    .orderBy(['name', 'dock'])
    .select<ResponseOf<typeof ListAddresses>['addresses']>(
      'addresses.*',
      call.trx.raw('(select count(*)::int from requisition_lines where address_id = addresses.id) as used'),
    )
  return { addresses }
}

export async function saveAddress(call: Write, { id, ...body }: BodyOf<typeof SaveAddress>): Promise<{ id: string }> {
  const twin = await call.trx('addresses').where({ code: body.code }).first('id')
  if (twin && twin.id !== id) throw new RuleBroken(stop('address.codeTaken', { code: body.code }, { place: 'code' }))
  const known = id ?? randomUUID()
  if (id === null) await call.trx('addresses').insert({ id: known, ...body })
  else {
    found(await call.trx('addresses').where({ id }).forUpdate().first('id'), 'address')
    await call.trx('addresses').where({ id }).update(body)
  }
  await record(call, {
    kind: 'address',
    id: known,
    action: id === null ? 'created' : 'changed',
    changes: { after: body },
  })
  return { id: known }
}
