import type { ReasonJson } from '#contract/fields.ts'

/** What stands at lines, by their index, from places like `lines.2.price`. */
export function reasonsByLine(reasons: readonly ReasonJson[]): Map<number, ReasonJson[]> {
  const map = new Map<number, ReasonJson[]>()
  for (const reason of reasons) {
    const at = /^lines\.(\d+)\./.exec(reason.place ?? '')
    if (at) map.set(Number(at[1]) - 1, [...(map.get(Number(at[1]) - 1) ?? []), reason])
  }
  return map
}
