import { computed, reactive, ref } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadDelivery, Receive } from '#contract/receive/endpoints.ts'
import type { Condition } from '#core/receive/counts.ts'
import { readSerials } from '#core/receive/serials.ts'
import { sumDecimals, tidy } from '#core/money/decimal.ts'

export type DeliveryLine = ResponseOf<typeof ReadDelivery>['lines'][number]

/** A count as it is being typed. */
export interface CountEntry {
  quantity: string
  unit: string
  bin: string
  batch: string
  bestBefore: string | null
  condition: Condition
  serials: string
  note: string
  again: string
}
export const freshEntry = (line: Pick<DeliveryLine, 'unit'>, quantity = ''): CountEntry => ({
  quantity,
  unit: line.unit,
  bin: '',
  batch: '',
  bestBefore: null,
  condition: 'good',
  serials: '',
  note: '',
  again: '',
})

/** A count as it is sent: what was left empty is left out. */
export function countBody(lineId: string, entry: CountEntry): BodyOf<typeof Receive>['lines'][number] {
  const { serials } = readSerials(entry.serials)
  return {
    lineId,
    quantity: entry.quantity,
    unit: entry.unit as never,
    ...(entry.bin.trim() ? { bin: entry.bin.trim() } : {}),
    ...(entry.batch.trim() ? { batch: entry.batch.trim() } : {}),
    ...(entry.bestBefore ? { bestBefore: entry.bestBefore } : {}),
    ...(entry.condition === 'good' ? {} : { condition: entry.condition }),
    ...(serials.length > 0 ? { serials: [...serials] } : {}),
    ...(entry.note.trim() ? { note: entry.note.trim() } : {}),
    ...(entry.again ? { again: entry.again } : {}),
  }
}

const isCounted = (entry: CountEntry): boolean => Number(entry.quantity) > 0

/** What somebody counts of a delivery, line by line, until it is kept. */
export function useCounting() {
  const entries = reactive(new Map<string, CountEntry[]>())
  const touched = ref(false)
  /** One key per attempt: a second press or a broken connection never counts twice. */
  const key = ref(crypto.randomUUID())
  const entriesOf = (line: DeliveryLine): CountEntry[] => entries.get(line.id) ?? []
  const change = (line: DeliveryLine, next: CountEntry[]): void => {
    entries.set(line.id, next)
    touched.value = true
    key.value = crypto.randomUUID()
  }
  return {
    entriesOf,
    change,
    key,
    touched,
    /** The first count of a line, as its row shows it. */
    set: (line: DeliveryLine, quantity: string): void => {
      const [first, ...rest] = entriesOf(line)
      change(line, [first ? { ...first, quantity } : freshEntry(line, quantity), ...rest])
    },
    bodies: computed(() =>
      [...entries].flatMap(([lineId, own]) => own.filter(isCounted).map(entry => countBody(lineId, entry))),
    ),
    /** How much was counted of a line, where all is in one unit. */
    countedOf: (line: DeliveryLine): string => {
      const own = entriesOf(line).filter(isCounted)
      return own.length > 0 && own.every(entry => entry.unit === own[0]!.unit)
        ? tidy(sumDecimals(own.map(entry => entry.quantity)))
        : ''
    },
    clear: (): void => {
      entries.clear()
      touched.value = false
      key.value = crypto.randomUUID()
    },
  }
}
export type Counting = ReturnType<typeof useCounting>
