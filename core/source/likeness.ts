import { foldWord, type NormalName, normalName, plainLetters } from '#core/source/names.ts'

/** Words that say what a firm does rather than which firm it is: they weigh little when they agree and little when they are missing. */
const GENERIC = new Set(
  (
    'international services manufacturing brothers engineering industries associates laboratory holding group technology systems equipment distribution trading saint center national company supply work product solution marine maritime aqua water sea ocean europe ' +
    'global world general north south east west nord sued ost new trade export import handel handels vertrieb consulting logistics transport partners team digital online shop store factory design studio france deutschland nederland norge sverige danmark italia espana iberica polska suisse schweiz japan america usa uk'
  )
    .split(' ')
    .map(foldWord),
)

/** How much a word tells: generic ones 0.4, numbers and short ones less than long ones. */
export const wordWeight = (word: string): number =>
  GENERIC.has(word) ? 0.4 : /^\d+$/.test(word) ? 1 : word.length <= 2 ? 0.5 : word.length <= 4 ? 0.85 : 1

/**
 * Jaro–Winkler likeness of two words, 0 … 1 (Winkler 1990, "String Comparator Metrics and Enhanced Decision Rules in the Fellegi–Sunter
 * Model of Record Linkage"): p = 0.1, prefix of at most four letters.
 *
 * jaroWinkler('martha', 'marhta') //=> 0.9611…
 */
export function jaroWinkler(a: string, b: string): number {
  if (a === b) return 1
  if (a === '' || b === '') return 0
  const window = Math.max(0, Math.floor(Math.max(a.length, b.length) / 2) - 1)
  const takenB = new Array<boolean>(b.length).fill(false)
  const matchedA: string[] = []
  for (let i = 0; i < a.length; i++) {
    const end = Math.min(b.length - 1, i + window)
    for (let j = Math.max(0, i - window); j <= end; j++) {
      if (takenB[j] || a[i] !== b[j]) continue
      takenB[j] = true
      matchedA.push(a[i]!)
      break
    }
  }
  const m = matchedA.length
  if (m === 0) return 0
  let k = 0
  let transposed = 0
  for (let j = 0; j < b.length; j++) if (takenB[j] && b[j] !== matchedA[k++]) transposed++
  const jaro = (m / a.length + m / b.length + (m - transposed / 2) / m) / 3
  let prefix = 0
  while (prefix < 4 && a[prefix] !== undefined && a[prefix] === b[prefix]) prefix++
  return jaro + prefix * 0.1 * (1 - jaro)
}

/** Edits between two texts: insert, delete, replace, swap of neighbours (Damerau 1964, optimal string alignment). edits('krill', 'kirll') //=> 1 */
export function edits(a: string, b: string): number {
  let before: number[] = []
  let last = Array.from({ length: b.length + 1 }, (_, index) => index)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const cost = a[i - 1] === b[j - 1] ? 0 : 1
      let best = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + cost)
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) best = Math.min(best, before[j - 2]! + 1)
      row.push(best)
    }
    before = last
    last = row
  }
  return last[b.length]!
}

/** A word without the endings that the same trade is told by: divers, diving, diver. Stems of less than three letters are left whole. */
const stem = (word: string): string => word.replace(/(?<=.{3})(ings?|ers|er|ier|s|en|e|ungen|ung|erei)$/, '')

/**
 * Likeness of two words. A letter left out, doubled or swapped is a slip of the pen; another letter in its place more often makes another
 * word (Gannet, Garnet), above all at the beginning and in short words. Numbers are alike only when they are equal.
 */
export function wordLikeness(a: string, b: string): number {
  if (a === b) return 1
  if (/\d/.test(a) || /\d/.test(b)) return 0
  const shorter = Math.min(a.length, b.length)
  if (shorter === 1) return a[0] === b[0] ? 0.8 : 0
  const swappedStart = a[0] === b[1] && a[1] === b[0]
  if (a[0] !== b[0] && !swappedStart) return 0
  if (shorter >= 4 && (a.startsWith(b) || b.startsWith(a))) return Math.abs(a.length - b.length) <= 2 ? 0.93 : 0.72
  if (stem(a) === stem(b)) return 0.75
  const allowed = shorter <= 3 ? 0 : shorter <= 6 ? 1 : 2
  if (Math.abs(a.length - b.length) > allowed) return 0
  const distance = edits(a, b)
  if (distance > allowed) return 0
  const replaced = a.length === b.length && [...a].sort().join('') !== [...b].sort().join('')
  if (replaced) return distance > 1 || shorter <= 4 ? 0 : shorter <= 6 ? 0.72 : 0.9
  return Math.max(0.85, jaroWinkler(a, b) - 0.03 * (distance - 1))
}

/**
 * Likeness of two names, 0 … 1: each word is paired with the most alike word of the other name, weighed by what it tells; word order and
 * blanks inside a name do not matter (a generalised Monge–Elkan measure, "The field matching problem", 1996, made symmetric).
 *
 * nameLikeness(normalName('Aldis Membranes'), normalName('Membrane, Aldis Ltd')) //=> 1
 */
export function nameLikeness(a: NormalName, b: NormalName): number {
  if (a.joined === '' || b.joined === '') return 0
  if (a.key === b.key || a.joined === b.joined) return 1
  return Math.max(aligned(a.words, b.words), joinedLikeness(a, b), contained(a.words, b.words), initials(a, b))
}

