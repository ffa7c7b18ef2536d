import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'
import { SubmitRequisition } from '#contract/request/endpoints.ts'
import { readQuickLine } from '#core/request/quickLine.ts'
import { type Figure, fetchPage, figure, median, select } from '#bench/figures.ts'
import { dice, inventedFirm } from '#bench/suppliers.ts'
import { account, draft, figures, goodsLine } from '#test-helpers/steps.ts'
import type { World } from '#test-helpers/world.ts'

const LINES = 5_000

/** Reading five thousand different quick lines, against one second. Looking their items up is not in it. */
export function quickLines(): Figure {
  const roll = dice(5)
  const lines = Array.from(
    { length: LINES },
    (_, index) =>
      `${1 + roll(500)} x ${inventedFirm(roll).name} ${roll(90)} mm to Fennick by ${1 + roll(28)} Dec on LS-${100 + roll(900)}/6020 at ${roll(900)}.${10 + roll(90)} EUR ${index % 3 === 0 ? '#SKID-26' : ''}`,
  )
  const start = performance.now()
  const understood = lines.filter(line => readQuickLine(line, '2026-11-23').reasons.length === 0).length
  const ours = Math.round(performance.now() - start)
  return {
    name: 'request.quick-lines-5k',
    ours,
    baseline: 1000,
    ratio: ours / 1000,
    limit: 1,
    ok: ours <= 1000,
    unit: 'ms',
    note: `${understood} of ${LINES} lines understood`,
  }
}

/** Ends a transaction of the baseline without leaving anything behind. */
class Undone extends Error {}

/** Submitting two hundred lines through the API against inserting the rows that this writes, one statement a row. */
export async function submitLines(world: World, runs: number): Promise<Figure> {
  const line = await goodsLine(world, 'PS-1200', '1')
  const joren = await world.as('Joren')
  const drafts: { id: string; version: number }[] = []
  for (let run = -1; run < runs; run++)
    drafts.push(
      await draft(
        world,
        Array.from({ length: 200 }, () => line),
        `Bench ${run}`,
      ),
    )
  const ours = await median(runs, run => {
    const one = drafts[run + 1]!
    return joren.do(SubmitRequisition, {
      params: { id: one.id },
      body: { version: one.version, checkReason: 'Bench.' },
    })
  })
  const [accountId, actor] = [
    line.splits[0]!.accountId,
    (await world.db('people').where({ name: 'Joren Vaskuil' }).first('id')) as { id: string },
  ]
  const baseline = await median(runs, () =>
    world.db
      .transaction(async trx => {
        for (let index = 0; index < 200; index++) {
          const lineId = randomUUID()
          await trx('quantityEntries').insert({
            lineId,
            kind: 'requested',
            quantity: '1',
            at: new Date().toISOString(),
            actorId: actor.id,
            documentKind: 'bench',
            documentId: lineId,
          })
          await trx('budgetEntries').insert({
            accountId,
            kind: 'accrued',
            amount: 1n,
            lineId,
            at: new Date().toISOString(),
            actorId: actor.id,
            documentKind: 'bench',
            documentId: lineId,
          })
        }
        throw new Undone()
      })
      .catch((error: unknown) => {
        if (!(error instanceof Undone)) throw error
      }),
  )
  return { ...figure('request.submit-200-lines', ours, baseline, 4), note: 'against 400 plain inserts' }
}

/** Fifty people submit at the same moment on one account that holds only some of them: nobody overdraws it and nothing deadlocks. Against the same one after another. */
export async function budgetContention(world: World): Promise<Figure> {
  const accountId = await account(world, 'AC-110', '1510')
  const line = { ...(await goodsLine(world, 'CP-1200', '1')), splits: [{ accountId, share: '1' }] }
  const joren = await world.as('Joren')
  const make = (): Promise<{ id: string; version: number }[]> =>
    Promise.all(Array.from({ length: 50 }, () => draft(world, [line], 'Contention')))
  const submit = (one: { id: string; version: number }) =>
    joren.call(SubmitRequisition, { params: { id: one.id }, body: { version: one.version } })
  const [together, after] = [await make(), await make()]
  const before = await figures(world, accountId)
  const start = performance.now()
  const answers = await Promise.all(together.map(submit))
  const ours = performance.now() - start
  const again = performance.now()
  for (const one of after) await submit(one)
  const baseline = performance.now() - again
  const taken = answers.filter(answer => answer.status === 200).length
  const refused = answers.filter(answer => answer.codes.includes('budget.over')).length
  const reserved = (await figures(world, accountId)).reserved - before.reserved
  const right =
    taken + refused === 50 &&
    reserved === BigInt(taken) * 219_000n &&
    before.reserved + reserved + before.committed + before.spent <= 2_500_000n
  const one = figure('request.budget-contention', ours, baseline, 2)
  return {
    ...one,
    ok: one.ok && right,
    note: `${taken} of 50 went through, ${refused} found too little left${right ? '' : '; THE BOOKS ARE WRONG'}`,
  }
}

