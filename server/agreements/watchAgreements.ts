import { standsAs, warningsDue } from '#core/agreements/standing.ts'
import { AGREEMENT_GROUPS } from '#core/agreements/states.ts'
import type { Write } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { say } from '#server/mail/mail.ts'
import { keepAgreementDesk, knownAgreement } from '#server/agreements/agreementStore.ts'
import { keepOffers, keepStanding } from '#server/agreements/inForce.ts'

/** What the day does to an agreement: it begins, ends, takes another price, or its owner is warned. */
export async function watchAgreement(call: Write, id: string): Promise<void> {
  await hold(call, 'agreement', id)
  await keepStanding(call, id)
  const agreement = await knownAgreement(call, id)
  if (standsAs(agreement, call.today) === 'active') await keepOffers(call, agreement)
  for (const warning of warningsDue(agreement, call.today)) {
    await call
      .trx('agreements')
      .where({ id })
      .update({ warnedDays: [...warning.warned.days], warnedPercent: warning.warned.percent })
    await say(
      call,
      [
        {
          template: warning.kind === 'days' ? 'agreement.ends' : 'agreement.nearlyUsed',
          to: { kind: 'person', id: agreement.ownerId },
          key: `agreement-${warning.kind}:${id}:${agreement.revision}:${warning.kind === 'days' ? warning.warned.days.at(-1) : ''}`,
          details: {
            number: agreement.number,
            title: agreement.title,
            supplier: agreement.supplier,
            figure: warning.figure,
            validTo: agreement.endsOn,
            path: `/source/agreements/${id}`,
          },
        },
      ],
      { kind: 'agreement', id },
    )
  }
  await keepAgreementDesk(call, id)
}

/** Agreements in force, of which each day may make something else. */
export const agreementsToWatch = (call: { readonly trx: Write['trx'] }): Promise<string[]> =>
  call
    .trx('agreements')
    .whereIn('state', [...AGREEMENT_GROUPS.standing])
    .orderBy('id')
    .pluck<string[]>('id')
