import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { effectiveDefaults, HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import { BY_HAND, type SupplierAction, SUPPLIER_STATES } from '#core/source/states.ts'
import { actionsFrom } from '#core/states.ts'
import { type Call, found, may } from '#server/call.ts'
import { action, sheetParts } from '#server/sheets/parts.ts'
import { waitingAgreement } from '#server/source/agreements.ts'
import { qualification } from '#server/source/certificates.ts'
import { shownAnswers } from '#server/source/company.ts'
import { mergesOf } from '#server/source/merge.ts'
import { readSignals } from '#server/source/signals.ts'
import { readParts, type SupplierRow } from '#server/source/supplierStore.ts'

type Sheet = ResponseOf<typeof ReadSupplier>
type Account = Sheet['bankAccounts'][number] & { changedById: string }

const ACCOUNTS = `
  select a.id, a.iban, a.bic, a.holder, a.state, changer.name as changed_by, changer.id as changed_by_id, a.changed_at, prover.name as proven_by, a.proof,
    case when a.state = 'unproven' then (select count(*)::int from invoices where supplier_id = a.supplier_id and state in ('cleared', 'scheduled')) else 0 end as held,
    coalesce((select string_agg(s.name || ' ' || s.number, ', ') from supplier_bank_accounts other join suppliers s on s.id = other.supplier_id where other.iban = a.iban and other.supplier_id <> a.supplier_id and other.state <> 'closed' and a.state <> 'closed'), '') as shared_with
  from supplier_bank_accounts a join people changer on changer.id = a.changed_by left join people prover on prover.id = a.proven_by where a.supplier_id = ? order by a.changed_at desc`
const FIGURES = `
  select count(*) filter (where state in ('issued', 'acknowledged'))::int as open_orders, coalesce(sum(base_total) filter (where state in ('issued', 'acknowledged')), 0)::bigint as open_value, max(issued_at) as last_order,
    coalesce(sum(base_total) filter (where state not in ('draft', 'cancelled') and issued_at >= :today::date - 365), 0)::bigint as spent_year,
    (select count(*)::int from invoices where supplier_id = :id and state in ('read', 'onHold', 'matched', 'cleared', 'scheduled')) as open_invoices from orders where supplier_id = :id`

export async function readSupplier(call: Call, id: string): Promise<Sheet> {
  const supplier = found((await call.trx('suppliers').where({ id }).first()) as SupplierRow | undefined, 'supplier')
  const seesPerson = may(call, 'supplier.prove') || may(call, 'supplier.write')
  const rows = async <T>(sql: string, bindings: unknown): Promise<T[]> => ((await call.trx.raw(sql, bindings as never)) as { rows: T[] }).rows
  const [parts, body, accounts, orders, figures, qualified, signals, merges, agreement, others] = await Promise.all([
    sheetParts(call, id),
    readParts(call, supplier, seesPerson),
    rows<Account>(ACCOUNTS, [id]),
    call.trx('orders').where({ supplierId: id }).orderBy('createdAt', 'desc').limit(8).select('id', 'number', 'title', 'state', 'total', 'currency') as Promise<
      { id: string; number: string; title: string; state: string; total: bigint; currency: string }[]
    >,
    rows<{ openOrders: number; openValue: bigint; lastOrder: string | null; openInvoices: number; spentYear: bigint }>(FIGURES, { id, today: call.today }),
    qualification(call, id, supplier.categories),
    readSignals(call, id),
    mergesOf(call, id),
    waitingAgreement(call, id),
    otherParts(call, supplier, seesPerson),
  ])
  const numbers = figures[0]!
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
    ...headline(supplier, current, qualified, others.mergedInto, agreement !== null),
    actions: actionsOf(call, supplier, current, agreement !== null),
    supplier: body,
    confidential: !seesPerson && supplier.person !== null,
    pausedUntil: supplier.pausedUntil,
    stateReason: supplier.stateReason,
    merges: merges.map(one => ({ ...one, mayUndo: one.mayUndo && may(call, 'supplier.merge') })),
    bankAccounts: accounts.map(({ changedById: _changer, ...account }) => account),
    effective: effectiveDefaults([house, ['supplier', body.defaults]]),
    locationEffective: body.locations
      .filter(one => Object.keys(one.defaults).length > 0)
      .map(one => ({
        locationId: one.id!,
        values: effectiveDefaults([house, ['supplier', body.defaults], ['location', one.defaults]]).filter(value => value.from === 'location'),
      })),
    ...qualified,
    signals,
    agreement,
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
    orders: may(call, 'order.read') ? orders.map(({ total, ...order }) => ({ ...order, amount: formatAmount(total, order.currency) })) : [],
  }
}

