import type { Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { mail } from '#server/mail/mail.ts'

/** One thing of a day; what can be decided has its lines and links under it. */
const itemOf = ({ subject, path, text }: { subject: string; path: string; text: string }): string =>
  `· ${subject}\n  ${path}${text === '' ? '' : `\n${text.trimEnd().replace(/^(?=.)/gm, '  ')}\n`}`

/** Tells everybody whose morning has come what was put aside for them, in one mail each. Whose account is closed meanwhile is told nothing. */
export async function sendDigests(call: Write): Promise<void> {
  const rows = await call
    .trx('mailDigest')
    .where('due', '<=', call.now)
    .orderBy('createdAt')
    .limit(5000)
    .forUpdate()
    .skipLocked()
    .select('id', 'personId', 'subject', 'path', 'text')
  for (const [personId, own] of groupBy(rows, row => row.personId)) {
    const person = await call.trx('people').where({ id: personId, active: true }).first('name', 'email', 'locale')
    if (person)
      await mail(
        call,
        { name: person.name, email: person.email, language: person.locale },
        'account.digest',
        `digest:${own[0]!.id}`,
        { kind: 'person', id: personId },
        {
          one: own.length === 1 ? 1 : '',
          many: own.length === 1 ? '' : own.length,
          list: own.map(itemOf).join('\n'),
        },
      )
  }
  await call
    .trx('mailDigest')
    .whereIn(
      'id',
      rows.map(row => row.id),
    )
    .delete()
}
