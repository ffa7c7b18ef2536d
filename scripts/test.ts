import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { buildWeb } from '#scripts/build.ts'
import { ensurePackages, ensurePostgres, ROOT } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'

interface Outcome {
  readonly passed: number
  readonly failed: number
}

const tool = (name: string): string => join(ROOT, 'node_modules', name)

/** Runs one of our tools; it passes or fails as a whole. */
async function check(name: string, args: readonly string[]): Promise<Outcome> {
  process.stdout.write(`\n${name}\n`)
  const { code } = await run(args)
  process.stdout.write(`${name}: ${code === 0 ? 'passed' : 'failed'}\n`)
  return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
}

/** Runs Mocha over some files and adds up what it says. A run that dies counts as a failure. */
async function mocha(name: string, args: readonly string[]): Promise<Outcome> {
  process.stdout.write(`\n${name}\n`)
  const { code, output } = await run([tool('mocha/bin/mocha.js'), ...args])
  const count = (word: string): number => Number(new RegExp(`^\\s+(\\d+) ${word}`, 'm').exec(output)?.[1] ?? 0)
  const failed = count('failing')
  return { passed: count('passing'), failed: code !== 0 && failed === 0 ? 1 : failed }
}

function run(args: readonly string[]): Promise<{ code: number; output: string }> {
  return new Promise(resolve => {
    const child = spawn(process.execPath, [...args], {
      cwd: ROOT,
      env: { ...process.env, LOG_LEVEL: 'silent', FORCE_COLOR: '0' },
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    let output = ''
    child.stdout.on('data', (part: Buffer) => {
      output += part.toString()
      process.stdout.write(part)
    })
    child.once('close', code => resolve({ code: code ?? 1, output }))
  })
}

await command(async () => {
  const { values, positionals } = parseArgs({ options: { only: { type: 'string' } }, allowPositionals: true })
  const wanted = (part: string): boolean => values.only === undefined || values.only === part
  const grep = positionals[0] ? ['--grep', positionals[0]] : []
  const outcomes: Outcome[] = []
  if (wanted('unit') || wanted('browser')) ensurePostgres()
  if (
    wanted('browser') &&
    !['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].some(existsSync)
  )
    ensurePackages(['chromium'])
  if (wanted('lint'))
    outcomes.push(
      await check('Lint', [tool('eslint/bin/eslint.js'), '.', '--max-warnings', '0']),
      await check('Layout', [
        tool('prettier/bin/prettier.cjs'),
        '--check',
        '--log-level',
        'warn',
        '**/*.{ts,js,vue,css,scss,json,html}',
      ]),
    )
  if (wanted('types'))
    outcomes.push(
      await check('Types', [tool('vue-tsc/bin/vue-tsc.js'), '--noEmit', '-p', 'tsconfig.json']),
      await check('Types of the core', [tool('typescript/bin/tsc'), '--noEmit', '-p', 'core/tsconfig.json']),
    )
  if (wanted('unit'))
    outcomes.push(
      await mocha('Unit tests', ['{core,contract,web,stand-ins,server/formats}/**/*.test.ts', ...grep]),
      await mocha('API and database tests', [
        'server/**/*.test.ts',
        'journeys/*.test.ts',
        '--ignore',
        'server/formats/**',
        '--ignore',
        'journeys/*.browser.test.ts',
        ...grep,
      ]),
    )
  if (wanted('browser')) {
    buildWeb()
    outcomes.push(await mocha('Browser tests', ['journeys/*.browser.test.ts', ...grep]))
  }
  if (values.only === undefined && grep.length === 0)
    outcomes.push(await check('Bench, a small run', ['--import', 'tsx', 'scripts/bench.ts', '--small']))
  const total = outcomes.reduce<Outcome>(
    (sum, one) => ({ passed: sum.passed + one.passed, failed: sum.failed + one.failed }),
    { passed: 0, failed: 0 },
  )
  process.stdout.write(`\n${total.passed} passed, ${total.failed} failed\n`)
  return total.failed === 0 ? 0 : 1
})
