/** Line drawings for sample items: ink on paper, one shape per family, a little different for each variant. */
export type Shape =
  | 'bag'
  | 'pile'
  | 'jar'
  | 'fish'
  | 'bottle'
  | 'pump'
  | 'ring'
  | 'tube'
  | 'column'
  | 'box'
  | 'probe'
  | 'valve'
  | 'pipe'
  | 'bolt'
  | 'panel'
  | 'suit'
  | 'mug'
  | 'book'

const TINTS = ['#D5E4E2', '#E9DCC0', '#DDE3CF', '#E6D3CC', '#D6DCE6', '#E4DDEA']

const DRAW: Readonly<Record<Shape, (tint: string, size: number) => string>> = {
  bag: (tint, size) =>
    `<path d="M30 ${34 - size} q18 -8 36 0 l6 ${48 + size} q-24 10 -48 0z" fill="${tint}"/><path d="M34 ${34 - size} l4 -10 h20 l4 10"/><path d="M36 54 h24M40 62 h16"/>`,
  pile: tint =>
    `<path d="M12 74 q16 -40 36 -46 q22 8 36 46z" fill="${tint}"/><path d="M34 52 l4 4M50 46 l5 6M44 64 l6 2M60 62 l4 4"/>`,
  jar: (tint, size) =>
    `<rect x="28" y="30" width="40" height="48" rx="5" fill="${tint}"/><rect x="32" y="20" width="32" height="10" rx="2"/><path d="M28 ${46 + size} h40M28 ${58 + size} h40"/>`,
  fish: (tint, size) =>
    `<path d="M12 50 q22 ${-26 - size} 52 0 q-30 ${26 + size} -52 0z" fill="${tint}"/><path d="M62 50 l20 -14 v28z" fill="${tint}"/><circle cx="26" cy="47" r="2.5" fill="#1B2431"/><path d="M40 40 q6 10 0 20"/>`,
  bottle: (tint, size) =>
    `<path d="M38 16 h20 v14 q12 6 12 18 v30 h-44 v-30 q0 -12 12 -18z"/><path d="M26 ${50 + size} h44 v28 h-44z" fill="${tint}"/>`,
  pump: (tint, size) =>
    `<circle cx="38" cy="52" r="${20 + size}" fill="${tint}"/><circle cx="38" cy="52" r="7"/><rect x="${58 + size}" y="40" width="26" height="24" fill="${tint}"/><path d="M38 ${32 - size} v-14 h12"/><path d="M22 78 h62"/>`,
  ring: (tint, size) =>
    `<circle cx="48" cy="50" r="${26 - size}" fill="${tint}"/><circle cx="48" cy="50" r="${14 - size}" fill="#FFFDF7"/><path d="M48 16 v8M48 76 v8"/>`,
  tube: (tint, size) =>
    `<rect x="10" y="${40 - size}" width="76" height="${18 + size * 2}" rx="8" fill="${tint}"/><path d="M22 ${40 - size} v${18 + size * 2}M74 ${40 - size} v${18 + size * 2}M4 49 h6M86 49 h6"/>`,
  column: (tint, size) =>
    `<rect x="${34 - size}" y="22" width="${28 + size * 2}" height="52" fill="${tint}"/><path d="M${34 - size} 22 q${14 + size} -14 ${28 + size * 2} 0M30 78 h36M48 8 v8M${34 - size} 36 h${28 + size * 2}M${34 - size} 60 h${28 + size * 2}"/>`,
  box: (tint, size) =>
    `<path d="M16 38 l32 -14 32 14 v30 l-32 14 -32 -14z" fill="${tint}"/><path d="M16 38 l32 14 32 -14M48 52 v30"/><path d="M${28 + size} 33 l32 14"/>`,
  probe: (tint, size) =>
    `<path d="M44 10 h8 v14 h-8z"/><rect x="40" y="24" width="16" height="${34 + size}" rx="3" fill="${tint}"/><path d="M44 ${58 + size} v16 q4 8 8 0 v-16"/><path d="M40 34 h16"/>`,
  valve: (tint, size) =>
    `<rect x="12" y="44" width="72" height="${20 + size}" rx="3" fill="${tint}"/><path d="M48 44 v-14M32 ${28 - size} h32"/><path d="M28 44 v${20 + size}M68 44 v${20 + size}"/>`,
  pipe: (tint, size) =>
    `<path d="M8 ${58 - size} l66 -26 a5 ${9 + size} 0 0 1 6 ${16 + size} l-66 26z" fill="${tint}"/><ellipse cx="13" cy="66" rx="5" ry="${9 + size}"/>`,
  bolt: (tint, size) =>
    `<path d="M30 20 h36 l6 12 -6 12 h-36 l-6 -12z" fill="${tint}"/><rect x="40" y="44" width="16" height="${34 + size}"/><path d="M40 54 l16 5M40 62 l16 5M40 70 l16 5"/>`,
  panel: (tint, size) =>
    `<path d="M18 26 l50 -8 v54 l-50 8z" fill="${tint}"/><path d="M68 18 l${8 + size} 4 v54 l-${8 + size} -4M28 36 l12 -2M28 44 l24 -4"/>`,
  suit: tint =>
    `<path d="M38 16 h20 l16 12 -6 18 -8 -6 v40 h-10 l-2 -24 -2 24 h-10 v-40 l-8 6 -6 -18z" fill="${tint}"/><path d="M40 16 q8 10 16 0"/>`,
  mug: (tint, size) =>
    `<path d="M24 ${28 - size} h40 v46 q-20 10 -40 0z" fill="${tint}"/><path d="M64 38 q18 0 14 16 q-4 10 -14 8"/><path d="M36 48 q8 8 16 0"/>`,
  book: (tint, size) =>
    `<path d="M16 26 q16 -6 32 2 q16 -8 32 -2 v${46 + size} q-16 -6 -32 2 q-16 -8 -32 -2z" fill="${tint}"/><path d="M48 28 v${46 + size}M24 38 h16M24 46 h16M56 38 h16M56 46 h12"/>`,
}

/** An SVG of about half a kilobyte; `variant` changes its tint and size a little. */
export const picture = (shape: Shape, variant: number, family: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 96 96"><g fill="none" stroke="#1B2431" stroke-width="1.8" stroke-linejoin="round" stroke-linecap="round">${DRAW[shape](TINTS[(variant + family.charCodeAt(0)) % TINTS.length]!, (variant % 4) * 2)}</g></svg>`
