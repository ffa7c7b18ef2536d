import { randomUUID } from 'node:crypto'
import { languageOfCountry } from '#core/source/language.ts'
import type { Knex } from 'knex'
import type { SupplierBody } from '#contract/source/record.ts'
import { EMPTY_SUPPLIER } from '#contract/source/record.ts'
import { addDays } from '#core/calendar/days.ts'
import { inventedIban } from '#demo/identifiers.ts'
import { COMPANY_QUESTIONS, PERSON_QUESTIONS } from '#demo/questionnaire.ts'
import { CATEGORIES, CERTIFICATES, type DemoSupplier, SUPPLIERS } from '#demo/world.ts'
import type { As } from '#demo/load.ts'
import type { Read } from '#server/call.ts'
import type { MailPayload } from '#server/outbox/post.ts'
import { hashPassword } from '#server/people/signIn.ts'
import { addPerson } from '#server/setup/organisation.ts'
import { proveBankAccount, setBankAccount } from '#server/source/bankAccountActs.ts'
import { saveCategory } from '#server/source/categoryActs.ts'
import { saveCertificate } from '#server/source/certificateActs.ts'
import { saveAnswers } from '#server/source/companyActs.ts'
import { saveAddresses } from '#server/source/companyPeopleActs.ts'
import { invite, proposeSupplier } from '#server/source/onboardingActs.ts'
import { publishQuestionnaire, saveQuestionnaire } from '#server/source/questionnaireActs.ts'
import { register } from '#server/source/registerActs.ts'
import { answerSecondYes } from '#server/source/secondYesActs.ts'
import { openSecondYes } from '#server/source/secondYesStore.ts'
import { refreshSignals, suppliersToWatch } from '#server/source/signals.ts'
import { actOnSupplier, createSupplier } from '#server/source/supplierActs.ts'

export const DEMO_PASSWORD = 'kelp-and-krill'

/** Suppliers whose sales office the demo can sign in as. */
const WITH_DOOR = new Set([
  'salines',
  'krill',
  'nordhavn',
  'aldis',
  'peltier',
  'toshima',
  'orrin',
  'brightwater',
  'ferrolund',
  'marlowe',
  'tidewind',
  'branaverde',
])

function bodyOf(supplier: DemoSupplier & { vat: string }, index: number, ownerId: string): SupplierBody {
  return {
    ...EMPTY_SUPPLIER,
    name: supplier.name,
    tradeNames: supplier.trade ? [supplier.trade] : [],
    kind: supplier.kind ?? 'company',
    size: supplier.size ?? '',
    founded: supplier.founded ?? null,
    web:
      supplier.web ?? (supplier.key.endsWith('2') || supplier.account === 'none' ? '' : `www.${supplier.key}.example`),
    ourNumber: supplier.ourNumber ?? `SAT-${1200 + index}`,
    ownerId,
    categories: supplier.categories,
    identifiers: supplier.vat ? [{ scheme: 'vat', value: supplier.vat }] : [],
    locations: [
      {
        name: 'Head office',
        street: supplier.street,
        postalCode: supplier.postalCode,
        city: supplier.city,
        country: supplier.country,
        phone: `+99 555 02${String(index).padStart(2, '0')}`,
        roles: ['takesOrders', 'shipsFrom', 'invoices', 'paidAt'],
        defaults: {},
      },
    ],
    contacts: [
      {
        name: supplier.contact,
        email: `orders@${supplier.key}.example`,
        phone: `+99 555 01${String(index).padStart(2, '0')}`,
        language: languageOfCountry(supplier.country),
        roles: ['orders', 'invoices', 'payments'],
      },
    ],
    defaults: {
      currency: supplier.currency as 'EUR',
      termsDays: String(supplier.days),
      ...(supplier.limits
        ? { minimumOrder: supplier.limits[0], freight: supplier.limits[1], freightFrom: supplier.limits[2] }
        : {}),
      ...(supplier.channel ? { orderChannel: supplier.channel } : {}),
      ...(supplier.from ? { termsFrom: supplier.from } : {}),
      ...(supplier.over ? { overReceiptPercent: String(supplier.over) } : {}),
      ...(supplier.incoterm ? { incoterm: supplier.incoterm[0] as 'DAP', incotermPlace: supplier.incoterm[1] } : {}),
    },
    ...(supplier.kind === 'person'
      ? {
          person: { birthDate: '1979-05-14', taxStatus: 'selfEmployed', nationalId: '' },
          tax: { residence: supplier.country, number: 'DK-999-0514', category: '', note: '' },
        }
      : {}),
  }
}

