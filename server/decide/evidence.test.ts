import { expect } from 'chai'
import { Decide, EvidenceCsv, EvidencePdf, ReadEvidence } from '#contract/decide/endpoints.ts'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import { SubmitRequisition } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { draft, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('evidence of decisions', () => {
  const world = useWorld()
  const period = { fromDay: addDays(today(), -400), toDay: today() }

  it('says who decided what, by which version of the rules, having seen what; the same content has the same hash', async () => {
    const decided = async (title: string, quantity: string): Promise<string> => {
      const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', quantity)], title)
      await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
      const marit = await world.as('Marit')
      const sheet = await marit.do(ReadRequisition, { params: { id } })
      await marit.do(Decide, { params: { id }, body: { version: sheet.version, decision: 'approve', reason: 'Good.' } })
      return id
    }
    await decided('Proven', '3')
    await decided('Proven', '3')
    await decided('Proven', '4')
    const { decisions } = await (
      await world.as('Wren')
    ).do(ReadEvidence, { query: { fromDay: today(), toDay: today() } })
    const own = decisions.filter(one => one.title === 'Proven')
    expect(own).to.have.length(3)
    expect(own[0]).to.deep.include({ decider: 'Marit Oland', inPlaceOf: null, outcome: 'approved', channel: 'web', reason: 'Good.', requester: 'Joren Vaskuil', ruleVersion: 1 }) // prettier-ignore
    expect(own[2]!.seen).to.match(/^[0-9a-f]{64}$/)
    expect(own[1]!.seen).to.equal(own[2]!.seen)
    expect(own[0]!.seen).to.not.equal(own[2]!.seen)
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
