import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'
import { proposeMapping } from '#core/source/importMapping.ts'
import { tellingKey } from '#core/source/likeness.ts'
import { match, type Party, PROBABLY, ready } from '#core/source/match.ts'
import type { Figure } from '#bench/figures.ts'
import { type Read, writing } from '#server/call.ts'
import { readCells } from '#server/formats/cells.ts'
import { outside, settingOf } from '#server/jobs/parts.ts'
import { candidatesFor } from '#server/source/findSuppliers.ts'
import { load, lookAtRows } from '#server/source/importSuppliers.ts'
import { searchName } from '#server/source/supplierStore.ts'
import { LABELLED_PAIRS } from '#test-helpers/supplierPairs.ts'
import type { World } from '#test-helpers/world.ts'

const ONSETS = 'b br d dr f fl g gr h j k kl kr l m n p pl pr r s sk sl sn st str sv t tr v w z ch sh'.split(' ')
const VOWELS = 'a e i o u ei ou ia y'.split(' ')
const CODAS = ['', '', '', 'n', 'r', 'l', 's', 'm', 'nd', 'rk', 'lt', 'ng', 'st', 'x', 'tt']
const ENDS = 'sund havn berg stad vik mann ter son dal nes ford holm wald bach quist land rup wick ley ton'.split(' ')
const TRADES =
  'Marine Pumps Services Trading Engineering Laboratory Foods Supply Logistics Printers Technology Industries Valves Fisheries Acrylics Diving Guarding Crane Instruments Chemicals Packaging Electrics Glass Steel Tools Cleaning Consulting Design Media Salt'.split(
    ' ',
  )
const FORMS = ['AS', 'BV', 'GmbH', 'Ltd', 'ApS', 'AB', 'SARL', 'S.r.l.', '']
const COUNTRIES = ['NO', 'NL', 'DE', 'GB', 'DK', 'SE', 'FR', 'IT', 'FI']

