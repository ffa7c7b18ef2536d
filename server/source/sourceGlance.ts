import { addDays } from '#core/calendar/days.ts'
import { SIGNAL_RULES, type SignalKey } from '#core/source/signals.ts'
import { ONBOARDING_GROUPS } from '#core/source/states.ts'
import { may, type Read } from '#server/call.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { type Glance, listAt, row, rowsPart, says, valued } from '#server/glances/glance.ts'

const AHEAD = 90
const FIRST = 6

interface Ending {
  supplierId: string
  supplier: string
  name: string
  until: string
}

/** What ends soon, which signals are bad, and how far those have come who are to become suppliers. */
export const sourceGlance: Glance = async call => {
  if (!may(call, 'supplier.read')) return { says: [], parts: [] }
  const until = addDays(call.today, AHEAD)
  const certificates = await endingCertificates(call, until)
  const agreements = await endingAgreements(call, until)
  const signals = await badSignals(call)
  const turned = await turnedSignals(call)
  const onboardings = await onboardingsByStep(call)
  const soon = await standing(call, 'soon')
  const lapsed = await standing(call, 'lapsed')
  const tone = (one: Ending): 'stop' | 'attention' => (one.until < call.today ? 'stop' : 'attention')
  const ends = (one: Ending) => ({ code: 'glance.source.ends', details: { name: one.name, validTo: one.until } })
  return {
    says: [
      says('glance.source.ending', { count: soon }, '/source?view=all&where=certificate.is:soon'),
      ...(lapsed > 0
        ? [says('glance.source.lapsed', { count: lapsed }, '/source?view=all&where=certificate.is:lapsed', 'stop')]
        : []),
    ],
    parts: [
      rowsPart(
        'source.certificates',
        certificates
          .slice(0, FIRST)
          .map(one => row(one.supplier, pathOf('supplier', one.supplierId), { says: ends(one), tone: tone(one) })),
        certificates.length > FIRST ? '/source?view=all&where=certificate.is:soon|certificate.is:lapsed' : null,
      ),
      rowsPart(
        'source.agreements',
        agreements.map(one =>
          row(one.name, listAt('/request/catalogue', { agreement: one.name }), {
            says: { code: 'glance.source.agreementEnds', details: { who: one.supplier, validTo: one.until } },
            tone: tone(one),
          }),
        ),
      ),
      rowsPart(
        'source.turned',
        turned.map(one =>
          row(`signal.${one.key}`, pathOf('supplier', one.supplierId), {
            says: {
              code: SIGNAL_RULES[one.key].direction === 'atLeast' ? 'glance.source.fell' : 'glance.source.rose',
              details: { who: one.supplier, figure: one.figure, threshold: one.threshold },
            },
            tone: 'attention',
          }),
        ),
      ),
      rowsPart(
        'source.signals',
        signals.map(one =>
          row(`signal.${one.key}`, listAt('/source', { view: 'all', where: `signal.is:${valued(one.key)}` }), {
            count: one.count,
            tone: 'attention',
          }),
        ),
      ),
      rowsPart(
        'source.onboardings',
        onboardings.map(one =>
          row(`state.${one.state}`, listAt('/source/onboardings', { view: 'all', state: one.state }), {
            count: one.count,
          }),
        ),
      ),
    ],
  }
}

/** Suppliers of whose certificates one stands so today, as the list of suppliers is asked for them. */
async function standing(call: Read, how: 'soon' | 'lapsed'): Promise<number> {
  const { rows } = await call.trx.raw<{ rows: { count: number }[] }>(
    `select count(*)::int as count from suppliers where merged_into is null and exists (select 1 from supplier_standings t
       where t.supplier_id = suppliers.id and t.standing = :how and (t.from_day is null or t.from_day <= :today) and (t.to_day is null or t.to_day >= :today))`,
    { how, today: call.today },
  )
  return rows[0]!.count
}

const MOST_ENDING = 200
async function endingCertificates(call: Read, until: string): Promise<Ending[]> {
  const { rows } = await call.trx.raw<{ rows: Ending[] }>(
    `select s.id as supplier_id, s.name as supplier, c.kind as name, c.valid_to as until from supplier_certificates c join suppliers s on s.id = c.supplier_id
     where c.state = 'current' and c.valid_to <= :until and s.merged_into is null and s.state = 'active' order by c.valid_to, s.name limit ${MOST_ENDING}`,
    { until },
  )
  return rows
}

async function endingAgreements(call: Read, until: string): Promise<Ending[]> {
  const { rows } = await call.trx.raw<{ rows: Ending[] }>(
    `select s.id as supplier_id, s.name as supplier, o.agreement as name, max(o.valid_to) as until from offers o join suppliers s on s.id = o.supplier_id
     where o.agreement <> '' group by s.id, o.agreement having max(o.valid_to) between :from and :until order by 4 limit ${FIRST}`,
    { from: addDays(call.today, -AHEAD), until },
  )
  return rows
}

interface Turned {
  supplierId: string
  supplier: string
  key: SignalKey
  figure: string
  threshold: string
}
/** Signals that were good a quarter ago, of those first from whom something was ordered last. */
async function turnedSignals(call: Read): Promise<Turned[]> {
  const { rows } = await call.trx.raw<{ rows: Turned[] }>(
    `select t.supplier_id, s.name as supplier, t.key, t.figure::text as figure, t.threshold::text as threshold
     from supplier_signals t join suppliers s on s.id = t.supplier_id where t.turned and s.merged_into is null
     order by s.last_order_on desc nulls last, s.name, t.key limit ${FIRST}`,
  )
  return rows.map(one => ({
    ...one,
    figure: Number(one.figure).toString(),
    threshold: Number(one.threshold).toString(),
  }))
}

async function badSignals(call: Read): Promise<{ key: string; count: number }[]> {
  const { rows } = await call.trx.raw<{ rows: { key: string; count: number }[] }>(
    "select key, count(*)::int as count from supplier_signals where tone = 'bad' group by key order by 2 desc",
  )
  return rows
}

const onboardingsByStep = (call: Read): Promise<{ state: string; count: number }[]> =>
  call
    .trx('onboardings')
    .whereIn('state', [...ONBOARDING_GROUPS.open])
    .groupBy('state')
    .orderBy('state')
    .select('state', call.trx.raw('count(*)::int as count'))
