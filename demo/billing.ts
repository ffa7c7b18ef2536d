import { type Bought, runThread, type Team } from '#demo/runThread.ts'
import type { DemoThread, End } from '#demo/threads.ts'
import { actOnCredit, writeDebit, writeSupplierCredit } from '#server/bill/creditActs.ts'

const SALT = [['LS-210', '6020', null]] as const
const bought = async (team: Team, title: string, quantity: string, end: End, ago: number): Promise<Bought> => {
  const thread: DemoThread = { title, who: 'joren', place: 'quay', on: SALT, lines: [{ item: 'SW-1200', quantity }], end, ago } // prettier-ignore
  return (await runThread(team, thread))!
}
const billOf = async (team: Team, { lines }: Bought): Promise<string> =>
  (await team.parts.db('invoiceLines').where({ orderLineId: lines[0]!.id }).first('invoiceId'))!.invoiceId

/** Credit notes as they come: handed in and to be posted, posted and set off, a draft; and a debit note of ours that takes a difference off. */
export async function addBilling(team: Team): Promise<void> {
  const seals = await bought(team, 'Salt for the skimmer trial', '23', 'posted', 21)
  const spare = await bought(team, 'Salt for the lagoon', '27', 'posted', 24)
  const dear = await bought(team, 'Salt for the ray pool', '31', 'heldPrice', 19)
  await credit(team, seals, 'GS-2207', 'Two bags were wet.', { way: 'quantity', quantity: '2', priceOff: '0' }, true) // prettier-ignore
  const id = await credit(team, spare, 'GS-2198', 'The spring price was agreed.', { way: 'price', quantity: '27', priceOff: '3.50' }, true) // prettier-ignore
  await credit(team, spare, '', '', { way: 'quantity', quantity: '1', priceOff: '0' }, false)
  await team.as('leonie', team.now, call => actOnCredit(call, id, { version: 1, action: 'post', reason: '' }))
  await takeOff(team, dear)
}

async function credit(
  team: Team,
  order: Bought,
  number: string,
  reason: string,
  line: { way: 'quantity' | 'price'; quantity: string; priceOff: string },
  send: boolean,
): Promise<string> {
  const invoiceId = await billOf(team, order)
  const kept = await team.as(`at ${order.supplier}`, team.now, call =>
    writeSupplierCredit(call, invoiceId, {
      creditId: null,
      version: null,
      send,
      note: { number, issueDate: call.today, reason, charges: '0', lines: [{ of: 1, ...line }] },
      fileIds: [],
    }),
  )
  return kept.id
}

/** The price is above what was ordered: the rest is paid, the difference is not. */
async function takeOff(team: Team, order: Bought): Promise<void> {
  const id = await billOf(team, order)
  const invoice = (await team.parts.db('invoices').where({ id }).first('version'))!
  const hold = await team.parts.db('invoiceHolds').where({ invoiceId: id, kind: 'price' }).first('amount')
  if (!hold) return
  const priceOff = (Number(hold.amount) / 100 / 31).toFixed(6)
  await team.as('pilar', team.now, call =>
    writeDebit(call, id, {
      version: invoice.version,
      note: { number: '', issueDate: call.today, reason: 'The ordered price stands.', charges: '0', lines: [{ of: 1, way: 'price', quantity: '31', priceOff }] }, // prettier-ignore
    }),
  )
}
