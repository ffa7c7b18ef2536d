import type { Knex } from 'knex'
import type { Permission } from '#contract/permissions.ts'
import type { ActorFacts } from '#core/acts/actor.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

/** Who acts: a person with what their roles allow, and for which cost centres. */
export interface Actor extends ActorFacts {
  readonly email: string
  readonly realm: 'team' | 'supplier'
  readonly rights: ReadonlySet<Permission>
  readonly locale: string
  readonly timeZone: string
}

/** Who we are and what our days and money are counted in, from Setup. */
export interface House {
  readonly name: string
  readonly country: string
  readonly vat: string
  readonly zone: string
  readonly base: string
  readonly languages: readonly string[]
  /** The month in which the fiscal year begins: 1 is January. */
  readonly fiscalYearFrom?: number
}

export type Channel = 'web' | 'mail' | 'import' | 'supplierPages' | 'job' | 'demo'

/**
 * Everything a reading needs from outside: one snapshot of the database, in which nothing can be written or locked, who reads, and the
 * clock. Statements go one after the other, because they share one connection.
 */
export interface Read {
  readonly trx: Knex
  readonly actor: Actor
  readonly house: House
  /** ISO instant. */
  readonly now: string
  /** The day it is where the house is. */
  readonly today: string
  readonly channel: Channel
  /** The base currency. */
  readonly base: string
}

declare const writes: unique symbol
/** The same in a transaction that may write. What takes a Read takes this too, never the other way round. */
export interface Write extends Read {
  readonly [writes]: true
}

/** What a change of a document answers: its id and new version. */
export interface Done {
  id: string
  version: number
}

/** The part of a call that its own transaction does not give. */
export type Setting = Omit<Read, 'trx'>

export const reading = (trx: Knex, setting: Setting): Read => ({ ...setting, trx })
export const writing = (trx: Knex, setting: Setting): Write => ({ ...setting, trx }) as Read as Write

export const may = (call: Read, permission: Permission): boolean => call.actor.rights.has(permission)

/** @throws RuleBroken right.missing */
export function need(call: Read, permission: Permission): void {
  if (!may(call, permission)) throw new RuleBroken(stop('right.missing', { permission }))
}

/** The calendar day at an instant, in a time zone. dayOf('2026-11-20T23:30:00Z', 'Europe/Amsterdam') //=> '2026-11-21' */
export function dayOf(now: string, zone: string): string {
  const known = days.get(zone) ?? new Intl.DateTimeFormat('sv-SE', { timeZone: zone })
  days.set(zone, known)
  return known.format(new Date(now))
}
/** Formats by zone: making one costs more than everything that is done with it. */
const days = new Map<string, Intl.DateTimeFormat>()

/** A row that has to be there. @throws RuleBroken document.notFound */
export function found<T>(row: T, kind: string): NonNullable<T> {
  if (row === undefined || row === null) throw new RuleBroken(stop('document.notFound', { kind }))
  return row
}

/** A refusal of which something has to be kept: what was written until now is committed before it is answered. */
export class RefusedAndKept extends RuleBroken {}
