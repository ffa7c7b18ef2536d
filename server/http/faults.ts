import { type Reason, stop } from '#core/reasons.ts'
import { table } from '#core/text/table.ts'

/** Database rules that people can run into, by the name of the constraint. */
const BY_CONSTRAINT: Readonly<Record<string, string>> = table({
  supplier_identifiers_strong: 'source.identifierTaken',
  supplier_bank_accounts_one: 'document.busy',
  invoices_no_duplicate: 'bill.duplicate',
  payments_never_twice: 'pay.twice',
  order_responses_waiting: 'order.responseWaiting',
  quantity_entries_reversed_once: 'receive.reversedAlready',
  supplier_bank_accounts_check: 'source.ownProof',
  payment_runs_check: 'pay.ownRun',
  attachments_document_id_file_id_key: 'file.attachedAlready',
  order_lines_one_draft: 'order.lineTaken',
  long_jobs_one_search: 'job.running',
  onboardings_one_open: 'onboarding.openAlready',
  people_email_key: 'person.mailTaken',
  consents_one_open: 'secondYes.waiting',
  consent_steps_check: 'secondYes.own',
  line_splits_account_id_fkey: 'budget.unknownAccount',
  bank_messages_by_name: 'document.busy',
  bank_messages_once: 'document.busy',
  supplier_merges_standing: 'merge.alreadyMerged',
  supplier_revisions_one: 'document.busy',
  questionnaires_one_draft: 'document.busy',
  rule_sets_one_draft: 'document.busy',
  rule_sets_number_key: 'document.busy',
  items_number_key: 'request.itemTaken',
})

/** What the database cannot take whatever it is for, by SQLSTATE (PostgreSQL, appendix A). */
const BY_STATE: Readonly<Record<string, string>> = table({
  '22003': 'request.outOfRange',
  '22008': 'request.outOfRange',
  '22021': 'request.unkeepable',
  '22P05': 'request.unkeepable',
  '54000': 'request.overlongWord',
})

/** The field whose id nothing has, where a key between tables says so: `Key (account_id)=(…) is not present in table "…"`. */
function unknownId(error: unknown): Reason | undefined {
  if (codeOf(error) !== '23503') return undefined
  const { detail } = error as { detail?: string }
  const column = /^Key \((?:\w+, )*(\w+)\)=.* is not present in table/.exec(detail ?? '')?.[1]
  if (column === undefined) return undefined
  const place = column.replace(/_([a-z0-9])/g, (_, letter: string) => letter.toUpperCase())
  return stop('request.unknownId', { place }, { place })
}

const codeOf = (error: unknown): string =>
  typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : ''

export function reasonFromDatabase(error: unknown): Reason | undefined {
  const constraint =
    typeof error === 'object' && error !== null && 'constraint' in error ? String(error.constraint) : ''
  const known = BY_CONSTRAINT[constraint]
  if (known) return stop(known)
  const code = BY_STATE[codeOf(error)]
  if (code) return stop(code, { place: '' })
  return unknownId(error) ?? (unreachable(error) ? stop('server.databaseAway') : undefined)
}

const AWAY = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', '57P01', '57P02', '57P03', '08006', '08003', '08001'])

function unreachable(error: unknown): boolean {
  if (AWAY.has(codeOf(error))) return true
  const message = error instanceof Error ? error.message : ''
  return /Connection terminated|Client has encountered a connection error|Timeout acquiring a connection|connection error and is not queryable|Unable to acquire a connection/.test(
    message,
  )
}

/** 40P01 deadlock, 40001 serialization; and a connection that went away. */
export const worthRetrying = (error: unknown): boolean =>
  codeOf(error) === '40P01' || codeOf(error) === '40001' || unreachable(error)
