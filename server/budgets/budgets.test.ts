import { expect } from 'chai'
import { PostInvoice, ReadInvoice } from '#contract/bill/endpoints.ts'
import { Budgets, ReadBudget } from '#contract/insight/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import {
  AskTransfer,
  ChangeYear,
  DecideTransfer,
  ImportBudgets,
  ListTransfers,
  PreviewYearChange,
} from '#contract/budgets/endpoints.ts'
import { Receive } from '#contract/receive/endpoints.ts'
import { CreateRequisition, ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import {
  account,
  approved,
  billed,
  draft,
  figures,
  goodsLine,
  ordered,
  PLACE,
  posted,
  received,
  today,
} from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const year = Number(today().slice(0, 4))

describe('moving budget', () => {
  const world = useWorld()
  const ask = async (who: string, amount: string, from = ['LS-210', '6220'], to = ['LS-210', '6210']) =>
    (await world.as(who)).call(AskTransfer, {
      body: {
        fromId: await account(world, from[0]!, from[1]!),
        toId: await account(world, to[0]!, to[1]!),
        amount,
        reason: 'Parts instead of service.',
      },
    })
  const decide = async (who: string, id: string, action: 'approve' | 'refuse' | 'withdraw', reason = 'Fine.') =>
    (await world.as(who)).call(DecideTransfer, { params: { id }, body: { version: 1, action, reason } })
  const left = async (costCentre: string, natural: string): Promise<number> =>
    Number(
      (await (await world.as('Marit')).do(ReadBudget, { params: { id: await account(world, costCentre, natural) } }))
        .figures.available,
    )

  it('waits for somebody else, and is two entries that add up to nothing', async () => {
    const [before, after] = [await left('LS-210', '6220'), await left('LS-210', '6210')]
    const asked = await ask('Marit', '1 000,50')
    expect(await left('LS-210', '6220')).to.equal(before)
    expect((await decide('Marit', asked.body.id, 'approve')).codes).to.deep.equal(['transfer.own'])
    expect((await decide('Tomas', asked.body.id, 'approve')).status).to.equal(403)
    expect((await decide('Adaeze', asked.body.id, 'approve')).status).to.equal(200)
    expect(await left('LS-210', '6220')).to.equal(Math.round((before - 1000.5) * 100) / 100)
    expect(await left('LS-210', '6210')).to.equal(Math.round((after + 1000.5) * 100) / 100)
    expect((await decide('Adaeze', asked.body.id, 'approve')).status).to.equal(409)
  })

  it('is refused when the money is not there, is nothing, or goes nowhere', async () => {
    expect((await ask('Marit', '9 999 999')).codes).to.deep.equal(['transfer.notThere'])
    expect((await ask('Marit', '0')).codes).to.deep.equal(['transfer.amount'])
    expect((await ask('Marit', '-5')).codes).to.deep.equal(['transfer.amount'])
    expect((await ask('Marit', 'plenty')).codes).to.deep.equal(['transfer.amount'])
    expect((await ask('Marit', '10', ['LS-210', '6220'], ['LS-210', '6220'])).codes).to.deep.equal(['transfer.same'])
    expect((await ask('Ines', '10')).status).to.equal(403)
  })

  it('can be refused with a reason, and withdrawn by who asked', async () => {
    const asked = await ask('Marit', '10')
    expect((await decide('Adaeze', asked.body.id, 'refuse', '')).codes).to.deep.equal(['decide.noReason'])
    expect((await decide('Adaeze', asked.body.id, 'refuse', 'Not this year.')).status).to.equal(200)
    const other = await ask('Marit', '10')
    expect((await decide('Adaeze', other.body.id, 'withdraw')).status).to.equal(403)
    expect((await decide('Marit', other.body.id, 'withdraw')).status).to.equal(200)
    const { transfers } = await (await world.as('Marit')).do(ListTransfers)
    expect(transfers.map(one => one.state)).to.include.members(['refused', 'withdrawn', 'waiting'])
  })

  it('that two approve at once takes the money once', async () => {
    const whole = Math.floor(await left('LS-210', '6220'))
    const [first, second] = [await ask('Marit', String(whole)), await ask('Marit', String(whole))]
    const answers = await Promise.all([
      decide('Adaeze', first.body.id, 'approve'),
      decide('Adaeze', second.body.id, 'approve'),
    ])
    expect(answers.map(one => one.status).sort()).to.deep.equal([200, 422])
  })
})

describe('who sees budgets', () => {
  const world = useWorld()
  const reads = async (who: string, id: string): Promise<number> =>
    (await (await world.as(who)).call(ReadBudget, { params: { id } })).status
  const listed = async (who: string): Promise<string[]> => {
    const { rows } = await (await world.as(who)).do(Budgets.page, { query: { view: 'all' } })
    return rows.map(row => row.number)
  }

  it('are those who hold or keep them, and those who have charged them', async () => {
    const [own, other] = [await account(world, 'LS-210', '6210'), await account(world, 'ED-410', '6410')]
    expect([await reads('Marit', own), await reads('Adaeze', own), await reads('Henrik', other)]).to.deep.equal([
      200, 200, 200,
    ])
    expect([await reads('Marit', other), await reads('Ines', own), await reads('Wren', own)]).to.deep.equal([
      404, 404, 404,
    ])
    expect(
      (await listed('Marit')).every(label => /^(LS-210|EX-310) /.test(label)),
      'of her cost centres',
    ).to.equal(true)
    expect(await listed('Yuki')).to.deep.equal([])
    const ines = await world.as('Ines')
    const before = await listed('Ines')
    const line = { ...(await goodsLine(world, 'PS-1200', '1')), splits: [{ accountId: own, share: '1' }] }
    const { id, version } = await ines.do(CreateRequisition, { body: { title: 'For her', reason: '', lines: [line] } })
    expect(await reads('Ines', own), 'a draft charges nothing').to.equal(404)
    expect((await ines.do(ReadRequisition, { params: { id } })).budgets, 'but says what it would').to.have.length(1)
    await ines.do(SubmitRequisition, { params: { id }, body: { version } })
    expect(await reads('Ines', own)).to.equal(200)
    expect((await listed('Ines')).length).to.equal(before.length + 1)
    const entries = (await ines.do(ReadBudget, { params: { id: own } })).entries
    const foreign = entries.filter(entry => entry.path?.startsWith('/request/') && !entry.path.endsWith(id))
    expect(foreign, 'leads to no request that is not hers').to.deep.equal([])
    expect(entries.some(entry => entry.path === `/request/${id}`)).to.equal(true)
  })

  it('see figures beside documents only as far: those who charge or decide all, readers their own', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    const shown = async (who: string): Promise<number> =>
      (await (await world.as(who)).do(ReadOrder, { params: { id: order.id } })).budgets.length
    expect([await shown('Pilar'), await shown('Marit'), await shown('Adaeze')]).to.deep.equal([1, 1, 1])
    expect([await shown('Yuki'), await shown('Wren')]).to.deep.equal([0, 0])
  })

  it('hear of transfers only where one of the two sides is theirs', async () => {
    const { id } = await (
      await world.as('Marit')
    ).do(AskTransfer, {
      body: {
        fromId: await account(world, 'LS-210', '6220'),
        toId: await account(world, 'LS-210', '6210'),
        amount: '10',
        reason: 'Seen by few.',
      },
    })
    const seen = async (who: string): Promise<boolean> =>
      (await (await world.as(who)).do(ListTransfers)).transfers.some(one => one.id === id)
    expect([await seen('Marit'), await seen('Adaeze'), await seen('Tomas'), await seen('Ines')]).to.deep.equal([
      true,
      true,
      false,
      false,
    ])
  })
})

