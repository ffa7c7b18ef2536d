import type { Knex } from 'knex'
import type { House, Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'

/** What is set up for the house as a whole has one history. */
export const HOUSE = '00000000-0000-4000-8000-000000000002'

/** Our own company as documents show it. */
export interface PartyDocument {
  readonly name: string
  readonly street: string
  readonly postalCode: string
  readonly city: string
  readonly country: string
  readonly vat: string
}

/** As whom mails come; '' where nothing is said. */
export interface MailSender {
  readonly name: string
  readonly replyTo: string
}

/** What is set up, by key. A stage adds its own. */
export interface SettingValues {
  house: House
  company: PartyDocument
  /** The house's sign, as a `data:` address. */
  logo: string | null
  mailSender: MailSender
  /** Set by the demo's loader alone: everything here is made up. */
  demo: boolean
  signIn: SignInSettings
}

/** How people come in and stay. */
export interface SignInSettings {
  /** Minutes without a request after which a session ends. */
  readonly idleMinutes: number
  /** Roles that must have a second factor. */
  readonly secondFactorRoles: readonly string[]
}
export const SIGN_IN: SignInSettings = { idleMinutes: 240, secondFactorRoles: [] }
declare module 'knex/types/tables.js' {
  interface Tables {
    settings: { key: string; value: unknown }
  }
}

/** What is set up under a key, or nothing yet. */
export async function readSetting<K extends keyof SettingValues>(
  call: Pick<Read, 'trx'>,
  key: K,
): Promise<SettingValues[K] | undefined> {
  const row = await call.trx('settings').where({ key }).first('value')
  return row?.value as SettingValues[K] | undefined
}

/** Several at once, in one query. */
export async function readSettings<K extends keyof SettingValues>(
  call: Pick<Read, 'trx'>,
  keys: readonly K[],
): Promise<Partial<Pick<SettingValues, K>>> {
  const rows = await call.trx('settings').whereIn('key', [...keys])
  return Object.fromEntries(rows.map(row => [row.key, row.value])) as Partial<Pick<SettingValues, K>>
}

export async function writeSetting<K extends keyof SettingValues>(
  call: Write,
  key: K,
  value: SettingValues[K],
): Promise<void> {
  await call
    .trx('settings')
    .insert({ key, value: json(value) })
    .onConflict('key')
    .merge()
}

/** Only a house that the demo's loader made is a demo; what is set up for real people never is, however it is started. */
export const isDemo = async (call: Pick<Read, 'trx'>): Promise<boolean> => (await readSetting(call, 'demo')) === true

/** A house that nobody has set up yet. */
export const UNNAMED: House = { name: '', country: '', vat: '', zone: 'UTC', base: 'EUR', languages: ['en'] }

export const readHouse = async (db: Knex): Promise<House> => (await readSetting({ trx: db }, 'house')) ?? UNNAMED
