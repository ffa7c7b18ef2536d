import { expect } from 'chai'
import {
  DecidePair,
  Merge,
  PreviewMerge,
  ReadJob,
  ReadPairs,
  StartSearch,
  UndoMerge,
} from '#contract/source/duplicates.ts'
import {
  ActOnSupplier,
  AnswerSecondYes,
  AskForShared,
  ChangeSupplier,
  CreateSupplier,
  FindSuppliers,
  ProveBankAccount,
  ReadSecondYes,
  ReadSupplier,
  SetBankAccount,
  Suppliers,
} from '#contract/source/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { ReadDesk } from '#contract/desk/endpoints.ts'
import { SaveSourceSettings } from '#contract/source/onboarding.ts'
import { addDays } from '#core/calendar/days.ts'
import { inventedIban, inventedVat } from '#demo/identifiers.ts'
import { vatOf } from '#demo/world.ts'
import { nightly } from '#server/app/jobs.ts'
import { billed, goodsLine, ordered, received, today } from '#test-helpers/steps.ts'
import { importFile, runJobs, supplierBody } from '#test-helpers/suppliers.ts'
import { useWorld } from '#test-helpers/world.ts'

const NOTHING = {
  name: '',
  country: '' as const,
  postalCode: '',
  city: '',
  street: '',
  web: '',
  iban: '',
  identifiers: [],
  except: null,
}

describe('finding a supplier before making one', () => {
  const world = useWorld()
  const look = async (wanted: object) =>
    (await (await world.as('Pilar')).do(FindSuppliers, { body: { ...NOTHING, ...wanted } })) as {
      candidates: { name: string; percent: number; reasons: { code: string; for: boolean }[]; shared: object[] }[]
      notes: { code: string; details: { proposal?: string } }[]
    }

  it('gives each candidate a percentage and what speaks for and against it', async () => {
    const { candidates } = await look({ name: 'Aldis Membrane LLP', country: 'GB', postalCode: 'wx99zz' })
    expect(candidates[0]!.name).to.be.oneOf(['Aldis Membranes', 'ALDIS Membrane Ltd.'])
    expect(candidates[0]!.percent).to.be.at.least(90)
    expect(candidates[0]!.reasons.map(reason => reason.code)).to.include.members([
      'match.postalCode.same',
      'match.country.same',
    ])
  })

  it('finds by VAT number, account and web domain alone', async () => {
    const { iban } = (await world.db('supplierBankAccounts').where({ state: 'proven' }).first('iban')) as {
      iban: string
    }
    expect((await look({ iban })).candidates[0]!.shared).to.deep.equal([
      { scheme: 'iban', value: `… ${iban.slice(-4)}` },
    ])
    const byVat = await look({ identifiers: [{ scheme: 'vat', value: vatOf('krill') }] })
    expect(byVat.candidates.map(one => one.name)).to.deep.equal(['Krillfisk Samvirke'])
    expect((await look({ web: 'https://www.nordhavn.example/x' })).candidates[0]!.name).to.equal('Nordhavn Pumpeverk')
  })

  it('finds by a name it trades under, and from its first letters on', async () => {
    expect((await look({ name: 'Redes y Piensos' })).candidates.map(one => one.name)).to.include(
      'Hermanos Brañaverde S.L.',
    )
    expect((await look({ name: 'Krillf' })).candidates.map(one => one.name)).to.include('Krillfisk Samvirke')
  })

  it('proposes how names are written here, by rules that a steward sets', async () => {
    expect((await look({ name: 'KROONVIS B.V.' })).notes[0]!.details.proposal).to.equal('Kroonvis BV')
    const wren = await world.as('Wren')
    const settings = {
      naming: { capitals: 'asGiven', legalForm: 'keep', trailingDots: 'keep' } as const,
      harmless: ['web' as const],
    }
    await wren.do(SaveSourceSettings, { body: settings })
    expect((await look({ name: 'KROONVIS B.V.' })).notes).to.deep.equal([])
  })

  it('takes names of 300 letters, right to left, with emoji, SQL, HTML and formulas', async () => {
    for (const name of [
      'x'.repeat(300),
      'شركة البحر',
      '🐟🐟🐟',
      "'; drop table suppliers; --",
      '<b>a</b>',
      '=1+1',
      '%',
    ])
      expect((await look({ name })).candidates, name).to.be.an('array')
  })

  it('lists are narrowed by category, country, certificate, account and last order', async () => {
    const pilar = await world.as('Pilar')
    const names = async (where: string): Promise<string[]> =>
      (await pilar.do(Suppliers.page, { query: { where, limit: 200 } })).rows.map(row => row.title)
    expect(await names('certificate:lapsed')).to.deep.equal(['Hermanos Brañaverde S.L.'])
    expect(await names('country.is:NO;category.is:Feed')).to.deep.equal(['Krillfisk Samvirke'])
    expect(await names('paid:unproven')).to.include.members(['Ropeline Access Crew', 'Tidewind Printers'])
    expect(await names('lastOrder.last:365')).to.include('Nordhavn Pumpeverk')
    expect(await names('lastOrder.empty')).to.not.include('Nordhavn Pumpeverk')
    expect(await names('nonsense:1;method:card')).to.deep.equal([])
    const { filters } = await pilar.do(Suppliers.filters)
    expect(filters.map(filter => filter.key)).to.include.members(['category', 'country', 'certificate', 'signal'])
    const byOther = await pilar.do(Suppliers.page, { query: { q: 'redes piensos' } })
    expect(byOther.rows.map(row => row.title)).to.deep.equal(['Hermanos Brañaverde S.L.'])
  })
})

