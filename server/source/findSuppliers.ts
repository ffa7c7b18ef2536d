import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { CandidateJson, FindSuppliers } from '#contract/source/endpoints.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { leastLikeness, tellingKey } from '#core/source/likeness.ts'
import { domainOf, match, type Match, type Party, ready } from '#core/source/match.ts'
import { namingNotes } from '#core/source/naming.ts'
import type { IdentifierScheme } from '#core/source/schemes.ts'
import type { Read } from '#server/call.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { readSourceSettings } from '#server/source/categoryStore.ts'
import { searchName } from '#server/source/supplierStore.ts'

/** Below this nobody wants to see a candidate. */
const LEAST_PERCENT = 5
const MOST_CANDIDATES = 8
type FindInput = BodyOf<typeof FindSuppliers>

export const partyOf = (body: FindInput): Party => ({
  names: body.name.trim() === '' ? [] : [body.name],
  country: body.country,
  postalCode: body.postalCode,
  city: body.city,
  street: body.street,
  identifiers: body.identifiers
    .filter(one => one.value.trim() !== '')
    .map(one => ({ scheme: one.scheme, value: normalIdentifier(one.value) })),
  ibans: body.iban.trim() === '' ? [] : [normalIdentifier(body.iban)],
  domains: [domainOf(body.web)].filter(Boolean),
})

/** Existing records that may be the one that is typed, the likeliest first, and what the naming rules would propose. */
export async function findSuppliers(call: Read, body: FindInput): Promise<ResponseOf<typeof FindSuppliers>> {
  const { naming } = await readSourceSettings(call)
  return {
    candidates: await candidatesFor(call, partyOf(body), body.except),
    notes: body.name.trim() === '' ? [] : reasonsJson(namingNotes(body.name, naming)),
  }
}

/** Shortlists by index, then scores exactly in the core. */
export async function candidatesFor(call: Read, party: Party, except: string | null): Promise<CandidateJson[]> {
  const ids = (await shortlist(call, party)).filter(id => id !== except)
  if (ids.length === 0) return []
  const wanted = ready(party)
  const judged = (await readFacts(call, ids)).map(facts => ({ facts, found: match(wanted, ready(facts)) }))
  return judged
    .filter(
      one =>
        one.found.percent >= LEAST_PERCENT ||
        one.found.shared.length > 0 ||
        namesAlike(one.found) ||
        startsAlike(party, one.facts),
    )
    .sort((a, b) => b.found.percent - a.found.percent || (a.facts.names[0]! < b.facts.names[0]! ? -1 : 1))
    .slice(0, MOST_CANDIDATES)
    .map(one => toCandidate(one.facts, one.found))
}

/** Names that share most of what tells are worth a look although other facts speak against. */
const namesAlike = (found: Match): boolean =>
  found.reasons.some(reason => reason.code.startsWith('name.') && Number(reason.details.likeness) >= 60)

/** While the first word is being typed, records that begin so are worth seeing although little speaks for them yet. */
const startsAlike = (party: Party, facts: Party): boolean =>
  party.names.length === 1 &&
  party.names[0]!.trim().length >= 3 &&
  searchName(facts.names[0]!).startsWith(searchName(party.names[0]!.trim()))

/**
 * Ids of at most some hundred and fifty records that share the telling words of a name (trigram index), its beginning, a number, an account or a domain.
 * Each part stops at its own limit, so that a common word cannot flood the list.
 */
export async function shortlist(call: Read, party: Party): Promise<string[]> {
  const name = party.names[0]?.trim() ?? ''
  const key = name.length >= 3 ? tellingKey(name) : ''
  const parts: string[] = []
  if (key !== '')
    parts.push(
      '(select id from suppliers where match_key % :key and merged_into is null order by similarity(match_key, :key) desc, similarity(search_name, :name) desc limit 60)',
      '(select supplier_id as id from supplier_names where match_key % :key order by similarity(match_key, :key) desc limit 25)',
    )
  if (name.length >= 3)
    parts.push('(select id from suppliers where search_name like :start and merged_into is null limit 20)')
  if (party.identifiers.length > 0)
    parts.push('(select supplier_id as id from supplier_identifiers where value = any(:values) limit 20)')
  if (party.ibans.length > 0)
    parts.push(
      "(select supplier_id as id from supplier_bank_accounts where iban = any(:ibans) and state <> 'closed' limit 20)",
    )
  if (party.domains.length > 0)
    parts.push('(select id from suppliers where domains && :domains::text[] and merged_into is null limit 20)')
  if (parts.length === 0) return []
  const bindings = {
    key,
    name: searchName(name),
    start: `${searchName(name).replace(/[\\%_]/g, '\\$&')}%`,
    values: party.identifiers.map(one => one.value),
    ibans: [...party.ibans],
    domains: [...party.domains],
  }
  return await call.trx.transaction(async trx => {
    await trx.raw(`set local pg_trgm.similarity_threshold = ${leastLikeness(key)}`)
    const { rows } = await trx.raw<{ rows: { id: string }[] }>(parts.join(' union '), bindings)
    return rows.map(row => row.id)
  })
}

export type SupplierFacts = Party & {
  readonly id: string
  readonly number: string
  readonly state: string
  readonly tradeNames: readonly string[]
}

interface FactsRow {
  id: string
  number: string
  name: string
  state: string
  domains: string[]
  tradeNames: string[]
  place: { street: string; postalCode: string; city: string; country: string } | null
  identifiers: { scheme: IdentifierScheme; value: string }[]
  ibans: string[]
}

/** The facts of some records, as far as they help to tell them apart. Merged ones are left out. */
export async function readFacts(call: Read, ids: readonly string[]): Promise<SupplierFacts[]> {
  const { rows } = await call.trx
    .raw<{ rows: FactsRow[] }>(
      `select s.id, s.number, s.name, s.state, s.domains,
       array(select name from supplier_names where supplier_id = s.id limit 10) as trade_names,
       (select json_build_object('street', street, 'postalCode', postal_code, 'city', city, 'country', country) from supplier_locations where supplier_id = s.id order by position limit 1) as place,
       (select coalesce(json_agg(json_build_object('scheme', scheme, 'value', value)), '[]') from supplier_identifiers where supplier_id = s.id) as identifiers,
       array(select iban from supplier_bank_accounts where supplier_id = s.id and state <> 'closed') as ibans
     from suppliers s where s.id = any(?) and s.merged_into is null`,
      [[...ids]],
    )
    .options({ name: 'supplier-facts' })
  return rows.map(({ name, place, ...row }) => ({
    ...row,
    names: [name, ...row.tradeNames],
    country: place?.country ?? '',
    postalCode: place?.postalCode ?? '',
    city: place?.city ?? '',
    street: place?.street ?? '',
  }))
}

export const matchReasons = (found: Match): CandidateJson['reasons'] =>
  found.reasons.map(reason => ({
    code: `match.${reason.code}`,
    for: reason.bits > 0,
    bits: reason.bits.toFixed(1),
    details: { ...reason.details },
  }))

export const toCandidate = (facts: SupplierFacts, found: Match): CandidateJson => ({
  id: facts.id,
  number: facts.number,
  name: facts.names[0]!,
  tradeNames: [...facts.tradeNames],
  city: facts.city,
  country: facts.country,
  state: facts.state,
  percent: found.percent,
  reasons: matchReasons(found),
  shared: found.shared.map(one => ({ ...one })),
})
