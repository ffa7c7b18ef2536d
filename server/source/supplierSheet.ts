import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import { needsRight } from '#core/acts/actor.ts'
import { action } from '#core/acts/decision.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { whyNotDecide } from '#core/consent/consent.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { stop } from '#core/reasons.ts'
import { ruleStanding, standing } from '#core/source/certificates.ts'
import { effectiveDefaults, HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import { BY_HAND, SUPPLIER_GROUPS, SUPPLIER_STATES } from '#core/source/states.ts'
import { actionsFrom, isIn } from '#core/states.ts'
import { found, may, type Read } from '#server/call.ts'
import { type KeptConsent, latestConsent } from '#server/consent/consentStore.ts'
import { actionsJson, sheetParts } from '#server/documents/sheetParts.ts'
import { categoriesOf, certificateRules } from '#server/source/categoryStore.ts'
import { currentOf, readCertificates } from '#server/source/certificateStore.ts'
import { shownAnswers } from '#server/source/companySheet.ts'
import { mergesOf } from '#server/source/mergeActs.ts'
import { readSecondYes } from '#server/source/secondYesActs.ts'
import { openSecondYes } from '#server/source/secondYesStore.ts'
import { readSignals } from '#server/source/signals.ts'
import { readParts, type SupplierRow } from '#server/source/supplierStore.ts'

type Sheet = ResponseOf<typeof ReadSupplier>
type Account = Sheet['bankAccounts'][number]

const ACCOUNTS = `
  select a.id, a.iban, a.bic, a.holder, a.state, changer.name as changed_by, a.changed_at, prover.name as proven_by, a.proof,
    case when a.state = 'unproven' then (select count(*)::int from invoices where supplier_id = a.supplier_id and state = any(:owed)) else 0 end as held,
    coalesce((select string_agg(s.name || ' ' || s.number, ', ') from supplier_bank_accounts other join suppliers s on s.id = other.supplier_id where other.iban = a.iban and other.supplier_id <> a.supplier_id and other.state <> 'closed' and a.state <> 'closed'), '') as shared_with
  from supplier_bank_accounts a join people changer on changer.id = a.changed_by left join people prover on prover.id = a.proven_by where a.supplier_id = :id order by a.changed_at desc`
const FIGURES = `
  select count(*) filter (where state = any(:live))::int as open_orders, coalesce(sum(base_total) filter (where state = any(:live)), 0)::bigint as open_value, max(issued_at) as last_order,
    coalesce(sum(base_total) filter (where state = any(:counted) and issued_at >= :today::date - 365), 0)::bigint as spent_year,
    (select count(*)::int from invoices where supplier_id = :id and state = any(:open)) as open_invoices from orders where supplier_id = :id`

export async function readSupplier(call: Read, id: string): Promise<Sheet> {
  const supplier = found(await call.trx('suppliers').where({ id }).first(), 'supplier')
  const seesPerson = may(call, 'supplier.prove') || may(call, 'supplier.write')
  const parts = await sheetParts(call, 'supplier', id)
  const body = await readParts(call, supplier, seesPerson)
  const accounts = await accountsOf(call, id)
  const numbers = await figuresOf(call, id)
  const qualified = await qualification(call, id, supplier.categories)
  const merges = await mergesOf(call, id)
  const secondYes = await openSecondYes(call, id)
  const proof = await latestConsent(call, id, 'account')
  const others = await otherParts(call, supplier, seesPerson)
  const current = accounts.find(account => account.state !== 'closed')
  const house = ['house', { ...HOUSE_DEFAULTS, currency: call.base }] as const
  return {
    kind: 'supplier',
    id,
    number: supplier.number,
    title: supplier.name,
    state: supplier.state,
    version: supplier.version,
    ...parts,
    thread: null,
    budgets: [],
    steps: [],
    ...headline(supplier, current, qualified, others.mergedInto, secondYes?.purpose === 'bar'),
    actions: actionsOf(call, supplier, current, proof, secondYes),
    supplier: body,
    confidential: !seesPerson && supplier.person !== null,
    pausedUntil: supplier.pausedUntil,
    stateReason: supplier.stateReason,
    merges: merges.map(one => ({ ...one, mayUndo: one.mayUndo && may(call, 'supplier.merge') })),
    bankAccounts: accounts,
    effective: effectiveDefaults([house, ['supplier', body.defaults]]),
    locationEffective: body.locations
      .filter(one => Object.keys(one.defaults).length > 0)
      .map(one => ({
        locationId: one.id!,
        values: effectiveDefaults([house, ['supplier', body.defaults], ['location', one.defaults]]).filter(
          value => value.from === 'location',
        ),
      })),
    ...qualified,
    signals: await readSignals(call, id),
    secondYes: secondYes === null ? null : await readSecondYes(call, secondYes.id),
    ...others,
    answers: await shownAnswers(call, id),
    figures: {
      openOrders: numbers.openOrders,
      openInvoices: numbers.openInvoices,
      lastOrder: numbers.lastOrder,
      openValue: formatAmount(minor(numbers.openValue), call.base),
      spentYear: formatAmount(minor(numbers.spentYear), call.base),
      currency: call.base,
    },
    orders: may(call, 'order.read') ? await ordersOf(call, id) : [],
  }
}

const accountsOf = async (call: Read, supplierId: string): Promise<Account[]> =>
  (
    await call.trx
      .raw<{ rows: Account[] }>(ACCOUNTS, { id: supplierId, owed: [...INVOICE_GROUPS.owed] })
      .options({ name: 'accounts-of-supplier' })
  ).rows

interface Figures {
  openOrders: number
  openValue: bigint
  lastOrder: string | null
  openInvoices: number
  spentYear: bigint
}

async function figuresOf(call: Read, supplierId: string): Promise<Figures> {
  const { rows } = await call.trx
    .raw<{ rows: [Figures] }>(FIGURES, {
      id: supplierId,
      today: call.today,
      live: [...ORDER_GROUPS.live],
      counted: [...ORDER_GROUPS.counted],
      open: [...INVOICE_GROUPS.open],
    })
    .options({ name: 'figures-of-supplier' })
  return rows[0]
}

async function ordersOf(call: Read, supplierId: string): Promise<Sheet['orders']> {
  const orders = await call
    .trx('orders')
    .where({ supplierId })
    .orderBy('createdAt', 'desc')
    .limit(8)
    .select('id', 'number', 'title', 'state', 'total', 'currency')
  return orders.map(({ total, ...order }) => ({ ...order, amount: formatAmount(total, order.currency) }))
}

/** Fields of a person that are read only by those who pay and keep suppliers. */
const CONFIDENTIAL = new Set(['birthDate', 'taxNumber'])

async function otherParts(
  call: Read,
  supplier: SupplierRow,
  seesPerson: boolean,
): Promise<Pick<Sheet, 'owner' | 'mergedInto' | 'revisions' | 'onboarding' | 'people' | 'addresses'>> {
  const of = { supplierId: supplier.id }
  const { trx } = call
  const owner = supplier.ownerId ? await trx('people').where({ id: supplier.ownerId }).first('name') : undefined
  const mergedInto = supplier.mergedInto
    ? await trx('suppliers').where({ id: supplier.mergedInto }).first('id', 'number', 'name')
    : undefined
  const revisions = await trx('supplierRevisions as r')
    .join('people', 'people.id', 'r.byId')
    .where('r.supplierId', supplier.id)
    .whereIn('state', ['waiting', 'atOnce'])
    .orderBy('r.at', 'desc')
    .limit(40)
    .select<(Omit<Sheet['revisions'][number], 'account'> & { field: string | null })[]>(
      'r.id',
      'key',
      'label',
      'before',
      'after',
      'state',
      'field',
      'people.name as by',
      'r.at',
    )
  const onboarding = await trx('onboardings').where(of).orderBy('changedAt', 'desc').first('id', 'number', 'state')
  const people = await trx('people')
    .leftJoin('supplierRoles', 'supplierRoles.id', 'people.supplierRoleId')
    .where('people.supplierId', supplier.id)
    .orderBy('people.name')
    .limit(60)
    .select<Sheet['people']>(
      'people.id',
      'people.name',
      'email',
      'active',
      'supplierAdministrator as administrator',
      trx.raw("coalesce(supplier_roles.name, '') as role"),
    )
  const addresses = await trx('supplierAddresses')
    .where(of)
    .orderBy(['message', 'email'])
    .select('message', 'email', 'bouncedAt', 'bounce')
  return {
    owner: owner?.name ?? null,
    mergedInto: mergedInto ?? null,
    revisions: revisions.map(({ field, ...row }) => ({
      ...row,
      ...(seesPerson || field === null || !CONFIDENTIAL.has(field) ? {} : { before: '•••', after: '•••' }),
      account: field === 'iban' || field === 'bic' || field === 'holder',
    })),
    onboarding: onboarding ?? null,
    people,
    addresses,
  }
}

/** The sentence that a buyer wants to read first: may be ordered from, may be paid, and what stands in the way. */
function headline(
  supplier: SupplierRow,
  account: Account | undefined,
  qualified: Pick<Sheet, 'certificateRules'>,
  mergedInto: Sheet['mergedInto'],
  barAsked: boolean,
): Pick<Sheet, 'sentence' | 'tone'> {
  const say = (
    code: string,
    tone: Sheet['tone'],
    details: Sentence['details'] = {},
  ): Pick<Sheet, 'sentence' | 'tone'> => ({ sentence: { code, details }, tone })
  if (mergedInto) return say('supplier.is.merged', 'stop', { name: mergedInto.name, number: mergedInto.number })
  if (supplier.state === 'paused' && supplier.pausedUntil)
    return say('supplier.is.pausedUntil', 'stop', { reason: supplier.stateReason ?? '', validTo: supplier.pausedUntil })
  if (isIn(SUPPLIER_GROUPS.coming, supplier.state)) return say(`supplier.is.${supplier.state}`, 'attention')
  if (supplier.state !== 'active')
    return say(`supplier.is.${supplier.state}`, 'stop', { reason: supplier.stateReason ?? '' })
  if (barAsked) return say('supplier.is.barAsked', 'attention')
  const lapsed = qualified.certificateRules.find(
    rule => rule.lapse === 'stop' && ['lapsed', 'missing', 'notYet'].includes(rule.standing),
  )
  if (lapsed)
    return say('supplier.is.unqualified', 'stop', {
      kind: lapsed.kind,
      category: lapsed.category,
      standing: lapsed.standing,
    })
  if (!account) return say('supplier.is.withoutAccount', 'attention')
  if (account.state === 'unproven')
    return say('supplier.is.unproven', 'attention', { by: account.changedBy, ending: account.iban.slice(-4) })
  return say('supplier.is.active', 'plain', { days: supplier.terms.days, currency: supplier.currency })
}

function actionsOf(
  call: Read,
  supplier: SupplierRow,
  current: Account | undefined,
  proof: KeptConsent | null,
  secondYes: KeptConsent | null,
): Sheet['actions'] {
  if (supplier.mergedInto) return []
  const write = needsRight(call.actor, 'supplier.write')
  const byHand = actionsFrom(SUPPLIER_STATES, supplier.state).filter(name => BY_HAND.includes(name))
  const unproven = current?.state === 'unproven'
  const whyNotBar = secondYes?.purpose === 'bar' ? [stop('secondYes.waiting')] : []
  return actionsJson([
    action('edit', write, !unproven),
    ...(unproven ? [action('prove', whyNotDecide(proof, call.actor), true)] : []),
    action('bankAccount', write),
    action('addCertificate', write),
    ...(may(call, 'supplier.merge') ? [action('merge', [])] : []),
    ...byHand.map(name => action(name, name === 'bar' ? [...write, ...whyNotBar] : write)),
  ])
}

/** Certificates and how the rules of the supplier's categories are met. */
async function qualification(
  call: Read,
  supplierId: string,
  categories: readonly string[],
): Promise<Pick<Sheet, 'certificates' | 'certificateRules'>> {
  const rows = await readCertificates(call, supplierId)
  const current = currentOf(rows)
  const rules = certificateRules(await categoriesOf(call, categories))
  return {
    certificates: rows.map(row => ({
      id: row.id,
      kind: row.kind,
      category: row.category,
      issuer: row.issuer,
      number: row.number,
      validFrom: row.validFrom,
      validTo: row.validTo,
      fileId: row.fileId,
      fileName: row.fileName,
      state: row.state,
      standing: standing(row, call.today),
    })),
    certificateRules: rules.map(rule => {
      const how = ruleStanding(rule, current, call.today)
      return {
        kind: rule.kind,
        category: rule.category,
        lapse: rule.lapse,
        standing: how.standing,
        validTo: how.certificate?.validTo ?? null,
      }
    }),
  }
}
