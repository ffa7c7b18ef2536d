import { expect } from 'chai'
import { createRenderer, defineComponent, type App } from 'vue'

interface Node {
  parent: Node | null
  children: Node[]
  text: string
}
const made = (text = ''): Node => ({ parent: null, children: [], text })

/** Draws onto nothing: what a component does can be tried without a page. */
const { createApp } = createRenderer<Node, Node>({
  insert: (child, parent, anchor) => {
    child.parent = parent
    parent.children.splice(anchor ? parent.children.indexOf(anchor) : parent.children.length, 0, child)
  },
  remove: child => {
    child.parent?.children.splice(child.parent.children.indexOf(child), 1)
  },
  createElement: made,
  createText: made,
  createComment: made,
  setText: (node, text) => {
    node.text = text
  },
  setElementText: (node, text) => {
    node.text = text
  },
  parentNode: node => node.parent,
  nextSibling: node => node.parent?.children[node.parent.children.indexOf(node) + 1] ?? null,
  patchProp: () => undefined,
})

/** What a composable gives inside a component, and the component to leave; `prepare` gives the app what it needs. */
export function mounted<T>(use: () => T, prepare: (app: App<Node>) => void = () => undefined): [T, () => void] {
  let given!: T
  const app = createApp(
    defineComponent({
      setup: () => {
        given = use()
        return () => null
      },
    }),
  )
  prepare(app)
  app.mount(made())
  return [given, () => app.unmount()]
}

/** Milliseconds that go by. */
export const wait = (milliseconds: number): Promise<void> => new Promise(resolve => setTimeout(resolve, milliseconds))

/** Waits until something holds, for as long as a slow machine may take. */
export async function until(holds: () => boolean): Promise<void> {
  for (let tries = 0; tries < 200 && !holds(); tries++) await wait(50)
  expect(holds(), 'holds at last').to.equal(true)
}

export interface Asked {
  readonly path: string
  readonly method: string
  readonly key: string | undefined
  readonly body: unknown
}
export type Answers = (asked: Asked, count: number) => Response | Promise<Response>

export const answer = (content: unknown, status = 200): Response => new Response(JSON.stringify(content), { status })
export const refusal = (code: string, status = 422): Response =>
  answer({ reasons: [{ code, level: 'stop', details: {} }] }, status)
/** A line that is cut. */
export const cut = (): never => {
  throw new TypeError('fetch failed')
}

/** A network in the hand of the test, in place of the real one until the suite is over. */
export function useNetwork(): { asked: Asked[]; answers: (how: Answers) => void } {
  const real = globalThis.fetch
  const asked: Asked[] = []
  let how: Answers = cut
  before(() => {
    globalThis.fetch = async (input, init) => {
      if (init?.signal?.aborted) throw new DOMException('aborted', 'AbortError')
      const headers = (init?.headers ?? {}) as Record<string, string>
      const one: Asked = {
        path: (input as string).replace(/^\/api/, ''),
        method: init?.method ?? 'GET',
        key: headers['idempotency-key'],
        body: init?.body ? JSON.parse(init.body as string) : undefined,
      }
      asked.push(one)
      return await how(one, asked.length)
    }
  })
  after(() => {
    globalThis.fetch = real
  })
  return {
    asked,
    answers: next => {
      asked.length = 0
      how = next
    },
  }
}
