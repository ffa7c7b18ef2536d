import { expect } from 'chai'
import { Decide, EvidenceCsv, EvidencePdf, ReadEvidence } from '#contract/decide/endpoints.ts'
import { AnswerExcess } from '#contract/order/endpoints.ts'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import { SubmitRequisition } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { seenText } from '#core/decide/seen.ts'
import { sha256 } from '#server/documents/history.ts'
import { account, draft, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('evidence of decisions', () => {
  const world = useWorld()
  const period = { fromDay: addDays(today(), -400), toDay: today() }

  it('says who decided what, by which version of the rules, having seen what; who saw the same has the same hash, and what was seen is kept under it', async () => {
    const splits = await Promise.all([account(world, 'LS-210', '6210'), account(world, 'AC-110', '6020')])
    const decided = async (title: string, quantity: string): Promise<string> => {
      const line = await goodsLine(world, 'PS-1200', quantity, { splits: splits.map(accountId => ({ accountId, share: '1' })) }) // prettier-ignore
      const { id, version } = await draft(world, [line], title)
      await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
      for (const who of ['Tomas', 'Marit']) {
        const person = await world.as(who)
        const sheet = await person.do(ReadRequisition, { params: { id } })
        await person.do(Decide, { params: { id }, body: { version: sheet.version, decision: 'approve', reason: 'Good.' } }) // prettier-ignore
      }
      return id
    }
    await decided('Proven', '3')
    await decided('Proven', '4')
    const { decisions } = await (
      await world.as('Wren')
    ).do(ReadEvidence, { query: { fromDay: today(), toDay: today() } })
    const own = decisions.filter(one => one.title === 'Proven')
    expect(own).to.have.length(4)
    expect(own[0]).to.deep.include({ decider: 'Marit Oland', inPlaceOf: null, outcome: 'approved', channel: 'web', reason: 'Good.', requester: 'Joren Vaskuil', ruleVersion: 1 }) // prettier-ignore
    expect(own[3]!.seen).to.match(/^[0-9a-f]{64}$/)
    expect(own[2]!.seen).to.equal(own[3]!.seen)
    expect(own[0]!.seen).to.equal(own[1]!.seen)
    expect(own[0]!.seen).to.not.equal(own[3]!.seen)
    const [kept] = await world.db('seenContents').where({ hash: own[3]!.seen! })
    expect(sha256(seenText(kept!.content))).to.equal(own[3]!.seen)
    expect(kept!.content.lines.map(line => line.quantity)).to.deep.equal(['3'])
  })

  it('finds who did more than one thing about one purchase, and where time goes', async () => {
    const wren = await world.as('Wren')
    const evidence = await wren.do(ReadEvidence, { query: period })
    expect(evidence.purchases).to.be.above(20)
    for (const one of evidence.exceptions) expect(one.duties.length).to.be.above(1)
    expect(evidence.times.map(one => one.decider)).to.include('Marit Oland')
    const totals = evidence.times.map(one => one.total)
    expect(totals).to.deep.equal([...totals].sort((a, b) => b - a))
  })

  it('tells of everything that rules can decide, to those who may see it', async () => {
    const marit = await world.as('Marit')
    const { id, version } = (await world.db('orders').where({ title: 'Spare impellers, casting went up' }).first('id', 'version'))! // prettier-ignore
    await marit.do(AnswerExcess, { params: { id: id as string }, body: { version: Number(version), answer: 'approve', reason: 'There is no other.' } }) // prettier-ignore
    const told = async (who: string) =>
      (await (await world.as(who)).do(ReadEvidence, { query: period })).decisions.filter(one => one.path === `/order/${id as string}`) // prettier-ignore
    const [own] = await told('Wren')
    expect(own).to.deep.include({ decider: 'Marit Oland', requester: 'Pilar Quenneville', amount: '700.80', outcome: 'approved', reason: 'There is no other.', rules: 'LS-210', ruleVersion: null }) // prettier-ignore
    expect(await told('Pilar')).to.have.length(1)
    const { decisions } = await (await world.as('Adaeze')).do(ReadEvidence, { query: period })
    expect(decisions.some(one => one.path.startsWith('/pay/'))).to.equal(true)
    expect((await (await world.as('Pilar')).do(ReadEvidence, { query: period })).decisions.some(one => one.path.startsWith('/pay/')), 'who may not see runs').to.equal(false) // prettier-ignore
    const times = decisions.map(one => one.at)
    expect(times).to.deep.equal([...times].sort().reverse())
  })

  it('leaves as CSV and PDF, for those who may see all requests', async () => {
    const wren = await world.as('Wren')
    const csv = await wren.text(EvidenceCsv, { query: period })
    const [head, ...rows] = csv.trim().split('\r\n')
    expect(head).to.include('seen_sha256')
    expect(rows.length).to.be.above(20)
    const pdf = await wren.bytes(EvidencePdf, {}, period)
    expect(pdf.subarray(0, 5).toString()).to.equal('%PDF-')
    expect((await (await world.as('Ines')).call(ReadEvidence, { query: period })).status).to.equal(403)
    expect((await wren.call(ReadEvidence, { query: { fromDay: today(), toDay: addDays(today(), -1) } })).codes).to.deep.equal(['evidence.period']) // prettier-ignore
  })
})
