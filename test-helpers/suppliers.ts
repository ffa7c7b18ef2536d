import { expect } from 'chai'
import type { z } from 'zod'
import { ImportOutcome, LookAtImport, ReadJob, StartImport } from '#contract/source/duplicates.ts'
import { EMPTY_SUPPLIER, type SupplierBody } from '#contract/source/record.ts'
import { runLongJob } from '#server/jobs/longJobs.ts'
import type { Client, World } from '#test-helpers/world.ts'

/** A supplier's record with a location and a contact, and whatever a test says otherwise. */
export const supplierBody = (more: Partial<SupplierBody> = {}): SupplierBody => ({
  ...EMPTY_SUPPLIER,
  name: 'Havnsund Tang og Tare',
  categories: ['Kelp'],
  locations: [
    {
      name: 'Office',
      street: 'Kaivegen 9',
      postalCode: '9999',
      city: 'Havnsund',
      country: 'NO',
      phone: '',
      roles: ['takesOrders', 'invoices'],
      defaults: {},
    },
  ],
  contacts: [
    { name: 'Ragna Tveit', email: 'orders@havnsund.example', phone: '+99 555 0199', language: 'no', roles: ['orders'] },
  ],
  defaults: { currency: 'NOK', termsDays: '30', termsFrom: 'endOfMonth' },
  ...more,
})

/** Runs the long jobs that wait, as the worker would. */
export async function runJobs(world: World): Promise<void> {
  const waiting = (await world.db('longJobs').where({ state: 'waiting' }).orderBy('createdAt').select('id')) as {
    id: string
  }[]
  for (const job of waiting) await runLongJob(world.jobs, job.id)
}

/** Loads a file by the mapping that is proposed for it, and waits for the outcome; null when the job failed. */
export async function importFile(
  world: World,
  person: Client,
  content: string | Buffer,
  options: { dryRun?: boolean; withNear?: boolean; name?: string } = {},
): Promise<{ outcome: z.output<typeof ImportOutcome> | null; failure: string | null }> {
  const file = await person.upload(options.name ?? 'suppliers.csv', content)
  expect(file.status).to.equal(200)
  const { mapping } = await person.do(LookAtImport, { body: { fileId: file.body.id } })
  const started = await person.do(StartImport, {
    body: {
      fileId: file.body.id,
      dryRun: options.dryRun ?? false,
      withNear: options.withNear ?? false,
      mapping: mapping.map(({ column, at }) => ({ column, at })),
    },
  })
  await runJobs(world)
  const job = await person.do(ReadJob, { params: { id: started.id } })
  return { outcome: job.result ? ImportOutcome.parse(job.result) : null, failure: job.failure }
}