function aligned(a: readonly string[], b: readonly string[]): number {
  const pairs = a
    .flatMap((one, i) => b.map((other, j) => ({ i, j, likeness: wordLikeness(one, other) })))
    .filter(pair => pair.likeness > 0)
  pairs.sort((x, y) => y.likeness - x.likeness)
  const usedA = new Set<number>()
  const usedB = new Set<number>()
  let matched = 0
  for (const { i, j, likeness } of pairs) {
    if (usedA.has(i) || usedB.has(j)) continue
    usedA.add(i)
    usedB.add(j)
    matched += likeness * (wordWeight(a[i]!) + wordWeight(b[j]!))
  }
  const whole = [...a, ...b].reduce((sum, word) => sum + wordWeight(word), 0)
  return matched / whole
}

/** Blanks put elsewhere, and slips in them: "Sea Salt Works" and "Seasaltworks". */
function joinedLikeness(a: NormalName, b: NormalName): number {
  const longer = Math.max(a.joined.length, b.joined.length)
  if (
    a.words.length === b.words.length ||
    longer < 6 ||
    Math.abs(a.joined.length - b.joined.length) > 2 ||
    a.joined[0] !== b.joined[0]
  )
    return 0
  if (a.joined.replace(/\D/g, '') !== b.joined.replace(/\D/g, '')) return 0
  const share = edits(a.joined, b.joined) / longer
  return share <= 0.12 ? 1 - share : 0
}

/** One name is the other and more: "Priel Analytik" and "Priel Analytik Dr. Harmsen". */
function contained(a: readonly string[], b: readonly string[]): number {
  const [short, long] = a.length < b.length ? [a, b] : [b, a]
  const telling = short.reduce((sum, word) => sum + (wordWeight(word) > 0.5 ? 1 : 0), 0)
  return telling >= 2 && short.every(word => long.includes(word)) ? 0.86 : 0
}

/** One name is the initials of the other: "KSV" and "Krillfisk Samvirke Vest". Weak by itself. */
function initials(a: NormalName, b: NormalName): number {
  const [short, long] = a.words.length < b.words.length ? [a, b] : [b, a]
  return short.words.length === 1 &&
    long.words.length >= 3 &&
    short.joined.length === long.words.length &&
    short.joined === long.words.map(word => word[0]).join('')
    ? 0.7
    : 0
}

/** Words of trades that so many names have that nobody is found by them; they still count when two names are compared. */
const TRADES = new Set(
  (
    'pump pumps pumpen pumpe valve valves ventil ventile pipe pipes rohr rohre instruments instrument instrumente fisheries fishery fisch fish seafood acrylics acrylic plastics kunststoff diving divers dive taucher guarding guard security crane cranes kran chemicals chemical chemie packaging verpackung electrics electric electrical ' +
    'electronics elektro elektrotechnik elektronik glass glas steel stahl metal metall tools tool werkzeug werkzeuge cleaning reinigung schoonmaak media medien salt salz foods food lebensmittel feed foder paint farben wood holz paper papier printing druck grafisk filter filters filtration cooling kaelte kaeltetechnik ' +
    'maschinenbau technik techniek teknik anlagenbau bau building buildings construction timber textile textil rope ropes seile cable cables kabel rigging boats boat yacht yachts werft hydraulics hydraulik pneumatics optics optik optical software computer data insurance bank transporte spedition freight shipping reederei ' +
    'hotel catering restaurant bakery baeckerei joinery schreinerei garden garten landscape medical medizin pharma laboratories analytics analytik energy energie solar wind power automation robotics welding scientific research institute verlag publishing travel reisen immobilien real estate fashion moebel furniture ' +
    'sales service wholesale retail grosshandel groothandel kwekerij farm farms agri samvirke cooperative genossenschaft motors motor auto automotive bearings gears seals fittings fastener fasteners schrauben tanks tank membrane membranes probe probes sensor sensors lighting lamps guards lift lifts hire rental verleih'
  )
    .split(' ')
    .map(foldWord),
)
const tells = (word: string): boolean => wordWeight(word) > 0.4 && !TRADES.has(word)

/**
 * The words by which a name is looked up: those that tell which firm it is, the three longest of them; where there are none, the names of
 * trades, else all. In the order of the alphabet. Never empty for a name that has a letter or digit.
 *
 * tellingKey('Kelpie Marine Services Ltd') //=> 'kelpie'
 */
export function tellingKey(name: string): string {
  const { words } = normalName(name)
  const kept =
    [words.filter(tells), words.filter(word => wordWeight(word) > 0.4), words].find(list => list.length > 0) ?? []
  const longest = [...kept].sort((a, b) => b.length - a.length || (a < b ? -1 : 1)).slice(0, 3)
  return longest.sort().join(' ') || plainLetters(name).replace(/\s+/g, ' ').trim().slice(0, 300)
}

/**
 * Share of trigrams that a key must have in common with another to be worth a look. The longer a key, the more of it a slip leaves: two letters
 * swapped change four trigrams in each, so one word of n trigrams keeps (n - 4) of (n + 4); keys of several words may have half as many slips
 * again. A higher share spares the index most of what it would walk through in vain.
 *
 * leastLikeness('kelpie') //=> 0.45
 * leastLikeness('prousundrpust trequistruks') //=> 0.636
 */
export function leastLikeness(key: string): number {
  const words = key.split(' ')
  const trigrams = words.reduce((sum, word) => sum + word.length + 1, 0)
  const [changed, least, most] = words.length === 1 ? [4, 0.45, 0.55] : [6, 0.55, 0.65]
  const kept = (trigrams - changed) / (trigrams + changed)
  return Math.floor(Math.min(most, Math.max(least, kept)) * 1000) / 1000
}
