import { gs1CheckDigit } from '#core/text/gs1.ts'
import { addDays } from '#core/calendar/days.ts'
import { json } from '#server/database/json.ts'
import { saveDespatch } from '#server/receive/despatchActs.ts'
import { tell } from '#server/receive/assetActs.ts'
import { conclude } from '#server/receive/inspectionActs.ts'
import { receive } from '#server/receive/receiptActs.ts'
import { answerReports, saveOwnReport } from '#server/receive/reportActs.ts'
import { saveReturn } from '#server/receive/returnActs.ts'
import { returnableParts } from '#server/receive/returnStore.ts'
import { setAside } from '#server/receive/setAsideActs.ts'
import { saveReceivingSettings } from '#server/receive/settingActs.ts'
import { issue } from '#server/receive/stockActs.ts'
import { addEntry } from '#server/setup/registers.ts'
import { type Bought, runThread, type Team } from '#demo/runThread.ts'
import type { DemoThread } from '#demo/threads.ts'
import { ADDRESSES, PEOPLE, SUPPLIERS } from '#demo/world.ts'

const SSCC_START = '3401234500000000'

/** How the goods of some categories are received, and the range of our tags. */
export async function addReceivingTerms(team: Team): Promise<void> {
  await team.as('wren', team.now, async call => {
    await addEntry(call, 'tagRanges', {
      code: 'SAT',
      name: 'Equipment',
      prefix: 'SAT-',
      digits: '6',
      first: '4401',
      last: '9999',
    })
    const terms = {
      'Diving & rope access': {
        becomes: 'asset',
        serial: 'must',
        tagRange: 'SAT',
        warrantyMonths: 24,
        serviceMonths: 12,
      },
      Fasteners: { becomes: 'stock' },
      Feed: { batch: 'may', bestBefore: 'may' },
    }
    await call.trx('suppliers').whereIn('id', call.trx('offers').join('items', 'items.id', 'offers.itemId').where('items.number', 'FA-1200').select('offers.supplierId')).update({ defaults: call.trx.raw(`defaults || '{"debitOnReturn": "yes"}'`) as never }) // prettier-ignore
    const flange = { inspect: 'all', characteristics: [{ name: 'Bore', unit: 'mm', low: '89.5', high: '90.5' }, { name: 'Sealing face', unit: '', low: '', high: '' }] } // prettier-ignore
    await call
      .trx('items')
      .where({ number: 'PT-1260' })
      .update({ receiving: json(flange) as never })
    for (const [name, receiving] of Object.entries(terms))
      await call
        .trx('supplyCategories')
        .where({ name })
        .update({ receiving: json(receiving) as never })
  })
}

const DIVE = [['EX-310', '6310', null]] as const
const PARTS = [['LS-210', '6210', null]] as const
const thread = (title: string, item: string, quantity: string, on: DemoThread['on'], ago: number): DemoThread => ({
  title,
  who: 'joren',
  place: 'quay',
  on,
  lines: [{ item, quantity }],
  end: 'confirmed',
  ago,
})

/** Receiving as it is at a dock: announced, counted in part with tags, in stock, gone back with a debit note; work that is reported. */
export async function addReceiving(team: Team): Promise<void> {
  const regulators = (await runThread(team, thread('Regulators for the kelp hall divers', 'DV-1240', '5', DIVE, 16)))!
  const masks = (await runThread(team, thread('Masks for the rope crew', 'DV-1220', '3', DIVE, 14)))!
  const bolts = (await runThread(team, {
    ...thread('Bolts for the skid frames', 'FA-1200', '40', PARTS, 26),
    end: 'posted',
  }))!
  await announce(team, regulators, '5', 1)
  await announce(team, masks, '3', 3)
  await countRegulators(team, regulators)
  await sendBoltsBack(team, bolts)
  await handOutBolts(team, bolts)
  await addReports(team)
  await addInspections(team)
  await countTooMany(team)
  await putAside(team)
}

const flanges = async (
  team: Team,
  title: string,
  quantity: string,
): Promise<{ bought: Bought; inspectionId: string }> => {
  const bought = (await runThread(team, thread(title, 'PT-1260', quantity, PARTS, 12)))!
  return await team.as('yuki', team.now, async call => {
    const done = await receive(call, bought.order.id, {
      receivedOn: call.today,
      placeId: ADDRESSES.quay.id,
      note: '',
      lines: [{ lineId: bought.lines[0]!.id, quantity, bin: 'Cage 2' }],
    })
    const row = await call.trx('inspections').where({ receiptId: done.id }).first('id')
    return { bought, inspectionId: row!.id }
  })
}

/** Flanges are measured: of some one was too wide and two are scratched, others wait; whoever asked for them is told that they are in. */
async function addInspections(team: Team): Promise<void> {
  const { inspectionId } = await flanges(team, 'Flanges for the settling tank', '6')
  const readings = ['90.1', '90.0', '89.9', '90.2', '90.0', '90.8'].map((Bore, index) => ({ Bore, 'Sealing face': index > 3 ? 'fail' : 'pass' })) // prettier-ignore
  await team.as(
    'yuki',
    team.now,
    call =>
    conclude(call, inspectionId, { version: 1, looked: 6, readings, accepted: '4', deducted: '1', deductPercent: '20', rejected: '1', reason: 'One is too wide, one is scratched.' }), // prettier-ignore
  )
  await team.as('adaeze', team.now, call =>
    saveReceivingSettings(call, { openFrom: null, asksRequesters: true, remindDays: 3, silentDays: 7 }),
  )
  await flanges(team, 'Flanges for the drain line', '8')
}

