import { expect } from 'chai'
import { CheckRequisition } from '#contract/request/endpoints.ts'
import { ReadBudgetChecks, SaveBudgetChecks, SaveFirstMonth } from '#contract/setup/budgetChecks.ts'
import { reading, writing } from '#server/call.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { readBudgetChecks, saveFirstMonth } from '#server/setup/budgetChecks.ts'
import { draft, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('budget checks', () => {
  const world = useWorld()
  const read = async () => await (await world.as('Wren')).do(ReadBudgetChecks)
  const year = Number(today().slice(0, 4))
  const accountOf = async (costCentre: string, account: string) =>
    (await read()).accounts.find(one => one.year === year && one.costCentre === costCentre && one.account === account)!

  it('are set for several budgets together, and judge what is asked for from then on', async () => {
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '900000')], 'Far above the budget')
    const judged = async (): Promise<string[]> =>
      (await (await world.as('Joren')).do(CheckRequisition, { params: { id } })).reasons
        .filter(reason => reason.code === 'budget.over')
        .map(reason => reason.level)
    const [one, other] = [await accountOf('LS-210', '6210'), await accountOf('LS-210', '6020')]
    const wren = await world.as('Wren')
    const set = (level: 'off' | 'note' | 'check' | 'stop', seen = [one, other]) =>
      wren.call(SaveBudgetChecks, {
        body: {
          seen: seen.map(({ id: account, level: was, tolerance }) => ({ id: account, level: was, tolerance })),
          to: { level, tolerance: '2.5' },
        },
      })
    expect((await set('stop')).status).to.equal(200)
    expect(await judged()).to.deep.equal(['stop'])
    expect((await accountOf('LS-210', '6020')).tolerance).to.equal('2.5')
    expect((await set('note')).codes, 'seen before somebody changed it').to.deep.equal(['budget.checksChanged'])
    expect((await set('off', [await accountOf('LS-210', '6210')])).status).to.equal(200)
    expect(await judged()).to.deep.equal([])
    const history = await world.db('history').where({ documentId: one.id, action: 'changed' }).select('changes')
    expect(history.length).to.equal(2)
    expect((await (await world.as('Ines')).call(ReadBudgetChecks)).status).to.equal(403)
  })

  it('show the years with their days; the first month stays once there are budgets', async () => {
    const { years, firstMonth, fixed } = await read()
    expect([firstMonth, fixed]).to.deep.equal([1, true])
    expect(years.find(one => one.now)).to.deep.include({ year, from: `${year}-01-01`, to: `${year}-12-31` })
    const wren = await world.as('Wren')
    expect((await wren.call(SaveFirstMonth, { body: { month: 4 } })).codes).to.deep.equal(['budget.yearsFixed'])
  })
})

describe('the first month of a fiscal year', () => {
  const world = useWorld(true)

  it('is chosen as long as there is no budget', async () => {
    // an empty house has nobody to sign in: the act is asked for as a steward would
    const setting = async () => await settingOf(world.jobs)
    await world.db.transaction(async trx => saveFirstMonth(writing(trx, await setting()), 4))
    const { firstMonth, fixed, years } = await world.db.transaction(async trx =>
      readBudgetChecks(reading(trx, await setting())),
    )
    expect([firstMonth, fixed]).to.deep.equal([4, false])
    expect(years.every(one => one.from.endsWith('-04-01') && one.to.endsWith('-03-31'))).to.equal(true)
  })
})
