import { Decimal } from '#core/money/decimal.ts'
import { readScan, type Scan } from '#core/receive/scan.ts'
import { type CountEntry, type Counting, type DeliveryLine, freshEntry } from '#web/receive/counting.ts'
import { words } from '#web/shared/words.ts'

/** The lines that a scan means: by their numbers, else by words in them. */
function linesMeant(scan: Scan, lines: readonly DeliveryLine[]): DeliveryLine[] {
  const wanted = scan.gtin ?? scan.text
  const exact = lines.filter(line => line.codes.includes(wanted))
  if (exact.length > 0 || scan.gtin) return exact
  return lines.filter(line => line.description.toLowerCase().includes(scan.text))
}

/** Counts one more of what was scanned, of the batch on the label and with its serial number, and says what it did. */
export function scanned(
  text: string,
  lines: readonly DeliveryLine[],
  counting: Counting,
  today: string,
): { line: DeliveryLine | null; says: string } {
  const scan = readScan(text, today)
  if (scan.reasons.length > 0) return { line: null, says: scan.reasons.map(reason => words(reason)).join(' ') }
  const found = linesMeant(scan, lines)
  if (found.length !== 1)
    return {
      line: null,
      says:
        found.length === 0 ? 'Nothing here has that number.' : `That means ${found.length} lines: count them by hand.`,
    }
  const line = found[0]!
  const entries = [...counting.entriesOf(line)]
  const same = entries.findIndex(
    one => one.batch === (scan.batch ?? '') && (one.bestBefore ?? '') === (scan.bestBefore ?? ''),
  )
  const before = entries[same] ?? freshEntry(line, '0')
  const next: CountEntry = {
    ...before,
    quantity: new Decimal(before.quantity || '0').plus(scan.count ?? '1').toString(),
    batch: scan.batch ?? before.batch,
    bestBefore: scan.bestBefore ?? before.bestBefore,
    serials: [before.serials, scan.serial ?? ''].filter(Boolean).join('\n'),
  }
  if (same < 0) entries.push(next)
  else entries[same] = next
  counting.change(line, entries)
  return { line, says: `${line.description}: ${next.quantity}${scan.batch ? ` of batch ${scan.batch}` : ''}.` }
}
