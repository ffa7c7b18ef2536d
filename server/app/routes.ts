import { AnswerMail, ReadMails, type MailJson } from '#contract/demo/endpoints.ts'
import type { z } from 'zod'
import { RuleBroken, stop } from '#core/reasons.ts'
import { billRoutes } from '#server/bill/routes.ts'
import { budgetRoutes } from '#server/budgets/routes.ts'
import { consentRoutes } from '#server/consent/routes.ts'
import { requisitionsTogether } from '#server/decide/togetherActs.ts'
import { decideRoutes } from '#server/decide/routes.ts'
import { fileRoutes } from '#server/files/routes.ts'
import { isDemo } from '#server/house/house.ts'
import { direct, reads, type Route } from '#server/http/route.ts'
import { insightRoutes } from '#server/insight/routes.ts'
import { ordersTogether } from '#server/order/ordersTogether.ts'
import { togetherRoutes } from '#server/documents/together.ts'
import { invoicesTogether } from '#server/bill/invoicesTogether.ts'
import { billGlance } from '#server/bill/billGlance.ts'
import { decideGlance } from '#server/decide/decideGlance.ts'
import { glanceRoutes } from '#server/glances/glance.ts'
import { insightGlance } from '#server/insight/insightGlance.ts'
import { orderGlance } from '#server/order/orderGlance.ts'
import { payGlance } from '#server/pay/payGlance.ts'
import { receiveGlance } from '#server/receive/receiveGlance.ts'
import { requestGlance } from '#server/request/requestGlance.ts'
import { sourceGlance } from '#server/source/sourceGlance.ts'
import { viewRoutes } from '#server/lists/routes.ts'
import { orderRoutes } from '#server/order/routes.ts'
import { payRoutes } from '#server/pay/routes.ts'
import { peopleRoutes } from '#server/account/routes.ts'
import { receiveRoutes } from '#server/receive/routes.ts'
import { requestRoutes } from '#server/request/routes.ts'
import { ruleRoutes } from '#server/rules/routes.ts'
import { setupRoutes } from '#server/setup/routes.ts'
import { agreementRoutes } from '#server/agreements/routes.ts'
import { buildRoutes } from '#server/build/routes.ts'
import { awardRoutes } from '#server/award/routes.ts'
import { askedRoutes, eventRoutes } from '#server/source/eventRoutes.ts'
import { companyRoutes, sourceRoutes } from '#server/source/routes.ts'

type Mail = z.output<typeof MailJson>

export interface RouteParts {
  /** What the house calls its single sign-on, where it has one. */
  readonly single: string | null
  /** The mail stand-in's mailbox, on a demo start. */
  readonly readMails: (to: string | undefined) => Promise<Mail[]>
  /** Answers one of its mails as whoever got it; says whether it went out. */
  readonly answerMail: (answer: { readonly id: string; readonly text: string }) => Promise<boolean>
}

/** Every route of the application; a test holds this list against the contract's table of endpoints. */
export const allRoutes = ({ single, readMails, answerMail }: RouteParts): Route[] => [
  ...peopleRoutes(single),
  ...sourceRoutes,
  ...companyRoutes,
  ...eventRoutes,
  ...askedRoutes,
  ...awardRoutes,
  ...agreementRoutes,
  ...buildRoutes,
  ...requestRoutes,
  ...consentRoutes,
  ...decideRoutes,
  ...orderRoutes,
  ...receiveRoutes,
  ...billRoutes,
  ...payRoutes,
  ...budgetRoutes,
  ...insightRoutes,
  ...fileRoutes,
  ...viewRoutes,
  ...glanceRoutes({
    source: sourceGlance,
    request: requestGlance,
    decide: decideGlance,
    order: orderGlance,
    receive: receiveGlance,
    bill: billGlance,
    pay: payGlance,
    insight: insightGlance,
  }),
  ...togetherRoutes([ordersTogether, requisitionsTogether, invoicesTogether]),
  ...setupRoutes,
  ...ruleRoutes,
  reads(ReadMails, async (call, { query }) => {
    if (!(await isDemo(call))) throw new RuleBroken(stop('session.noDemo'))
    return { mails: await readMails(query.to) }
  }),
  direct(AnswerMail, async (call, { body }) => {
    if (!(await isDemo(call))) throw new RuleBroken(stop('session.noDemo'))
    if (!(await answerMail(body))) throw new RuleBroken(stop('demo.notSent'))
    return {}
  }),
]
