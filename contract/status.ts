import { table } from '#core/text/table.ts'

const EXACT: Readonly<Record<string, number>> = table({
  'session.none': 401,
  'session.wrong': 401,
  'session.tooMany': 429,
  'request.invalid': 400,
  'request.crossSite': 403,
  'request.tooLarge': 413,
  'file.tooLarge': 413,
  'request.noSuchAddress': 404,
  'document.notFound': 404,
  'document.changed': 409,
  'document.busy': 409,
  'list.unknown': 404,
  'view.changed': 409,
  'house.changed': 409,
  'request.keyReused': 409,
  'job.running': 409,
  'server.failed': 500,
  'server.databaseAway': 503,
  'state.notNow': 409,
  'right.missing': 403,
  'right.notYours': 403,
  'secondYes.notYours': 403,
  'request.unkeepable': 400,
  'request.overlongWord': 400,
  'request.tooDeep': 400,
  'request.numberOutOfRange': 400,
  'request.fieldName': 400,
})

/** The HTTP status that goes with a reason; a rule of the work that is broken is 422. */
export const statusOf = (code: string): number => EXACT[code] ?? 422
