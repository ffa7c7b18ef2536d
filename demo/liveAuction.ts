import { randomUUID } from 'node:crypto'
import type { Write } from '#server/call.ts'
import { wire } from '#server/app/wiring.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { getActor } from '#server/people/sessions.ts'
import { writing } from '#server/call.ts'
import { actOnDay } from '#server/source/dayActs.ts'
import { changeEvent, changeInvited, createEvent, inviteSuppliers, send } from '#server/source/eventActs.ts'
import { readEvent } from '#server/source/eventSheet.ts'

/** Who bids in the demo's live auction: suppliers without people of their own here; a stand-in answers their mail. */
export const LIVE_BIDDERS = [
  { supplier: 'Seefelder Pumpen GmbH', to: 'live.bids@seefelder.example' },
  { supplier: 'Acquanera Impianti S.r.l.', to: 'live.bids@aquanera.example' },
] as const
/** What they usually take for one, in euros. */
export const LIVE_USUAL = 3586
const TITLE = 'Circulation pumps 24 m³/h, live'
const MINUTES = 120
const DAY = 86_400_000

/** Opens an auction that goes on while somebody looks at the demo; at each start, unless one is open. */
export async function openLiveAuction(parts: JobParts): Promise<boolean> {
  wire()
  return await inTransaction(parts, async system => {
    const kind = await system.trx('eventKinds').where({ name: 'Reverse auction', state: 'live' }).first('id')
    const rasmus = await system.trx('people').where({ name: 'Rasmus Tielemann', active: true }).first('id')
    const open = await system.trx('events').where({ title: TITLE, state: 'asking' }).first('id')
    if (!kind || !rasmus || open) return false
    const actor = await getActor(system.trx, rasmus.id, system.now)
    const call: Write = writing(system.trx, { ...system, actor, channel: 'demo' })
    await makeLive(call, kind.id)
    return true
  })
}

async function makeLive(call: Write, kindId: string): Promise<void> {
  const { id } = await createEvent(call, { kindId, title: TITLE, copyOf: null })
  const { body } = await readEvent(call, id)
  const lot = body.lots[0]!
  const saved = await changeEvent(call, id, {
    ...body,
    version: 1,
    category: 'Pumps',
    opensAt: new Date(Date.parse(call.now) + DAY).toISOString(),
    lots: [{ ...lot, title: 'Circulation pump 24 m³/h', minutes: MINUTES }],
    lines: [
      {
        id: randomUUID(),
        lotId: lot.id,
        itemId: null,
        category: 'Pumps',
        description: 'Circulation pump 24 m³/h, bronze',
        quantity: '10',
        unit: 'C62',
        needBy: null,
        addressId: null,
        incoterm: null,
        incotermPlace: '',
        reference: String(LIVE_USUAL),
        referenceFrom: 'lastPaid',
        accountId: null,
        texts: {},
      },
    ],
  })
  const names = [...LIVE_BIDDERS.map(one => one.supplier), 'Nordhavn Pumpeverk']
  const supplierIds = await call.trx('suppliers').whereIn('name', names).pluck<string[]>('id')
  await inviteSuppliers(call, id, { version: saved.version, supplierIds })
  for (const { supplier, to } of LIVE_BIDDERS) {
    const sheet = await readEvent(call, id)
    const one = sheet.invited.find(other => other.name === supplier)
    if (!one) continue
    const { contactName, currency, ownNote, toDo } = one
    await changeInvited(call, id, one.id, { version: sheet.version, contactName, email: to, language: 'en', currency: currency as 'EUR', ownNote, toDo }) // prettier-ignore
  }
  await send(call, id, { version: (await readEvent(call, id)).version, reason: 'The demo’s live auction.' })
  await actOnDay(call, id, { act: 'start', lotId: null, bySeconds: 0, reason: '' })
}
