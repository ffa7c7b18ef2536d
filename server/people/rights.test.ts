import { expect } from 'chai'
import { ENDPOINTS } from '#contract/api/endpoints.ts'
import type { Endpoint } from '#contract/endpoint.ts'
import { PERMISSIONS, ROLES } from '#contract/permissions.ts'
import { allRoutes } from '#server/app/routes.ts'
import { Client, useWorld } from '#test-helpers/world.ts'

const NOWHERE = '11111111-1111-4111-8111-111111111111'

describe('the table of endpoints', () => {
  it('names every endpoint, and its address, once', () => {
    expect(new Set(ENDPOINTS.map(endpoint => endpoint.name)).size).to.equal(ENDPOINTS.length)
    expect(new Set(ENDPOINTS.map(endpoint => `${endpoint.method} ${endpoint.path}`)).size).to.equal(ENDPOINTS.length)
  })

  it('has a route for every endpoint, and none beside', () => {
    const routes = allRoutes({
      single: null,
      readMails: () => Promise.resolve([]),
      answerMail: () => Promise.resolve(true),
    }).map(route => route.endpoint.name)
    expect(routes.sort()).to.deep.equal(ENDPOINTS.map(endpoint => endpoint.name).sort())
  })

  it('gives every role only permissions that exist, and every permission to some role', () => {
    const given = new Set(Object.values(ROLES).flat())
    for (const permission of given) expect(PERMISSIONS).to.include(permission)
    for (const permission of PERMISSIONS) expect([...given]).to.include(permission)
  })
})

describe('rights', () => {
  const world = useWorld()
  const people: [string, keyof typeof ROLES | undefined][] = [
    ['Ines', 'requester'],
    ['Marit', 'budgetHolder'],
    ['Pilar', 'buyer'],
    ['Rasmus', 'sourcingLead'],
    ['Yuki', 'receiver'],
    ['Leonie', 'invoiceClerk'],
    ['Casimir', 'treasurer'],
    ['Adaeze', 'financeController'],
    ['Henrik', 'director'],
    ['Wren', 'steward'],
    ['at Nordhavn Pumpeverk', 'supplierAdministrator'],
  ]

  const probe = async (client: Client, endpoint: Endpoint): Promise<{ status: number; codes: readonly string[] }> => {
    const params = Object.fromEntries<string>(
      [...endpoint.path.matchAll(/:(\w+)/g)].map(([, name = '']) => [
        name,
        name === 'format' ? 'csv' : name === 'revision' ? '0' : NOWHERE,
      ]),
    )
    const answer = await client.call(endpoint, {
      params: params as never,
      body: { probe: true } as never,
      query: (endpoint.name === 'find' || endpoint.name === 'supplier.similar' ? { q: 'xx', name: 'xx' } : {}) as never,
    })
    return { status: answer.status, codes: answer.codes }
  }

  it('nobody who is not signed in gets past the door', async () => {
    for (const endpoint of ENDPOINTS.filter(one => one.permission !== 'anyone' && one.answers === 'json')) {
      const answer = await probe(new Client(world.address, ''), endpoint)
      expect(answer.status, endpoint.name).to.equal(401)
    }
  })

  for (const [who, role] of people)
    it(`${who} may do what the role ${role} allows, and nothing else`, async () => {
      const client = await world.as(who)
      const extra = role === 'director' ? ROLES.requester : []
      const allowed = new Set<string>([...ROLES[role!], ...extra])
      for (const endpoint of ENDPOINTS.filter(
        one =>
          one.permission !== 'anyone' &&
          one.answers === 'json' &&
          // these would take long, or end the very session that asks
          !['audit.run', 'account.endOthers'].includes(one.name),
      )) {
        const answer = await probe(client, endpoint)
        const may =
          endpoint.permission === 'account' ||
          (endpoint.permission === 'signedIn' ? role !== 'supplierAdministrator' : allowed.has(endpoint.permission))
        if (may) expect(answer.codes, `${who} ${endpoint.name}`).to.not.include('right.missing')
        else expect([answer.status, ...answer.codes], `${who} ${endpoint.name}`).to.deep.equal([403, 'right.missing'])
      }
    })

  it('no answer is our fault, whatever is sent', async () => {
    const wren = await world.as('Wren')
    for (const endpoint of ENDPOINTS.filter(one => one.answers === 'json'))
      expect((await probe(wren, endpoint)).status, endpoint.name).to.be.below(500)
  })
})