describe('a strong identifier that another record has', () => {
  const world = useWorld()

  it('stops a new record until a second person agrees with a reason', async () => {
    const [rasmus, pilar] = [await world.as('Rasmus'), await world.as('Pilar')]
    const supplier = supplierBody({ name: 'Krillfisk Nord', identifiers: [{ scheme: 'vat', value: vatOf('krill') }] })
    const refused = await rasmus.call(CreateSupplier, { body: supplier })
    expect(refused.reasons[0]).to.deep.include({ code: 'source.shared', place: 'identifiers.0.value' })
    const asked = await rasmus.do(AskForShared, { body: { supplier, reason: 'One VAT group, two warehouses.' } })
    const item = (await pilar.do(ReadDesk)).items.find(one => one.key === `agree:${asked.id}`)
    expect(item?.path).to.equal(`/source/second-yes/${asked.id}`)
    const page = await pilar.do(ReadSecondYes, { params: { id: asked.id } })
    expect([page.mayAnswer, page.others.map(other => other.name)]).to.deep.equal([true, ['Krillfisk Samvirke']])
    const body = { version: 1, answer: 'agree' as const, reason: 'Seen in the register.' }
    expect((await rasmus.call(AnswerSecondYes, { params: { id: asked.id }, body })).codes).to.deep.equal([
      'secondYes.own',
    ])
    expect((await (await world.as('Ines')).call(AnswerSecondYes, { params: { id: asked.id }, body })).status).to.equal(
      403,
    )
    const made = await pilar.do(AnswerSecondYes, { params: { id: asked.id }, body })
    const sheet = await rasmus.do(ReadSupplier, { params: { id: made.supplierId! } })
    expect(sheet.title).to.equal('Krillfisk Nord')
    expect(sheet.history.map(one => one.action)).to.deep.equal(['sharedAgreed', 'created'])
    await rasmus.do(ChangeSupplier, {
      params: { id: made.supplierId! },
      body: { ...sheet.supplier, web: 'krillnord.example', version: sheet.version },
    })
    expect((await pilar.call(AnswerSecondYes, { params: { id: asked.id }, body })).codes).to.deep.equal([
      'secondYes.answered',
    ])
  })

  it('may be an account: it stops the record, and the account is kept unproven when somebody agrees', async () => {
    const [rasmus, adaeze] = [await world.as('Rasmus'), await world.as('Adaeze')]
    const { iban } = (await world.db('supplierBankAccounts').where({ state: 'proven' }).first('iban')) as {
      iban: string
    }
    const supplier = { ...supplierBody({ name: 'Paid together' }), iban }
    expect((await rasmus.call(CreateSupplier, { body: supplier })).reasons[0]).to.deep.include({
      code: 'source.shared',
      place: 'iban',
    })
    const asked = await rasmus.do(AskForShared, { body: { supplier, reason: 'They are paid by their cooperative.' } })
    const made = await adaeze.do(AnswerSecondYes, {
      params: { id: asked.id },
      body: { version: 1, answer: 'agree', reason: 'The contract says so.' },
    })
    const [account] = (await adaeze.do(ReadSupplier, { params: { id: made.supplierId! } })).bankAccounts
    expect([account!.iban, account!.state]).to.deep.equal([iban, 'unproven'])
    expect(account!.sharedWith).to.match(/ S-\d+$/)
    expect(
      (await rasmus.call(AskForShared, { body: { supplier: supplierBody({ name: 'Alone' }), reason: 'None.' } })).codes,
    ).to.deep.equal(['secondYes.notShared'])
  })

  it('lets two people make it at once only one time', async () => {
    const [rasmus, pilar] = [await world.as('Rasmus'), await world.as('Pilar')]
    const body = supplierBody({ name: 'At once', identifiers: [{ scheme: 'vat', value: inventedVat('NO', 5100) }] })
    const answers = await Promise.all([
      rasmus.call(CreateSupplier, { body }),
      pilar.call(CreateSupplier, { body: { ...body, name: 'At once too' } }),
    ])
    expect(answers.map(answer => answer.status).sort()).to.deep.equal([200, 422])
  })
})

