import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'
import { addDays } from '#core/calendar/days.ts'
import { parseAmount } from '#core/money/amount.ts'
import { holderRule, type Rule } from '#core/rules/rule.ts'
import { PERMISSIONS } from '#contract/permissions.ts'
import { addPerson, allot, setHolder, setUpOrganisation } from '#server/setup/organisation.ts'
import { dayOf, type Write, writing } from '#server/call.ts'
import { getActor } from '#server/people/sessions.ts'
import { hashPassword } from '#server/people/signIn.ts'
import { importItems } from '#server/request/importItems.ts'
import { firstRules } from '#server/rules/ruleActs.ts'
import {
  addAddresses,
  addCategories,
  addCertificates,
  addOnboardings,
  addSignals,
  addSuppliers,
  DEMO_PASSWORD,
} from '#demo/suppliers.ts'
import { wire } from '#server/app/wiring.ts'
import { readHouse, writeSetting } from '#server/house/house.ts'
import { measureStages } from '#server/insight/stageValues.ts'
import { inTransaction, type JobParts, SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { saveAway } from '#server/consent/awayActs.ts'
import { watchDecisions } from '#server/decide/watch.ts'
import { end } from '#server/order/orderActs.ts'
import { setBankAccount } from '#server/source/bankAccountActs.ts'
import { inventedGtin, inventedIban } from '#demo/identifiers.ts'
import { ITEMS } from '#demo/items.ts'
import { addAgreements, AGREED_THREADS } from '#demo/agreements.ts'
import { addClauses } from '#demo/clauses.ts'
import { addCategoryTree, addRequestSetup, addRequestWork, ITEM_FACTS, OFFER_FACTS } from '#demo/request.ts'
import { addBilling } from '#demo/billing.ts'
import { addReceiving, addReceivingTerms } from '#demo/receiving.ts'
import { addEventKinds, addEvents } from '#demo/events.ts'
import { plannedOne } from '#demo/plannedEvent.ts'
import { addSkid } from '#demo/skid.ts'
import { addHistory, historyFrom } from '#demo/history.ts'
import { payWhatIsDue } from '#demo/payments.ts'
import { THREADS } from '#demo/threads.ts'
import { runThread, type Team } from '#demo/runThread.ts'
import { BUDGETS, HOLDERS, HOUSE, organisation, PEOPLE, personEmail, SUPPLIERS } from '#demo/world.ts'
import { propose } from '#server/pay/runActs.ts'

export { DEMO_PASSWORD }

/** Acts as a person at a moment: opens a transaction and calls a use case, as the web server does. */
export type As = <T>(key: string, at: string, work: (call: Write) => Promise<T>) => Promise<T>

/** The moment on a day, in working hours; never after `now`. */
export const moment = (day: string, hour: number, now: string): string => {
  const at = `${day}T${String(hour).padStart(2, '0')}:${String((hour * 7) % 60).padStart(2, '0')}:00.000Z`
  return at > now ? now : at
}

/**
 * Fills an empty database with the scenario, by driving the same services as people do: what is under way, and so many months of finished
 * purchases behind it. `parts.clock` says when it is.
 */
export async function loadDemo(
  parts: JobParts,
  { months = 0, tell = () => undefined }: { months?: number; tell?: (text: string) => void } = {},
): Promise<void> {
  const { db } = parts
  const now = parts.clock()
  const today = dayOf(now, HOUSE.zone)
  const people: Record<string, string> = {}
  wire()
  const as: As = (key, at, work) =>
    db.transaction(async trx => {
      const actor = await getActor(trx, people[key]!, at)
      const house = await readHouse(trx)
      return await work(
        writing(trx, { actor, house, now: at, today: dayOf(at, house.zone), channel: 'demo', base: house.base }),
      )
    })
  const begun = months > 0 ? addDays(historyFrom(today, months), -20) : addDays(today, -200)
  await setUp(db, parts, people, today, begun)
  tell('people, budgets and rules')
  const start = moment(begun, 8, now)
  await addCategories(as, people, start)
  const suppliers = await addSuppliers(as, people, start)
  await addCertificates(as, suppliers, start, today, begun)
  await addItems(as, start)
  await drawPictures(db)
  const team: Team = { as, now, today, suppliers, accounts: await accounts(db), parts }
  await addAgreements(team, begun)
  await addCategoryTree(team, people, start)
  await addClauses(as, start)
  await addReceivingTerms(team)
  const kinds = await addEventKinds(as, start)
  tell('suppliers and items')
  if (months > 0) tell(`${await addHistory(team, months)} purchases of ${months} months`)
  for (const thread of AGREED_THREADS.filter(one => months > 0 || one.always)) await runThread(team, thread)
  for (const thread of [...THREADS].sort((a, b) => b.ago - a.ago)) await runThread(team, thread)
  tell(`${THREADS.length} threads`)
  await addReceiving(team)
  await addBilling(team)
  if (!(await payWhatIsDue(team, addDays(today, -5)))) throw new Error('The demo found nothing to pay.')
  await sealThem(team)
  await as('casimir', now, call => propose(call, addDays(call.today, 3), call.today))
  await changeAccount(as, suppliers, now)
  await addAddresses(as)
  await addOnboardings(as, db, people, now)
  await addSignals(as, now)
  await addRequestSetup(team)
  await addRequestWork(team)
  await addEvents(team, kinds)
  await plannedOne(team, kinds)
  await addSkid(team)
  await addAwayTimes(as, people, now, today)
  await watchDecisions(parts)
  await inTransaction(parts, measureStages)
  tell('payments, onboardings and signals')
}

/** Who decides in whose place these days. */
async function addAwayTimes(
  as: As,
  people: Readonly<Record<string, string>>,
  now: string,
  today: string,
): Promise<void> {
  const time = { version: 0, kinds: [], limit: null, away: true, note: '' }
  await as('henrik', now, call =>
    saveAway(call, randomUUID(), {
      ...time,
      personId: people.henrik!,
      standInId: people.adaeze!,
      fromDay: addDays(today, -1),
      toDay: addDays(today, 6),
      kinds: ['approval'],
      limit: '25000.00',
      away: false,
      note: 'At the conference on coastal hatcheries.',
    }),
  )
  await as('tomas', now, call =>
    saveAway(call, randomUUID(), {
      ...time,
      personId: people.tomas!,
      standInId: people.marit!,
      fromDay: addDays(today, 20),
      toDay: addDays(today, 34),
      note: 'Winter leave.',
    }),
  )
}

async function setUp(
  db: Knex,
  parts: JobParts,
  people: Record<string, string>,
  today: string,
  begun: string,
): Promise<void> {
  const year = Number(today.slice(0, 4))
  const passwordHash = await hashPassword(DEMO_PASSWORD)
  await db('people')
    .insert({ id: SYSTEM_PERSON, name: 'Ivory Order', email: 'system@saltmere.example', realm: 'team', active: false })
    .onConflict('id')
    .ignore()
  people.system = SYSTEM_PERSON
  await db.transaction(async trx => {
    const now = moment(addDays(begun, -10), 8, parts.clock())
    const call = writing(trx, {
      actor: { ...(await getActor(trx, SYSTEM_PERSON, now)), rights: new Set(PERMISSIONS) },
      house: HOUSE,
      now,
      today: dayOf(now, HOUSE.zone),
      channel: 'demo',
      base: HOUSE.base,
    })
    const firstYear = Number(begun.slice(0, 4)) < year - 1 ? year - 2 : year - 1
    await setUpOrganisation(call, organisation(year, firstYear))
    await writeSetting(call, 'demo', true)
    for (const person of PEOPLE) {
      people[person.key] = randomUUID()
      await addPerson(call, {
        id: people[person.key]!,
        name: person.name,
        email: personEmail(person.name),
        roles: person.roles.map(([role, costCentre]) => ({ role, costCentre })),
        managerId: person.manager ? (people[person.manager] ?? null) : null,
        supplierId: null,
        active: person.active ?? true,
        passwordHash,
      })
    }
    for (const person of PEOPLE)
      if (person.manager)
        await trx('people').where({ id: people[person.key] }).update({ managerId: people[person.manager] })
    for (const [centre, key] of Object.entries(HOLDERS)) await setHolder(call, centre, people[key]!)
    for (const [costCentre, account, project, amount, level] of BUDGETS)
      for (let one = firstYear; one <= year + 1; one++)
        await allot(call, {
          costCentre,
          account,
          project,
          amount,
          level,
          year: one,
          tolerancePercent: level === 'stop' ? 0 : 5,
        })
    const asking = (name: string, from: string, stage: number, who: Rule['who']): Rule => ({
      ...holderRule('', name),
      measure: 'document',
      from: parseAmount(from, HOUSE.base),
      stage,
      who,
    })
    const role = (code: string): Rule['who'] => ({ kind: 'role', role: code, inCentre: false })
    await firstRules(call, [
      holderRule('', 'Budget holder'),
      asking('Finance, from 10 000', '10000.00', 2, role('financeController')),
      asking('Director, from 25 000', '25000.00', 3, role('director')),
      {
        ...asking('Difference in an invoice, from 150', '150.00', 1, role('financeController')),
        kinds: ['billDifference'],
      },
      // she has left since: what this rule asks for waits until a steward passes it on
      {
        ...asking('Exhibit safety, 5 000 to 9 000', '5000.00', 2, { kind: 'people', personIds: [people.orla!] }),
        measure: 'costCentre',
        below: parseAmount('9000.00', HOUSE.base),
        conditions: [{ fact: 'costCentre', not: false, values: ['EX-310'] }],
      },
    ])
  })
}

async function addItems(as: As, at: string): Promise<void> {
  const names = new Map(SUPPLIERS.map(supplier => [supplier.key, supplier]))
  const quoted = (text: string): string => `"${text.replaceAll('"', '""')}"`
  const rows = ITEMS.flatMap((item, index) =>
    item.offers.map(offer =>
      [
        item.number,
        item.name,
        item.description,
        item.category,
        item.unit,
        inventedGtin(index),
        names.get(offer.supplier)!.name,
        `${offer.supplier.slice(0, 2).toUpperCase()}${item.number.replace('-', '')}`,
        names.get(offer.supplier)!.currency,
        offer.price,
        offer.priceBase ?? '1',
        offer.minimum ?? '1',
        offer.multiple ?? '1',
        String(offer.lead),
        offer.tiers ?? '',
        ...moreColumns(item.number, offer.supplier),
      ]
        .map(quoted)
        .join(';'),
    ),
  )
  const head =
    'number;name;description;category;unit;gtin;supplier;supplier_item;currency;price;price_base;minimum;multiple;lead_time_days;tiers;maker;maker_number;also_called;packs;stocked;certified;discontinued_on;replaced_by;agreement;incoterm;incoterm_place;freight;countries'
  const result = await as('pilar', at, call => importItems(call, Buffer.from([head, ...rows].join('\n')), false))
  if (result.faultCount > 0) throw new Error(`The demo items do not load: ${JSON.stringify(result.faults[0])}`)
}

/** Facts of the item and of the offer that most of them share, by the letters before the number and by the supplier. */
function moreColumns(number: string, supplier: string): string[] {
  const item = ITEM_FACTS[number] ?? ITEM_FACTS[number.slice(0, 2)] ?? {}
  const known = OFFER_FACTS[supplier]
  const offer = known?.only !== undefined && !number.startsWith(known.only) ? {} : (known ?? {})
  const mark = (is: boolean | undefined): string => (is ? 'yes' : '')
  return [
    item.maker ?? '',
    item.maker ? `${item.maker.slice(0, 2).toUpperCase()}-${number.slice(3)}` : '',
    item.called ?? '',
    item.packs ?? '',
    mark(item.stocked),
    mark(item.certified),
    item.gone ?? '',
    item.after ?? '',
    '',
    offer.incoterm ?? '',
    offer.place ?? '',
    offer.freight ?? '',
    offer.countries ?? '',
  ]
}

/** Item pictures have no editor yet; the drawings are put beside their items. */
async function drawPictures(db: Knex): Promise<void> {
  for (const item of ITEMS) await db('items').where({ number: item.number }).update({ picture: item.picture })
}

async function accounts(db: Knex): Promise<Map<string, string>> {
  const rows = await db('budgetAccounts').select('id', 'costCentre', 'naturalAccount', 'fiscalYear', 'project')
  return new Map(
    rows.map(row => [`${row.costCentre} ${row.naturalAccount} ${row.project ?? ''} ${row.fiscalYear}`, row.id]),
  )
}

async function sealThem(team: Team): Promise<void> {
  for (const thread of THREADS.filter(one => one.end === 'sealed')) {
    const order = (await team.parts.db('orders').where({ title: thread.title }).first('id', 'version'))!
    const at = moment(addDays(team.today, -2), 10, team.now)
    const closed = await team.as('pilar', at, call => end(call, order.id, 'close', order.version, 'All done.', false))
    await team.as('pilar', at, call => end(call, order.id, 'seal', closed.version, 'Paid and filed.', false))
  }
}

/** The recently changed account of the scenario: payments to it wait until another person has checked it. */
async function changeAccount(as: As, suppliers: ReadonlyMap<string, string>, now: string): Promise<void> {
  const id = suppliers.get('tidewind')!
  await as('pilar', now, async call => {
    const { version } = (await call.trx('suppliers').where({ id }).first('version'))!
    await setBankAccount(call, id, {
      version,
      iban: inventedIban('NL', 777_001),
      bic: 'IVORNL2A',
      holder: 'Tidewind Printers',
    })
  })
}