/** Fields of a person that are read only by those who pay and keep suppliers. */
const CONFIDENTIAL = new Set(['birthDate', 'taxNumber'])

async function otherParts(
  call: Call,
  supplier: SupplierRow,
  seesPerson: boolean,
): Promise<Pick<Sheet, 'owner' | 'mergedInto' | 'revisions' | 'onboarding' | 'people' | 'addresses'>> {
  const of = { supplierId: supplier.id }
  const [owner, mergedInto, revisions, onboarding, people, addresses] = await Promise.all([
    supplier.ownerId ? (call.trx('people').where({ id: supplier.ownerId }).first('name') as Promise<{ name: string } | undefined>) : undefined,
    supplier.mergedInto
      ? (call.trx('suppliers').where({ id: supplier.mergedInto }).first('id', 'number', 'name') as Promise<{ id: string; number: string; name: string }>)
      : undefined,
    call
      .trx('supplierRevisions as r')
      .join('people', 'people.id', 'r.byId')
      .where('r.supplierId', supplier.id)
      .whereIn('state', ['waiting', 'atOnce'])
      .orderBy('r.at', 'desc')
      .limit(40)
      .select('r.id', 'key', 'label', 'before', 'after', 'state', 'field', 'people.name as by', 'r.at') as Promise<
      (Omit<Sheet['revisions'][number], 'account'> & { field: string | null })[]
    >,
    call.trx('onboardings').where(of).orderBy('changedAt', 'desc').first('id', 'number', 'state') as Promise<{ id: string; number: string; state: string } | undefined>,
    call
      .trx('people')
      .leftJoin('supplierRoles', 'supplierRoles.id', 'people.supplierRoleId')
      .where('people.supplierId', supplier.id)
      .orderBy('people.name')
      .limit(60)
      .select('people.id', 'people.name', 'email', 'active', 'supplierAdministrator as administrator', call.trx.raw("coalesce(supplier_roles.name, '') as role")) as Promise<
      Sheet['people']
    >,
    call.trx('supplierAddresses').where(of).orderBy(['message', 'email']).select('message', 'email', 'bouncedAt', 'bounce') as Promise<Sheet['addresses']>,
  ])
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
  const say = (code: string, tone: Sheet['tone'], details: Sentence['details'] = {}): Pick<Sheet, 'sentence' | 'tone'> => ({ sentence: { code, details }, tone })
  if (mergedInto) return say('supplier.is.merged', 'stop', { name: mergedInto.name, number: mergedInto.number })
  if (supplier.state === 'paused' && supplier.pausedUntil) return say('supplier.is.pausedUntil', 'stop', { reason: supplier.stateReason ?? '', validTo: supplier.pausedUntil })
  if (supplier.state === 'proposed' || supplier.state === 'onboarding') return say(`supplier.is.${supplier.state}`, 'attention')
  if (supplier.state !== 'active') return say(`supplier.is.${supplier.state}`, 'stop', { reason: supplier.stateReason ?? '' })
  if (barAsked) return say('supplier.is.barAsked', 'attention')
  const lapsed = qualified.certificateRules.find(rule => rule.lapse === 'stop' && ['lapsed', 'missing', 'notYet'].includes(rule.standing))
  if (lapsed) return say('supplier.is.unqualified', 'stop', { kind: lapsed.kind, category: lapsed.category, standing: lapsed.standing })
  if (!account) return say('supplier.is.withoutAccount', 'attention')
  if (account.state === 'unproven') return say('supplier.is.unproven', 'attention', { by: account.changedBy, ending: account.iban.slice(-4) })
  return say('supplier.is.active', 'plain', { days: supplier.terms.days, currency: supplier.currency })
}

function actionsOf(call: Call, supplier: SupplierRow, current: Account | undefined, barAsked: boolean) {
  const write = may(call, 'supplier.write')
  if (supplier.mergedInto) return []
  const byHand = actionsFrom(SUPPLIER_STATES, supplier.state).filter((name): name is SupplierAction => BY_HAND.includes(name))
  const barReasons: readonly Reason[] = [stop('agreement.waiting')]
  return [
    action('edit', write, { primary: current?.state !== 'unproven' }),
    ...(current?.state === 'unproven'
      ? [action('prove', !may(call, 'supplier.prove') ? false : current.changedById === call.actor.id ? [stop('source.ownProof')] : true, { primary: true })]
      : []),
    action('bankAccount', write),
    action('addCertificate', write),
    ...(may(call, 'supplier.merge') ? [action('merge', true)] : []),
    ...byHand.map(name => action(name, name === 'bar' && barAsked ? (write ? barReasons : false) : write)),
  ]
}