/** A crate came that nobody seems to have ordered. */
async function putAside(team: Team): Promise<void> {
  const pilar = await team.parts.db('people').where({ name: PEOPLE.find(person => person.key === 'pilar')!.name }).first('id') // prettier-ignore
  await team.as(
    'yuki',
    team.now,
    call =>
    setAside(call, { description: 'Crate of hose clamps, 40 mm', quantity: '2', unit: 'C62', placeId: ADDRESSES.quay.id, bin: 'Cage 1', supplierId: null, marks: 'Norsped NSP-20994', note: 'No despatch note in it.', buyerId: pilar!.id }), // prettier-ignore
  )
}

/** More bolts came than the tolerance lets in: the count waits for a second person. */
async function countTooMany(team: Team): Promise<void> {
  const bolts = (await runThread(team, thread('Bolts for the mooring plates', 'FA-1220', '50', PARTS, 9)))!
  await team.as('yuki', team.now, call =>
    receive(call, bolts.order.id, {
      receivedOn: call.today,
      placeId: ADDRESSES.quay.id,
      note: '',
      checkReason: 'The box holds 80; sending 30 back costs more than they do.',
      lines: [{ lineId: bolts.lines[0]!.id, quantity: '80' }],
    }),
  )
}

async function announce(team: Team, bought: Bought, quantity: string, days: number): Promise<void> {
  const line = bought.lines[0]!
  const head = `${SSCC_START}${days}`
  await team.as(`at ${bought.supplier}`, team.now, call =>
    saveDespatch(call, bought.order.id, {
      despatchId: null,
      version: 0,
      revision: 0,
      send: true,
      entry: {
        number: `LS-${700 + days}`,
        despatchedOn: team.today,
        arrivesOn: addDays(team.today, days),
        carrier: 'Norsped',
        tracking: `NSP-20${days}7`,
        note: '',
        packages: [{ kind: 'CT', sscc: head + gs1CheckDigit(head), weight: '14.5', size: '60 × 40 × 40' }],
        lines: [{ lineId: line.id, quantity, batch: '', bestBefore: null, serials: [], package: 0 }],
      },
    }),
  )
}

/** Three of five are counted; one has its tag, two wait for theirs. */
async function countRegulators(team: Team, bought: Bought): Promise<void> {
  await team.as('yuki', team.now, async call => {
    const done = await receive(call, bought.order.id, {
      receivedOn: call.today,
      placeId: ADDRESSES.quay.id,
      note: 'Two boxes follow.',
      lines: [{ lineId: bought.lines[0]!.id, quantity: '3', bin: 'Dive store', serials: ['BW-31207'] }],
    })
    const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
      'select a.id from assets a join receipt_lines l on l.id = a.receipt_line_id where l.receipt_id = ? order by a.number limit 1',
      [done.id],
    )
    await tell(call, rows[0]!.id, { version: 1, tag: 'SAT-004401' })
  })
}

/** Bolts are in stock and billed; some were rusty under their heads and went back, with a debit note. */
async function sendBoltsBack(team: Team, bought: Bought): Promise<void> {
  await team.as('yuki', team.now, async call => {
    const [part] = [...(await returnableParts(call, bought.order.id)).values()]
    await saveReturn(call, bought.order.id, {
      returnId: null,
      version: 0,
      send: true,
      entry: { reason: 'Rust under the heads.', supplierNumber: 'RMA-118', wish: 'replacement', pickUpOn: addDays(call.today, 2), carrier: 'Norsped', lines: [{ partId: part!.partId, lineId: bought.lines[0]!.id, quantity: '6', pieces: [] }] }, // prettier-ignore
    })
  })
}

/** Some bolts are handed out to the workshop. */
async function handOutBolts(team: Team, bought: Bought): Promise<void> {
  await team.as(
    'yuki',
    team.now,
    call =>
    issue(call, { to: 'LS-210, Life support', note: 'Frames of skid 3.', lines: [{ itemId: bought.lines[0]!.itemId!, placeId: ADDRESSES.quay.id, bin: '', batch: '', quantity: '4' }] }), // prettier-ignore
  )
}

/** One report waits, one was refused: of the first order of work by the hour that has room for both. */
async function addReports(team: Team): Promise<void> {
  const { rows } = await team.parts.db.raw<{
    rows: { id: string; orderId: string; supplier: string; requester: string }[]
  }>(
    `select l.id, o.id as order_id, s.name as supplier, r.requester_id as requester from order_lines l join orders o on o.id = l.order_id join suppliers s on s.id = o.supplier_id
     join requisition_lines q on q.id = l.requisition_line_id join requisitions r on r.id = q.requisition_id
     where l.kind <> 'goods' and l.proof = 'acceptWork' and o.state in ('issued', 'acknowledged') and l.quantity - l.proven >= 1 and exists (select 1 from people p where p.supplier_id = s.id and p.active) order by o.number limit 2`,
  )
  for (const [index, one] of rows.entries()) {
    const entry = { number: `WR-${31 + index}`, quantity: '1', from: addDays(team.today, -3), to: addDays(team.today, -1), place: 'Kelp hall', people: [{ name: 'Sunniva Rask', quantity: '' }], note: 'As agreed on site.' } // prettier-ignore
    const report = await team.as(
      `at ${SUPPLIERS.find(supplier => supplier.name === one.supplier)!.key}`,
      team.now,
      call => saveOwnReport(call, one.orderId, { reportId: null, version: 0, lineId: one.id, send: true, entry }),
    )
    if (index === 0) continue
    const who = await team.parts.db('people').where({ id: one.requester }).first('name')
    await team.as(PEOPLE.find(person => person.name === who!.name)!.key, team.now, call =>
      answerReports(call, {
        answer: 'refuse',
        reason: 'The railing was not taken down.',
        reports: [{ id: report.id }],
      }),
    )
  }
}
