import { expect } from 'chai'
import { nextTick } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { mounted, wait } from '#test-helpers/mounted.ts'
import { useSearchText } from '#web/shared/useSearchText.ts'

const DELAY = 30

/** A list at /list with things in it, a page elsewhere, and a search field over the list; a thing takes a while to open. */
async function opened(at = '/list', opens = 0) {
  const Nothing = { render: () => null }
  const slow = async (): Promise<typeof Nothing> => {
    await wait(opens)
    return Nothing
  }
  const router: Router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/list', component: Nothing, children: [{ path: ':id', component: slow }] },
      { path: '/elsewhere', component: slow },
    ],
  })
  await router.push(at)
  // the page around it stays when the field goes
  mounted(
    () => undefined,
    app => app.use(router),
  )
  const [field, leave] = mounted(
    () => useSearchText(DELAY),
    app => app.use(router),
  )
  const type = async (text: string): Promise<void> => {
    field.text.value = text
    await nextTick()
  }
  /** Types so fast that the last key waits. */
  const typeFast = async (text: string): Promise<void> => {
    await type(text[0]!)
    await type(text)
  }
  return { router, field, type, typeFast, leave, address: () => router.currentRoute.value.fullPath }
}

describe('text to search by', () => {
  it('begins with what stands in the address; the first key is written there at once, what follows when nobody types any more', async () => {
    const { router, field, type, address } = await opened('/list?q=pump&view=mine')
    expect(field.text.value).to.equal('pump')
    await type('pumps')
    expect(field.sought.value, 'before the address says it').to.equal('pumps')
    await wait(0)
    expect(address()).to.equal('/list?q=pumps&view=mine')
    await type('pumps f')
    await type('pumps for')
    await wait(DELAY / 2)
    expect(address()).to.equal('/list?q=pumps&view=mine')
    await wait(DELAY * 2)
    expect([address(), field.sought.value]).to.deep.equal(['/list?q=pumps+for&view=mine', 'pumps for'])
    await router.replace('/list?q=valve')
    expect(field.sought.value, 'as somebody else wrote it').to.equal('valve')
    await router.replace('/list?q=pumps+for&view=mine')
    await type('')
    await wait(DELAY * 2)
    expect(address()).to.equal('/list?view=mine')
  })

  it('does not hold up what is opened meanwhile, and goes along with it inside the list', async () => {
    const { router, type, typeFast, address } = await opened('/list', DELAY * 2)
    await type('k')
    await router.push('/list/7')
    expect(address()).to.equal('/list/7?q=k')
    await router.push('/list')
    await typeFast('kelp')
    await router.push('/list/7')
    expect(address()).to.equal('/list/7?q=kelp')
    await wait(DELAY * 2)
    expect(address()).to.equal('/list/7?q=kelp')
  })

  it('stays behind when one goes somewhere else', async () => {
    const { router, typeFast, address } = await opened('/list', DELAY * 2)
    await typeFast('kelp')
    await router.push('/elsewhere')
    expect(address()).to.equal('/elsewhere')
    await wait(DELAY * 2)
    expect(address()).to.equal('/elsewhere')
  })

  it('is not written by it any more once somebody else writes it, or the field is gone', async () => {
    const settled = await opened()
    await settled.typeFast('kelp')
    settled.field.settle()
    await wait(DELAY * 2)
    expect(settled.address()).to.equal('/list?q=k')
    const gone = await opened()
    await gone.typeFast('kelp')
    gone.leave()
    await wait(DELAY * 2)
    expect(gone.address()).to.equal('/list?q=k')
    await gone.router.push('/list/7')
    expect(gone.address()).to.equal('/list/7')
  })

  it('with nothing waiting changes no address', async () => {
    const { router, address } = await opened()
    await router.push('/list/7')
    expect(address()).to.equal('/list/7')
  })
})