describe('a budget file', () => {
  const world = useWorld()
  const load = async (text: string, dryRun = false) => {
    const adaeze = await world.as('Adaeze')
    const form = new FormData()
    form.append('file', new Blob([text], { type: 'text/csv' }), 'budgets.csv')
    const sent = (await (
      await fetch(`${world.address}/api/files`, {
        method: 'POST',
        headers: { cookie: adaeze.cookie, 'x-ivory-order': '1' },
        body: form,
      })
    ).json()) as { id: string }
    return await adaeze.call(ImportBudgets, { body: { fileId: sent.id, dryRun } })
  }
  const head = 'cost_centre;account;year;project;amount;check;tolerance_percent\n'

  it('says what allotments shall be: loaded twice it changes nothing', async () => {
    const id = await account(world, 'ED-410', '6410')
    const file = `${head}ED-410;6410;${year};;20 500,00;stop;2\nOH-900;6710;${year + 1};;1 000;note;\n`
    expect((await load(file, true)).body).to.deep.include({ rows: 2, good: 2, loaded: 0, faultCount: 0 })
    expect((await load(file)).body.loaded).to.equal(2)
    const allotted = async () =>
      (
        (await world.db('budgetBalances').where({ accountId: id, kind: 'allotted' }).first('amount')) as {
          amount: bigint
        }
      ).amount
    expect(await allotted()).to.equal(2050000n)
    const entries = (await world.db('budgetEntries').select('id')).length
    expect((await load(file)).body.loaded).to.equal(2)
    expect((await world.db('budgetEntries').select('id')).length).to.equal(entries)
    expect(
      await world
        .db('budgetAccounts')
        .where({ costCentre: 'OH-900', naturalAccount: '6710', fiscalYear: year + 1 })
        .first('checkLevel'),
    ).to.deep.equal({ checkLevel: 'note' })
  })

  it('with one fault loads nothing, and names row and column', async () => {
    const answer = await load(
      `${head}ED-410;6410;${year};;1,200;;\nXX-1;6410;${year};;5;;\nED-410;6410;${year};;5;;\nED-410;6410;${year};;6;;\n`,
    )
    expect(answer.body).to.deep.include({ loaded: 0, faultCount: 3 })
    expect(answer.body.faults.map(fault => `${fault.row} ${fault.code}`)).to.have.members([
      '2 import.ambiguousNumber',
      '3 import.unknownCode',
      '5 import.twice',
    ])
  })

  it('is for finance only', async () => {
    const answer = await (
      await world.as('Marit')
    ).call(ImportBudgets, { body: { fileId: await account(world, 'ED-410', '6410'), dryRun: true } })
    expect(answer.status).to.equal(403)
  })
})

