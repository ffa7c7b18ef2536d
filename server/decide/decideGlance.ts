import { usualHours } from '#core/request/pool.ts'
import { ages, asked, series, sumBars } from '#core/glances/series.ts'
import { may, type Read } from '#server/call.ts'
import { MINE_TO_DECIDE, mineToDecide } from '#server/consent/mine.ts'
import { groupBy } from '#server/database/rows.ts'
import { barsPart, type Glance, inBase, listAt, row, rowsPart, says, valued } from '#server/glances/glance.ts'

const FIRST = 8
const DAYS_BACK = 90

/** What waits for a decision by how long, what comes next, and how long each decider takes. */
export const decideGlance: Glance = async call => {
  const waiting = await steps(call, 'open')
  const coming = await steps(call, 'later')
  const bars = series(waiting, ages(call.today))
  const slow = may(call, 'requisition.readAll') ? await hoursByDecider(call) : []
  const sum = (some: readonly { amount: bigint }[]): string =>
    inBase(
      call,
      some.reduce((all, one) => all + one.amount, 0n),
    )
  return {
    says: [
      says(
        'glance.decide.waiting',
        { count: waiting.length, amount: sum(waiting), currency: call.base },
        '/decide?view=forMe',
      ),
      ...(coming.length > 0
        ? [
            says(
              'glance.decide.coming',
              { count: coming.length, amount: sum(coming), currency: call.base },
              '/decide?view=coming',
            ),
          ]
        : []),
    ],
    parts: [
      ...(sumBars(bars) > 0n
        ? [
            barsPart(call, 'decide.ages', bars, bar =>
              listAt('/decide', { view: 'forMe', where: asked('submittedAt', bar) }),
            ),
          ]
        : []),
      rowsPart(
        'decide.deciders',
        slow.slice(0, FIRST).map(one =>
          row(one.name, listAt('/decide', { view: 'waiting', where: `waitsFor.has:${valued(one.name)}` }), {
            count: one.waiting,
            says: {
              code: one.hours === null ? 'glance.decide.few' : 'glance.decide.takes',
              details: { hours: one.hours ?? 0 },
            },
            tone: one.hours !== null && one.hours > 72 ? 'attention' : 'plain',
          }),
        ),
      ),
    ],
  }
}

/** Requests that wait for this person now, or do so when those before have said yes. */
async function steps(
  call: Read,
  state: 'open' | 'later',
): Promise<{ day: string | null; amount: bigint; part: bigint }[]> {
  const { rows } = await call.trx.raw<{ rows: { day: string | null; amount: bigint; part: bigint }[] }>(
    `select r.submitted_at::date::text as day, r.total as amount, r.total as part from requisitions r
     where exists (select 1 from consents c join consent_steps s on s.consent_id = c.id
       where c.document_id = r.id and c.purpose = 'approval' and c.state = 'open' and s.state = :state and ${MINE_TO_DECIDE})`,
    { state, ...mineToDecide(call, 'approval') } as never,
  )
  return rows
}

/** How long decisions usually take those who decide, and how many wait for each. */
async function hoursByDecider(call: Read): Promise<{ name: string; hours: number | null; waiting: number }[]> {
  const { rows } = await call.trx.raw<{ rows: { name: string; hours: number | null; waiting: number }[] }>(
    `select p.name, extract(epoch from s.decided_at - s.opened_at)::float8 / 3600 as hours, 0 as waiting
       from consent_steps s join consents c on c.id = s.consent_id and c.purpose = 'approval' join people p on p.id = s.decided_by
       where s.decided_at > :now::timestamptz - make_interval(days => ${DAYS_BACK}) and s.opened_at is not null and s.stood_from is null
     union all
     select p.name, null, count(*)::int from consent_steps s join consents c on c.id = s.consent_id and c.purpose = 'approval' and c.state = 'open'
       join people p on p.id = any(s.approver_ids) where s.state = 'open' group by p.name`,
    { now: call.now },
  )
  return [...groupBy(rows, one => one.name)]
    .map(([name, own]) => ({
      name,
      hours: usualHours(own.flatMap(one => one.hours ?? [])),
      waiting: own.reduce((sum, one) => sum + one.waiting, 0),
    }))
    .filter(one => one.waiting > 0 || one.hours !== null)
    .sort((a, b) => b.waiting - a.waiting || (b.hours ?? 0) - (a.hours ?? 0))
}