describe('the state of a supplier', () => {
  const world = useWorld()
  const idOf = async (name: string) =>
    (await world.db('suppliers').where({ name }).first('id', 'version')) as { id: string; version: number }

  it('is barred by two people, each with a reason', async () => {
    const [rasmus, henrik] = [await world.as('Rasmus'), await world.as('Henrik')]
    const { id, version } = await idOf('Highreach Crane Hire')
    const bar = { params: { id }, body: { version, action: 'bar' as const, reason: 'Unsafe crane.', until: null } }
    const asked = await rasmus.do(ActOnSupplier, bar)
    expect((await rasmus.do(ReadSupplier, { params: { id } })).state).to.equal('active')
    expect(
      (await rasmus.call(ActOnSupplier, { ...bar, body: { ...bar.body, version: asked.version } })).codes,
    ).to.deep.equal(['secondYes.waiting'])
    const { secondYes } = await henrik.do(ReadSupplier, { params: { id } })
    await henrik.do(AnswerSecondYes, {
      params: { id: secondYes!.id },
      body: { version: 1, answer: 'agree', reason: 'I saw it too.' },
    })
    const barred = await rasmus.do(ReadSupplier, { params: { id } })
    expect([barred.state, barred.tone]).to.deep.equal(['barred', 'stop'])
    expect(barred.stateReason).to.include('Unsafe crane.')
  })

  it('is paused until a day, and resumed by the night after', async () => {
    const rasmus = await world.as('Rasmus')
    const { id, version } = await idOf('Nightlamp Guarding')
    const until = addDays(today(), 1)
    const pause = (at: number, day: string) =>
      rasmus.call(ActOnSupplier, {
        params: { id },
        body: { version: at, action: 'pause', reason: 'Holiday there.', until: day },
      })
    expect((await pause(version, today())).codes).to.deep.equal(['source.untilPast'])
    await pause(version, until)
    expect((await rasmus.do(ReadSupplier, { params: { id } })).sentence).to.deep.include({
      code: 'supplier.is.pausedUntil',
    })
    await nightly({ ...world.jobs, clock: () => `${until}T03:00:00.000Z` })
    const resumed = await rasmus.do(ReadSupplier, { params: { id } })
    expect([resumed.state, resumed.history[0]!.action]).to.deep.equal(['active', 'resume'])
  })

  it('of a person paid a fee wants other data, which not everybody reads', async () => {
    const [rasmus, ines] = [await world.as('Rasmus'), await world.as('Ines')]
    const person = supplierBody({ name: 'Ansgar Mohnke', kind: 'person' })
    expect((await rasmus.call(CreateSupplier, { body: person })).codes).to.deep.equal([
      'source.personData',
      'source.taxNumber',
    ])
    const { id } = await rasmus.do(CreateSupplier, {
      body: {
        ...person,
        person: { birthDate: '1980-02-29', taxStatus: 'selfEmployed', nationalId: 'X1' },
        tax: { residence: 'NO', number: 'T-77', category: '', note: '' },
      },
    })
    expect((await rasmus.do(ReadSupplier, { params: { id } })).supplier.person?.birthDate).to.equal('1980-02-29')
    const seen = await ines.do(ReadSupplier, { params: { id } })
    expect([seen.supplier.person, seen.confidential]).to.deep.equal([null, true])
    expect(JSON.stringify(seen.history)).to.not.include('1980-02-29').and.not.include('T-77')
  })
})

