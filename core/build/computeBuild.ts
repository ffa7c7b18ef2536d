import { costBuild, type CostedBuild } from '#core/build/costBuild.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import { fewestSuppliers } from '#core/build/fewestSuppliers.ts'
import { noReadyOffers, prepareBuild, type ReadyBuild, type ReadyOffers } from '#core/build/prepareBuild.ts'
import type { BuildSettings, PartSettings } from '#core/build/settings.ts'

/** Whether the suppliers of parts have to be told from all parts together. */
export const wantsFewest = (settings: BuildSettings, parts: Readonly<Record<string, PartSettings>>): boolean =>
  settings.policy === 'fewest' || Object.values(parts).some(part => part.policy === 'fewest')

/**
 * Makes a build ready for its settings. Where suppliers are to be few, they are chosen for the number of builds that the settings say; the same for
 * every number beside it, so that a curve does not change its suppliers from point to point.
 */
export function readyBuild(
  facts: BuildFacts,
  settings: BuildSettings,
  parts: Readonly<Record<string, PartSettings>>,
  known: ReadyOffers = noReadyOffers(),
): ReadyBuild {
  const plain = prepareBuild(facts, settings, parts, undefined, known)
  if (!wantsFewest(settings, parts)) return plain
  return prepareBuild(facts, settings, parts, fewestSuppliers(plain, settings.builds), known)
}

/** The whole of a costing: ready, and costed for the builds that its settings say. */
export function computeBuild(
  facts: BuildFacts,
  settings: BuildSettings,
  parts: Readonly<Record<string, PartSettings>>,
  known?: ReadyOffers,
): { readonly ready: ReadyBuild; readonly costed: CostedBuild } {
  const ready = readyBuild(facts, settings, parts, known)
  return { ready, costed: costBuild(ready, settings.builds) }
}
