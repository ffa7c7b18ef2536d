import type { ResponseOf } from '#contract/endpoint.ts'
import type { TryRules } from '#contract/rules/endpoints.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { compileRules } from '#core/rules/match.ts'
import { tryRules } from '#core/rules/tryRules.ts'
import { found, type Read } from '#server/call.ts'
import { decidedRequests } from '#server/request/decidedStore.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { linesOfRequests, type RequisitionRow } from '#server/request/requisitionStore.ts'
import { compiledRules, pathWorld, rulesOf } from '#server/rules/ruleStore.ts'

/** As many requests are tried at once. */
const MOST_TRIED = 2000

type TriedHead = Pick<RequisitionRow, 'id' | 'number' | 'title' | 'total' | 'requesterId'> & { visible: boolean }

/**
 * What a version of the rules would have done with the requests submitted in a time, beside the one in force; the latest first.
 * Whoever may not see a request learns its number and whom it would ask, and nothing of what is in it.
 */
export async function tryRuleSet(
  call: Read,
  id: string,
  { fromDay, toDay }: { fromDay: string; toDay: string },
): Promise<ResponseOf<typeof TryRules>> {
  found(await call.trx('ruleSets').where({ id }).first('id'), 'rule')
  const submitted = call.trx('requisitions').whereRaw('submitted_at::date between ? and ?', [fromDay, toDay])
  const heads = await submitted
    .clone()
    .orderBy('submittedAt', 'desc')
    .limit(MOST_TRIED)
    .select<TriedHead[]>(
      'id',
      'number',
      'title',
      'total',
      'requesterId',
      call.trx.raw(`(${visibleSql(call, 'requisition', 'requisitions')}) as visible`, visibleBindings(call)),
    )
  const count = await submitted.clone().count<{ count: string }[]>('* as count').first()
  const documents = await decidedRequests(
    call,
    heads,
    await linesOfRequests(
      call,
      heads.map(head => head.id),
    ),
  )
  const world = await pathWorld(call, 'requisition')
  const trial = tryRules(
    heads.map(head => ({ id: head.id, document: documents.get(head.id)! })),
    await compiledRules(call),
    compileRules(await rulesOf(call, id)),
    world,
  )
  const headOf = new Map(heads.map(head => [head.id, head]))
  const named = (ids: readonly (readonly string[])[]): string[][] =>
    ids.map(group => group.map(personId => world.people.get(personId)?.name ?? ''))
  const shown = (headId: string) => {
    const { number, title, visible } = headOf.get(headId)!
    return { id: headId, number, ...(visible ? { title, path: `/decide/${headId}` } : { title: '', path: null }) }
  }
  return {
    tried: trial.tried,
    more: Number(count?.count ?? 0) - heads.length,
    others: trial.others.map(one => ({
      ...shown(one.id),
      amount: headOf.get(one.id)!.visible ? formatAmount(minor(headOf.get(one.id)!.total), call.base) : null,
      before: named(one.before),
      after: named(one.after),
    })),
    people: trial.people.map(({ personId, before, after }) => ({
      name: world.people.get(personId)?.name ?? '',
      before,
      after,
    })),
    undecided: trial.undecided.map(shown),
    stuck: trial.stuck.map(one => ({ ...shown(one.id), rule: one.rule, code: one.code })),
    overlaps: trial.overlaps.map(one => ({ ...one, rules: [...one.rules] })),
    idle: [...trial.idle],
  }
}
