import { expect } from 'chai'
import { ReadQuickLines, SaveRequisition, ReadRequisition } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { draft, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('a quick line against what is known here', () => {
  const world = useWorld()
  const read = async (text: string, choices: Record<string, string> = {}) =>
    (await (await world.as('Joren')).do(ReadQuickLines, { body: { text, choices } })).lines
  // within this year: what is needed in the next one is paid by other budgets
  const day = [addDays(today(), 20), `${today().slice(0, 4)}-12-31`].sort()[0]!

  it('becomes a line with offer, place, day and account', async () => {
    const [one] = await read(`12 x Synthetic sea salt 25 kg bag to Fennick by ${day} on LS-210/6020`)
    expect(one!.reasons).to.deep.equal([])
    const [salt, place] = [
      await world.db('items').where({ number: 'SW-1200' }).first('id'),
      await world.db('addresses').where({ code: 'FENN' }).first('id'),
    ]
    expect(one!.line).to.deep.include({
      itemId: (salt as { id: string }).id,
      quantity: '12',
      unit: 'BG',
      needBy: day,
      addressId: (place as { id: string }).id,
    })
    const account = (await world.db('budgetAccounts').where({ id: one!.line!.splits[0]!.accountId }).first()) as object
    expect(account).to.deep.include({
      costCentre: 'LS-210',
      naturalAccount: '6020',
      fiscalYear: Number(day.slice(0, 4)),
    })
  })

  it('offers the meanings where it is unsure, and takes the one that is chosen', async () => {
    const [unsure] = await read('2 x circulation pump')
    const items = unsure!.parts.find(part => part.kind === 'item')!.readings
    expect([unsure!.line, items.length]).to.deep.equal([null, 5])
    const [chosen] = await read('2 x circulation pump', { '0.item': items[2]!.value })
    expect(chosen!.line!.itemId).to.equal(items[2]!.value)
  })

  it('converts the unit exactly, or says that it cannot', async () => {
    const [tonnes] = await read('0.5 t of Frozen krill, whole')
    expect(tonnes!.line).to.deep.include({ quantity: '500', unit: 'KGM' })
    const [wrong] = await read('5 litres of Frozen krill, whole')
    expect([wrong!.line, wrong!.reasons.map(reason => reason.code)]).to.deep.equal([null, ['units.noConversion']])
  })

  it('says what is not known here, beside its part', async () => {
    const [one] = await read('2 x SW-1200 to Atlantis on ZZ-999/1234 from Nobody')
    expect(one!.reasons.map(reason => [reason.code, reason.place])).to.deep.equal([
      ['quick.notFound', 'place'],
      ['quick.notFound', 'account'],
      ['quick.notFound', 'supplier'],
    ])
  })

  it('takes a pasted block, and the line can be submitted as it is', async () => {
    const lines = await read(`- 2 x SW-1200\n- 50 kg of FK-1200 to Quay\n\n3. 10 x nonsense-zzzz`)
    expect(lines.map(one => one.line?.quantity ?? null)).to.deep.equal(['2', '50', null])
    const joren = await world.as('Joren')
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    await joren.do(SaveRequisition, {
      params: { id },
      body: { version, title: 'Quick', reason: '', lines: [lines[0]!.line!, lines[1]!.line!] },
    })
    expect((await joren.do(ReadRequisition, { params: { id } })).lines.map(line => line.quantity)).to.deep.equal([
      '2',
      '50',
    ])
  })
})
