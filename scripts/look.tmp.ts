import { startBrowser, comeInAs } from '#test-helpers/browser.ts'
const [who, path, out, width, height, ...clicks] = process.argv.slice(2)
const b = await startBrowser()
const page = await b.open(Number(width ?? 1280), Number(height ?? 800))
page.on('console', m => { if (['error','warn'].includes(m.type())) console.log('CONSOLE', m.type(), m.text().slice(0, 300)) })
page.on('pageerror', e => console.log('PAGEERROR', String(e).slice(0, 500)))
if (who !== '-') await comeInAs(page, 'http://127.0.0.1:4747', who!.replace('@',''), who!.startsWith('@'))
await page.goto(`http://127.0.0.1:4747${path}`)
await new Promise(r => setTimeout(r, 1500))
for (const c of clicks) {
  if (c.startsWith('key:')) await page.keyboard.press(c.slice(4) as never)
  else { const e = await page.$(c); if (!e) console.log('no', c); else await e.click() }
  await new Promise(r => setTimeout(r, 1000))
}
console.log(page.url())
await page.screenshot({ path: out as `${string}.png` })
await b.close()