/** Who sells what, who looks after it, and the questionnaires in force. */
export async function addCategories(as: As, people: Record<string, string>, at: string): Promise<void> {
  await as('wren', at, async call => {
    const names = new Set([...CATEGORIES.map(one => one.name), ...SUPPLIERS.flatMap(one => one.categories)])
    for (const name of names) {
      const known = CATEGORIES.find(one => one.name === name)
      await saveCategory(call, {
        name,
        ownerId: known ? people[known.owner]! : null,
        needsFinance: true,
        certificates: [...(known?.certificates ?? [])],
        thresholds: { ...known?.thresholds },
        version: 0,
      })
    }
    for (const [code, name, kind, sections] of [
      ['company', 'A new company', 'company', COMPANY_QUESTIONS],
      ['fee', 'A person paid a fee', 'person', PERSON_QUESTIONS],
    ] as const) {
      const saved = await saveQuestionnaire(call, {
        code,
        name,
        categories: [],
        kinds: [kind],
        sections: sections as never,
        version: 0,
      })
      await publishQuestionnaire(call, saved.id, saved.version)
    }
  })
}

/** The forty records, each by the way that people make them: entered, its account checked by another person, paused or barred. */
export async function addSuppliers(as: As, people: Record<string, string>, at: string): Promise<Map<string, string>> {
  const ids = new Map<string, string>()
  const passwordHash = await hashPassword(DEMO_PASSWORD)
  for (const [index, supplier] of SUPPLIERS.entries()) {
    const owner = people[index % 3 === 0 ? 'pilar' : 'rasmus']!
    const { id } = await as('rasmus', at, call => createSupplier(call, bodyOf(supplier, index, owner)))
    ids.set(supplier.key, id)
    await addAccount(as, id, supplier, index, at)
    if (supplier.state) await end(as, id, supplier.state, at)
    const email = `orders@${supplier.key}.example`
    if (supplier.key.endsWith('2')) continue
    people[`at ${supplier.key}`] = randomUUID()
    await as('wren', at, async call => {
      await addPerson(call, {
        id: people[`at ${supplier.key}`]!,
        name: supplier.contact,
        email,
        roles: [{ role: 'supplierSales', costCentre: null }],
        managerId: null,
        supplierId: id,
        active: true,
        passwordHash: WITH_DOOR.has(supplier.key) ? passwordHash : null,
      })
      await call
        .trx('people')
        .where({ id: people[`at ${supplier.key}`] })
        .update({ supplierAdministrator: true })
    })
  }
  return ids
}

async function addAccount(as: As, id: string, supplier: DemoSupplier, index: number, at: string): Promise<void> {
  if (supplier.account === 'none') return
  await as('rasmus', at, call =>
    setBankAccount(call, id, {
      version: 1,
      iban: inventedIban(supplier.accountCountry ?? supplier.country, 1000 + index * 37, supplier.accountEnding),
      bic: 'IVORNL2A',
      holder: supplier.name,
    }),
  )
  if (supplier.account === 'unproven') return
  await as('casimir', at, async call => {
    const account = await call.trx('supplierBankAccounts').where({ supplierId: id, state: 'unproven' }).first('id')
    return await proveBankAccount(
      call,
      id,
      account!.id,
      2,
      'Called the number on their first letter and read the account back.',
    )
  })
}

const versionOf = async (call: Read, id: string): Promise<number> =>
  (await call.trx('suppliers').where({ id }).first('version'))!.version

async function end(as: As, id: string, state: 'paused' | 'barred', at: string): Promise<void> {
  const reason =
    state === 'paused'
      ? 'Looks like a second record of one that we have.'
      : 'Sent industrial brine under a food-grade label.'
  await as('rasmus', at, async call =>
    actOnSupplier(call, id, state === 'paused' ? 'pause' : 'bar', await versionOf(call, id), reason),
  )
  if (state === 'paused') return
  await as('adaeze', at, async call => {
    const asked = (await openSecondYes(call, id))!
    return await answerSecondYes(call, asked.id, asked.version, 'agree', 'The laboratory found the same.')
  })
}

