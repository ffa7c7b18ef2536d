import type { ResponseOf } from '#contract/endpoint.ts'
import type { CatalogueQuery, FoundItem, SearchCatalogue } from '#contract/request/catalogue.ts'
import { hitScore, meantWords } from '#core/request/typing.ts'
import type { Read } from '#server/call.ts'
import { readRequestSettings } from '#server/request/settingsStore.ts'

type Shown = ResponseOf<typeof SearchCatalogue>
const SHOWN = 60
/** Hits that are ranked; beyond them only the filters narrow. */
const RANKED = 500
const PER_WORD = 60

interface Hit {
  id: string
  number: string
  name: string
  stocked: boolean
  discontinued: boolean
  hasAgreement: boolean
}
interface Readings {
  readonly tokens: readonly string[]
  readonly meant: ReadonlyMap<string, readonly string[]>
  readonly takenFor: Shown['takenFor']
}

/** Finds items by exact code, words, parts of words, words that mean the same and mistyped words; agreement offers first. */
export async function searchCatalogue(call: Read, query: CatalogueQuery, relax = true): Promise<Shown> {
  const q = (query.q ?? '').trim()
  const exact = q === '' ? null : await itemByCode(call, q.toLowerCase())
  const readings = await readWords(call, q)
  const all = readings.tokens.map(token => wordQuery(token, readings.meant))
  let hits =
    q === ''
      ? await listed(call, query)
      : readings.tokens.length === 0
        ? []
        : await matching(call, all.join(' & '), query)
  const relaxed = relax && hits.length === 0 && all.length > 1
  if (relaxed) hits = await matching(call, all.join(' | '), query)
  if (exact && !hits.some(hit => hit.id === exact)) hits = [...(await byIds(call, [exact])), ...hits]
  const ranked =
    q === ''
      ? hits
      : hits
          .map(hit => ({ hit, score: hit.id === exact ? Infinity : hitScore(readings.tokens, readings.meant, hit) }))
          .sort((a, b) => b.score - a.score || (a.hit.name < b.hit.name ? -1 : 1))
          .map(one => one.hit)
  return {
    items: await withOffers(
      call,
      ranked.slice(0, SHOWN).map(hit => hit.id),
    ),
    exact,
    takenFor: [...readings.takenFor],
    relaxed: relaxed && hits.length > 0,
    more: hits.length > SHOWN,
  }
}

