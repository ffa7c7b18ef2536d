import type { Write } from '#server/call.ts'
import { keepAgreementDesk } from '#server/agreements/agreementStore.ts'
import { keepStanding } from '#server/agreements/inForce.ts'
import type { Touched } from '#server/thread/refresh.ts'

/** Keeps agreements in step with what calls them off: their state, what the catalogue offers of them, and what waits because of them. */
export async function refreshAgreements(call: Write, { agreementIds }: Touched): Promise<undefined> {
  for (const id of [...agreementIds].sort()) {
    await keepAgreementDesk(call, id, await keepStanding(call, id))
  }
}