describe('defaults of a supplier', () => {
  const world = useWorld()

  it('come from the house, the supplier or its location, and are taken over by orders', async () => {
    const rasmus = await world.as('Rasmus')
    const { id } = (await world.db('suppliers').where({ name: 'Nordhavn Pumpeverk' }).first('id')) as { id: string }
    const before = await rasmus.do(ReadSupplier, { params: { id } })
    const [place] = before.supplier.locations
    await rasmus.do(ChangeSupplier, {
      params: { id },
      body: {
        ...before.supplier,
        locations: [{ ...place!, defaults: { incoterm: 'FCA', incotermPlace: 'Nordhavn quay' } }],
        version: before.version,
      },
    })
    const after = await rasmus.do(ReadSupplier, { params: { id } })
    expect(after.supplier.locations[0]!.id).to.equal(place!.id)
    expect(after.effective.find(one => one.key === 'matchLevel')).to.deep.include({ value: '3', from: 'house' })
    expect(after.locationEffective[0]!.values[0]).to.deep.include({ key: 'incoterm', value: 'FCA', from: 'location' })
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    const sheet = await rasmus.do(ReadOrder, { params: { id: order.id } })
    expect(sheet.effective.find(one => one.key === 'incotermPlace')).to.deep.include({
      value: 'Nordhavn quay',
      from: 'location',
    })
    expect(sheet.effective.find(one => one.key === 'termsDays')?.from).to.equal('supplier')
  })

  it('that stop orders stop them', async () => {
    const rasmus = await world.as('Rasmus')
    const { id } = (await world.db('suppliers').where({ name: 'Nordhavn Pumpeverk' }).first('id')) as { id: string }
    const { supplier, version } = await rasmus.do(ReadSupplier, { params: { id } })
    const body = { ...supplier, defaults: { ...supplier.defaults, ordersStopped: 'yes' as const }, version }
    await rasmus.do(ChangeSupplier, { params: { id }, body })
    const refusal = await ordered(world, [await goodsLine(world, 'PS-1200', '1')]).then(
      () => '',
      error => String(error),
    )
    expect(refusal).to.include('order.supplier.stopped')
  })
})

