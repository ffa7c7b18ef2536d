import { readFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { type InstanceFile, problemOfInstance } from '#core/award/instanceFile.ts'
import { recheckPlan, wholeCost } from '#core/award/recheck.ts'
import { RuleBroken } from '#core/reasons.ts'
import { InstanceJson } from '#contract/award/instance.ts'
import { say } from '#contract/messages/say.ts'
import { Mendable } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { solveAward } from '#server/award/solveAward.ts'

const SECONDS = 30
/** What counts as proved: a ten-thousandth of the cost. */
const GAP = 0.0001
const CENTS = 100

await command(async () => {
  const { values, positionals } = parseArgs({
    options: { json: { type: 'boolean' }, seconds: { type: 'string' } },
    allowPositionals: true,
  })
  const [path] = positionals
  if (!path) throw new Mendable('Name the instance: ./ivory award FILE [--seconds N] [--json].')
  const seconds = values.seconds === undefined ? SECONDS : Number(values.seconds)
  if (!(seconds > 0 && seconds <= 3600)) throw new Mendable('--seconds takes a number above 0, up to 3600.')
  const file = readInstance(path)
  const problem = problemOf(file, path)
  const progress = (text: string): void => void (values.json ? undefined : process.stderr.write(`${text}\n`))
  let told = 0
  const solved = await solveAward(problem, {
    seconds,
    gap: GAP,
    onProgress: so => {
      if (so.seconds - told < 1 || so.gap === null) return
      told = so.seconds
      progress(
        `${so.seconds.toFixed(0).padStart(4)} s   best ${money(Number(so.cost) / 10_000)}   at most ${(so.gap * 100).toFixed(3)} % above the cheapest possible`,
      )
    },
  })
  if (!solved.awards || solved.cost === null) {
    process.stdout.write(
      values.json
        ? `${JSON.stringify({ cost: null, bound: null, gap: null, seconds: solved.seconds, firstSeconds: null, proved: solved.bound === Infinity, award: null })}\n`
        : solved.bound === Infinity
          ? 'No award keeps all rules.\n'
          : 'No award was found in this time.\n',
    )
    return 1
  }
  const { faults, cost, spend: goodsBy } = recheckPlan(problem, solved.awards)
  const whole = Number(wholeCost(cost))
  const awards = solved.awards.map(one => ({
    line: file.lines[one.line]!.id,
    supplier: file.suppliers[one.supplier]!.id,
    qty: one.quantity,
  }))
  if (values.json) {
    const round = (value: number): number => Math.round(value * 1000) / 1000
    process.stdout.write(
      `${JSON.stringify({ cost: whole, bound: Math.floor(solved.bound), gap: solved.gap, seconds: round(solved.seconds), firstSeconds: round(solved.firstSeconds ?? 0), proved: solved.proved, award: { awards } })}\n`,
    )
    return faults.length === 0 ? 0 : 1
  }
  process.stdout.write(
    [
      `Cost ${money(whole)}, no award costs less than ${money(Math.floor(solved.bound))}: at most ${((solved.gap ?? 0) * 100).toFixed(4)} % above the cheapest possible.`,
      `First checked award after ${(solved.firstSeconds ?? 0).toFixed(2)} s, ${solved.seconds.toFixed(2)} s in all; ${solved.proved ? 'proved' : 'time was up'}.`,
      `Checked again by other code: ${faults.length === 0 ? 'every rule is kept, the cost is the same to the cent' : `${faults.length} faults`}.`,
      ...[...goodsBy].map(
        ([supplier, spent]) =>
          `  ${file.suppliers[supplier]!.id.padEnd(8)} ${money(Number(spent)).padStart(16)}   ${awards.filter(one => one.supplier === file.suppliers[supplier]!.id).length} lines`,
      ),
      '',
    ].join('\n'),
  )
  return faults.length === 0 ? 0 : 1
})

function money(cents: number): string {
  return (cents / CENTS).toFixed(2)
}

function readInstance(path: string): InstanceFile {
  let text: string
  try {
    text = readFileSync(path, 'utf8')
  } catch (error) {
    throw new Mendable(`${path} cannot be read: check the name and the rights.`, { cause: error })
  }
  let plain: unknown
  try {
    plain = JSON.parse(text)
  } catch (error) {
    throw new Mendable(`${path} is no JSON: ${(error as Error).message}.`, { cause: error })
  }
  const read = InstanceJson.safeParse(plain)
  if (!read.success) {
    const [issue] = read.error.issues
    throw new Mendable(`${path} is no instance of version 1: ${issue!.path.join('.')} ${issue!.message}.`)
  }
  return read.data
}

function problemOf(file: InstanceFile, path: string): ReturnType<typeof problemOfInstance> {
  try {
    return problemOfInstance(file)
  } catch (error) {
    if (!(error instanceof RuleBroken)) throw error
    throw new Mendable(
      `${path} cannot be meant so:\n${error.reasons
        .slice(0, 20)
        .map(one => `  ${say(one.code, one.details)}`)
        .join('\n')}`,
    )
  }
}
