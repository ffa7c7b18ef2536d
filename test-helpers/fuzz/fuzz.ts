import { type Dice, dice } from '#test-helpers/fuzz/dice.ts'
import { fitting, nasty, NASTY_TEXT, remember, type Schema, type Seen, spoilt } from '#test-helpers/fuzz/values.ts'

/** One act of the OpenAPI document. */
interface Operation {
  readonly id: string
  readonly method: string
  readonly path: string
  readonly parameters: readonly { name: string; in: 'path' | 'query'; required: boolean; schema: Schema }[]
  readonly body: Schema | undefined
  readonly upload: boolean
  readonly permission: string
}

interface Document {
  readonly paths: Readonly<
    Record<
      string,
      Readonly<
        Record<
          string,
          {
            operationId: string
            'x-permission': string
            parameters: Operation['parameters']
            requestBody?: { content: Record<string, { schema: Schema }> }
          }
        >
      >
    >
  >
}

export interface Fault {
  readonly what: string
  readonly status: number
  readonly answer: string
}
export interface Outcome {
  readonly requests: number
  /** How often each status was answered. */
  readonly statuses: Readonly<Record<string, number>>
  /** Acts that were tried, of all that there are. */
  readonly tried: number
  readonly operations: number
  readonly faults: readonly Fault[]
}
/** Roles of the demo, by somebody who has them. */
export const FUZZ_ROLES = {
  requester: 'Ines',
  budgetHolder: 'Marit',
  buyer: 'Pilar',
  receiver: 'Yuki',
  invoiceClerk: 'Leonie',
  treasurer: 'Casimir',
  financeController: 'Adaeze',
  steward: 'Wren',
  supplier: 'at Nordhavn Pumpeverk',
} as const

export interface Fuzzing {
  readonly address: string
  readonly seed: number
  /** Sessions by role; a role whose session ended is signed in again. */
  readonly roles: Readonly<Record<string, () => Promise<string>>>
  readonly goOn: () => boolean
}

/** The acts that the program says it has, from its own OpenAPI document. */
async function operations(address: string): Promise<Operation[]> {
  const document = (await (await fetch(`${address}/api/openapi.json`)).json()) as Document
  return Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, one]) => ({
      id: one.operationId,
      method,
      path,
      parameters: one.parameters,
      body: one.requestBody?.content['application/json']?.schema,
      permission: one['x-permission'],
      upload: one.requestBody?.content['multipart/form-data'] !== undefined,
    })),
  )
}

/**
 * Sends every act of the OpenAPI document what it asks for and what it does not, as several people; the same seed sends the same. What is
 * answered with our own fault, with nothing, or with what is no answer of ours, is a fault.
 */
export async function fuzz({ address, seed, roles, goOn }: Fuzzing): Promise<Outcome> {
  const all = await operations(address)
  const chance = dice(seed)
  const seen: Seen = new Map()
  const cookies = new Map<string, string>()
  const statuses: Record<string, number> = {}
  const faults: Fault[] = []
  const tried = new Set<string>()
  let requests = 0
  const names = Object.keys(roles)
  const able = new Map<string, Set<string>>()
  const asRole = async (role: string): Promise<string> => {
    const known = cookies.get(role)
    if (known !== undefined) return known
    // somebody whose account was closed on the way is a stranger from then on
    const cookie = await roles[role]!().catch(() => '')
    cookies.set(role, cookie)
    able.set(role, await permissionsOf(address, cookie))
    return cookie
  }
  const send = async (operation: Operation, role: string): Promise<void> => {
    const request = requestFor(operation, chance, seen, await asRole(role))
    requests += 1
    tried.add(operation.id)
    const answer = await fetch(`${address}${request.path}`, { ...request.init, signal: AbortSignal.timeout(60_000) })
      .then(async response => ({ status: response.status, text: await response.text() }))
      .catch((error: unknown) => ({ status: 0, text: String((error as { cause?: unknown }).cause ?? error) }))
    statuses[answer.status] = (statuses[answer.status] ?? 0) + 1
    const what = `${role} ${operation.id}: ${operation.method} ${request.path.slice(0, 300)} ${String(request.init.body ?? '').slice(0, 600)}`
    if (answer.status === 401 || operation.id === 'session.signOut') cookies.delete(role)
    if (answer.status === 200 && answer.text.startsWith('{'))
      remember(JSON.parse(answer.text), seen, operation.path.split('/')[2] ?? '')
    if (answer.status === 0 || answer.status >= 500 || (answer.status >= 400 && !isRefusal(answer.text, answer.status)))
      faults.push({ what, status: answer.status, answer: answer.text.slice(0, 300) })
  }
  // what can be read first: it shows the ids that the rest is tried on
  for (const operation of all.filter(one => one.method === 'get' && !one.path.includes('{')))
    for (const role of names) if (goOn()) await send(operation, role)
  /** Mostly somebody who may, so that what is behind the door is tried too. */
  const roleFor = (operation: Operation): string => {
    const those = names.filter(name => able.get(name)?.has(operation.permission))
    return those.length > 0 && chance.below(6) > 0 ? chance.of(those) : chance.of(names)
  }
  const next = (): Promise<void> => {
    const operation = chance.of(all)
    return send(operation, roleFor(operation))
  }
  // every act once, however slow the machine is; then whatever chance says
  for (const operation of all) await send(operation, roleFor(operation))
  while (goOn()) await Promise.all([next(), next(), next(), next()])
  return { requests, statuses, tried: tried.size, operations: all.length, faults }
}