describe('a bank account', () => {
  const world = useWorld()

  it('is proved once, by another person than the one who entered it', async () => {
    const [rasmus, casimir, adaeze] = [await world.as('Rasmus'), await world.as('Casimir'), await world.as('Adaeze')]
    const { id } = await rasmus.do(CreateSupplier, { body: supplierBody() })
    await rasmus.do(SetBankAccount, {
      params: { id },
      body: { version: 1, iban: inventedIban('NO', 9001), bic: 'IVORNO2A', holder: 'Havnsund Tang og Tare' },
    })
    const { bankAccounts } = await casimir.do(ReadSupplier, { params: { id } })
    const prove = { params: { id, accountId: bankAccounts[0]!.id }, body: { version: 2, proof: 'Called them.' } }
    const answers = await Promise.all([casimir.call(ProveBankAccount, prove), adaeze.call(ProveBankAccount, prove)])
    expect(answers.map(answer => answer.status).sort()).to.deep.equal([200, 422])
    expect(answers.flatMap(answer => answer.codes)).to.deep.equal(['source.accountNotUnproven'])
    const told = await world.db('outbox').where({ documentId: id }).select('payload')
    expect(JSON.stringify(told)).to.include('orders@havnsund.example')
  })
})

describe('ten thousand contacts', () => {
  const world = useWorld()

  it('are kept, and the Sheet still opens', async function () {
    this.timeout(60_000)
    const rasmus = await world.as('Rasmus')
    const [contact] = supplierBody().contacts
    const contacts = Array.from({ length: 10_000 }, (_, index) => ({ ...contact!, email: `c${index}@x.example` }))
    const { id } = await rasmus.do(CreateSupplier, { body: supplierBody({ name: 'Many', contacts }) })
    expect((await rasmus.do(ReadSupplier, { params: { id } })).supplier.contacts).to.have.length(10_000)
    expect(
      (await rasmus.call(CreateSupplier, { body: supplierBody({ contacts: [...contacts, contact!] }) })).status,
    ).to.equal(400)
  })
})

describe('looking for duplicates', () => {
  const world = useWorld()

  it('is a job with progress; its pairs are merged or marked as different, which is remembered', async () => {
    const pilar = await world.as('Pilar')
    const started = await pilar.do(StartSearch)
    expect(started.state).to.equal('waiting')
    expect((await pilar.call(StartSearch)).status).to.equal(409)
    await runJobs(world)
    const job = await pilar.do(ReadJob, { params: { id: started.id } })
    expect(job).to.deep.include({ state: 'done', total: job.done })
    const { pairs } = await pilar.do(ReadPairs)
    const names = pairs.map(pair => [pair.a.name, pair.b.name].sort().join(' / '))
    expect(names).to.include.members([
      'ALDIS Membrane Ltd. / Aldis Membranes',
      'TANGWALD SEIL / Tangwald Seile GmbH',
      'Puffin & Parcel Gifts / Puffin and Parcel Gift Ltd',
    ])
    const pair = pairs.find(one => one.a.name.startsWith('ALDIS') || one.b.name.startsWith('ALDIS'))!
    const decide = { aId: pair.b.id, bId: pair.a.id, different: true }
    expect((await pilar.call(DecidePair, { body: { ...decide, reason: '' } })).codes).to.deep.equal([
      'merge.whyDifferent',
    ])
    await pilar.do(DecidePair, { body: { ...decide, reason: 'One makes, one sells.' } })
    await pilar.do(StartSearch)
    await runJobs(world)
    expect((await pilar.do(ReadPairs)).pairs.length).to.equal(pairs.length - 1)
    expect((await pilar.do(ReadPairs, { query: { state: 'different' } })).pairs[0]!.reason).to.equal(
      'One makes, one sells.',
    )
  })
})

