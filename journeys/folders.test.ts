import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { expect } from 'chai'

const ROOTS = ['core', 'contract', 'server', 'web'] as const

/** The folder that a file under a root belongs to; files that lie at the root are one folder of their own. */
const folderOf = (path: string): string => (path.includes('/') ? path.split('/')[0]! : '.')

/** Which folders a folder imports, with one import as a witness. */
function imports(root: string): Map<string, Map<string, string>> {
  const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard', root], {
    encoding: 'utf8',
  })
    .split('\n')
    .filter(name => /\.(ts|vue)$/.test(name) && !name.endsWith('.test.ts'))
  const found = new Map<string, Map<string, string>>()
  for (const file of files) {
    const from = folderOf(file.slice(root.length + 1))
    const others = found.get(from) ?? new Map<string, string>()
    found.set(from, others)
    for (const [, path] of readFileSync(file, 'utf8').matchAll(new RegExp(`['"]#${root}/([^'"]+)['"]`, 'g'))) {
      const to = folderOf(path!)
      if (to !== from && !others.has(to)) others.set(to, `${file} → ${path!}`)
    }
  }
  return found
}

/** A circle of folders, as the imports that make it; empty where there is none. */
function circle(graph: ReadonlyMap<string, ReadonlyMap<string, string>>): string[] {
  const done = new Set<string>()
  const visit = (folder: string, way: readonly (readonly [folder: string, by: string])[]): string[] => {
    const at = way.findIndex(([name]) => name === folder)
    if (at >= 0) return way.slice(at).map(([, by]) => by)
    if (done.has(folder)) return []
    for (const [next, by] of graph.get(folder) ?? []) {
      const ring = visit(next, [...way, [folder, by]])
      if (ring.length > 0) return ring
    }
    done.add(folder)
    return []
  }
  for (const folder of graph.keys()) {
    const ring = visit(folder, [])
    if (ring.length > 0) return ring
  }
  return []
}

describe('folders', () => {
  it('that import each other in a circle are found', () => {
    const to = (...names: string[]): Map<string, string> => new Map(names.map(name => [name, `→ ${name}`]))
    expect(
      circle(
        new Map([
          ['a', to('b')],
          ['b', to('c')],
          ['c', to('b')],
        ]),
      ),
    ).to.deep.equal(['→ c', '→ b'])
    expect(
      circle(
        new Map([
          ['a', to('b', 'c')],
          ['b', to('c')],
          ['c', to()],
        ]),
      ),
    ).to.deep.equal([])
  })

  for (const root of ROOTS)
    it(`of ${root} are in no circle`, () => {
      const graph = imports(root)
      expect(graph.size).to.be.above(5)
      expect(circle(graph)).to.deep.equal([])
    })
})
