import { startBrowser } from '#test-helpers/browser.ts'
const [, , who = 'Pilar', ...steps] = process.argv
const b = await startBrowser()
const page = await b.open(Number(process.env.W ?? 1280), Number(process.env.H ?? 800))
page.on('console', m => { if (m.type() === 'error' || m.type() === 'warn') console.log('console', m.text().slice(0, 300)) })
page.on('pageerror', e => console.log('pageerror', String(e).slice(0, 600)))
await page.goto('http://127.0.0.1:4747/sign-in')
await page.waitForSelector('[data-test]')
await page.evaluate(async (who: string) => {
  const s = await (await fetch('/api/session')).json()
  const p = s.demoPeople.find((one: { name: string }) => one.name.startsWith(who))
  await fetch('/api/session/demo', { method: 'POST', headers: { 'content-type': 'application/json', 'x-ivory-order': '1', 'idempotency-key': crypto.randomUUID() }, body: JSON.stringify({ personId: p.id }) })
}, who)
let shot = 0
for (const step of steps) {
  const [verb, ...rest] = step.split('=')
  const arg = rest.join('=')
  try {
    if (verb === 'go') await page.goto('http://127.0.0.1:4747' + arg, { waitUntil: 'networkidle2', timeout: 8000 }).catch(() => undefined)
    else if (verb === 'click') await (await page.waitForSelector(arg.startsWith('.') || arg.startsWith('[') ? arg : `[data-test="${arg}"]`, { timeout: 4000 }))!.click()
    else if (verb === 'key') { const keys = arg.split('+'); for (const k of keys.slice(0, -1)) await page.keyboard.down(k as never); await page.keyboard.press(keys.at(-1) as never); for (const k of keys.slice(0, -1)) await page.keyboard.up(k as never) }
    else if (verb === 'type') await page.keyboard.type(arg)
    else if (verb === 'wait') await new Promise(r => setTimeout(r, Number(arg)))
    else if (verb === 'shot') { await new Promise(r => setTimeout(r, 500)); await page.screenshot({ path: `/tmp/shot-${arg || ++shot}.png` as never }) }
    else if (verb === 'eval') console.log(await page.evaluate(arg))
  } catch (e) { console.log('step', step, String(e).slice(0, 200)) }
}
await b.close()
process.exit(0)
