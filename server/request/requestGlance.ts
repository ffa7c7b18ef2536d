import { may } from '#server/call.ts'
import { type Glance, row, rowsPart, says } from '#server/glances/glance.ts'
import { readNeeds } from '#server/request/needs.ts'
import { repeatLists } from '#server/request/repeatLists.ts'

const FIRST = 6

/** What somebody asked for and where it waits, the catalogue, and what they ask for again and again. */
export const requestGlance: Glance = async call => {
  if (!may(call, 'requisition.write')) return { says: [], parts: [] }
  const { needs, hidden } = await readNeeds(call, 'open')
  const { lists } = await repeatLists(call)
  const mine = needs.filter(need => need.toDo.length > 0).length
  return {
    says: [
      says('glance.request.open', { count: needs.length + hidden }, '/request/needs'),
      ...(mine > 0 ? [says('glance.request.yours', { count: mine }, '/request/needs', 'attention')] : []),
    ],
    parts: [
      { kind: 'search', key: 'request.catalogue', to: '/request/catalogue' },
      rowsPart(
        'request.needs',
        needs.slice(0, FIRST).map(need =>
          row(need.title, `/request/${need.id}`, {
            says: need.sentence,
            tone: need.tone,
          }),
        ),
        needs.length > FIRST ? '/request/needs' : null,
      ),
      rowsPart(
        'request.lists',
        lists.slice(0, FIRST).map(list => row(list.name, '/request/lists', { count: list.lines.length })),
        lists.length > FIRST ? '/request/lists' : null,
      ),
    ],
  }
}
