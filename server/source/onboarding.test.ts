import { expect } from 'chai'
import {
  HandOver,
  ReadCompany,
  ReadCompanyPeople,
  ReadInvitation,
  Register,
  ReviseAnswers,
  SaveAddresses,
  SaveAnswers,
  SaveCompanyPerson,
  SaveCompanyRole,
  SendPersonLink,
  SubmitAnswers,
  UploadCompanyFile,
} from '#contract/source/company.ts'
import { IssueOrder } from '#contract/order/endpoints.ts'
import { SupplierOrder, SupplierOrders } from '#contract/order/supplierOrders.ts'
import {
  AnswerRevision,
  InviteAdministrator,
  ComputeSignals,
  ReadSignal,
  ReadSupplier,
  ReassignAdministrator,
  SaveCertificate,
} from '#contract/source/endpoints.ts'
import {
  AcceptAnswers,
  AskBack,
  DecideOnboarding,
  EndOnboarding,
  Invite,
  ListQuestionnaires,
  ProposeSupplier,
  PublishQuestionnaire,
  ReadOnboarding,
  SaveCategory,
  SaveQuestionnaire,
} from '#contract/source/onboarding.ts'
import { addDays } from '#core/calendar/days.ts'
import { inventedIban, inventedVat } from '#demo/identifiers.ts'
import { nightly } from '#server/app/jobs.ts'
import { drafted, goodsLine, ordered, today } from '#test-helpers/steps.ts'
import { Client, sendAll, useWorld, type World } from '#test-helpers/world.ts'

const PROPOSAL = {
  name: 'Kelpline Cordage',
  kind: 'company' as const,
  country: 'NL' as const,
  city: 'Fennick',
  web: 'kelpline.example',
  contactName: 'Anouk Rietveld',
  contactMail: 'anouk@kelpline.example',
  categories: ['Diving & rope access'],
  need: 'Rope by the metre.',
  requisitionId: null,
}
const ANSWERS = {
  name: 'Kelpline Cordage BV',
  vat: inventedVat('NL', 7000),
  street: 'Lijnbaan 3',
  postalCode: '4388 KL',
  city: 'Fennick',
  country: 'NL',
  contactPhone: '+99 555 0170',
  iban: inventedIban('NL', 70_001),
  holder: 'Kelpline Cordage BV',
  sells: ['Equipment'],
  conduct: 'yes',
}

/** The link that stands in the latest mail about a document. */
async function linkIn(world: World, documentId: string): Promise<string> {
  const row = (await world
    .db('outbox')
    .where({ documentId })
    .whereRaw("payload ->> 'text' like '%/welcome/%'")
    .orderBy('createdAt', 'desc')
    .first('payload')) as {
    payload: { text: string }
  }
  return /\/welcome\/([\w-]+)/.exec(row.payload.text)![1]!
}

