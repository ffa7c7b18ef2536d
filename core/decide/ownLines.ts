/** A decision by the cost centres of the rules that ask for it; null: a rule asks for it whatever pays. */
interface AskingFor {
  readonly costCentres: readonly (string | null)[]
}

/**
 * The lines because of which somebody is asked: those that their cost centres pay for, or all where a rule asks whatever pays.
 *
 * ownLines([{ costCentres: ['LS-210'] }], [{ id: 'a', costCentres: ['LS-210'] }, { id: 'b', costCentres: ['AC-110'] }]) //=> Set { 'a' }
 */
export function ownLines(
  steps: readonly AskingFor[],
  lines: readonly { readonly id: string; readonly costCentres: readonly string[] }[],
): Set<string> {
  const asking = steps.flatMap(step => (step.costCentres.length === 0 ? [null] : step.costCentres))
  return new Set(
    lines
      .filter(line => asking.some(centre => centre === null || line.costCentres.includes(centre)))
      .map(line => line.id),
  )
}
