import { picture, type Shape } from '#demo/pictures.ts'

export interface DemoItem {
  readonly number: string
  readonly name: string
  readonly description: string
  readonly category: string
  readonly unit: string
  readonly picture: string
  readonly offers: readonly DemoOffer[]
}
export interface DemoOffer {
  readonly supplier: string
  readonly price: string
  readonly tiers?: string
  readonly minimum?: string
  readonly multiple?: string
  readonly priceBase?: string
  readonly lead: number
}

/** Prefix, name with ¤ for the variant (a variant that begins with = is the whole name), category, unit, shape, offers; then the variants with a price factor each. */
type Family = readonly [
  prefix: string,
  name: string,
  description: string,
  category: string,
  unit: string,
  shape: Shape,
  offers: readonly [supplier: string, price: number, lead: number, more?: Partial<DemoOffer>][],
  variants: readonly [name: string, factor: number][],
]

const FAMILIES: readonly Family[] = [
  [
    'SW',
    'Synthetic sea salt ¤',
    'Low-phosphate salt for reef and cold-water systems',
    'Salt & water chemistry',
    'BG',
    'bag',
    [['salines', 24.6, 6, { tiers: '40=23.10|200=21.80' }]],
    [
      ['25 kg bag', 1],
      ['10 kg bag', 0.46],
      ['25 kg bag, calcium enriched', 1.18],
    ],
  ],
  [
    'SP',
    'Synthetic sea salt, ¤',
    'Bulk salt, delivered by tipper',
    'Salt & water chemistry',
    'TNE',
    'pile',
    [['salines', 690, 12, { minimum: '5' }]],
    [['loose', 1]],
  ],
  [
    'WC',
    '¤',
    'For dosing by hand or by unit',
    'Salt & water chemistry',
    'KGM',
    'jar',
    [['salines', 6.4, 6, { minimum: '5', multiple: '5' }]],
    [
      ['Calcium chloride, flakes', 1],
      ['Sodium bicarbonate', 0.42],
      ['Magnesium sulphate', 0.55],
      ['Activated carbon, pelleted', 1.3],
    ],
  ],
  [
    'FK',
    '¤',
    'Frozen on board, 10 kg cartons',
    'Feed',
    'KGM',
    'fish',
    [['krill', 62, 9, { minimum: '50', multiple: '10', tiers: '400=57.5' }]],
    [
      ['Frozen krill, whole', 1],
      ['Frozen herring', 0.71],
      ['Frozen sprat', 0.78],
      ['Frozen capelin', 0.83],
      ['Frozen squid, cleaned', 1.42],
      ['Frozen mysis', 1.65],
    ],
  ],
  [
    'LF',
    '¤',
    'Shipped the day it is harvested',
    'Feed',
    'LTR',
    'bottle',
    [['rotifer', 18.5, 2]],
    [
      ['Live rotifer culture', 1],
      ['Live copepods', 2.3],
      ['Microalgae concentrate', 3.1],
    ],
  ],
  [
    'PF',
    '¤',
    'Complete feed',
    'Feed',
    'KGM',
    'jar',
    [
      ['krill', 88, 9, { minimum: '5' }],
      ['rotifer', 7.9, 4],
    ],
    [
      ['Pellet feed 2 mm', 1],
      ['Pellet feed 5 mm', 0.95],
      ['Gel feed mix', 1.7],
    ],
  ],
  [
    'CP',
    'Circulation pump ¤, seawater',
    'Magnetically coupled, titanium shaft',
    'Pumps',
    'C62',
    'pump',
    [
      ['nordhavn', 2190, 20],
      ['seefelder', 2085, 28],
    ],
    [
      ['12 m³/h', 1],
      ['6 m³/h', 0.64],
      ['24 m³/h', 1.72],
      ['40 m³/h', 2.6],
    ],
  ],
  [
    'PS',
    '¤',
    'Spare part for circulation pumps',
    'Pumps',
    'C62',
    'ring',
    [['nordhavn', 85, 8]],
    [
      ['Mounting set, titanium', 1],
      ['Shaft seal set', 1.4],
      ['Impeller 12 m³/h', 2.9],
      ['Motor bearing pair', 0.7],
    ],
  ],
  [
    'UV',
    'UV steriliser ¤',
    'Polypropylene housing, lamp monitor',
    'Filtration & UV',
    'C62',
    'tube',
    [['aldis', 980, 15]],
    [
      ['40 W', 0.7],
      ['80 W', 1],
      ['160 W', 1.7],
    ],
  ],
  [
    'UL',
    '¤',
    'For UV sterilisers',
    'Filtration & UV',
    'C62',
    'tube',
    [['aldis', 74, 7, { tiers: '10=68' }]],
    [
      ['UV lamp 80 W', 1],
      ['UV lamp 160 W', 1.6],
      ['Quartz sleeve 80 W', 1.1],
      ['Quartz sleeve 160 W', 1.5],
    ],
  ],
  [
    'SK',
    'Protein skimmer ¤',
    'With venturi pump and drain',
    'Filtration & UV',
    'C62',
    'column',
    [['aldis', 1450, 25]],
    [
      ['for 2 m³', 0.5],
      ['for 8 m³', 1],
      ['for 30 m³', 2.8],
    ],
  ],
  [
    'FM',
    '¤',
    'Filter medium',
    'Filtration & UV',
    'C62',
    'ring',
    [['aldis', 31, 6, { minimum: '4' }]],
    [
      ['Drum filter screen 40 µm', 4.1],
      ['Bag filter 100 µm', 1],
      ['Cartridge 5 µm', 0.8],
    ],
  ],
  [
    'HX',
    'Titanium heat exchanger ¤',
    'Shell and tube, grade 2 titanium',
    'Heat exchange',
    'C62',
    'column',
    [
      ['coldline', 3120, 35],
      ['weissfluh', 2980, 30],
    ],
    [
      ['15 kW', 0.7],
      ['30 kW', 1],
      ['60 kW', 1.8],
    ],
  ],
  [
    'HS',
    '¤',
    'Heat exchange spare',
    'Heat exchange',
    'C62',
    'ring',
    [['coldline', 96, 10]],
    [
      ['Gasket set', 1],
      ['Sacrificial anode', 0.6],
      ['Temperature sensor sleeve', 0.9],
    ],
  ],
  [
    'DU',
    'Dosing unit, ¤',
    'Peristaltic, for chemicals and feed',
    'Probes & dosing',
    'C62',
    'box',
    [
      ['toshima', 98000, 30],
      ['umineko', 91500, 45],
    ],
    [
      ['single head', 1],
      ['double head', 1.7],
      ['four heads', 2.9],
    ],
  ],
  [
    'PR',
    '¤',
    'With calibration certificate',
    'Probes & dosing',
    'C62',
    'probe',
    [['toshima', 30600, 25, { tiers: '10=28900' }]],
    [
      ['pH probe', 1],
      ['ORP probe', 0.95],
      ['Conductivity probe', 1.4],
      ['Oxygen probe, optical', 2.8],
      ['Temperature probe', 0.4],
    ],
  ],
  [
    'BU',
    '¤',
    'Traceable, 500 ml',
    'Laboratory',
    'C62',
    'bottle',
    [['marlowe', 11.8, 4]],
    [
      ['Buffer solution pH 4', 1],
      ['Buffer solution pH 7', 1],
      ['Buffer solution pH 10', 1.05],
      ['Conductivity standard 50 mS', 1.6],
    ],
  ],
  [
    'LB',
    '¤',
    'Laboratory consumable',
    'Laboratory',
    'BX',
    'box',
    [['marlowe', 23.5, 4, { tiers: '10=21.9' }]],
    [
      ['Nitrate test, 200', 2.2],
      ['Ammonia test, 200', 2.1],
      ['Gloves, nitrile M, 100', 0.4],
      ['Gloves, nitrile L, 100', 0.4],
      ['Pipette tips 1 ml, 500', 0.9],
    ],
  ],
  [
    'BV',
    'Ball valve PVC-U ¤',
    'Double union, EPDM seals',
    'Valves & pipe',
    'C62',
    'valve',
    [['orrin', 22.1475, 12, { tiers: '50=20.4' }]],
    [
      ['20 mm', 0.6],
      ['25 mm', 0.75],
      ['32 mm', 1],
      ['50 mm', 1.6],
      ['63 mm', 2.2],
      ['90 mm', 4.1],
    ],
  ],
  [
    'PP',
    'PVC-U pipe ¤',
    'Pressure class PN16, 5 m lengths',
    'Valves & pipe',
    'MTR',
    'pipe',
    [['orrin', 4.8, 12, { minimum: '5', multiple: '5' }]],
    [
      ['20 mm', 0.5],
      ['32 mm', 1],
      ['50 mm', 1.9],
      ['90 mm', 4.4],
    ],
  ],
  [
    'PT',
    'PVC-U ¤',
    'Solvent weld',
    'Valves & pipe',
    'C62',
    'valve',
    [['orrin', 1.92, 12, { minimum: '10' }]],
    [
      ['elbow 32 mm', 1],
      ['tee 32 mm', 1.3],
      ['union 32 mm', 2.6],
      ['flange 90 mm', 7.2],
    ],
  ],
  [
    'FA',
    '¤',
    'A4 stainless, EN ISO 3506',
    'Fasteners',
    'C62',
    'bolt',
    [['ferrolund', 31.9, 4, { priceBase: '100', minimum: '100', multiple: '100', tiers: '1000=27.4' }]],
    [
      ['Hex bolt A4 M8×40', 1],
      ['Hex bolt A4 M10×60', 1.9],
      ['Nut A4 M8', 0.3],
      ['Washer A4 M8', 0.12],
      ['Anchor A4 M12×110', 7.8],
      ['Threaded rod A4 M8, 1 m', 11],
    ],
  ],
  [
    'AP',
    'Acrylic panel ¤',
    'Cast, edge polished',
    'Panels & tanks',
    'C62',
    'panel',
    [['peltier', 4690, 40]],
    [
      ['40 mm, 1.2 × 0.8 m', 0.3],
      ['80 mm, 2.0 × 1.2 m', 1],
      ['=Acrylic bonding kit', 0.08],
      ['=Acrylic polishing set', 0.05],
    ],
  ],
  [
    'DV',
    '¤',
    'With serial number and test certificate',
    'Diving & rope access',
    'SET',
    'suit',
    [['brightwater', 1240, 14]],
    [
      ['Dry suit, keeper', 1],
      ['Full-face mask set', 0.9],
      ['Regulator set, cold water', 0.65],
    ],
  ],
  [
    'SH',
    '¤',
    'For the shop at the quay',
    'Shop goods',
    'C62',
    'mug',
    [['puffin', 4.35, 10, { minimum: '24', multiple: '12', tiers: '144=3.9' }]],
    [
      ['Puffin mug', 1],
      ['Kelp tea towel', 1.3],
      ['Lumpsucker plush', 2.1],
      ['Sea-ink notebook', 0.8],
      ['Jelly night light', 3.3],
    ],
  ],
  [
    'ED',
    '¤',
    'For school groups',
    'Print & learning',
    'C62',
    'book',
    [['tidewind', 1.85, 7, { minimum: '50', tiers: '500=1.4' }]],
    [
      ['Rock-pool field guide', 1],
      ['Tank trail booklet', 0.6],
      ['Poster, cold seas', 2.4],
      ['Badge sheet', 0.3],
    ],
  ],
]

const money = (price: number): string =>
  price >= 1000 ? String(Math.round(price)) : String(Math.round(price * 100) / 100)

function scaleTiers(tiers: string | undefined, factor: number): string {
  return (tiers ?? '')
    .split('|')
    .filter(Boolean)
    .map(tier => {
      const [from, price] = tier.split('=')
      return `${from}=${money(Number(price) * factor)}`
    })
    .join('|')
}

/** A hundred items with offers, each with a picture drawn for it. */
export const ITEMS: readonly DemoItem[] = FAMILIES.flatMap(
  ([prefix, name, description, category, unit, shape, offers, variants]) =>
    variants.map(([variant, factor], index): DemoItem => ({
      number: `${prefix}-${1200 + index * 20}`,
      name: variant.startsWith('=') ? variant.slice(1) : name.replace('¤', variant),
      description,
      category,
      unit,
      picture: picture(shape, index, prefix),
      offers: offers.map(([supplier, price, lead, more]) => ({
        supplier,
        price: money(price * factor),
        lead,
        ...more,
        tiers: scaleTiers(more?.tiers, factor),
      })),
    })),
)