/** Uses a link and comes in, as a browser does. */
async function comeIn(world: World, token: string, name: string): Promise<Client> {
  const response = await fetch(`${world.address}/api/invitations/${token}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-ivory-order': '1' },
    body: JSON.stringify({ name, password: 'tide-and-tar-rope' }),
  })
  expect(response.status).to.equal(200)
  return new Client(world.address, response.headers.getSetCookie()[0]!.split(';')[0]!)
}

async function invited(
  world: World,
  proposal: Partial<typeof PROPOSAL> = {},
): Promise<{ id: string; supplierId: string }> {
  const pilar = await world.as('Pilar')
  const made = await (await world.as('Ines')).do(ProposeSupplier, { body: { ...PROPOSAL, ...proposal } })
  const sheet = await pilar.do(ReadOnboarding, { params: { id: made.id } })
  await pilar.do(Invite, {
    params: { id: made.id },
    body: {
      version: sheet.version,
      name: sheet.invited.name,
      email: sheet.invited.email,
      questionnaireId: sheet.questionnaires[0]!.id,
      message: '',
    },
  })
  return made
}

describe('an onboarding', () => {
  const world = useWorld()

  it('leads from a proposal to a supplier that can be ordered from', async () => {
    const [pilar, marit, adaeze] = [await world.as('Pilar'), await world.as('Marit'), await world.as('Adaeze')]
    const { id, supplierId } = await invited(world)
    const params = { id }
    expect((await pilar.do(ReadSupplier, { params: { id: supplierId } })).state).to.equal('onboarding')
    const anouk = await comeIn(world, await linkIn(world, id), 'Anouk Rietveld')
    let own = await anouk.do(ReadCompany)
    expect(own.answers).to.deep.include({ name: 'Kelpline Cordage', web: 'kelpline.example', city: 'Fennick' })
    const half = await anouk.do(SaveAnswers, {
      body: { answers: { name: 'Kelpline Cordage BV', sells: ['Equipment'] }, version: own.onboarding!.version },
    })
    const early = await anouk.call(SubmitAnswers, {
      body: { answers: { name: 'Kelpline Cordage BV' }, version: half.version },
    })
    expect(early.reasons.map(reason => reason.place)).to.include.members(['answers.vat', 'answers.iban'])
    await anouk.do(SubmitAnswers, { body: { answers: ANSWERS, version: half.version } })
    let sheet = await pilar.do(ReadOnboarding, { params })
    const answerOf = (key: string) => sheet.sections.flatMap(one => one.questions).find(one => one.key === key)!
    expect([sheet.state, answerOf('name').answer, answerOf('name').record]).to.deep.equal([
      'submitted',
      'Kelpline Cordage BV',
      'Kelpline Cordage',
    ])
    expect(answerOf('foodSafety').asked).to.equal(false)
    await pilar.do(AskBack, {
      params,
      body: { version: sheet.version, asks: [{ key: 'street', question: 'Is this the workshop or the office?' }] },
    })
    own = await anouk.do(ReadCompany)
    expect(own.asks.map(ask => [ask.key, ask.answered])).to.deep.equal([['street', false]])
    await anouk.do(SubmitAnswers, {
      body: { answers: { ...ANSWERS, street: 'Lijnbaan 3, workshop' }, version: own.onboarding!.version },
    })
    sheet = await pilar.do(ReadOnboarding, { params })
    expect([answerOf('street').before, answerOf('street').ask!.answered]).to.deep.equal(['Lijnbaan 3', true])
    await pilar.do(AcceptAnswers, { params, body: { version: sheet.version } })
    sheet = await marit.do(ReadOnboarding, { params })
    expect(sheet.decisions.map(one => [one.office, one.who, one.mine])).to.deep.equal([
      ['categoryOwner', 'Marit Oland', true],
      ['finance', '', false],
    ])
    const decide = (decision: number) => ({
      params: { id, decisionId: sheet.decisions[decision]!.id },
      body: { version: sheet.version, approve: true, reason: '' },
    })
    expect((await pilar.call(DecideOnboarding, decide(1))).codes).to.deep.equal(['onboarding.own'])
    await marit.do(DecideOnboarding, decide(0))
    sheet = await adaeze.do(ReadOnboarding, { params })
    await adaeze.do(DecideOnboarding, decide(1))
    const record = await pilar.do(ReadSupplier, { params: { id: supplierId } })
    expect([record.state, record.title, record.supplier.locations[0]!.street]).to.deep.equal([
      'active',
      'Kelpline Cordage BV',
      'Lijnbaan 3, workshop',
    ])
    expect(record.bankAccounts[0]!.state).to.equal('unproven')
    expect(record.people).to.deep.include.members([{ ...record.people[0]!, administrator: true }])
    await sendAll(world)
  })

  it('of a person asks what a fee needs, and shows it only to those who pay and keep suppliers', async () => {
    const [pilar, ines, rasmus] = [await world.as('Pilar'), await world.as('Ines'), await world.as('Rasmus')]
    const { id, supplierId } = await invited(world, {
      name: 'Ebba Lindqvist',
      kind: 'person' as never,
      contactName: 'Ebba Lindqvist',
      contactMail: 'ebba@lindqvist.example',
      web: '',
      categories: ['Illustration'],
    })
    const ebba = await comeIn(world, await linkIn(world, id), 'Ebba Lindqvist')
    const own = await ebba.do(ReadCompany)
    expect(own.sections.flatMap(section => section.questions.map(question => question.key))).to.include('birthDate')
    const answers = {
      name: 'Ebba Lindqvist',
      street: 'Ateljévägen 1',
      postalCode: '111 11',
      city: 'Utö',
      country: 'SE',
      birthDate: '1985-06-30',
      taxResidence: 'SE',
      taxNumber: 'SE-8506',
      iban: inventedIban('SE', 91_000),
      holder: 'Ebba Lindqvist',
    }
    await ebba.do(SubmitAnswers, { body: { answers, version: own.onboarding!.version } })
    const seen = async (who: Client, key: string): Promise<string> => {
      const { sections } = await who.do(ReadOnboarding, { params: { id } })
      return sections.flatMap(section => section.questions).find(question => question.key === key)!.answer
    }
    expect([await seen(pilar, 'birthDate'), await seen(ines, 'birthDate'), await seen(ines, 'city')]).to.deep.equal([
      '1985-06-30',
      '•••',
      'Utö',
    ])
    let sheet = await pilar.do(ReadOnboarding, { params: { id } })
    await pilar.do(AcceptAnswers, { params: { id }, body: { version: sheet.version } })
    for (const person of [rasmus, await world.as('Adaeze')]) {
      sheet = await person.do(ReadOnboarding, { params: { id } })
      const mine = sheet.decisions.find(one => one.mine)!
      await person.do(DecideOnboarding, {
        params: { id, decisionId: mine.id },
        body: { version: sheet.version, approve: true, reason: '' },
      })
    }
    const record = await pilar.do(ReadSupplier, { params: { id: supplierId } })
    expect([record.state, record.supplier.person?.birthDate, record.supplier.tax.number]).to.deep.equal([
      'active',
      '1985-06-30',
      'SE-8506',
    ])
    const shown = await ines.do(ReadSupplier, { params: { id: supplierId } })
    expect(JSON.stringify(shown)).to.not.include('1985-06-30').and.not.include('SE-8506')
  })

  it('shows who is here already before anybody is invited', async () => {
    const pilar = await world.as('Pilar')
    const made = await (
      await world.as('Joren')
    ).do(ProposeSupplier, {
      body: { ...PROPOSAL, name: 'Brightwater Divers', country: 'IE', web: 'www.brightwater.example' },
    })
    const sheet = await pilar.do(ReadOnboarding, { params: { id: made.id } })
    expect(sheet.candidates[0]).to.deep.include({ name: 'Brightwater Diving' })
    expect(sheet.candidates[0]!.percent).to.be.at.least(90)
    await pilar.do(EndOnboarding, {
      params: { id: made.id },
      body: { version: 1, action: 'refuse', reason: 'We have it.' },
    })
    expect((await pilar.do(ReadSupplier, { params: { id: made.supplierId } })).state).to.equal('closed')
    await pilar.do(EndOnboarding, {
      params: { id: made.id },
      body: { version: 2, action: 'takeUp', reason: 'Another one after all.' },
    })
    expect((await pilar.do(ReadSupplier, { params: { id: made.supplierId } })).state).to.equal('proposed')
  })

  it('takes a link once: unknown, used, replaced and expired ones say what to do', async () => {
    const pilar = await world.as('Pilar')
    const nobody = new Client(world.address, '')
    const proposal = { name: 'Lantern Glass', contactMail: 'lena@lantern.example', web: '' }
    const { id } = await invited(world, proposal)
    const first = await linkIn(world, id)
    const again = async (): Promise<string> => {
      const sheet = await pilar.do(ReadOnboarding, { params: { id } })
      await pilar.do(Invite, {
        params: { id },
        body: {
          version: sheet.version,
          name: 'Lena',
          email: proposal.contactMail,
          questionnaireId: sheet.questionnaires[0]!.id,
          message: '',
        },
      })
      return linkIn(world, id)
    }
    const second = await again()
    const read = async (token: string) => (await nobody.call(ReadInvitation, { params: { token } })).codes
    expect(await read(first)).to.deep.equal(['invitation.unknown'])
    await world.db('onboardings').where({ id }).update({ tokenExpires: '2020-01-01T00:00:00Z' })
    expect(await read(second)).to.deep.equal(['invitation.expired'])
    const third = await again()
    const body = { name: 'Lena', password: 'ten-letters-long' }
    const twice = await Promise.all([1, 2].map(() => nobody.call(Register, { params: { token: third }, body })))
    expect(twice.map(answer => answer.status).sort()).to.deep.equal([200, 422])
    expect(await read(third)).to.deep.equal(['invitation.used'])
    expect((await nobody.call(Register, { params: { token: 'x'.repeat(30) }, body })).codes).to.deep.equal([
      'invitation.unknown',
    ])
  })

  it('refuses a mail address that belongs to somebody else', async () => {
    const pilar = await world.as('Pilar')
    const made = await pilar.do(ProposeSupplier, { body: { ...PROPOSAL, name: 'Mole End Joinery', contactMail: '' } })
    const sheet = await pilar.do(ReadOnboarding, { params: { id: made.id } })
    const answer = await pilar.call(Invite, {
      params: { id: made.id },
      body: {
        version: 1,
        name: 'X',
        email: 'orders@nordhavn.example',
        questionnaireId: sheet.questionnaires[0]!.id,
        message: '',
      },
    })
    expect(answer.codes).to.deep.equal(['onboarding.mailTaken'])
  })
})

describe('a supplier in its own pages', () => {
  const world = useWorld()

  it('changes harmless fields at once and others field by field; an account becomes unproven', async () => {
    const [nordhavn, pilar] = [await world.as('at Nordhavn Pumpeverk'), await world.as('Pilar')]
    const { answers, supplierId } = await nordhavn.do(ReadCompany)
    const changed = {
      ...answers,
      contactPhone: '+99 555 0999',
      street: 'Verftsgata 20',
      iban: inventedIban('NO', 80_001),
      holder: 'Nordhavn Pumpeverk',
    }
    expect(await nordhavn.do(ReviseAnswers, { body: { answers: changed } })).to.deep.equal({ atOnce: 1, waiting: 2 })
    let sheet = await pilar.do(ReadSupplier, { params: { id: supplierId } })
    expect(sheet.supplier.contacts[0]!.phone).to.equal('+99 555 0999')
    expect(sheet.supplier.locations[0]!.street).to.equal('Verftsgata 18')
    const waiting = (key: string) => sheet.revisions.find(one => one.key === key && one.state === 'waiting')!
    const answer = (key: string, accept: boolean, reason = '') =>
      pilar.call(AnswerRevision, {
        params: { id: supplierId, revisionId: waiting(key).id },
        body: { accept, reason },
      })
    expect((await answer('street', false)).codes).to.deep.equal(['revision.whyRefused'])
    await answer('street', false, 'We know the yard under 18.')
    await answer('iban', true)
    sheet = await pilar.do(ReadSupplier, { params: { id: supplierId } })
    expect(sheet.bankAccounts[0]).to.deep.include({
      state: 'unproven',
      iban: `… ${inventedIban('NO', 80_001).slice(-4)}`,
    })
    expect((await nordhavn.do(ReadCompany)).refused[0]).to.deep.include({ reason: 'We know the yard under 18.' })
  })

  it('makes roles, adds people who choose their password, and hands over', async () => {
    const ferrolund = await world.as('at Ferrolund Fastenings')
    const role = await ferrolund.do(SaveCompanyRole, {
      body: { id: null, name: 'Billing', permissions: ['supplierPages.bill', 'supplierPages.orders'] },
    })
    expect(
      (await ferrolund.call(SaveCompanyRole, { body: { id: null, name: 'Billing', permissions: [] } })).codes,
    ).to.deep.equal(['company.roleTwice'])
    const body = { id: null, name: 'Sigrun Aune', email: 'sigrun@ferrolund.example', roleId: role.id, active: true }
    const added = await ferrolund.do(SaveCompanyPerson, { body })
    expect((await ferrolund.call(SaveCompanyPerson, { body })).codes).to.deep.equal(['onboarding.mailTaken'])
    const { supplierId } = await ferrolund.do(ReadCompany)
    const earlier = await comeIn(world, await linkIn(world, supplierId), 'Sigrun Aune')
    expect((await earlier.call(SupplierOrders)).status).to.equal(200)
    await ferrolund.do(SendPersonLink, { params: { id: added.id } })
    const first = await linkIn(world, supplierId)
    await ferrolund.do(SendPersonLink, { params: { id: added.id } })
    expect(
      (await new Client(world.address, '').call(ReadInvitation, { params: { token: first } })).codes,
    ).to.deep.equal(['invitation.unknown'])
    const sigrun = await comeIn(world, await linkIn(world, supplierId), 'Sigrun Aune')
    expect((await earlier.call(SupplierOrders)).codes, 'a new password ends old sessions').to.deep.equal([
      'session.none',
    ])
    expect((await sigrun.call(ReadCompanyPeople)).codes).to.deep.equal(['right.missing'])
    expect((await sigrun.call(ReadCompany)).codes).to.deep.equal(['right.missing'])
    await ferrolund.do(HandOver, { params: { id: added.id }, body: { reason: 'I retire.' } })
    expect((await sigrun.do(ReadCompanyPeople)).people.find(one => one.me)!.administrator).to.equal(true)
    expect((await ferrolund.call(ReadCompanyPeople)).status).to.equal(403)
    const wren = await world.as('Wren')
    const tuva = (await world.db('people').where({ name: 'Tuva Lindmark' }).first('id')) as { id: string }
    const again = { params: { id: supplierId }, body: { personId: tuva.id, check: 'Called the switchboard.' } }
    expect((await (await world.as('Pilar')).call(ReassignAdministrator, again)).status).to.equal(403)
    await wren.do(ReassignAdministrator, again)
    expect((await ferrolund.call(ReadCompanyPeople)).status).to.equal(200)
  })

  it('is opened by a buyer while nobody is there, and by a steward when the administrator is gone', async () => {
    const [pilar, wren] = [await world.as('Pilar'), await world.as('Wren')]
    const { id } = (await world.db('suppliers').where({ name: 'Puffin and Parcel Gift Ltd' }).first('id')) as {
      id: string
    }
    const body = { name: 'Ottoline Brace', email: 'ottoline@parcel.example', check: 'She wrote from it.' }
    await pilar.do(InviteAdministrator, { params: { id }, body })
    const ottoline = await comeIn(world, await linkIn(world, id), 'Ottoline Brace')
    expect((await ottoline.do(ReadCompanyPeople)).people.map(one => one.administrator)).to.deep.equal([true])
    const other = { name: 'Percy Brace', email: 'percy@parcel.example', check: 'Called the shop.' }
    expect((await pilar.call(InviteAdministrator, { params: { id }, body: other })).codes).to.deep.equal([
      'company.hasAdministrator',
    ])
    expect((await wren.call(InviteAdministrator, { params: { id }, body })).codes).to.deep.equal([
      'onboarding.mailTaken',
    ])
    await wren.do(InviteAdministrator, { params: { id }, body: other })
    expect((await ottoline.call(ReadCompanyPeople)).codes).to.deep.equal(['right.missing'])
    const again = await (await world.as('Ines')).call(InviteAdministrator, { params: { id }, body: other })
    expect(again.status).to.not.equal(200)
  })

  it('sees nothing of another company, and sends only its own files', async () => {
    const [nordhavn, krill] = [await world.as('at Nordhavn Pumpeverk'), await world.as('at Krillfisk Samvirke')]
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    expect((await krill.call(SupplierOrder, { params: { id: order.id } })).status).to.equal(404)
    const form = new FormData()
    form.append('file', new Blob(['%PDF-1.4 secret']), 'a.pdf')
    const sent = await fetch(`${world.address}/api${UploadCompanyFile.path}`, {
      method: 'POST',
      headers: { cookie: nordhavn.cookie, 'x-ivory-order': '1' },
      body: form,
    })
    const { id } = (await sent.json()) as { id: string }
    const own = await nordhavn.do(ReadCompany)
    const insured = (fileId: string) => ({
      ...own.answers,
      sells: ['Services in or above the water'],
      insured: 'yes',
      insurance: { fileId, fileName: 'a.pdf' },
    })
    const program = new FormData()
    program.append('file', new Blob([new Uint8Array([0x4d, 0x5a, 0, 0, 1, 2, 3])]), 'insurance.pdf')
    const renamed = await fetch(`${world.address}/api${UploadCompanyFile.path}`, {
      method: 'POST',
      headers: { cookie: nordhavn.cookie, 'x-ivory-order': '1' },
      body: program,
    })
    const wrong = (await renamed.json()) as { id: string }
    expect((await nordhavn.call(ReviseAnswers, { body: { answers: insured(wrong.id) } })).codes).to.deep.equal([
      'file.type',
    ])
    expect((await nordhavn.do(ReviseAnswers, { body: { answers: insured(id) } })).waiting).to.be.at.least(2)
    const { answers } = await krill.do(ReadCompany)
    const stolen = await krill.call(ReviseAnswers, {
      body: {
        answers: {
          ...answers,
          sells: ['Services in or above the water'],
          insured: 'yes',
          insurance: { fileId: id, fileName: 'a.pdf' },
        },
      },
    })
    expect(stolen.codes).to.deep.equal(['document.notFound'])
    expect((await krill.call(ReadSupplier, { params: { id } })).codes).to.deep.equal(['right.missing'])
  })

  it('chooses addresses for each kind of message; a bounced one is marked and left out', async () => {
    const [nordhavn, pilar] = [await world.as('at Nordhavn Pumpeverk'), await world.as('Pilar')]
    const addresses = ['orders@nordhavn.example', 'gone.fishing@nordhavn.example'].map(email => ({
      message: 'orders' as const,
      email,
    }))
    await nordhavn.do(SaveAddresses, { body: { addresses } })
    const mails = async (): Promise<{ to: string; state: string }[]> => {
      const { id } = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
      await sendAll(world)
      const rows = (await world.db('outbox').where({ documentId: id, kind: 'mail' }).select('payload', 'state')) as {
        payload: { to: string }
        state: string
      }[]
      return rows.map(row => ({ to: row.payload.to, state: row.state })).sort((a, b) => (a.to < b.to ? -1 : 1))
    }
    expect(await mails()).to.deep.equal([
      { to: 'gone.fishing@nordhavn.example', state: 'failed' },
      { to: 'orders@nordhavn.example', state: 'sent' },
    ])
    const { supplierId } = await nordhavn.do(ReadCompany)
    const sheet = await pilar.do(ReadSupplier, { params: { id: supplierId } })
    expect(sheet.addresses.find(one => one.email.startsWith('gone'))!.bounce).to.include('There is no mailbox')
    expect((await mails()).map(mail => mail.to)).to.deep.equal(['orders@nordhavn.example'])
  })
})

describe('certificates', () => {
  const world = useWorld()

  it('are reminded of by mail, once, and stop the next order in their category when they lapse overnight', async () => {
    const [pilar, wren] = [await world.as('Pilar'), await world.as('Wren')]
    await wren.do(SaveCategory, {
      body: {
        name: 'Pumps',
        ownerId: null,
        needsFinance: true,
        certificates: [{ kind: 'Welding certificate', lapse: 'stop' }],
        thresholds: {},
        version: 2,
      },
    })
    const { id } = (await world.db('suppliers').where({ name: 'Nordhavn Pumpeverk' }).first('id')) as { id: string }
    const missing = await drafted(world, [await goodsLine(world, 'PS-1200', '1')])
    const issue = { params: { id: missing.id }, body: { version: missing.version } }
    expect((await pilar.call(IssueOrder, issue)).codes).to.deep.equal(['source.certificateMissing'])
    const certificate = {
      kind: 'Welding certificate',
      category: 'Pumps',
      issuer: 'Board',
      number: 'W-1',
      validFrom: '2024-01-01',
      validTo: addDays(today(), 20),
      fileId: null,
      replaces: null,
    }
    await pilar.do(SaveCertificate, { params: { id }, body: certificate })
    await pilar.do(IssueOrder, issue)
    const mails = async (): Promise<number> =>
      (await world.db('outbox').where('key', 'like', 'certificate%').where({ documentId: id }).select('id')).length
    await nightly(world.jobs)
    await nightly(world.jobs)
    expect(await mails()).to.equal(2)
    const later = `${addDays(today(), 21)}T03:00:00.000Z`
    await nightly({ ...world.jobs, clock: () => later })
    expect(await mails()).to.equal(4)
    await world
      .db('supplierCertificates')
      .where({ number: 'W-1' })
      .update({ validTo: addDays(today(), -1) })
    const next = await drafted(world, [await goodsLine(world, 'PS-1200', '1')])
    const refused = await pilar.call(IssueOrder, { params: { id: next.id }, body: { version: next.version } })
    expect(refused.codes).to.deep.equal(['source.certificateLapsed'])
    const sheet = await pilar.do(ReadSupplier, { params: { id } })
    expect(sheet.sentence.code).to.equal('supplier.is.unqualified')
    await pilar.do(SaveCertificate, {
      params: { id },
      body: { ...certificate, number: 'W-2', replaces: sheet.certificates[0]!.id },
    })
    await pilar.do(IssueOrder, { params: { id: next.id }, body: { version: next.version } })
  })

  it('that only want a reason let the order go with one, which is kept', async () => {
    const [pilar, wren] = [await world.as('Pilar'), await world.as('Wren')]
    await wren.do(SaveCategory, {
      body: {
        name: 'Pumps',
        ownerId: null,
        needsFinance: true,
        certificates: [{ kind: 'Energy label', lapse: 'check' }],
        thresholds: {},
        version: 3,
      },
    })
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '1')])
    const issue = (checkReason?: string) =>
      pilar.call(IssueOrder, { params: { id: order.id }, body: { version: order.version, checkReason } })
    expect((await issue()).codes).to.deep.equal(['order.checkReason', 'source.certificateMissing'])
    expect((await issue('It is on its way.')).status).to.equal(200)
  })
})

describe('signals', () => {
  const world = useWorld()

  it('are computed from the documents, with the entries behind each figure', async () => {
    const pilar = await world.as('Pilar')
    const { id } = (await world.db('suppliers').where({ name: 'Krillfisk Samvirke' }).first('id')) as { id: string }
    const before = await pilar.do(ComputeSignals, { params: { id } })
    const orders = before.signals.find(one => one.key === 'repeatOrders')!
    await ordered(world, [await goodsLine(world, 'FK-1200', '50')])
    const { signals } = await pilar.do(ComputeSignals, { params: { id } })
    expect(Number(signals.find(one => one.key === 'repeatOrders')!.figure)).to.equal(Number(orders.figure) + 1)
    for (const signal of signals.filter(one => one.entries > 0)) {
      const { entries, more } = await pilar.do(ReadSignal, { params: { id, key: signal.key } })
      expect(entries.length + more, signal.key).to.equal(signal.entries)
    }
    const share = signals.find(one => one.key === 'onTimeInFull')!
    const { entries } = await pilar.do(ReadSignal, { params: { id, key: 'onTimeInFull' } })
    if (share.figure !== null)
      expect(Number(share.figure)).to.be.closeTo(
        (entries.filter(entry => entry.good).length * 100) / entries.length,
        0.06,
      )
    expect(share.threshold).to.equal('95')
  })
})

describe('questionnaires', () => {
  const world = useWorld()

  it('are drafted, put in force as the next version, and kept for those who have the old one', async () => {
    const wren = await world.as('Wren')
    const live = (await wren.do(ListQuestionnaires)).questionnaires.find(one => one.code === 'company')!
    const extra = {
      key: 'boats',
      kind: 'number' as const,
      label: 'How many boats have you?',
      help: '',
      required: false,
      when: { key: 'nowhere', equals: 'x' },
      choices: [],
      fills: null,
    }
    const sections = [...live.sections, { title: 'Boats', questions: [extra] }]
    const body = { code: 'company', name: live.name, categories: [], kinds: live.kinds, sections, version: 0 }
    const draft = await wren.do(SaveQuestionnaire, { body })
    expect(draft.reasons.map(reason => reason.code)).to.deep.equal(['questionnaire.condition'])
    const publish = (version: number) =>
      wren.call(PublishQuestionnaire, { params: { id: draft.id }, body: { version } })
    expect((await publish(draft.version)).codes).to.deep.equal(['questionnaire.condition'])
    const mended = await wren.do(SaveQuestionnaire, {
      body: {
        ...body,
        sections: [...live.sections, { title: 'Boats', questions: [{ ...extra, when: null }] }],
        version: 1,
      },
    })
    expect((await publish(mended.version)).status).to.equal(200)
    const states = (await wren.do(ListQuestionnaires)).questionnaires
      .filter(one => one.code === 'company')
      .map(one => [one.number, one.state])
    expect(states).to.deep.equal([
      [2, 'live'],
      [1, 'retired'],
    ])
    const half = (await world.db('onboardings').where({ state: 'answering' }).first('id')) as { id: string }
    const running = await wren.do(ReadOnboarding, { params: { id: half.id } })
    expect(running.questionnaire!.number).to.equal(1)
    expect((await (await world.as('Pilar')).call(SaveQuestionnaire, { body })).status).to.equal(403)
  })
})