describe('merging two records', () => {
  const world = useWorld()
  const idOf = async (name: string): Promise<string> =>
    ((await world.db('suppliers').where({ name }).first('id')) as { id: string }).id

  it('moves open documents and parts, keeps both histories, and can be undone', async () => {
    const [pilar, kept, merged] = [
      await world.as('Pilar'),
      await idOf('Tangwald Seile GmbH'),
      await idOf('Nordhavn Pumpeverk'),
    ]
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    const counts = async () => ({
      offers: Number(
        ((await world.db('offers').where({ supplierId: merged }).count('id as n')) as [{ n: bigint }])[0].n,
      ),
      contacts: (await pilar.do(ReadSupplier, { params: { id: merged } })).supplier.contacts.length,
      sealed: ((await world.db('orders').where({ supplierId: merged, state: 'sealed' }).select('id')) as unknown[])
        .length,
    })
    const before = await counts()
    const preview = await pilar.do(PreviewMerge, { query: { keptId: kept, mergedId: merged } })
    expect(preview.reasons).to.deep.equal([])
    expect(preview.moves.find(move => move.what === 'offers')!.count).to.equal(before.offers)
    const merge = { body: { keptId: kept, mergedId: merged, reason: 'Bought by them.' } }
    await pilar.do(Merge, merge)
    expect((await pilar.do(ReadOrder, { params: { id: order.id } })).supplier).to.equal('Tangwald Seile GmbH')
    const gone = await pilar.do(ReadSupplier, { params: { id: merged } })
    expect([gone.state, gone.mergedInto?.name, gone.actions]).to.deep.equal(['closed', 'Tangwald Seile GmbH', []])
    expect((await counts()).sealed).to.equal(before.sealed)
    expect((await pilar.call(Merge, merge)).codes).to.deep.equal(['merge.already'])
    const sheet = await pilar.do(ReadSupplier, { params: { id: kept } })
    expect(sheet.supplier.tradeNames).to.include('Nordhavn Pumpeverk')
    await pilar.do(UndoMerge, { params: { id: sheet.merges[0]!.id }, body: { reason: 'It was not so.' } })
    expect(await counts()).to.deep.equal(before)
    expect((await pilar.do(ReadOrder, { params: { id: order.id } })).supplier).to.equal('Nordhavn Pumpeverk')
    expect((await pilar.do(ReadSupplier, { params: { id: kept } })).supplier.tradeNames).to.deep.equal([])
    expect(
      (await pilar.call(UndoMerge, { params: { id: sheet.merges[0]!.id }, body: { reason: 'Again.' } })).codes,
    ).to.deep.equal(['merge.undone'])
  })

  it('that would pay what is owed to another account needs a second person, and both suppliers are told', async () => {
    const [pilar, rasmus] = [await world.as('Pilar'), await world.as('Rasmus')]
    const [kept, merged] = [await idOf('Tangwald Seile GmbH'), await idOf('Nordhavn Pumpeverk')]
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
    await received(world, order)
    const invoice = await billed(world, order)
    const merge = { keptId: kept, mergedId: merged }
    expect((await pilar.do(PreviewMerge, { query: merge })).needsSecondYes).to.equal(true)
    const asked = await pilar.do(Merge, { body: { ...merge, reason: 'They say that they are one now.' } })
    const params = { id: asked.secondYesId! }
    expect((await pilar.do(ReadSupplier, { params: { id: merged } })).mergedInto).to.equal(null)
    const question = await pilar.do(ReadSecondYes, { params })
    expect([question.kind, question.state, question.mayAnswer]).to.deep.equal(['merge', 'open', false])
    const yes = { version: question.version, answer: 'agree' as const, reason: 'Asked on the known number.' }
    expect((await pilar.call(AnswerSecondYes, { params, body: yes })).codes).to.deep.equal(['secondYes.own'])
    expect((await rasmus.do(ReadDesk)).items.map(item => item.path)).to.include(`/source/second-yes/${params.id}`)
    await rasmus.do(AnswerSecondYes, { params, body: yes })
    expect((await pilar.do(ReadSupplier, { params: { id: merged } })).mergedInto?.id).to.equal(kept)
    const moved = await world.db('invoices').where({ id: invoice.id }).first('supplierId')
    expect(moved).to.deep.equal({ supplierId: kept })
    const told = await world.db('outbox').where('key', 'like', `merged:${kept}:${merged}:%`).select('payload')
    expect(told.length).to.be.above(0)
    const sheet = await pilar.do(ReadSupplier, { params: { id: kept } })
    await pilar.do(UndoMerge, { params: { id: sheet.merges[0]!.id }, body: { reason: 'It was not so.' } })
  })

  it('cannot be undone after thirty days', async () => {
    const pilar = await world.as('Pilar')
    const [kept, merged] = [await idOf('Puffin & Parcel Gifts'), await idOf('Puffin and Parcel Gift Ltd')]
    await pilar.do(Merge, { body: { keptId: kept, mergedId: merged, reason: 'The same.' } })
    await world
      .db('supplierMerges')
      .where({ keptId: kept })
      .update({ at: `${addDays(today(), -31)}T00:00:00Z` })
    const sheet = await pilar.do(ReadSupplier, { params: { id: kept } })
    expect(sheet.merges[0]!.mayUndo).to.equal(false)
    expect(
      (await pilar.call(UndoMerge, { params: { id: sheet.merges[0]!.id }, body: { reason: 'Late.' } })).codes,
    ).to.deep.equal(['merge.tooLate'])
  })

  it('waits for payment runs that pay the merged record', async () => {
    const pilar = await world.as('Pilar')
    const run = (await world.db('payments').where({ state: 'proposed' }).first('invoiceId')) as { invoiceId: string }
    const { supplierId } = (await world.db('invoices').where({ id: run.invoiceId }).first('supplierId')) as {
      supplierId: string
    }
    const body = { keptId: await idOf('Halvorsen Tauverk AS'), mergedId: supplierId, reason: 'Try.' }
    expect((await pilar.call(Merge, { body })).codes).to.include('merge.inRun')
  })
})