describe('the change of the fiscal year', () => {
  const world = useWorld()

  it('carries open lines to the next year, where they are received, billed and released', async () => {
    const old = await account(world, 'LS-210', '6210')
    const waits = await approved(world, [await goodsLine(world, 'PS-1200', '2')])
    const order = await ordered(world, [await goodsLine(world, 'PS-1220', '10')])
    await received(world, order, '4')
    const adaeze = await world.as('Adaeze')
    const body = { fromYear: year, costCentre: 'LS-210', carryBudget: true, carryRest: false }
    const { moves } = await adaeze.do(PreviewYearChange, { body })
    const before = await figures(world, old)
    await adaeze.do(ChangeYear, { body: { ...body, reason: 'Year end.' } })
    expect(moves.find(move => move.account.startsWith('LS-210 / 6210'))!.carried).to.equal(
      (Number(before.reserved + before.committed) / 100).toFixed(2),
    )
    expect(await figures(world, old)).to.deep.include({ reserved: 0n, committed: 0n, accrued: 0n, spent: before.spent })
    const next = (await world
      .db('budgetAccounts')
      .where({ costCentre: 'LS-210', naturalAccount: '6210', project: null, fiscalYear: year + 1 })
      .first('id')) as { id: string }
    const moved = await figures(world, next.id)
    expect([moved.reserved, moved.committed, moved.accrued]).to.deep.equal([
      before.reserved,
      before.committed,
      before.accrued,
    ])
    const paying = await world
      .db('lineSplits')
      .join('requisitionLines', 'requisitionLines.id', 'lineSplits.lineId')
      .where({ requisitionId: waits })
      .select<{ accountId: string }[]>('lineSplits.accountId')
    expect(paying).to.deep.equal([{ accountId: next.id }])
    await received(world, order, '6')
    await posted(world, (await billed(world, order)).id)
    const after = await figures(world, next.id)
    expect(after.spent - moved.spent).to.equal(119000n)
    expect(moved.committed - after.committed).to.equal(119000n)
    expect((await adaeze.call(ChangeYear, { body: { ...body, reason: 'Again.' } })).codes).to.deep.equal([
      'year.doneAlready',
    ])
    expect(
      (await adaeze.call(ChangeYear, { body: { ...body, fromYear: year + 1, reason: 'Early.' } })).codes,
    ).to.deep.equal(['year.future'])
  })

  it('at the same moment as a receipt, an invoice and a submission leaves the books right', async () => {
    const order = await ordered(world, [
      await goodsLine(world, 'BV-1240', '10', {
        splits: [{ accountId: await account(world, 'EX-310', '6210'), share: '1' }],
      }),
    ])
    await received(world, order, '6')
    const invoice = await billed(world, order, { quantity: '6' })
    const fresh = await draft(world, [
      await goodsLine(world, 'PS-1200', '1', {
        splits: [{ accountId: await account(world, 'EX-310', '6210'), share: '1' }],
      }),
    ])
    const [adaeze, leonie, yuki, joren] = [
      await world.as('Adaeze'),
      await world.as('Leonie'),
      await world.as('Yuki'),
      await world.as('Joren'),
    ]
    const sheet = await leonie.do(ReadInvoice, { params: { id: invoice.id } })
    const answers = await Promise.all([
      adaeze.call(ChangeYear, {
        body: { fromYear: year, costCentre: 'EX-310', carryBudget: true, carryRest: true, reason: 'Year end.' },
      }),
      leonie.call(PostInvoice, { params: { id: invoice.id }, body: { version: sheet.version } }),
      yuki.call(Receive, {
        params: { id: order.id },
        body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity: '4' }] },
      }),
      joren.call(SubmitRequisition, {
        params: { id: fresh.id },
        body: { version: fresh.version, checkReason: 'Now.' },
      }),
    ])
    expect(answers.slice(0, 3).map(one => one.status)).to.deep.equal([200, 200, 200])
    expect([200, 422]).to.include(answers[3]!.status)
    const old = await figures(world, await account(world, 'EX-310', '6210'))
    expect([old.committed, old.accrued]).to.deep.equal([0n, 0n])
  })
})