const NOUNS =
  'pump valve pipe probe lamp filter seal bearing panel hose tank skimmer sensor cable relay gasket flange motor fan heater'.split(
    ' ',
  )
const MATERIALS = 'titanium steel brass bronze polymer acrylic ceramic rubber graphite nylon copper glass'.split(' ')
const CHUNK = 100_000

/** Items with offers whose names come from some fifty thousand words; made in SQL, to be searched and not worked with. */
async function fillItems(db: Knex, count: number): Promise<void> {
  for (let from = 1; from <= count; from += CHUNK) {
    await db.raw(
      `insert into items (id, number, name, description, category, unit, gtin, maker, maker_number)
       select gen_random_uuid(), 'BX-' || n, initcap(noun[1 + n % 20]) || ' ' || material[1 + (n / 7) % 12] || ' ' || translate(substr(md5((n % 50000)::text), 1, 7), '0123456789', 'oizeasgtbp') || ' ' || (n % 900) || ' mm', 'Series ' || (n % 5000), 'Pumps', 'C62', lpad((8000000000000 + n)::text, 13, '0'), translate(substr(md5((n % 800)::text), 1, 6), '0123456789', 'oizeasgtbp'), 'M' || n
       from generate_series(${from}, ${Math.min(count, from + CHUNK - 1)}) n, (select ?::text[] as noun, ?::text[] as material) words`,
      [NOUNS, MATERIALS],
    )
    await db.raw(
      `insert into offers (id, item_id, supplier_id, supplier_item, currency, unit, price_base, minimum, multiple, lead_time_days, valid_from, tiers)
       select gen_random_uuid(), i.id, s.id, 'SX' || i.number, 'EUR', 'C62', 1, 1, 1, 5, current_date, '[{"from": "1", "price": "12.5"}]' from items i, (select id from suppliers where name = 'Nordhavn Pumpeverk') s where i.number = any(select 'BX-' || n from generate_series(${from}, ${Math.min(count, from + CHUNK - 1)}) n)`,
    )
  }
  await db.raw('analyze items; analyze offers; analyze item_words')
}

/** How people type: words, beginnings, parts, mistyped words, codes, with and without facts. */
function typed(
  roll: (below: number) => number,
  item: { number: string; name: string; gtin: string; makerNumber: string },
): string {
  const [noun = '', material = '', word = '', size = ''] = item.name.toLowerCase().split(' ')
  const slip = (text: string): string => {
    const at = 1 + roll(Math.max(1, text.length - 2))
    return roll(2)
      ? text.slice(0, at) + text.slice(at + 1)
      : text.slice(0, at) + (text[at + 1] ?? '') + (text[at] ?? '') + text.slice(at + 2)
  }
  return [
    `${noun} ${word}`, `${material} ${noun} ${size}`, `${noun} ${material}`, `${word.slice(0, 4)}`, `${noun} ${word.slice(1, 6)}`, `${slip(material)} ${noun} ${word}`, `${slip(noun)} ${size}`, item.number, item.gtin, item.makerNumber, noun, `${noun} ${size} mm`,
  ][roll(12)]! // prettier-ignore
}

/** The search at a million items through the API, as a browser asks: the 95th of a hundred, against 120 ms. */
export async function searchMillion(world: World, _runs: number, small: boolean): Promise<Figure> {
  const count = small ? 5_000 : 1_000_000
  await fillItems(world.db, count)
  const roll = dice(11)
  const numbers = Array.from({ length: small ? 20 : 400 }, () => `BX-${1 + roll(count)}`)
  const { rows } = (await select(world.db, 'select number, name, gtin, maker_number from items where number = any(?)', [
    numbers,
  ])) as {
    rows: { number: string; name: string; gtin: string; makerNumber: string }[]
  }
  const ines = await world.as('Ines')
  const ask = (q: string, more = ''): Promise<number> =>
    fetchPage(world, ines, `/catalogue?q=${encodeURIComponent(q)}${more}`)
  for (const item of rows.slice(0, 20)) await ask(typed(roll, item))
  const times: number[] = []
  for (const [index, item] of rows.entries()) {
    const q = typed(roll, item)
    const start = performance.now()
    await ask(q, index % 5 === 0 ? '&upTo=50&within=10' : '')
    times.push(performance.now() - start)
  }
  times.sort((a, b) => a - b)
  const at = (share: number): number =>
    Math.round(times[Math.min(times.length - 1, Math.floor(times.length * share))]! * 10) / 10
  return {
    ...figure('request.search-1m', at(0.95), 120, 1),
    note: `p50 ${at(0.5)} ms, worst ${at(1)} ms of ${times.length} searches among ${count} items`,
  }
}
