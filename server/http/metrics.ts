import type { Knex } from 'knex'
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client'

/** What a process counts of itself, in Prometheus's text format. */
export const registry = new Registry()
collectDefaultMetrics({ register: registry, prefix: 'ivory_' })

export const requestSeconds = new Histogram({
  name: 'ivory_request_seconds',
  help: 'Time to answer a request, by act and status.',
  labelNames: ['act', 'status'] as const,
  buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 15],
  registers: [registry],
})
export const signIns = new Counter({
  name: 'ivory_sign_ins_total',
  help: 'Tries to sign in, by how they ended.',
  labelNames: ['outcome'] as const,
  registers: [registry],
})
export const liveStreams = new Gauge({
  name: 'ivory_live_streams',
  help: 'Pages that listen to the news.',
  registers: [registry],
})

const WAITING = [
  ['ivory_jobs_waiting', 'Jobs that wait.', `select count(*)::int as n from graphile_worker.jobs where attempts < max_attempts`],
  ['ivory_jobs_failed', 'Jobs that failed for good.', `select count(*)::int as n from graphile_worker.jobs where attempts >= max_attempts`],
  ['ivory_outbox_waiting', 'Mails and files that wait to leave.', `select count(*)::int as n from outbox where state = 'waiting' and (not_before is null or not_before <= now())`],
  ['ivory_outbox_failed', 'Mails and files that did not leave.', `select count(*)::int as n from outbox where state = 'failed'`],
] as const // prettier-ignore

const gauges = WAITING.map(([name, help, sql]) => ({ sql, gauge: new Gauge({ name, help, registers: [registry] }) }))

/** Everything that is counted, with what waits in the database now. */
export async function metricsText(db: Knex): Promise<string> {
  for (const { sql, gauge } of gauges) {
    const { rows } = await db.raw<{ rows: { n: number }[] }>(sql)
    gauge.set(rows[0]!.n)
  }
  return await registry.metrics()
}
