import { expect } from 'chai'
import { type GlanceJson, GLANCES, type GlanceStage, ReadGlance } from '#contract/glances/endpoints.ts'
import { Invoices } from '#contract/bill/endpoints.ts'
import type { defineList } from '#contract/lists/list.ts'
import { Decisions } from '#contract/decide/endpoints.ts'
import { Budgets } from '#contract/insight/endpoints.ts'
import { Orders } from '#contract/order/endpoints.ts'
import { Payables } from '#contract/pay/endpoints.ts'
import { Deliveries } from '#contract/receive/endpoints.ts'
import { Suppliers } from '#contract/source/endpoints.ts'
import { Onboardings } from '#contract/source/onboarding.ts'
import { en as first } from '#contract/messages/en.ts'
import { later } from '#contract/messages/later.ts'
import { sumTexts } from '#core/money/text.ts'
import { LABELS } from '#web/shared/labels.ts'
import { useWorld } from '#test-helpers/world.ts'

const en: Readonly<Record<string, string>> = { ...first, ...later }

type List = ReturnType<typeof defineList>
const listOf = (to: string): List | undefined => {
  const { pathname, searchParams } = new URL(to, 'http://here')
  if (searchParams.get('list') === 'payables') return Payables
  const lists: readonly (readonly [string, List])[] = [
    ['/source/onboardings', Onboardings],
    ['/source', Suppliers],
    ['/decide', Decisions],
    ['/order', Orders],
    ['/receive', Deliveries],
    ['/bill', Invoices],
    ['/insight', Budgets],
  ]
  return lists.find(([path]) => path === pathname)?.[1]
}

describe('the glance of a stage', () => {
  const world = useWorld()
  const WHO: Readonly<Record<GlanceStage, string>> = {
    source: 'Rasmus',
    request: 'Joren',
    decide: 'Marit',
    order: 'Pilar',
    receive: 'Yuki',
    bill: 'Leonie',
    pay: 'Casimir',
    insight: 'Adaeze',
  }
  const glance = async (stage: GlanceStage, who = WHO[stage]): Promise<GlanceJson> =>
    await (await world.as(who)).do(ReadGlance, { params: { stage } })
  /** How many rows the list behind a figure shows, and what they come to. */
  async function behind(who: string, to: string): Promise<{ count: number; amount: string | null }> {
    const list = listOf(to)
    if (!list) throw new Error(`${to} leads to no list`)
    const query = Object.fromEntries(new URL(to, 'http://here').searchParams)
    delete query.list
    const client = await world.as(who)
    const page = await client.do(list.page, { query: { ...query, limit: 1 } })
    expect(page.lost, to).to.deep.equal([])
    delete query.sort
    const [sums] = (await client.do(list.sums, { query })).groups
    return { count: sums?.count ?? 0, amount: sums?.amount ?? null }
  }

  for (const stage of GLANCES)
    it(`${stage} opens with every figure the list that it is made of`, async () => {
      const { parts, says } = await glance(stage)
      expect(parts.length).to.be.greaterThan(0)
      const counted = parts.flatMap(part =>
        part.kind === 'grid'
          ? part.rows.flatMap(row => row.cells.map(({ count, to }) => ({ key: part.key, count, to })))
          : part.kind === 'rows'
            ? part.rows.flatMap(({ count, to }) => (count === null ? [] : [{ key: part.key, count, to }]))
            : [],
      )
      for (const { key, count, to } of counted)
        if (listOf(to)) expect((await behind(WHO[stage], to)).count, `${key} ${to}`).to.equal(count)
      for (const { sentence, to } of says) {
        if (!to || !listOf(to)) continue
        const list = await behind(WHO[stage], to)
        const { count, amount } = sentence.details
        if (count !== undefined) expect(list.count, `${sentence.code} ${to}`).to.equal(count)
        // of an order only what is still to come counts, of a budget what is left
        const whole = !['order', 'insight'].includes(stage)
        if (amount !== undefined && whole) expect(list.amount, `${sentence.code} ${to}`).to.equal(amount)
      }
    })

  it('says in words and headings everything that it shows', async () => {
    for (const stage of GLANCES) {
      const { says, parts } = await glance(stage)
      for (const { sentence } of says) expect(en, sentence.code).to.have.property(sentence.code)
      for (const part of parts) {
        expect(LABELS.glance, part.key).to.have.property(part.key)
        if (part.kind !== 'rows') continue
        for (const row of part.rows) if (row.says) expect(en, row.says.code).to.have.property(row.says.code)
      }
    }
  })

  it('of orders puts what is to come into weeks, all of it, and the late first', async () => {
    const { parts, says } = await glance('order')
    const bars = parts.find(part => part.kind === 'bars')!
    expect(bars.bars[0]?.key).to.equal('late')
    expect(bars.bars.at(-1)?.key).to.equal('later')
    const all = await world
      .db('orders')
      .whereIn('state', ['issued', 'acknowledged'])
      .whereIn('receiveExtent', ['none', 'part'])
      .select('id')
    expect(says[0]?.sentence.details.count).to.equal(all.length)
    let count = 0
    for (const bar of bars.bars) count += (await behind('Pilar', bar.to)).count
    expect(count).to.equal(all.length)
    for (const bar of bars.bars) expect(Number(bar.part)).to.be.at.most(Number(bar.amount))
  })

  it('of payments puts what is owed under the days it is due', async () => {
    const { parts, says } = await glance('pay')
    const bars = parts.find(part => part.kind === 'bars')!
    expect(sumTexts(bars.bars.map(bar => bar.amount))).to.equal(says[0]?.sentence.details.amount)
    for (const bar of bars.bars)
      expect(sumTexts([(await behind('Casimir', bar.to)).amount ?? '0']), bar.key).to.equal(bar.amount)
  })

  it('of budgets shows the reader’s cost centres, adding up to their accounts', async () => {
    const all = (await glance('insight')).parts.find(part => part.kind === 'budgets')!
    const own = (await glance('insight', 'Marit')).parts.find(part => part.kind === 'budgets')!
    expect(own.rows.length).to.be.greaterThan(0).and.lessThan(all.rows.length)
    expect(all.rows.map(row => row.title)).to.include.members(own.rows.map(row => row.title))
    const [row] = all.rows
    const query = Object.fromEntries(new URL(row!.to, 'http://here').searchParams)
    const page = await (await world.as('Adaeze')).do(Budgets.page, { query })
    expect(page.rows.length).to.be.greaterThan(0)
    expect(sumTexts(page.rows.map(one => one.cells.allotted!))).to.equal(row!.allotted)
  })

  it('shows nobody what they may not see', async () => {
    for (const stage of ['order', 'bill', 'pay'] as const) {
      const { parts, says } = await glance(stage, 'Ines')
      expect([says, parts], stage).to.deep.equal([[], []])
    }
  })
})
