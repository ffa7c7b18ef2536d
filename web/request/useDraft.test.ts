import { expect } from 'chai'
import { nextTick, ref } from 'vue'
import { useDraft } from '#web/request/useDraft.ts'
import { answer, type Asked, cut, mounted, refusal, until, useNetwork, wait } from '#test-helpers/mounted.ts'

const ID = '3f0d2a8e-1111-4222-8333-944445555666'
/** Milliseconds after which what was typed has been kept. */
const KEPT = 800

interface Kept {
  version: number
  state: string
  title: string
  reason: string
  lines: { id: string; quantity: string; price: string; description: string }[]
}

describe('a draft that keeps itself', function () {
  this.timeout(60_000)
  const network = useNetwork()
  let server: Kept

  const sheetOf = (kept: Kept) => ({ id: ID, ...structuredClone(kept) })
  type Sheet = Parameters<typeof useDraft>[0] extends () => infer S ? S : never

  /** Answers as the server does; `before` may answer in its place. */
  function serve(before: (asked: Asked, count: number) => Response | undefined = () => undefined): void {
    network.answers((asked, count) => {
      const early = before(asked, count)
      if (early) return early
      if (asked.method === 'GET') return answer(sheetOf(server))
      if (asked.path.endsWith('/check')) return answer({ lines: [], steps: [], budgets: [], reasons: [] })
      const body = asked.body as Kept
      if (body.version !== server.version) return refusal('document.changed', 409)
      server = { ...server, title: body.title, reason: body.reason, lines: body.lines, version: server.version + 1 }
      return answer({ id: ID, version: server.version })
    })
  }
  const saves = (): Asked[] => network.asked.filter(one => one.method !== 'GET' && !one.path.endsWith('/check'))

  function opened() {
    const sheet = ref(sheetOf(server))
    const typing: boolean[] = []
    const [draft, leave] = mounted(() =>
      useDraft(
        () => sheet.value as object as Sheet,
        is => {
          typing.push(is)
        },
      ),
    )
    return { draft, sheet, typing, leave }
  }

  beforeEach(() => {
    server = {
      version: 3,
      state: 'draft',
      title: 'Pumps',
      reason: '',
      lines: [{ id: 'l1', quantity: '1', price: '12', description: 'Pump' }],
    }
    serve()
  })

  it('keeps what was typed a moment after the last key, once', async () => {
    const { draft, typing } = opened()
    for (const title of ['P', 'Pu', 'Pumps for the pit']) {
      draft.form.title = title
      await nextTick()
      await wait(50)
    }
    expect(typing.at(-1)).to.equal(true)
    await wait(KEPT)
    expect(saves()).to.have.length(1)
    expect([server.title, server.version, draft.version.value]).to.deep.equal(['Pumps for the pit', 4, 4])
    expect([typing.at(-1), draft.kept.value !== '']).to.deep.equal([false, true])
  })

  it('keeps what is typed while it is being kept, after that', async () => {
    let free = (): void => undefined
    network.answers(async asked => {
      if (asked.path.endsWith('/check')) return answer({ lines: [] })
      if (saves().length === 1) await new Promise<void>(resolve => (free = resolve))
      const body = asked.body as Kept
      if (body.version !== server.version) return refusal('document.changed', 409)
      server = { ...server, ...body, version: server.version + 1 }
      return answer({ id: ID, version: server.version })
    })
    const { draft } = opened()
    draft.change(draft.form.lines[0]!, { quantity: '2' })
    await wait(KEPT)
    draft.change(draft.form.lines[0]!, { quantity: '25' })
    await wait(KEPT)
    expect(saves(), 'one at a time').to.have.length(1)
    free()
    await wait(KEPT)
    expect(saves()).to.have.length(2)
    expect([server.lines[0]!.quantity, server.version]).to.deep.equal(['25', 5])
  })

  it('brings together what was kept meanwhile: theirs where only they changed it, mine where I typed', async () => {
    const { draft } = opened()
    server = { ...server, version: 4, title: 'Their title', lines: [{ ...server.lines[0]!, description: 'Big pump' }] }
    draft.change(draft.form.lines[0]!, { quantity: '7' })
    await wait(KEPT)
    await wait(50)
    expect([server.title, server.lines[0]]).to.deep.equal([
      'Their title',
      { id: 'l1', quantity: '7', price: '12', description: 'Big pump' },
    ])
    expect(draft.news.value.map(one => `${one.kind} ${one.field}`)).to.have.members([
      'theirs title',
      'theirs description',
    ])
    expect([draft.form.title, draft.version.value]).to.deep.equal(['Their title', 5])
  })

  it('says that it waits for the server, and keeps it when the server is there again', async () => {
    let away = true
    serve(() => (away ? cut() : undefined))
    const { draft, typing } = opened()
    draft.form.reason = 'The pit leaks.'
    await nextTick()
    await until(() => draft.waiting.value)
    expect(typing.at(-1)).to.equal(true)
    away = false
    await until(() => !draft.waiting.value)
    expect([server.reason, draft.waiting.value, typing.at(-1)]).to.deep.equal(['The pit leaks.', false, false])
  })

  it('is not lost when the line is cut while two edits are brought together', async () => {
    let away = true
    serve(asked => (away && asked.method === 'GET' ? cut() : undefined))
    const { draft } = opened()
    server = { ...server, version: 4, title: 'Their title' }
    draft.form.reason = 'The pit leaks.'
    await nextTick()
    await wait(KEPT + 2600)
    expect(draft.waiting.value).to.equal(true)
    away = false
    await wait(3200)
    expect([server.title, server.reason]).to.deep.equal(['Their title', 'The pit leaks.'])
  })

  it('is kept when one leaves the page at once, also when the line is cut then', async () => {
    let away = true
    serve(() => (away ? cut() : undefined))
    const { draft, leave } = opened()
    draft.form.title = 'Left in a hurry'
    await nextTick()
    leave()
    await wait(2600)
    expect(server.title).to.equal('Pumps')
    away = false
    await wait(3200)
    expect(server.title).to.equal('Left in a hurry')
  })

  it('that is refused keeps what was typed and shows why; a later change tries again', async () => {
    let full = true
    serve(asked => (full && asked.method !== 'GET' ? refusal('requisition.tooManyLines') : undefined))
    const { draft, typing } = opened()
    draft.form.title = 'Too much'
    await nextTick()
    await wait(KEPT)
    expect(draft.reasons.value.map(one => one.code)).to.deep.equal(['requisition.tooManyLines'])
    expect([draft.form.title, typing.at(-1)]).to.deep.equal(['Too much', true])
    full = false
    draft.touch(0)
    await wait(50)
    expect([server.title, draft.reasons.value]).to.deep.equal(['Too much', []])
  })

  it('that was submitted in another window is let go', async () => {
    const { draft, typing } = opened()
    server = { ...server, version: 4, state: 'waiting' }
    draft.form.title = 'Too late'
    await nextTick()
    await wait(KEPT)
    expect([saves().length, server.title, typing.at(-1)]).to.deep.equal([1, 'Pumps', false])
  })

  it('takes over what another window kept, when nothing here waits to be kept', async () => {
    const { draft, sheet } = opened()
    server = { ...server, version: 4, title: 'Named elsewhere' }
    sheet.value = sheetOf(server)
    await nextTick()
    expect([draft.form.title, draft.version.value]).to.deep.equal(['Named elsewhere', 4])
    draft.change(draft.form.lines[0]!, { quantity: '9' })
    server = { ...server, version: 5, title: 'Named again' }
    sheet.value = sheetOf(server)
    await nextTick()
    expect([draft.form.title, draft.form.lines[0]!.quantity], 'typed here').to.deep.equal(['Named elsewhere', '9'])
    draft.drop()
    await wait(KEPT)
    expect(saves(), 'what is dropped is not kept').to.deep.equal([])
  })

  it('is not written over by the news of its own change while that is being kept', async () => {
    let free = (): void => undefined
    network.answers(async asked => {
      if (asked.path.endsWith('/check')) return answer({ lines: [] })
      const body = asked.body as Kept
      server = { ...server, ...body, version: server.version + 1 }
      await new Promise<void>(resolve => (free = resolve))
      return answer({ id: ID, version: server.version })
    })
    const { draft, sheet } = opened()
    draft.change(draft.form.lines[0]!, { quantity: '2' })
    await wait(KEPT)
    const line = draft.form.lines[0]
    sheet.value = sheetOf(server)
    await nextTick()
    expect(draft.form.lines[0], 'the same line, with its open fields').to.equal(line)
    expect(draft.version.value).to.equal(3)
    free()
    await wait(50)
    expect([draft.version.value, draft.form.lines[0] === line]).to.deep.equal([4, true])
    server = { ...server, version: 5, title: 'Named elsewhere' }
    sheet.value = sheetOf(server)
    await nextTick()
    expect(draft.form.title).to.equal('Named elsewhere')
  })

  it('knows what was found last, also when an older answer comes after it', async () => {
    const waiting: (() => void)[] = []
    network.answers(async asked => {
      if (!asked.path.endsWith('/check')) return answer({ id: ID, version: 3 })
      const nth = waiting.length
      await new Promise<void>(resolve => waiting.push(resolve))
      return answer({ lines: [], steps: [], budgets: [], reasons: [], nth })
    })
    const { draft } = opened()
    const [first, second] = [draft.check(), draft.check()]
    await wait(20)
    waiting[1]!()
    await second
    waiting[0]!()
    await first
    expect(draft.checked.value).to.include({ nth: 1 })
  })
})
