import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'

export const MailJson = z.strictObject({
  id: z.string(),
  from: z.string(),
  /** Where an answer goes; '' where nobody reads one. */
  replyTo: z.string(),
  to: z.string(),
  subject: z.string(),
  text: z.string(),
  at: z.string(),
  attachments: z.array(z.strictObject({ name: z.string(), size: z.int() })),
})
/** The mail stand-in's mailbox; answers only on a demo start. */
export const ReadMails = defineEndpoint({
  name: 'demo.mails',
  method: 'get',
  path: '/demo/mails',
  permission: 'demo.read',
  query: z.strictObject({ to: z.string().max(200).optional() }),
  response: z.strictObject({ mails: z.array(MailJson) }),
})

/** Answers a mail as whoever got it, as their mail program would; only on a demo start. */
export const AnswerMail = defineEndpoint({
  name: 'demo.answer',
  method: 'post',
  path: '/demo/mails/answer',
  permission: 'demo.read',
  body: z.strictObject({ id: z.string().max(64), text: z.string().min(1).max(4000) }),
})
