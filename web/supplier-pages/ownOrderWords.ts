import { t } from '#web/shared/language.ts'
import { label } from '#web/shared/words.ts'

/** How far an invoice is, as its sender reads it. */
export const invoiceState = (state: string): string =>
  ({
    read: t('being looked at'),
    onHold: t('being looked at'),
    matched: t('being looked at'),
    cleared: t('accepted'),
    scheduled: t('being paid'),
    paid: t('paid'),
    setOff: t('settled by credits'),
    rejected: t('rejected'),
    voided: t('taken back'),
  })[state] ?? label('state', state)

/** Where a credit note stands, as the supplier reads it. */
export const creditState = (state: string): string =>
  ({
    draft: t('a draft that only you see'),
    waiting: t('being looked at'),
    posted: t('accepted'),
    rejected: t('rejected'),
    withdrawn: t('taken back'),
    voided: t('taken back'),
  })[state] ?? label('state', state)

/** What became of an answer, as the supplier reads it. */
export const answeredWords = (state: string): string =>
  ({
    confirmed: t('You confirmed it in full.'),
    accepted: t('Your proposal was accepted.'),
    waiting: t('Your proposal waits for the buyer.'),
    refused: t('Your proposal was refused; please answer again.'),
    superseded: t('The order changed after your proposal; please answer again.'),
  })[state] ?? t('It waits for your answer.')