/** Certificates, one of them lapsed, one that ends within the month. */
export async function addCertificates(
  as: As,
  ids: ReadonlyMap<string, string>,
  at: string,
  today: string,
  begun: string,
): Promise<void> {
  for (const one of CERTIFICATES)
    await as('rasmus', at, call =>
      saveCertificate(call, ids.get(one.supplier)!, {
        kind: one.kind,
        category: one.category,
        issuer: one.issuer,
        number: one.number,
        // two years, and long enough for what was ordered in the history
        validFrom: [addDays(today, one.ends - 730), begun].sort()[0]!,
        validTo: addDays(today, one.ends),
        fileId: null,
        replaces: null,
      }),
    )
}

/** One supplier half-way through its answers, one only proposed. */
export async function addOnboardings(as: As, db: Knex, people: Record<string, string>, now: string): Promise<void> {
  const days = (count: number): string => new Date(Date.parse(now) - count * 86_400_000).toISOString()
  const half = await as('ines', days(6), call =>
    proposeSupplier(call, {
      name: 'Zeekraal Kwekerij Wemelzand',
      kind: 'company',
      country: 'NL',
      city: 'Wemelzand',
      web: 'www.zeekraal.example',
      contactName: 'Jorinde Zeekraal',
      contactMail: 'jorinde@zeekraal.example',
      categories: ['Feed'],
      need: 'Fresh samphire and seaweed for the turtles, every week.',
      requisitionId: null,
    }),
  )
  const questionnaire = (await db('questionnaires').where({ code: 'company', state: 'live' }).first('id'))!
  await as('pilar', days(5), call =>
    invite(call, half.id, {
      version: 1,
      name: 'Jorinde Zeekraal',
      email: 'jorinde@zeekraal.example',
      questionnaireId: questionnaire.id,
      message: '',
    }),
  )
  const mail = await db('outbox').where({ documentId: half.id }).orderBy('createdAt', 'desc').first('payload')
  const token = /\/welcome\/([\w-]+)/.exec((mail!.payload as MailPayload).text)![1]!
  people['at zeekraal'] = await as('system', days(4), call =>
    register(call, token, { name: 'Jorinde Zeekraal', password: DEMO_PASSWORD }),
  )
  const row = (await db('onboardings').where({ id: half.id }).first('version'))!
  await as('at zeekraal', days(4), call =>
    saveAnswers(call, {
      version: row.version,
      answers: {
        name: 'Zeekraal Kwekerij Wemelzand',
        web: 'www.zeekraal.example',
        street: 'Kreekpad 6',
        postalCode: '4401 ZK',
        city: 'Wemelzand',
        country: 'NL',
        contactPhone: '+99 555 0160',
        sells: ['Feed'],
        catch: 'farmed',
      },
    }),
  )
  await as('joren', days(1), call =>
    proposeSupplier(call, {
      name: 'Seefelder Pumpenbau',
      kind: 'company',
      country: 'AT',
      city: 'Seefeld-Nord',
      web: '',
      contactName: 'Leopold Haslinger',
      contactMail: '',
      categories: ['Pumps'],
      need: 'Smaller circulation pumps for the skids.',
      requisitionId: null,
    }),
  )
}

/** Message addresses, one of which bounces. */
export async function addAddresses(as: As): Promise<void> {
  await as('at aldis', new Date().toISOString(), call =>
    saveAddresses(call, {
      addresses: [
        { message: 'orders', email: 'orders@aldis.example' },
        { message: 'orders', email: 'dispatch@aldis.example' },
        { message: 'payments', email: 'gone.away@aldis.example' },
        { message: 'invoices', email: 'accounts@aldis.example' },
      ],
    }),
  )
}

export async function addSignals(as: As, now: string): Promise<void> {
  const ids = await as('wren', now, call => suppliersToWatch(call))
  await as('wren', now, async call => {
    for (const id of ids) await refreshSignals(call, id)
  })
}
