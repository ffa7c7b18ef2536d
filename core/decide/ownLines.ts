/** A decision by what it is asked for: the cost centres of its rules (null: a rule asks whatever pays), and its lines (null: all). */
interface AskingFor {
  readonly costCentres: readonly (string | null)[]
  readonly lineIds?: readonly string[] | null
}

/**
 * The lines because of which somebody is asked: those that their rules decide where these decide lines, else those that their cost centres
 * pay for, or all where a rule asks whatever pays.
 *
 * ownLines([{ costCentres: ['LS-210'] }], [{ id: 'a', costCentres: ['LS-210'] }, { id: 'b', costCentres: ['AC-110'] }]) //=> Set { 'a' }
 */
export function ownLines(
  steps: readonly AskingFor[],
  lines: readonly { readonly id: string; readonly costCentres: readonly string[] }[],
): Set<string> {
  const isOwn =
    ({ costCentres, lineIds = null }: AskingFor) =>
    (line: { readonly id: string; readonly costCentres: readonly string[] }): boolean => {
      if (lineIds !== null) return lineIds.includes(line.id)
      const asking = costCentres.length === 0 ? [null] : costCentres
      return asking.some(centre => centre === null || line.costCentres.includes(centre))
    }
  return new Set(steps.flatMap(step => lines.filter(isOwn(step)).map(line => line.id)))
}