/** The one item of a number, GTIN, maker's number or supplier's number. */
export async function itemByCode(call: Read, code: string): Promise<string | null> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select id from items where lower(number) = :code union select id from items where gtin <> '' and gtin = :code union select id from items where maker_number <> '' and lower(maker_number) = :code
     union select item_id from offers where supplier_item <> '' and lower(supplier_item) = :code limit 2`,
    { code },
  )
  return rows.length === 1 ? rows[0]!.id : null
}

/** Beginnings of one or two letters stand for the shortest words only: the index would have to go through far too many. */
const SHORT = 2
const wordQuery = (token: string, meant: ReadonlyMap<string, readonly string[]>): string =>
  `(${[token.length <= SHORT ? token : `${token}:*`, ...(meant.get(token) ?? [])].join(' | ')})`

/** What each typed word may mean among the words that occur in the catalogue. */
async function readWords(call: Read, q: string): Promise<Readings> {
  if (q === '') return { tokens: [], meant: new Map(), takenFor: [] }
  const { rows } = await call.trx.raw<{
    rows: [{ tokens: string[] }]
  }>(`select string_to_array(plain_text(?), ' ') as tokens`, [q])
  const tokens = rows[0].tokens.slice(0, 8)
  const { sameWords } = await readRequestSettings(call)
  const meant = new Map<string, string[]>()
  const takenFor: Shown['takenFor'] = []
  for (const token of tokens) {
    const same = sameWords
      .filter(group => group.includes(token))
      .flatMap(group => group.filter(word => word !== token && /^[\p{L}\p{N}]+$/u.test(word)))
    const { rows: parts } = await call.trx.raw<{ rows: { word: string }[] }>(
      'select word from item_words where word like ? order by length(word), word limit ?',
      [token.length > 2 ? `%${token}%` : `${token}%`, PER_WORD],
    )
    const words = [
      ...new Set([
        ...same,
        ...parts
          .map(row => row.word)
          .filter(word => (token.length <= SHORT ? word !== token : !word.startsWith(token))),
      ]),
    ]
    if (parts.length === 0 && same.length === 0) {
      const taken = await mistyped(call, token)
      if (taken.length > 0) takenFor.push({ typed: token, taken })
      words.push(...taken)
    }
    meant.set(token, words)
  }
  return { tokens, meant, takenFor }
}

/** Words with the same first or second letter and nearly the same length are compared; so a vocabulary of any size stays quick. */
async function mistyped(call: Read, token: string): Promise<string[]> {
  if (token.length < 4) return []
  const { rows } = await call.trx.raw<{ rows: { word: string }[] }>(
    `select word from (select word from item_words where word like :first and length(word) between :low and :high limit 4000) near union select word from item_words where word % :token and length(word) between :low and :high limit 5000`,
    { first: `${token[0]}%`, token, low: token.length - 2, high: token.length + 2 },
  )
  return meantWords(
    token,
    rows.map(row => row.word),
  )
}

const RATE = `coalesce((select rate from exchange_rates r where r.currency = o.currency and r.valid_from <= :today order by r.valid_from desc limit 1), 1)`
const LIVE = `o.item_id = items.id and (o.valid_to is null or o.valid_to >= :today)`
const COLUMNS = `items.id, items.number, items.name, items.stocked, (items.discontinued_on is not null and items.discontinued_on <= :today) as discontinued, exists (select 1 from offers o where o.item_id = items.id and o.agreement <> '') as has_agreement`

/** Facts to narrow by, as conditions on items. */
function narrowed(query: CatalogueQuery): string {
  const offer: string[] = []
  if (query.supplier) offer.push('o.supplier_id = :supplier')
  if (query.agreement === 'yes') offer.push(`o.agreement <> ''`)
  if (query.country) offer.push(`(o.countries = '{}' or :country = any(o.countries))`)
  if (query.upTo) offer.push(`(o.tiers -> 0 ->> 'price')::numeric / o.price_base * ${RATE} <= :upTo`)
  if (query.within) offer.push('o.lead_time_days <= :within')
  return [
    query.category
      ? `items.category in (with recursive under as (select :category::text as name union select c.name from supply_categories c join under on c.parent = under.name) select name from under)`
      : '',
    query.stocked === 'yes' ? 'items.stocked' : '',
    query.certified === 'yes' ? 'items.certified' : '',
    offer.length > 0 ? `exists (select 1 from offers o where ${LIVE} and ${offer.join(' and ')})` : '',
  ]
    .filter(Boolean)
    .map(condition => ` and ${condition}`)
    .join('')
}

const parameters = (call: Read, query: CatalogueQuery): Record<string, unknown> => ({
  today: call.today,
  category: query.category ?? '',
  supplier: query.supplier || null,
  country: query.country ?? '',
  upTo: query.upTo || null,
  within: query.within || null,
})

const run = async (call: Read, sql: string, values: Record<string, unknown>): Promise<Hit[]> =>
  (await call.trx.raw<{ rows: Hit[] }>(sql, values as never)).rows

const matching = (call: Read, words: string, query: CatalogueQuery): Promise<Hit[]> =>
  run(call, `select ${COLUMNS} from items where items.terms @@ :words::tsquery${narrowed(query)} limit ${RANKED}`, {
    ...parameters(call, query),
    words,
  })

const listed = (call: Read, query: CatalogueQuery): Promise<Hit[]> =>
  run(
    call,
    `select ${COLUMNS} from items where true${narrowed(query)} order by items.name, items.id limit ${SHOWN + 1}`,
    parameters(call, query),
  )

const byIds = (call: Read, ids: readonly string[]): Promise<Hit[]> =>
  run(call, `select ${COLUMNS} from items where items.id = any(:ids)`, { today: call.today, ids: [...ids] })

const OFFERS = `
  select items.id, items.number, items.name, items.category, items.unit, items.picture, best.price as best_price, best.price_base, best.currency, best.supplier, best.agreement, best.lead_time_days, coalesce(best.offers, 0)::int as offers,
    items.stocked, items.certified, (items.discontinued_on is not null and items.discontinued_on <= :today) as discontinued, after.name as replaced_by
  from items left join items after on after.id = items.replaced_by left join lateral (
    select o.tiers -> 0 ->> 'price' as price, o.price_base, o.currency, s.name as supplier, o.agreement, o.lead_time_days, count(*) over () as offers
    from offers o join suppliers s on s.id = o.supplier_id where ${LIVE} and s.state = 'active'
    order by (o.agreement = ''), (o.tiers -> 0 ->> 'price')::numeric / o.price_base * ${RATE} limit 1) best on true
  where items.id = any(:ids)`

/** Items in the given order with the offer that comes first: an agreement's, else the cheapest. */
async function withOffers(call: Read, ids: readonly string[]): Promise<FoundItem[]> {
  if (ids.length === 0) return []
  const { rows } = await call.trx.raw<{ rows: FoundItem[] }>(OFFERS, { today: call.today, ids: [...ids] } as never)
  const known = new Map(rows.map(row => [row.id, row]))
  return ids.flatMap(id => known.get(id) ?? [])
}
