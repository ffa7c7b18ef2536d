import { addDays, addBusinessDays, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import type { LineBody } from '#contract/request/lines.ts'
import type { FormBody } from '#contract/request/forms.ts'
import type { z } from 'zod'
import type { OfferRow } from '#server/request/offerStore.ts'
import type { Team } from '#demo/runThread.ts'
import { ADDRESSES } from '#demo/world.ts'
import type { Read, Write } from '#server/call.ts'
import { askTransfer } from '#server/budgets/transferActs.ts'
import { actOnPool } from '#server/order/poolActs.ts'
import { saveAddress } from '#server/request/addressActs.ts'
import { createRequisition } from '#server/request/draftActs.ts'
import { publishForm, saveForm } from '#server/request/formActs.ts'
import { saveNotice } from '#server/request/notices.ts'
import { askRequester } from '#server/order/askActs.ts'
import { saveRepeatList } from '#server/request/repeatLists.ts'
import { saveRequestSettings } from '#server/request/settingsStore.ts'
import { saveCategory } from '#server/source/categoryActs.ts'

/** The tree of categories: what hangs under what, the account that is proposed, and who buys it. */
const TREE: readonly [name: string, parent: string | null, account: string | null, buyer: 'pilar' | 'rasmus'][] = [
  ['Living stock', null, null, 'pilar'], ['Feed', 'Living stock', '6010', 'pilar'], ['Laboratory', 'Living stock', '6110', 'pilar'],
  ['Water technology', null, null, 'rasmus'], ['Pumps', 'Water technology', '1510', 'rasmus'], ['Filtration & UV', 'Water technology', '6210', 'rasmus'], ['Heat exchange', 'Water technology', '1510', 'rasmus'], ['Probes & dosing', 'Water technology', '6210', 'rasmus'], ['Salt & water chemistry', 'Water technology', '6020', 'pilar'], ['Valves & pipe', 'Water technology', '6210', 'pilar'],
  ['Workshop', null, null, 'pilar'], ['Fasteners', 'Workshop', '6210', 'pilar'], ['Panels & tanks', 'Workshop', '1510', 'rasmus'], ['Visitors', null, null, 'pilar'], ['Shop goods', 'Visitors', '6510', 'pilar'], ['Print & learning', 'Visitors', '6410', 'pilar'], ['Diving & rope access', null, '6310', 'rasmus'], ['Illustration', null, '6610', 'rasmus'],
] // prettier-ignore

/** What the item file says beyond the first columns: maker, other names, packs, marks. By number or by the letters before it. */
export const ITEM_FACTS: Readonly<Record<string, { maker?: string; called?: string; packs?: string; stocked?: boolean; certified?: boolean; gone?: string; after?: string }>> = {
  SW: { called: 'brine mix, marine salt', stocked: true }, SP: { called: 'brine mix, marine salt' }, FK: { called: 'euphausiids, frozen fish', stocked: true, certified: true }, LF: { certified: true }, PF: { certified: true }, CP: { maker: 'Nordhavn Pumpeverk' }, UV: { maker: 'Aldis Membranes' }, 'UV-1200': { maker: 'Aldis Membranes', gone: '2026-06-30', after: 'UV-1220' }, UL: { maker: 'Aldis Membranes', stocked: true }, SK: { maker: 'Aldis Membranes', called: 'foam fractionator' }, HX: { maker: 'Coldline Titanium', called: 'chiller plate' }, PR: { maker: 'Toshima Probe Works', certified: true, called: 'electrode, sensor' }, LB: { called: 'hand protection', stocked: true }, BV: { maker: 'Orrin Valve Company', called: 'stopcock', stocked: true }, FA: { packs: 'BX=100', called: 'screw', stocked: true }, SH: { packs: 'BX=12' }, DV: { certified: true },
} // prettier-ignore

/** What an offer says beyond its price, by supplier. */
export const OFFER_FACTS: Readonly<Record<string, { only?: string; incoterm?: string; place?: string; freight?: string; countries?: string }>> = {
  salines: { incoterm: 'DAP', place: 'Saltmere', countries: 'NL BE FR' }, krill: { only: 'FK', incoterm: 'CPT', place: 'Saltmere' }, orrin: { only: 'BV', incoterm: 'DAP', place: 'Saltmere' }, nordhavn: { incoterm: 'DAP', place: 'Saltmere' }, seefelder: { incoterm: 'FCA', place: 'Seefeld-Nord', freight: '140' }, weissfluh: { incoterm: 'EXW', place: 'Seewilen' }, umineko: { incoterm: 'FOB', place: 'Minatogawa', freight: '21000' }, coldline: { incoterm: 'DAP', place: 'Saltmere' },
} // prettier-ignore

export async function addCategoryTree(team: Team, people: Readonly<Record<string, string>>, at: string): Promise<void> {
  await team.as('wren', at, async call => {
    for (const [name, parent, naturalAccount, buyer] of TREE) {
      const known = await call.trx('supplyCategories').where({ name }).first()
      await saveCategory(call, {
        name,
        ownerId: known?.ownerId ?? null,
        needsFinance: known?.needsFinance ?? true,
        certificates: known?.certificates ?? [],
        thresholds: known?.thresholds ?? {},
        parent,
        naturalAccount,
        buyers: [people[buyer]!],
        version: known?.version ?? 0,
      })
    }
  })
}

const SETTINGS = {
  terms: {
    allowed: ['DAP', 'DDP', 'CPT', 'FCA', 'FOB'],
    preferred: ['DAP'],
    because: { EXW: 'Nobody of ours can load abroad.' },
  },
  routeRules: [
    {
      name: 'Quotes from 40 000',
      categories: [],
      from: '40000',
      upTo: null,
      allowed: ['askForQuotes' as const, 'callOff' as const, 'setUpAgreement' as const],
    },
    {
      name: 'Fees are ordered at once',
      categories: ['Illustration'],
      from: '0',
      upTo: null,
      allowed: ['orderNow' as const],
    },
  ],
  sameWords: [
    ['pump', 'circulator'],
    ['gloves', 'mittens'],
    ['valve', 'tap', 'stopcock'],
    ['salt', 'brine'],
  ],
  remindAfterDays: 3,
}

const question = (key: string, label: string, kind: 'text' | 'longText' | 'yesNo' | 'choice' | 'number' | 'date', more: object = {}) => ({ key, label, kind, help: '', required: true, when: null, choices: [], fills: null, ...more }) // prettier-ignore
const FORMS: readonly z.output<typeof FormBody>[] = [
  {
    code: 'divinginspection', name: 'Diving inspection', category: 'Diving & rope access', help: 'For everything below the water line. Brightwater dives under a framework agreement; its ceiling is nearly used.',
    line: { kind: 'workByRate', description: 'Diving inspection, diver-hours', unit: 'HUR', price: '96', currency: 'EUR', routes: ['callOff', 'orderNow'] },
    sections: [{ title: 'The dive', questions: [question('tank', 'Which tank?', 'text'), question('why', 'What is to be looked at?', 'longText'), question('hours', 'For how many diver-hours at most?', 'number'), question('until', 'By when?', 'date'), question('animals', 'Do animals have to be moved?', 'yesNo'), question('which', 'Which, and who moves them?', 'text', { when: { key: 'animals', equals: 'yes' } })] }],
    fills: { title: 'tank', reason: 'why', quantity: 'hours', needBy: 'until' },
  },
  {
    code: 'exhibitfee', name: 'Illustration or talk for a fee', category: 'Illustration', help: 'For single persons. Their data are seen only by you, those who decide, and finance.',
    line: { kind: 'personalFee', description: 'Illustration', unit: 'E48', price: '0', currency: 'EUR', routes: ['orderNow'] },
    sections: [{ title: 'The work', questions: [question('what', 'What is to be made or said?', 'text'), question('fee', 'For which fee, in EUR?', 'number'), question('when', 'When is it needed?', 'date')] }],
    fills: { title: 'what', description: 'what', price: 'fee', needBy: 'when' },
  },
] // prettier-ignore

/** What stewards and purchasing set up for those who ask. */
export async function addRequestSetup(team: Team): Promise<void> {
  await team.as('wren', team.now, async call => {
    await saveRequestSettings(call, SETTINGS)
    const contacts = {
      quay: ['Yuki Amberley', '+31 118 99 00 10'],
      hatchery: ['Dov Halloran', '+31 118 99 00 20'],
      ropeworks: ['Joren Vaskuil', '+31 118 99 00 30'],
    } as const
    for (const [place, [contact, phone]] of Object.entries(contacts))
      await saveAddress(call, {
        ...ADDRESSES[place as 'quay'],
        contact,
        phone,
        purposes: ['delivery', 'performance'],
        open: true,
      })
    await saveAddress(call, { id: null, code: 'KELP', name: 'Saltmere Quay', dock: 'Kelp hall, level −1', street: 'Harbour Walk 1', postalCode: '4381 SQ', city: 'Saltmere', country: 'NL', hours: 'by appointment', contact: 'Marit Oland', phone: '+31 118 99 00 40', purposes: ['performance'], open: true }) // prettier-ignore
    for (const form of FORMS) {
      const draft = await saveForm(call, { ...form, version: 0 })
      await publishForm(call, draft.id, draft.version)
    }
  })
  const notice = (title: string, body: string, days: number, categories: string[], costCentres: string[] = []) => ({ id: null, version: 0, title, body, fromDay: addDays(team.today, -3), toDay: addDays(team.today, days), costCentres, categories, suppliers: [] }) // prettier-ignore
  await team.as('pilar', team.now, async call => {
    await saveNotice(
      call,
      notice(
        'Sea salt is under a framework agreement',
        'Prices hold until next autumn. Tonnes by tipper come from the same agreement; call it off instead of ordering.',
        90,
        ['Salt & water chemistry'],
      ),
    )
    await saveNotice(
      call,
      notice(
        'Last goods in before the holidays',
        'What has to be on the dock this year must be submitted by the second Friday of December.',
        30,
        [],
      ),
    )
  })
}

const goods = async (
  call: Write,
  number: string,
  quantity: string,
  splits: LineBody['splits'],
  days: number,
): Promise<LineBody> => {
  const offer = await call
    .trx('offers')
    .join('items', 'items.id', 'offers.itemId')
    .where('items.number', number)
    .orderByRaw("supplier_item, (agreement <> '')")
    .first<OfferRow & { name: string; category: string; currency: 'EUR' }>('offers.*', 'items.name', 'items.category')
  return { kind: 'goods', itemId: offer.itemId, offerId: offer.id, description: offer.name, quantity, unit: offer.unit, price: '1', priceBase: offer.priceBase, currency: offer.currency, supplierId: offer.supplierId, needBy: addBusinessDays(call.today, days, PLAIN_CALENDAR), addressId: ADDRESSES.quay.id, splits } // prettier-ignore
}

/** Drafts, lists, a question and a transfer, as they stand on a usual day. */
export async function addRequestWork(team: Team): Promise<void> {
  const year = team.today.slice(0, 4)
  const account = (key: string): string => team.accounts.get(`${key} ${year}`)!
  const kelp = [{ accountId: account('EX-310 1510 KELP-HALL'), share: '100' }]
  const base = { itemId: null, offerId: null, quantity: '1', priceBase: '1', currency: 'EUR' as const, addressId: ADDRESSES.quay.id, needBy: addBusinessDays(team.today, 25, PLAIN_CALENDAR) as LineBody['needBy'], splitBy: 'percent' as const } // prettier-ignore
  await team.as('joren', team.now, async call => {
    const lines: LineBody[] = [
      { ...(await goods(call, 'UL-1200', '12', [{ accountId: account('LS-210 6210 '), share: '60' }, { accountId: account('EX-310 6210 '), share: '40' }], 12)), splitBy: 'percent' },
      { ...base, kind: 'goodsByAmount', description: 'Paint, fillers and small hardware', quantity: '400', unit: 'M4', price: '1', supplierId: team.suppliers.get('ferrolund')!, splits: [{ accountId: account('EX-310 6210 '), share: '100' }] },
      { ...base, kind: 'fixedPriceWork', description: 'Engineering study: viewing window, second phase', quantity: '6200', unit: 'M4', price: '1', supplierId: team.suppliers.get('peregrin')!, splits: kelp, routes: ['orderNow', 'askForQuotes'], routeReason: 'They did the first phase.', details: { deliverable: 'Report with calculations, stamped', instalments: [{ title: 'With the order', amount: '1860', due: '' }, { title: 'With the report', amount: '4340', due: addDays(team.today, 60) }] } },
      { ...base, kind: 'workByRate', description: 'Liner inspection after the refit', quantity: '24', unit: 'HUR', price: '96', supplierId: team.suppliers.get('brightwater')!, splits: [{ accountId: account('EX-310 6310 '), share: '100' }], category: 'Diving & rope access', details: { expected: '16' } },
      { ...base, kind: 'personalFee', description: 'Three illustrations for the kelp hall panels', unit: 'E48', price: '1450', supplierId: team.suppliers.get('kvisten')!, splits: [{ accountId: account('EX-310 6610 '), share: '100' }], category: 'Illustration', details: { person: { name: 'Linde Kvistgaard', taxStatus: 'selfEmployed', taxNumber: '' } } },
    ] // prettier-ignore
    await createRequisition(call, {
      title: 'Kelp hall opening: what is still missing',
      reason: 'The hall opens in spring; the panels hang on the study.',
      lines,
    })
  })
  await addLists(team)
  await team.as('pilar', team.now, async call => {
    const line = await lineToBuy(call, 'Calcium and magnesium', 'Calcium chloride, flakes')
    if (line)
      await askRequester(
        call,
        [line.id],
        'Flakes come in 25 kg sacks only at the moment. Are four sacks as good as 100 kg loose?',
      )
    const lamps = await lineToBuy(call, 'Spare lamps', 'UV lamp 80 W')
    if (lamps) await actOnPool(call, { lineIds: [lamps.id], action: 'take', personId: null, text: '', marked: null })
  })
  await team.as('marit', team.now, call =>
    askTransfer(call, {
      fromId: account('LS-210 6220 '),
      toId: account('LS-210 6210 '),
      amount: '4000',
      reason: 'Spare parts instead of the service visit that was cancelled.',
    }),
  )
}

/** A line of a request that waits to be bought, by the words of both. */
const lineToBuy = (call: Read, title: string, description: string): Promise<{ id: string } | undefined> =>
  call
    .trx('requisitionLines')
    .join('requisitions', 'requisitions.id', 'requisitionLines.requisitionId')
    .where('requisitionLines.state', 'toBuy')
    .where('requisitions.title', title)
    .where('requisitionLines.description', description)
    .first('requisitionLines.id as id')

async function addLists(team: Team): Promise<void> {
  const list = async (
    who: 'ines' | 'joren',
    name: string,
    numbers: readonly [string, string][],
    all: boolean,
  ): Promise<void> => {
    await team.as(who, team.now, async call => {
      const lines = []
      for (const [number, quantity] of numbers) lines.push(await goods(call, number, quantity, [], 5))
      await saveRepeatList(call, {
        id: null,
        version: 0,
        name,
        sharedWith: [],
        sharedWithAll: all,
        lines: lines.map(
          ({ kind, itemId, offerId, description, quantity, unit, price, priceBase, currency, supplierId }) => ({
            kind,
            itemId,
            offerId,
            description,
            quantity,
            unit,
            price,
            priceBase,
            currency,
            supplierId,
            category: '',
          }),
        ),
      })
    })
  }
  await list('ines', 'Feed for two weeks', [['FK-1200', '60'], ['FK-1220', '80'], ['LF-1200', '12'], ['PF-1200', '10']], false) // prettier-ignore
  await list('ines', 'Laboratory, monthly', [['BU-1200', '4'], ['BU-1220', '4'], ['LB-1240', '6']], true) // prettier-ignore
  await list('joren', 'Fittings for one skid', [['BV-1240', '12'], ['PP-1220', '30'], ['PT-1200', '40'], ['FA-1200', '200']], true) // prettier-ignore
}
