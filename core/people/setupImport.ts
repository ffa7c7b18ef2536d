import { type Reason, stop } from '#core/reasons.ts'
import type { GivenRole } from '#core/people/roles.ts'

/** What a house brings along from before, row by row. Places of faults are `rows.<number>.<column>`. */
export const PEOPLE_COLUMNS = ['name', 'email', 'roles', 'manager'] as const
export const CENTRE_COLUMNS = ['code', 'name', 'holder'] as const
export const ACCOUNT_COLUMNS = ['code', 'name'] as const

type Row = Readonly<Record<string, string>>
interface Read<T> {
  readonly value?: T
  readonly reasons: Reason[]
}

export interface ImportedPerson {
  readonly name: string
  readonly email: string
  readonly roles: readonly GivenRole[]
  /** Mail address of who decides in their place, empty where nobody does. */
  readonly manager: string
}
export interface ImportedCode {
  readonly code: string
  readonly name: string
  /** Mail address of who holds it, where the file has such a column. */
  readonly holder: string
}

const MAIL = /^[^\s@]+@[^\s@]+\.[^\s@]+$/
/** A code of a cost centre, account or project, as budgets and rules name it. isCode('AC-110') //=> true */
export const isCode = (text: string): boolean => /^[A-Z0-9][A-Z0-9._-]{0,19}$/.test(text)
const text = (row: Row, column: string): string => (row[column] ?? '').trim()

const faults = (row: Row, number: number) => {
  const reasons: Reason[] = []
  const fault = (code: string, column: string): void =>
    void reasons.push(
      stop(code, { column, value: text(row, column).slice(0, 40) }, { place: `rows.${number}.${column}` }),
    )
  return { reasons, fault }
}

/**
 * One person: a name, an address, roles divided by `|`, each for all or for one cost centre after `@`.
 *
 * readPersonRow({ name: 'Ines', email: 'Ines@a.example', roles: 'budgetHolder@AC-110|requester' }, 2, roles, centres)
 *   //=> { value: { …, email: 'ines@a.example', roles: [{ role: 'budgetHolder', costCentre: 'AC-110' }, …] }, reasons: [] }
 */
export function readPersonRow(
  row: Row,
  number: number,
  roles: ReadonlySet<string>,
  centres: ReadonlySet<string>,
): Read<ImportedPerson> {
  const { reasons, fault } = faults(row, number)
  const email = text(row, 'email').toLowerCase()
  const manager = text(row, 'manager').toLowerCase()
  if (text(row, 'name') === '') fault('import.missing', 'name')
  if (!MAIL.test(email)) fault('import.email', 'email')
  if (manager !== '' && !MAIL.test(manager)) fault('import.email', 'manager')
  const given = text(row, 'roles')
    .split('|')
    .map(one => one.trim())
    .filter(Boolean)
    .map((one): GivenRole => {
      const [role = '', centre = ''] = one.split('@')
      return { role, costCentre: centre === '' ? null : centre.toUpperCase() }
    })
  if (given.some(one => !roles.has(one.role) || (one.costCentre !== null && !centres.has(one.costCentre))))
    fault('import.unknownCode', 'roles')
  if (reasons.length > 0) return { reasons }
  return {
    value: {
      name: text(row, 'name'),
      email,
      roles: given.length > 0 ? given : [{ role: 'requester', costCentre: null }],
      manager,
    },
    reasons,
  }
}

/** One cost centre or account: a code as budgets name it, a name, and for cost centres who holds it. */
export function readCodeRow(row: Row, number: number): Read<ImportedCode> {
  const { reasons, fault } = faults(row, number)
  const code = text(row, 'code').toUpperCase()
  const holder = text(row, 'holder').toLowerCase()
  if (!isCode(code)) fault(code === '' ? 'import.missing' : 'import.code', 'code')
  if (text(row, 'name') === '') fault('import.missing', 'name')
  if (holder !== '' && !MAIL.test(holder)) fault('import.email', 'holder')
  return reasons.length > 0 ? { reasons } : { value: { code, name: text(row, 'name'), holder }, reasons }
}