/** Numbers that look thrown, the same in every run (mulberry32). */
export function dice(seed: number): (below: number) => number {
  let state = seed
  return below => {
    state = (state + 0x6d2b79f5) | 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return Math.floor((((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296) * below)
  }
}

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1)

export interface Invented {
  readonly name: string
  readonly country: string
  readonly postalCode: string
  readonly city: string
}

/** An invented firm: one or two words of its own, what it does, a legal form, a place. */
export function inventedFirm(roll: (below: number) => number): Invented {
  const syllable = (): string =>
    `${ONSETS[roll(ONSETS.length)]}${VOWELS[roll(VOWELS.length)]}${CODAS[roll(CODAS.length)]}`
  const own = (): string =>
    capital(syllable() + (roll(100) < 40 ? ENDS[roll(ENDS.length)] : syllable()) + (roll(100) < 25 ? syllable() : ''))
  const country = roll(COUNTRIES.length)
  const words = [...(roll(100) < 35 ? [own()] : []), own(), TRADES[roll(TRADES.length)], FORMS[country]]
  return {
    name: words.filter(Boolean).join(' '),
    country: COUNTRIES[country]!,
    postalCode: String(1000 + roll(9000)),
    city: own(),
  }
}

/** The name as somebody types it again: with a letter left out or swapped, words turned round, in capitals, or without the legal form. */
function retyped(name: string, roll: (below: number) => number): string {
  const words = name.split(' ')
  const kind = roll(5)
  if (kind === 0) return words.slice(0, -1).join(' ')
  if (kind === 1) return [...words].reverse().join(' ')
  if (kind === 2) return name.toUpperCase()
  const at = 2 + roll(Math.max(1, words[0]!.length - 3))
  const first = words[0]!
  const slip =
    kind === 3
      ? first.slice(0, at) + first.slice(at + 1)
      : first.slice(0, at) + (first[at + 1] ?? '') + (first[at] ?? '') + first.slice(at + 2)
  return [slip, ...words.slice(1)].join(' ')
}

const CHUNK = 10_000

/** Fills the table of suppliers with invented firms, in SQL: it is measured against, not worked with. */
export async function fillSuppliers(db: Knex, count: number): Promise<Invented[]> {
  const roll = dice(2026)
  const samples: Invented[] = []
  for (let from = 0; from < count; from += CHUNK) {
    const firms = Array.from({ length: Math.min(CHUNK, count - from) }, () => inventedFirm(roll))
    const ids = firms.map(() => randomUUID())
    samples.push(...firms.filter((_, index) => index % Math.ceil(CHUNK / 4) === 0))
    await db.raw(
      `insert into suppliers (id, number, name, search_name, match_key, search, kind, state, currency, terms, created_at, changed_at)
       select id, 'S-Y' || (?::int + at), name, search_name, key, '', 'company', 'active', 'EUR', '{"days": 30, "from": "invoice"}', now(), now() from unnest(?::uuid[], ?::text[], ?::text[], ?::text[]) with ordinality t (id, name, search_name, key, at)`,
      [
        from,
        ids,
        firms.map(firm => firm.name),
        firms.map(firm => searchName(firm.name)),
        firms.map(firm => tellingKey(firm.name)),
      ],
    )
    await db.raw(
      `insert into supplier_locations (supplier_id, position, name, street, postal_code, city, country) select id, 0, 'Office', '', postal, city, country from unnest(?::uuid[], ?::text[], ?::text[], ?::text[]) t (id, postal, city, country)`,
      [ids, firms.map(firm => firm.postalCode), firms.map(firm => firm.city), firms.map(firm => firm.country)],
    )
  }
  await db.raw('vacuum analyze suppliers')
  await db.raw('vacuum analyze supplier_locations')
  return samples
}

async function callFor(world: World): Promise<Read> {
  const pilar = (await world.db('people').where('name', 'like', 'Pilar%').first('id')) as { id: string }
  return outside(world.jobs, await settingOf(world.jobs, pilar.id, 'import'))
}

const against = (name: string, ours: number, baseline: number, unit: string, note: string): Figure => {
  const ratio = Math.round((ours / baseline) * 1000) / 1000
  return { name, ours: Math.round(ours * 1000) / 1000, baseline, ratio, limit: 1, ok: ratio <= 1, unit, note }
}

/** Shortlist and scoring for names typed again, against 60 ms: the 95th percentile. Also says how often the record itself came first. */
export async function shortlist(world: World, _runs: number, small: boolean): Promise<Figure> {
  const count = small ? 10_000 : 1_000_000
  const there = ((await world.db('suppliers').count({ n: '*' })) as { n: string }[])[0]!.n
  const samples = await fillSuppliers(world.db, count - Number(there))
  const call = await callFor(world)
  const roll = dice(7)
  const times: number[] = []
  let first = 0
  const tried = samples.slice(0, small ? 40 : 400)
  for (const [index, firm] of tried.entries()) {
    const party: Party = {
      names: [retyped(firm.name, roll)],
      country: firm.country,
      postalCode: index % 2 ? firm.postalCode : '',
      city: '',
      street: '',
      identifiers: [],
      ibans: [],
      domains: [],
    }
    const start = performance.now()
    const found = await candidatesFor(call, party, null)
    times.push(performance.now() - start)
    if (found[0]?.name === firm.name) first++
  }
  times.sort((a, b) => a - b)
  const p95 = times[Math.floor(times.length * 0.95)]!
  return against(
    'suppliers.shortlist-1m',
    p95,
    60,
    'ms',
    `p50 ${times[Math.floor(times.length / 2)]!.toFixed(1)} ms of ${tried.length} names among ${count}; the record came first ${first} times`,
  )
}

/** Precision and recall on the labelled pairs, each against its target; the worse of the two counts. */
export function matchQuality(): Figure {
  const judged = LABELLED_PAIRS.map(pair => ({
    same: pair.same,
    found: match(ready(pair.a), ready(pair.b)).percent >= PROBABLY,
  }))
  const right = judged.filter(one => one.same && one.found).length
  const precision = right / judged.filter(one => one.found).length
  const recall = right / judged.filter(one => one.same).length
  const note = `precision ${precision.toFixed(3)} (wanted 0.97), recall ${recall.toFixed(3)} (wanted 0.95) on ${judged.length} pairs`
  return precision / 0.97 < recall / 0.95
    ? against('suppliers.match-quality', 0.97, precision, '', note)
    : against('suppliers.match-quality', 0.95, recall, '', note)
}

/** Reading, checking for duplicates and loading a file of a hundred thousand rows, against 60 s. */
export async function importHundredThousand(world: World, _runs: number, small: boolean): Promise<Figure> {
  const count = small ? 2_000 : 100_000
  const roll = dice(99)
  const rows = Array.from({ length: count }, (_, index) => {
    const firm = inventedFirm(roll)
    return `${firm.name} ${index};${firm.country};${firm.postalCode};${firm.city};30;post@firm${index}.example`
  })
  const bytes = Buffer.from(`name;country;postal_code;city;terms_days;email\n${rows.join('\n')}`)
  const start = performance.now()
  const cells = await readCells(bytes)
  const call = await callFor(world)
  const looked = await lookAtRows(call, cells, {
    mapping: proposeMapping(cells.headings, cells.rows.slice(0, 20)),
    dryRun: false,
    withNear: true,
  })
  const outcome = await world.db.transaction(trx => load(writing(trx, call), looked))
  const seconds = (performance.now() - start) / 1000
  if (outcome.loaded !== count)
    throw new Error(`Only ${outcome.loaded} of ${count} rows were loaded: ${JSON.stringify(outcome.faults[0])}`)
  return against('suppliers.import-100k', seconds, 60, 's', `${count} rows, ${outcome.nearCount} near duplicates`)
}