describe('a file of suppliers', () => {
  const world = useWorld()

  it('is read whatever its columns are called, also as a workbook', async () => {
    const { default: exceljs } = await import('exceljs')
    const book = new exceljs.Workbook()
    book.addWorksheet('Lieferanten').addRows([
      ['Firma', 'Land', 'PLZ', 'Ort', 'Seit', 'Kontakt per'],
      ['Möwenstein Pumpenbau', 'DE', '24997', 'Aalsiel', new Date('2020-01-01'), 'post@moewenstein.example'],
    ])
    const bytes = Buffer.from(await book.xlsx.writeBuffer())
    const { outcome } = await importFile(world, await world.as('Pilar'), bytes, { name: 'wrong-name.csv' })
    expect(outcome).to.deep.include({ rows: 1, loaded: 1, faultCount: 0, nearCount: 0 })
    const row = await world.db('suppliers').where({ name: 'Möwenstein Pumpenbau' }).first('domains')
    expect(row).to.deep.equal({ domains: ['moewenstein.example'] })
  })

  it('stops at numbers that a record has, and asks about rows that look like one', async () => {
    const pilar = await world.as('Pilar')
    const head = 'name,country,vat,postal_code\n'
    const shared = await importFile(world, pilar, `${head}Other,NO,${vatOf('krill')},1\n`)
    expect(shared.outcome!.faults.map(fault => fault.code)).to.deep.equal(['import.supplierThere'])
    const near = `${head}Krillfisk Samvirke SA,NO,,9999\nNew one,NO,,1\n`
    const asked = await importFile(world, pilar, near)
    expect([asked.outcome!.loaded, asked.outcome!.near.map(one => [one.row, one.other])]).to.deep.equal([
      0,
      [[2, 'Krillfisk Samvirke']],
    ])
    expect((await importFile(world, pilar, near, { withNear: true })).outcome!.loaded).to.equal(2)
  })

  it('that is no table, has no names or is renamed says so and loads nothing', async () => {
    const pilar = await world.as('Pilar')
    expect((await importFile(world, pilar, 'x,y\n1,2\n')).failure).to.include('which column')
    const broken = await pilar.upload('suppliers.xlsx', Buffer.from([0x50, 0x4b, 3, 4, 0, 1, 2, 3]))
    const { LookAtImport } = await import('#contract/source/duplicates.ts')
    expect((await pilar.call(LookAtImport, { body: { fileId: broken.body.id } })).codes).to.deep.equal([
      'import.notATable',
    ])
  })
})
