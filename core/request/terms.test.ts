import { expect } from 'chai'
import { allowedRoutes, commonRoutes, ROUTES, type RouteRule } from '#core/request/routes.ts'
import { ANY_TERM, checkTerm, effectiveTerm, type EffectiveTerm, wantsFreight } from '#core/request/terms.ts'

const term = (incoterm: string, place = 'Saltmere'): EffectiveTerm => ({ incoterm, place, from: 'line' })
const codes = (one: EffectiveTerm, settings = ANY_TERM): string[] =>
  checkTerm(one, settings, 1).map(reason => `${reason.level} ${reason.code}`)

describe('an Incoterm', () => {
  it('comes from the line, the agreement or offer, or the supplier, in this order', () => {
    const none = { incoterm: '', place: '' }
    const offer = { incoterm: 'DAP', place: 'Saltmere', agreement: 'FA-1' }
    const supplier = { incoterm: 'EXW', place: 'Oslo' }
    expect(effectiveTerm({ incoterm: 'FCA', place: 'Bergen' }, offer, supplier).from).to.equal('line')
    expect(effectiveTerm(none, offer, supplier)).to.deep.equal({
      incoterm: 'DAP',
      place: 'Saltmere',
      from: 'agreement',
    })
    expect(effectiveTerm(none, { ...offer, agreement: '' }, supplier).from).to.equal('offer')
    expect(effectiveTerm(none, { ...none, agreement: 'FA-1' }, supplier)).to.deep.equal({
      ...supplier,
      from: 'supplier',
    })
    expect(effectiveTerm(none, null, null).from).to.equal('none')
  })

  it('is one of 2020, has its place, and is allowed here', () => {
    expect(codes(term('DAP'))).to.deep.equal([])
    expect(codes(term('DAT'))).to.deep.equal(['stop term.unknown'])
    expect(codes(term('DAP', ' '))).to.deep.equal(['stop term.noPlace'])
    const settings = { allowed: ['DAP', 'DDP', 'FCA'], preferred: ['DAP'], because: { EXW: 'We cannot load there.' } }
    expect(codes(term('EXW'), settings)).to.deep.equal(['stop term.notAllowed'])
    expect(checkTerm(term('EXW'), settings, 1)[0]!.details.because).to.equal('We cannot load there.')
    expect(codes(term('FCA'), settings)).to.deep.equal(['note term.notPreferred'])
    expect(codes({ ...term('EXW'), from: 'supplier' }, settings)).to.deep.equal(['check term.notAllowed'])
    expect(codes({ ...term(''), from: 'none' }, settings)).to.deep.equal([])
  })

  it('wants freight only where carriage is ours, the goods move, and nobody said how', () => {
    const line = { moves: true, freight: '' as const }
    for (const one of ['EXW', 'FCA', 'FAS', 'FOB']) expect(wantsFreight(term(one), line), one).to.equal(true)
    for (const one of ['CPT', 'CIP', 'DAP', 'DPU', 'DDP', 'CFR', 'CIF', ''])
      expect(wantsFreight(term(one), line), one).to.equal(false)
    expect(wantsFreight(term('EXW'), { ...line, moves: false })).to.equal(false)
    for (const freight of ['own', 'included', 'notWanted'] as const)
      expect(wantsFreight(term('EXW'), { ...line, freight })).to.equal(false)
  })
})

describe('routes', () => {
  const rule: RouteRule = {
    name: 'Quotes from 5 000',
    categories: ['Pumps'],
    from: 500_000n,
    upTo: null,
    allowed: ['askForQuotes', 'setUpAgreement'],
  }
  const facts = { position: 1, category: 'Pumps', amount: 400_000n, agreement: '', wanted: ROUTES }

  it('are what the requester allows, less call-offs without an agreement', () => {
    expect(allowedRoutes({ ...facts, wanted: ['orderNow'] }, [rule]).routes).to.deep.equal(['orderNow'])
    expect(allowedRoutes(facts, []).routes).to.deep.equal(['orderNow', 'askForQuotes', 'setUpAgreement'])
    expect(allowedRoutes({ ...facts, agreement: 'FA-1' }, []).routes).to.deep.equal([...ROUTES])
  })

  it('are narrowed by value and category, each with the rule as its reason', () => {
    const { routes, reasons } = allowedRoutes({ ...facts, amount: 500_000n, wanted: ['orderNow', 'askForQuotes'] }, [
      rule,
    ])
    expect(routes).to.deep.equal(['askForQuotes'])
    expect(reasons.map(reason => [reason.level, reason.code, reason.details.rule])).to.deep.equal([
      ['note', 'route.ruled', 'Quotes from 5 000'],
    ])
    expect(allowedRoutes({ ...facts, amount: 500_000n, category: 'Feed' }, [rule]).routes).to.include('orderNow')
    expect(allowedRoutes({ ...facts, amount: 900_000n }, [{ ...rule, upTo: 900_000n }]).routes).to.include('orderNow')
  })

  it('that leave nothing stop, and name what would be open', () => {
    const { routes, reasons } = allowedRoutes({ ...facts, amount: 500_000n, wanted: ['orderNow'] }, [rule])
    expect(routes).to.deep.equal([])
    expect(reasons.at(-1)).to.deep.include({ level: 'stop', code: 'route.none' })
    expect(reasons.at(-1)!.details.open).to.equal('askForQuotes, setUpAgreement')
  })

  it('of lines together are those that all of them allow', () => {
    expect(commonRoutes([['orderNow', 'callOff'], ['callOff', 'orderNow'], ['callOff']])).to.deep.equal(['callOff'])
    expect(commonRoutes([['orderNow'], ['callOff']])).to.deep.equal([])
    expect(commonRoutes([])).to.deep.equal([])
  })
})
