import { randomUUID } from 'node:crypto'
import type { Read, Write } from '#server/call.ts'

declare module 'knex/types/tables.js' {
  interface Tables {
    keptReasons: { id: string; personId: string; text: string; usedAt: string }
  }
}
/** Reasons that one person keeps, at most; the one used longest ago goes first. */
const MOST = 40

export async function readReasons(call: Read): Promise<{ reasons: string[] }> {
  const rows = await call.trx('keptReasons').where({ personId: call.actor.id }).orderBy('usedAt', 'desc').select('text')
  return { reasons: rows.map(row => row.text) }
}

export async function keepReason(call: Write, reason: string): Promise<Record<string, never>> {
  const personId = call.actor.id
  await call
    .trx('keptReasons')
    .insert({ id: randomUUID(), personId, text: reason.trim(), usedAt: call.now })
    .onConflict(['personId', 'text'])
    .merge(['usedAt'])
  const old = call.trx('keptReasons').where({ personId }).orderBy('usedAt', 'desc').offset(MOST).select('id')
  await call.trx('keptReasons').whereIn('id', old).delete()
  return {}
}

export async function dropReason(call: Write, reason: string): Promise<Record<string, never>> {
  await call.trx('keptReasons').where({ personId: call.actor.id, text: reason.trim() }).delete()
  return {}
}
