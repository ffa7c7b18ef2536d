import { createHash } from 'node:crypto'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { EXEMPTIONS, type OutgoingInvoice } from '#core/bill/outgoing.ts'
import { addDays } from '#core/calendar/days.ts'
import { moment } from '#demo/load.ts'
import { type Bought, runThread, type Team } from '#demo/runThread.ts'
import type { DemoThread, End } from '#demo/threads.ts'
import { codeInvoice, readCoding } from '#server/bill/codeActs.ts'
import { open as openDispute, sayOn } from '#server/bill/disputeActs.ts'
import { partiesOf } from '#server/bill/documentFile.ts'
import { billOwnOrder, readInvoiceFile } from '#server/bill/takeActs.ts'
import { storeFile } from '#server/files/fileActs.ts'
import { writeUblInvoice } from '#server/formats/writeUblInvoice.ts'
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
  await disputed(team)
  await byPlan(team)
  await ordersNothing(team)
  await eachHeld(team)
}

/** Two bags are missing, say we; the supplier would write a credit note. */
async function disputed(team: Team): Promise<void> {
  const order = await bought(team, 'Salt for the seal basin', '37', 'matched', 13)
  const id = await billOf(team, order)
  const version = async (): Promise<number> => (await team.parts.db('invoices').where({ id }).first('version'))!.version
  const at = await version()
  await team.as('pilar', moment(addDays(team.today, -1), 15, team.now), call => openDispute(call, id, at, 'Two of the bags were torn open when they came. Do you replace them?')) // prettier-ignore
  const then = await version()
  await team.as(`at ${order.supplier}`, team.now, call => sayOn(call, id, { version: then, text: 'We are sorry. We would credit the two bags.', outcome: 'creditNote' })) // prettier-ignore
}

/** Four times a fortnight, and only the first was billed. */
async function byPlan(team: Team): Promise<void> {
  const thread: DemoThread = { title: 'Salt for the quarantine, by plan', who: 'pilar', place: 'quay', on: SALT, lines: [{ item: 'SW-1240', quantity: '8', byPlan: true }], inParts: 4, end: 'confirmed', ago: 68 } // prettier-ignore
  const order = (await runThread(team, thread))!
  const [line] = order.lines
  await team.as(
    `at ${order.supplier}`,
    team.now,
    call =>
    billOwnOrder(call, order.order.id, { revision: 0, number: 'GS-2231', issueDate: call.today, freight: '0.00', taxCategory: 'AE', taxRate: '0', lines: [{ lineId: line!.id, quantity: '2', price: line!.price }] }), // prettier-ignore
  )
}

/** A bill for what nobody ordered: who pays is said, and its holder decides. */
async function ordersNothing(team: Team): Promise<void> {
  const amount = '480.00'
  const { id, version } = await sent(team, {
    number: 'GS-9907',
    issueDate: addDays(team.today, -2),
    lines: [{ id: '1', name: `Rent of the brine tank, ${team.today.slice(0, 4)}`, quantity: '1', unit: 'C62', price: amount, priceBase: '1', net: amount, category: 'AE', rate: '0', orderLine: '' }], // prettier-ignore
    taxes: [{ category: 'AE', rate: '0', taxable: amount, tax: '0.00', exemption: EXEMPTIONS.AE! }],
    totals: { lines: amount, charges: '0.00', net: amount, tax: '0.00', gross: amount, payable: amount },
  })
  const accountId = team.accounts.get(`LS-210 6020  ${team.today.slice(0, 4)}`)!
  await team.as('leonie', team.now, async call => {
    const { lines } = await readCoding(call, id)
    await codeInvoice(call, id, { version, reason: 'Rent of the brine tank, as every quarter.', lines: lines.map(({ lineId }) => ({ lineId, splits: [{ accountId, share: '1' }] })) }) // prettier-ignore
  })
}

/** An e-invoice of the salt works, as it comes as a file and is read. */
async function sent(
  team: Team,
  said: Pick<OutgoingInvoice, 'number' | 'issueDate' | 'lines' | 'taxes' | 'totals'> & Partial<OutgoingInvoice>,
) {
  // prettier-ignore
  const parties = await team.as('leonie', team.now, call => partiesOf(call, team.suppliers.get('salines')!))
  const xml = writeUblInvoice({ typeCode: '380', dueDate: addDays(team.today, 28), currency: 'EUR', orderReference: '', preceding: null, note: '', paymentTerms: '', ...parties, account: null, charges: [], ...said }) // prettier-ignore
  const path = join(await mkdtemp(join(tmpdir(), 'demo-')), 'invoice.xml')
  await writeFile(path, xml)
  const upload = { path, name: `${said.number}.xml`, size: Buffer.byteLength(xml), sha256: createHash('sha256').update(xml).digest('hex'), drop: () => rm(path) } // prettier-ignore
  const file = await team.as('leonie', team.now, call => storeFile(call, { announced: upload.size, receive: () => Promise.resolve(upload) })) // prettier-ignore
  return await team.as('leonie', team.now, call => readInvoiceFile(call, file.id))
}

/** Bills of one delivery that each differ in another thing: more than was ordered, freight that nobody agreed, a rate of VAT that is none, another company, another account. */
async function eachHeld(team: Team): Promise<void> {
  const most = await bought(team, 'Salt for the wolffish', '5', 'received', 9)
  const many = await bought(team, 'Salt for the winter', '60', 'received', 10)
  const bill = async (
    number: string,
    { order, lines: [line] }: Bought,
    bags: number,
    more: { freight?: number; rate?: string; tax?: number; buyer?: string; iban?: string } = {},
  ): Promise<void> => {
    const net = Number(line!.price) * bags
    const { freight = 0, rate = '0', buyer, iban } = more
    const taxable = (net + freight).toFixed(2)
    const tax = (((net + freight) * Number(rate)) / 100).toFixed(2)
    const gross = (Number(taxable) + Number(tax)).toFixed(2)
    const category = rate === '0' ? 'AE' : 'S'
    const parties = await team.as('leonie', team.now, call => partiesOf(call, team.suppliers.get('salines')!))
    await sent(team, {
      number,
      issueDate: addDays(team.today, -3),
      orderReference: order.number,
      ...(buyer ? { buyer: { ...parties.buyer, name: buyer, vat: 'NL853746333B01' } } : {}),
      account: iban ? { iban, bic: '', holder: parties.seller.name } : null,
      charges: freight ? [{ amount: freight.toFixed(2), reason: 'Freight', code: 'FC', category, rate }] : [],
      lines: [{ id: '1', name: 'Synthetic sea salt, bag of 25 kg', quantity: String(bags), unit: line!.unit, price: line!.price, priceBase: '1', net: net.toFixed(2), category, rate, orderLine: '1' }], // prettier-ignore
      taxes: [{ category, rate, taxable, tax, exemption: category === 'AE' ? EXEMPTIONS.AE! : null }],
      totals: { lines: net.toFixed(2), charges: freight.toFixed(2), net: taxable, tax, gross, payable: gross },
    })
  }
  await bill('GS-2301', most, 6)
  await bill('GS-2302', many, 7, { freight: 48.5 })
  await bill('GS-2303', many, 8, { rate: '13' })
  await bill('GS-2304', many, 13, { buyer: 'Saltmere Harbour Museum' })
  await bill('GS-2305', many, 11, { iban: 'FR7630006000011234567890189' })
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
