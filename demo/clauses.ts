import type { As } from '#demo/load.ts'
import { saveClause } from '#server/order/clauseActs.ts'

const CLAUSES = [
  {
    name: 'Crates and pallets',
    scope: 'goods',
    categories: [],
    text: {
      en: 'Deliver on pallets of 80 × 120 cm or in returnable crates. Wood is heat-treated (ISPM 15). No loose fill of foam.',
      de: 'Lieferung auf Paletten 80 × 120 cm oder in Mehrwegkisten. Holz ist hitzebehandelt (ISPM 15). Keine losen Schaumfüllstoffe.',
    },
  },
  {
    name: 'Nothing that harms the animals',
    scope: 'goods',
    categories: ['Feed', 'Salt & water chemistry'],
    text: {
      en: 'Each delivery carries the certificate of analysis of its batch. Copper stays below 0.02 mg/kg; what is above goes back at the cost of the supplier.',
      de: 'Jede Lieferung hat das Analysenzertifikat ihrer Charge. Kupfer bleibt unter 0,02 mg/kg; was darüber liegt, geht auf Kosten des Lieferanten zurück.',
    },
  },
  {
    name: 'Work beside the tanks',
    scope: 'work',
    categories: [],
    text: {
      en: 'Nobody works above open water alone. Tools are tied. The keeper on duty may stop the work at any time.',
      de: 'Niemand arbeitet allein über offenem Wasser. Werkzeug ist gesichert. Die diensthabende Tierpflege darf die Arbeit jederzeit anhalten.',
    },
  },
] as const

/** Clauses of the house, in both of its languages. */
export async function addClauses(as: As, at: string): Promise<void> {
  for (const clause of CLAUSES)
    await as(
      'wren',
      at,
      call =>
      saveClause(call, { ...clause, id: null, seen: 0, from: call.today, ended: false, categories: [...clause.categories], countries: [] }), // prettier-ignore
    )
}