/** What a person may do, as their session says it. */
async function permissionsOf(address: string, cookie: string): Promise<Set<string>> {
  const answer = await fetch(`${address}/api/session`, { headers: { cookie } })
  const { person } = (await answer.json()) as { person: { realm: string; permissions: string[] } | null }
  return new Set([...(person?.permissions ?? []), ...(person?.realm === 'team' ? ['signedIn'] : []), 'anyone'])
}

/** Reasons, or the head of a request that Node itself finds too long (RFC 6585, 431). */
const isRefusal = (text: string, status: number): boolean => {
  if (status === 431) return true
  try {
    return Array.isArray((JSON.parse(text) as { reasons?: unknown }).reasons)
  } catch {
    return false
  }
}

function requestFor(
  operation: Operation,
  chance: Dice,
  seen: Seen,
  cookie: string,
): { path: string; init: RequestInit } {
  const wild = chance.below(5) === 0
  const segment = operation.path.split('/')[2] ?? ''
  const values = operation.parameters.map(one => ({
    ...one,
    value:
      wild && chance.below(2) === 0
        ? dirtied(String(nasty(chance)))
        : one.name === 'id' && seen.has(`path:${segment}`)
          ? chance.of(seen.get(`path:${segment}`)!)
          : String(fitting(one.schema, chance, seen, one.name)),
  }))
  const path = operation.path.replace(/\{(\w+)\}/g, (_, name: string) =>
    encodeURIComponent(values.find(one => one.in === 'path' && one.name === name)?.value ?? ''),
  )
  const query = values.filter(one => one.in === 'query' && (one.required || chance.below(2) === 0))
  const search = new URLSearchParams(query.map(one => [one.name, one.value])).toString()
  const crooked = chance.below(60) === 0 ? chance.of(['%ff', '%', '%2e%2e%2f', '%00']) : ''
  return {
    path: `${path}${crooked}${search ? `?${search}` : ''}`,
    init: { method: operation.method.toUpperCase(), ...contentFor(operation, chance, seen, cookie) },
  }
}

/** What a path may carry: encodeURIComponent takes no half letter. */
const dirtied = (text: string): string => text.replace(/[\ud800-\udfff]/g, '') || '.'

function contentFor(operation: Operation, chance: Dice, seen: Seen, cookie: string): RequestInit {
  const headers: Record<string, string> = { cookie, 'x-ivory-order': '1', 'content-type': 'application/json' }
  if (chance.below(3) === 0) headers['idempotency-key'] = chance.of(['a', 'b', 'x'.repeat(300), '1 2', '{}'])
  if (chance.below(40) === 0) headers.origin = chance.of(['null', 'x', 'http://[', 'http://127.0.0.1:1', 'file://'])
  if (chance.below(60) === 0) headers['content-encoding'] = chance.of(['gzip', 'br', 'zip', 'identity, gzip'])
  if (chance.below(60) === 0) headers['content-type'] = chance.of(['text/plain', 'application/json; charset=x', 'a'])
  if (operation.method === 'get') return { headers }
  if (operation.upload && chance.below(4) > 0) {
    headers['content-type'] = chance.of(['multipart/form-data; boundary=b', 'multipart/form-data', 'multipart/mixed'])
    return { headers, body: multipart(chance) }
  }
  const body = fitting(operation.body ?? { type: 'object' }, chance, seen)
  const sent = JSON.stringify(chance.below(2) === 0 ? spoilt(body, chance) : body)
  return { headers, body: chance.below(40) === 0 ? sent.slice(0, chance.below(sent.length + 1)) : sent }
}

/** Parts of an upload: whole, cut off, with odd names and with what looks like a workbook, a picture or an archive. */
function multipart(chance: Dice): string {
  const name = chance.of(NASTY_TEXT).replace(/[\r\n"\ud800-\udfff]/g, '')
  const content = chance.of(['a,b\n1,2', 'PK\u0003\u0004', '%PDF-1.7', '<a>', '', '\u0089PNG\r\n'])
  const whole = `--b\r\ncontent-disposition: form-data; name="file"; filename="${name}"\r\n\r\n${content}\r\n--b--\r\n`
  return chance.below(3) > 0 ? whole : whole.slice(0, chance.below(whole.length))
}
