/**
 * Text of a value with sorted keys, so that the same facts always hash the same, whatever order a database returns.
 *
 * canonicalJson({ b: 1, a: [true, null] }) //=> '{"a":[true,null],"b":1}'
 */
export function canonicalJson(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`
  if (value !== null && typeof value === 'object') {
    const entries = Object.entries(value)
      .filter(([, part]) => part !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
    return `{${entries.map(([key, part]) => `${JSON.stringify(key)}:${canonicalJson(part)}`).join(',')}}`
  }
  return typeof value === 'bigint' ? `"${value}"` : (JSON.stringify(value) ?? 'null')
}

/** One thing that happened to a document; each record carries the hash of the one before. */
export interface HistoryRecord {
  readonly documentId: string
  readonly sequence: number
  readonly at: string
  readonly actorId: string
  readonly onBehalfOfId: string | null
  readonly channel: string
  readonly action: string
  readonly changes: unknown
  readonly reason: string | null
  readonly previousHash: string
}

/**
 * A record as it is stored: what JSON cannot keep is left out, and halves of surrogate pairs and NULs, which the database cannot keep, become
 * the replacement character. The hash is taken over this, so that what is read back hashes the same.
 */
export function storedFacts(record: HistoryRecord): HistoryRecord {
  return JSON.parse(JSON.stringify(record), (_name, part: unknown) =>
    typeof part === 'string' ? part.replace(/[\0\p{Surrogate}]/gu, '\ufffd') : part,
  ) as HistoryRecord
}

export const historyText = (record: HistoryRecord): string => canonicalJson(record)

export interface ChainFault {
  readonly sequence: number
  readonly fault: 'gap' | 'broken link' | 'altered'
}

/** Checks one document's chain from its first record: no gap, every link and every hash right. */
export function checkChain(
  records: readonly (HistoryRecord & { hash: string })[],
  hash: (text: string) => string,
): ChainFault[] {
  const faults: ChainFault[] = []
  let previous = ''
  records.forEach((record, index) => {
    if (record.sequence !== index + 1) faults.push({ sequence: record.sequence, fault: 'gap' })
    if (record.previousHash !== previous) faults.push({ sequence: record.sequence, fault: 'broken link' })
    const { hash: kept, ...facts } = record
    if (hash(historyText(facts)) !== kept) faults.push({ sequence: record.sequence, fault: 'altered' })
    previous = record.hash
  })
  return faults
}
