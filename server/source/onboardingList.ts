import { ONBOARDING_GROUPS, ONBOARDING_STATE_CODES } from '#core/source/states.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  name: string
  state: string
  invitedEmail: string
  changedAt: string
  proposer: string
  country: string | null
}

export const onboardingList: ListDefinition<Listed> = {
  id: 'onboardings.id',
  base: call =>
    call
      .trx('onboardings')
      .leftJoin('suppliers', 'suppliers.id', 'onboardings.supplierId')
      .leftJoin('people', 'people.id', 'onboardings.byId'),
  select: [
    'onboardings.id',
    'onboardings.number',
    'suppliers.name',
    'onboardings.state',
    'onboardings.invited_email',
    'onboardings.changed_at',
    'people.name as proposer',
    '(select country from supplier_locations where supplier_id = suppliers.id order by position limit 1) as country',
  ],
  views: {
    underWay: query => void query.whereIn('onboardings.state', [...ONBOARDING_GROUPS.open]),
    forTheBuyer: query => void query.whereIn('onboardings.state', [...ONBOARDING_GROUPS.withBuyer]),
    all: () => undefined,
  },
  sorts: { newest: { sql: 'onboardings.changed_at', descending: true, type: 'timestamptz' } },
  search: 'onboardings.search',
  states: { column: 'onboardings.state', values: ONBOARDING_STATE_CODES },
  columns: [
    { key: 'proposer', type: 'person', sql: 'people.name', personId: 'onboardings.by_id' },
    {
      key: 'country',
      type: 'words',
      sql: '(select country from supplier_locations where supplier_id = suppliers.id order by position limit 1)',
    },
    { key: 'contact', type: 'words', sql: 'onboardings.invited_email' },
    { key: 'changedAt', type: 'date', sql: 'onboardings.changed_at' },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('onboarding', row.id),
    number: row.number,
    title: row.name,
    subtitle: [row.number, row.proposer].filter(Boolean).join(', '),
    state: row.state,
    amount: null,
    currency: null,
    note: { code: `onboarding.short.${row.state}`, details: {} },
    tone:
      row.state === 'proposed' || row.state === 'submitted' || row.state === 'deciding'
        ? 'attention'
        : row.state === 'accepted'
          ? 'settled'
          : 'plain',
    cells: {
      proposer: row.proposer,
      country: row.country,
      contact: row.invitedEmail,
      changedAt: row.changedAt.slice(0, 10),
    },
  }),
}
