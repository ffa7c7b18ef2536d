import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { ActTogether, PreviewTogether, type TogetherAct } from '#contract/documents/together.ts'
import type { Sentence } from '#contract/fields.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { type Read, type Write, writing } from '#server/call.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { reads, type Route, writes } from '#server/http/route.ts'

/** A document among several, and what stands against the act or what it would do. */
export interface Looked {
  readonly id: string
  readonly number: string
  readonly title: string
  readonly reasons: readonly Reason[]
  readonly says: Sentence | null
}

/** How a stage does one of its acts with several documents. */
export interface Together {
  readonly kind: DocumentKind
  readonly acts: readonly TogetherAct[]
  readonly look: (call: Read, act: TogetherAct, ids: readonly string[], reason: string) => Promise<Looked[]>
  readonly run: (call: Write, act: TogetherAct, id: string, reason: string, version?: number) => Promise<unknown>
}

type Asked = BodyOf<typeof ActTogether>

function kindOf(kinds: readonly Together[], { kind, act }: Asked): Together {
  const known = kinds.find(one => one.kind === kind && one.acts.includes(act))
  if (!known) throw new RuleBroken(stop('together.unknown', { kind, act }))
  return known
}
const once = (ids: readonly string[]): string[] => [...new Set(ids)]

async function preview(
  call: Read,
  kinds: readonly Together[],
  asked: Asked,
): Promise<ResponseOf<typeof PreviewTogether>> {
  const looked = await kindOf(kinds, asked).look(call, asked.act, once(asked.ids), asked.reason)
  return {
    rows: looked.map(({ reasons, says, ...one }) => ({
      ...one,
      reasons: reasonsJson([...reasons]),
      possible: reasons.length === 0,
      says: reasons.length === 0 ? says : null,
    })),
  }
}

/** In the order of their ids, so that two people who act on the same ones wait for each other instead of refusing both. */
async function act(call: Write, kinds: readonly Together[], asked: Asked): Promise<ResponseOf<typeof ActTogether>> {
  const known = kindOf(kinds, asked)
  const looked = await known.look(call, asked.act, once(asked.ids), asked.reason)
  const outcomes = new Map<string, readonly Reason[]>()
  for (const { id } of [...looked].sort((a, b) => (a.id < b.id ? -1 : 1)))
    outcomes.set(
      id,
      await one(call, trx => known.run(writing(trx, call), asked.act, id, asked.reason, asked.seen?.[id])),
    )
  return {
    rows: looked.map(({ id, number, title }) => {
      const reasons = outcomes.get(id) ?? []
      return { id, number, title, reasons: reasonsJson([...reasons]), done: reasons.length === 0 }
    }),
  }
}

/** One of them: what it wrote is taken back if it is refused. */
async function one(call: Write, work: (trx: Write['trx']) => Promise<unknown>): Promise<readonly Reason[]> {
  try {
    await call.trx.transaction(work)
    return []
  } catch (error) {
    if (error instanceof RuleBroken) return error.reasons
    throw error
  }
}

export const togetherRoutes = (kinds: readonly Together[]): Route[] => [
  reads(PreviewTogether, (call, { body }) => preview(call, kinds, body)),
  writes(ActTogether, (call, { body }) => act(call, kinds, body)),
]
