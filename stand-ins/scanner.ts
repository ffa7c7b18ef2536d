/** What a scanner that types is plugged into: it is a keyboard (USB HID usage page 7), and ends each scan with Enter. */
export interface Keyboard {
  readonly type: (text: string, options?: { readonly delay?: number }) => Promise<void>
  readonly press: (key: 'Enter') => Promise<void>
}
export interface ScannerSetting {
  /** Milliseconds between two keys. */
  readonly keyDelay?: number
  /** Milliseconds between two scans. */
  readonly pause?: number
  /** Scans, counted from 1, that are read twice, and that are cut off after so many characters. */
  readonly twice?: readonly number[]
  readonly cutOff?: Readonly<Record<number, number>>
}

/** The separator of GS1 element strings, as a list writes it. */
const SEPARATOR = /<GS>/g

/** The scans of a list: one a line; empty lines and those that begin with # are left out. readScans('# dock 2\n(01)04012345678901<GS>21S9') //=> ['(01)04012345678901\u001d21S9'] */
export const readScans = (list: string): string[] =>
  list
    .split(/\r?\n/)
    .map(line => line.trim())
    .filter(line => line !== '' && !line.startsWith('#'))
    .map(line => line.replace(SEPARATOR, '\u001d'))

/** Plays a list of scans into whatever has the keyboard, one after the other. How many were sent. */
export async function playScans(
  scans: readonly string[],
  keyboard: Keyboard,
  { keyDelay = 1, pause = 0, twice = [], cutOff = {} }: ScannerSetting = {},
): Promise<number> {
  let sent = 0
  for (const [index, scan] of scans.entries()) {
    const number = index + 1
    const text = scan.slice(0, cutOff[number] ?? scan.length)
    for (let time = 0; time < (twice.includes(number) ? 2 : 1); time++) {
      await keyboard.type(text, { delay: keyDelay })
      await keyboard.press('Enter')
      sent++
      if (pause > 0) await new Promise(resolve => setTimeout(resolve, pause))
    }
  }
  return sent
}
