import type { Knex } from 'knex'
import type { Permission } from '#contract/permissions.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

/** Who acts: a person with what their roles allow, and for which cost centres. */
export interface Actor {
  readonly id: string
  readonly name: string
  readonly email: string
  readonly realm: 'team' | 'supplier'
  readonly supplierId: string | null
  readonly permissions: ReadonlySet<Permission>
  readonly roles: readonly string[]
  /** Cost centres that roles are limited to or that the person holds. */
  readonly costCentres: readonly string[]
  readonly locale: string
  readonly timeZone: string
}

/** What a change of a document answers: its id and new version. */
export interface Done {
  id: string
  version: number
}

export type Channel = 'web' | 'mail' | 'import' | 'supplierPages' | 'job' | 'demo'

/** Everything a use case needs from outside: the open transaction, the actor and the clock. */
export interface Call {
  readonly trx: Knex
  readonly actor: Actor
  /** ISO instant. */
  readonly now: string
  /** The day it is where the team works. */
  readonly today: string
  readonly channel: Channel
  readonly base: string
}

export const may = (call: Call, permission: Permission): boolean => call.actor.permissions.has(permission)

/** @throws RuleBroken right.missing */
export function need(call: Call, permission: Permission): void {
  if (!may(call, permission)) throw new RuleBroken(stop('right.missing', { permission }))
}

const TEAM_ZONE = 'Europe/Amsterdam'

/** The team's calendar day at an instant. */
export const dayOf = (now: string): string => new Intl.DateTimeFormat('sv-SE', { timeZone: TEAM_ZONE }).format(new Date(now))

/** Guards a stale save: says who changed the document meanwhile and what. */
export async function guardVersion(call: Call, document: { id: string; version: number }, version: number): Promise<void> {
  if (document.version === version) return
  const last = (await call
    .trx('history')
    .join('people', 'people.id', 'history.actorId')
    .where({ documentId: document.id })
    .orderBy('sequence', 'desc')
    .first('people.name', 'history.at', 'history.action')) as { name: string; at: string; action: string } | undefined
  throw new RuleBroken(stop('document.changed', { by: last?.name ?? '', at: last?.at ?? '', action: last?.action ?? '', version: document.version }))
}

export function found<T>(row: T | undefined, kind: string): T {
  if (row === undefined) throw new RuleBroken(stop('document.notFound', { kind }))
  return row
}
