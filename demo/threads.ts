import type { Place } from '#demo/world.ts'

/** How far a thread goes. Each end includes everything before it. */
export type End =
  | 'draft'
  | 'waiting'
  | 'stalled'
  | 'returned'
  | 'rejected'
  | 'withdrawn'
  | 'changed'
  | 'toBuy'
  | 'draftOrder'
  | 'dearer'
  | 'issued'
  | 'proposed'
  | 'confirmed'
  | 'part'
  | 'received'
  | 'over'
  | 'heldPrice'
  | 'askedPrice'
  | 'heldProof'
  | 'matched'
  | 'posted'
  | 'inRun'
  | 'paid'
  | 'cancelled'
  | 'revised'
  | 'sealed'

/** A line: an item by number, or work with a supplier and an amount. */
export type DemoLine =
  /** `byPlan`: it needs no receipt, and is billed part by part. */
  | { readonly item: string; readonly quantity: string; readonly byPlan?: true }
  | { readonly work: string; readonly supplier: string; readonly price: string }
  /** Work by rate that is called off an agreement: at most so many hours of a line of it. */
  | { readonly hours: string; readonly of: string }

export interface DemoThread {
  readonly title: string
  readonly who: 'ines' | 'joren' | 'pilar'
  readonly place: Place
  /** Cost centre, account and project, with shares when split. */
  readonly on: readonly (readonly [costCentre: string, account: string, project: string | null, share?: string])[]
  readonly lines: readonly DemoLine[]
  readonly end: End
  /** Days before today on which it was asked for; sensible steps follow. */
  readonly ago: number
  readonly freight?: string
  /** Per cent that the supplier takes off. */
  readonly discount?: string
  /** In how many deliveries it comes, a fortnight apart. */
  readonly inParts?: number
  readonly reason?: string
  /** What was paid, as a share of the offered price. */
  readonly priceFactor?: string
  /** Days by which the delivery was late. */
  readonly late?: number
  /** What changed was answered otherwise, refused, and changed again. */
  readonly slowly?: true
  /** It is called off the agreement over its items. */
  readonly callOff?: true
}

const AC_FEED = [['AC-110', '6010', null]] as const
const LS_SALT = [['LS-210', '6020', null]] as const
const LS_PARTS = [['LS-210', '6210', null]] as const
const SKIDS = [['LS-210', '1510', 'SKID-26']] as const
const KELP = [['EX-310', '1510', 'KELP-HALL']] as const
const JELLY = [['RS-710', '1510', 'JELLY-NURS']] as const
const DIVING = [['EX-310', '6310', null]] as const
const LAB = [['RS-710', '6110', null]] as const
const SHOP = [['VS-510', '6510', null]] as const

export const THREADS: readonly DemoThread[] = [
  {
    title: 'Frozen krill for December',
    who: 'ines',
    place: 'quay',
    on: AC_FEED,
    lines: [{ item: 'FK-1200', quantity: '200' }],
    end: 'draft',
    ago: 1,
  },
  {
    title: 'Gloves and pipette tips',
    who: 'ines',
    place: 'hatchery',
    on: LAB,
    lines: [
      { item: 'LB-1240', quantity: '6' },
      { item: 'LB-1280', quantity: '2' },
    ],
    end: 'draft',
    ago: 2,
  },
  {
    title: 'UV sterilisers for skids 3 and 4',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [
      { item: 'UV-1220', quantity: '2' },
      { item: 'UL-1240', quantity: '4' },
    ],
    end: 'waiting',
    ago: 2,
    reason: 'Skids 3 and 4 go to pressure test in week 50.',
  },
  {
    title: 'Herring and sprat, winter stock',
    who: 'ines',
    place: 'quay',
    on: AC_FEED,
    lines: [
      { item: 'FK-1220', quantity: '400' },
      { item: 'FK-1240', quantity: '200' },
    ],
    end: 'waiting',
    ago: 1,
  },
  {
    title: 'Viewing panel for the kelp hall',
    who: 'joren',
    place: 'quay',
    on: KELP,
    lines: [
      { item: 'AP-1220', quantity: '3' },
      { item: 'AP-1240', quantity: '2' },
    ],
    end: 'waiting',
    ago: 4,
  },
  {
    title: 'Heat exchangers for skids 5 to 8',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [
      { item: 'HX-1220', quantity: '4' },
      { item: 'HS-1200', quantity: '4' },
    ],
    end: 'waiting',
    ago: 3,
  },
  {
    title: 'Rotifers for the jelly nursery',
    who: 'ines',
    place: 'hatchery',
    on: [['RS-710', '6010', null]],
    lines: [{ item: 'LF-1200', quantity: '20' }],
    end: 'waiting',
    ago: 0,
  },
  {
    title: 'Salt and chemistry, shared with the hatchery',
    who: 'ines',
    place: 'quay',
    on: [
      ['AC-110', '6020', null, '60'],
      ['LS-210', '6020', null, '40'],
    ],
    lines: [
      { item: 'SW-1200', quantity: '40' },
      { item: 'WC-1200', quantity: '50' },
    ],
    end: 'waiting',
    ago: 1,
  },
  {
    title: 'Sea salt for three houses',
    who: 'ines',
    place: 'quay',
    on: [
      ['AC-110', '6020', null, '40'],
      ['LS-210', '6020', null, '35'],
      ['ED-410', '6410', null, '25'],
    ],
    lines: [{ item: 'SW-1200', quantity: '80' }],
    end: 'waiting',
    ago: 2,
  },
  {
    title: 'Dosing salt for the new quarantine',
    who: 'joren',
    place: 'quay',
    on: LS_SALT,
    lines: [{ item: 'WC-1200', quantity: '75' }],
    end: 'changed',
    ago: 5,
  },
  {
    title: 'Inspection dive, ray tank',
    who: 'joren',
    place: 'quay',
    on: DIVING,
    lines: [{ work: 'Hull and liner inspection, ray tank', supplier: 'brightwater', price: '6400' }],
    end: 'stalled',
    ago: 9,
  },
  {
    title: 'Night guarding over the holidays',
    who: 'joren',
    place: 'quay',
    on: [['FA-610', '6220', null]],
    lines: [{ work: 'Night guarding, 24 December to 2 January', supplier: 'nightlamp', price: '3900' }],
    end: 'returned',
    ago: 6,
  },
  {
    title: 'Second skimmer for the pup pool',
    who: 'ines',
    place: 'quay',
    on: [['AC-110', '1510', null]],
    lines: [{ item: 'SK-1240', quantity: '1' }],
    end: 'rejected',
    ago: 14,
  },
  {
    title: 'Poster run for the open day',
    who: 'ines',
    place: 'quay',
    on: [['ED-410', '6410', null]],
    lines: [{ item: 'ED-1240', quantity: '200' }],
    end: 'withdrawn',
    ago: 11,
  },
  {
    title: 'Valves for skid 5',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [
      { item: 'BV-1240', quantity: '24' },
      { item: 'BV-1260', quantity: '8' },
      { item: 'PP-1220', quantity: '60' },
    ],
    end: 'toBuy',
    ago: 4,
  },
  {
    title: 'Calcium and magnesium',
    who: 'ines',
    place: 'quay',
    on: LS_SALT,
    lines: [
      { item: 'WC-1200', quantity: '100' },
      { item: 'WC-1240', quantity: '75' },
    ],
    end: 'toBuy',
    ago: 3,
  },
  {
    title: 'Spare lamps',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [{ item: 'UL-1200', quantity: '12' }],
    end: 'toBuy',
    ago: 2,
  },
  {
    title: 'Field guides for spring',
    who: 'ines',
    place: 'quay',
    on: [['ED-410', '6410', null]],
    lines: [
      { item: 'ED-1200', quantity: '600' },
      { item: 'ED-1260', quantity: '1000' },
    ],
    end: 'toBuy',
    ago: 5,
  },
  {
    title: 'Anchors and rod for the gantry',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [
      { item: 'FA-1280', quantity: '200' },
      { item: 'FA-1300', quantity: '100' },
    ],
    end: 'draftOrder',
    ago: 5,
  },
  {
    title: 'Spare impellers, casting went up',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [{ item: 'CP-1200', quantity: '2' }],
    end: 'dearer',
    ago: 4,
    priceFactor: '1.16',
  },
  {
    title: 'Buffers and standards',
    who: 'ines',
    place: 'hatchery',
    on: LAB,
    lines: [
      { item: 'BU-1200', quantity: '10' },
      { item: 'BU-1220', quantity: '10' },
      { item: 'BU-1260', quantity: '4' },
    ],
    end: 'draftOrder',
    ago: 4,
  },
  {
    title: 'pH probes with certificate',
    who: 'ines',
    place: 'hatchery',
    on: LAB,
    lines: [{ item: 'PR-1200', quantity: '20' }],
    end: 'issued',
    ago: 7,
  },
  {
    title: 'Ball valves 32 mm',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [{ item: 'BV-1240', quantity: '100' }],
    end: 'issued',
    ago: 9,
    inParts: 4,
    discount: '2.5',
  },
  {
    title: 'Sea salt, tipper load',
    who: 'joren',
    place: 'quay',
    on: LS_SALT,
    lines: [{ item: 'SP-1200', quantity: '14' }],
    end: 'issued',
    ago: 8,
    freight: '240.00',
  },
  {
    title: 'Crane for the filter change',
    who: 'joren',
    place: 'quay',
    on: [['FA-610', '6220', null]],
    lines: [{ work: 'Mobile crane 60 t, one day with crew', supplier: 'highreach', price: '2850' }],
    end: 'issued',
    ago: 6,
  },
  {
    title: 'Circulation pumps for the kelp hall',
    who: 'joren',
    place: 'quay',
    on: KELP,
    lines: [
      { item: 'CP-1200', quantity: '8' },
      { item: 'PS-1200', quantity: '8' },
    ],
    end: 'proposed',
    ago: 16,
    reason: 'The refit closes the hall until the pumps run.',
  },
  {
    title: 'UV sleeves',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [
      { item: 'UL-1240', quantity: '30' },
      { item: 'UL-1260', quantity: '10' },
    ],
    end: 'proposed',
    ago: 12,
  },
  {
    title: 'Frozen krill, autumn',
    who: 'ines',
    place: 'quay',
    on: AC_FEED,
    lines: [{ item: 'FK-1200', quantity: '400' }],
    end: 'proposed',
    ago: 10,
  },
  {
    title: 'Bearings and impellers',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [
      { item: 'PS-1240', quantity: '4' },
      { item: 'PS-1260', quantity: '6' },
    ],
    end: 'confirmed',
    ago: 12,
  },
  {
    title: 'Skimmers for the jelly nursery',
    who: 'ines',
    place: 'hatchery',
    on: JELLY,
    lines: [{ item: 'SK-1220', quantity: '2' }],
    end: 'confirmed',
    ago: 20,
  },
  {
    title: 'Dosing units',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [{ item: 'DU-1220', quantity: '4' }],
    end: 'confirmed',
    ago: 22,
  },
  {
    title: 'Rope access, façade letters',
    who: 'joren',
    place: 'quay',
    on: DIVING,
    lines: [{ work: 'Rope access crew, two days', supplier: 'ropeline', price: '3150' }],
    end: 'confirmed',
    ago: 12,
  },
  {
    title: 'Puffin mugs and tea towels',
    who: 'ines',
    place: 'quay',
    on: SHOP,
    lines: [
      { item: 'SH-1200', quantity: '288' },
      { item: 'SH-1220', quantity: '144' },
    ],
    end: 'confirmed',
    ago: 18,
  },
  {
    title: 'Water laboratory, November',
    who: 'ines',
    place: 'hatchery',
    on: LAB,
    lines: [{ work: 'Water analysis, 40 samples', supplier: 'klarwasser', price: '1720' }],
    end: 'confirmed',
    ago: 15,
  },
  {
    title: 'Pipe and fittings, skid 4',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [
      { item: 'PP-1220', quantity: '120' },
      { item: 'PT-1200', quantity: '60' },
      { item: 'PT-1240', quantity: '40' },
    ],
    end: 'part',
    ago: 26,
  },
  {
    title: 'Squid and mysis',
    who: 'ines',
    place: 'quay',
    on: AC_FEED,
    lines: [
      { item: 'FK-1280', quantity: '120' },
      { item: 'FK-1300', quantity: '80' },
    ],
    end: 'part',
    ago: 17,
  },
  {
    title: 'Lumpsucker plush',
    who: 'ines',
    place: 'quay',
    on: SHOP,
    lines: [{ item: 'SH-1240', quantity: '240' }],
    end: 'part',
    ago: 24,
  },
  {
    title: 'Drum filter screens',
    who: 'joren',
    place: 'quay',
    on: LS_PARTS,
    lines: [{ item: 'FM-1200', quantity: '6' }],
    end: 'received',
    ago: 19,
  },
  {
    title: 'Sea salt for the quarantine',
    who: 'ines',
    place: 'hatchery',
    on: LS_SALT,
    lines: [{ item: 'SW-1200', quantity: '80' }],
    end: 'received',
    ago: 16,
  },
  {
    title: 'Copepods, first delivery',
    who: 'ines',
    place: 'hatchery',
    on: [['RS-710', '6010', null]],
    lines: [{ item: 'LF-1220', quantity: '12' }],
    end: 'received',
    ago: 8,
  },
  {
    title: 'Hex bolts and washers',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [
      { item: 'FA-1200', quantity: '1000' },
      { item: 'FA-1260', quantity: '2000' },
    ],
    end: 'over',
    ago: 21,
  },
  {
    title: 'Cold-water regulator sets',
    who: 'joren',
    place: 'quay',
    on: DIVING,
    lines: [{ item: 'DV-1240', quantity: '4' }],
    end: 'heldPrice',
    ago: 32,
  },
  {
    title: 'UV lamps, yearly change',
    who: 'joren',
    place: 'quay',
    on: LS_PARTS,
    lines: [{ item: 'UL-1200', quantity: '40' }],
    end: 'askedPrice',
    ago: 30,
  },
  {
    title: 'Pellet feed',
    who: 'ines',
    place: 'quay',
    on: AC_FEED,
    lines: [{ item: 'PF-1200', quantity: '60' }],
    end: 'heldProof',
    ago: 14,
  },
  {
    title: 'Full-face masks',
    who: 'joren',
    place: 'quay',
    on: DIVING,
    lines: [{ item: 'DV-1220', quantity: '3' }],
    end: 'heldProof',
    ago: 20,
  },
  {
    title: 'Nitrate and ammonia tests',
    who: 'ines',
    place: 'hatchery',
    on: LAB,
    lines: [
      { item: 'LB-1200', quantity: '12' },
      { item: 'LB-1220', quantity: '12' },
    ],
    end: 'matched',
    ago: 24,
  },
  {
    title: 'Tank trail booklets',
    who: 'ines',
    place: 'quay',
    on: [['ED-410', '6410', null]],
    lines: [{ item: 'ED-1220', quantity: '800' }],
    end: 'matched',
    ago: 26,
  },
  {
    title: 'Nuts and rod',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [
      { item: 'FA-1240', quantity: '2000' },
      { item: 'FA-1300', quantity: '100' },
    ],
    end: 'matched',
    ago: 22,
  },
  {
    title: 'Bicarbonate for the quarantine',
    who: 'ines',
    place: 'hatchery',
    on: LS_SALT,
    lines: [{ item: 'WC-1220', quantity: '200' }],
    end: 'posted',
    ago: 30,
  },
  {
    title: 'Heat exchanger gaskets',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [
      { item: 'HS-1200', quantity: '6' },
      { item: 'HS-1220', quantity: '12' },
    ],
    end: 'posted',
    ago: 48,
  },
  {
    title: 'Night guarding, October',
    who: 'joren',
    place: 'quay',
    on: [['FA-610', '6220', null]],
    lines: [{ work: 'Night guarding, October', supplier: 'nightlamp', price: '4120' }],
    end: 'paid',
    ago: 52,
  },
  {
    title: 'Rope access, canopy',
    who: 'joren',
    place: 'quay',
    on: DIVING,
    lines: [{ work: 'Rope access crew, canopy bolts', supplier: 'ropeline', price: '2240' }],
    end: 'posted',
    ago: 62,
  },
  {
    title: 'Salt for the pup pool',
    who: 'ines',
    place: 'quay',
    on: LS_SALT,
    lines: [{ item: 'SW-1200', quantity: '200' }],
    end: 'inRun',
    ago: 43,
    freight: '120.00',
  },
  {
    title: 'Frozen sprat',
    who: 'ines',
    place: 'quay',
    on: AC_FEED,
    lines: [{ item: 'FK-1240', quantity: '300' }],
    end: 'inRun',
    ago: 34,
  },
  {
    title: 'Water laboratory, September',
    who: 'ines',
    place: 'hatchery',
    on: LAB,
    lines: [{ work: 'Water analysis, 36 samples', supplier: 'klarwasser', price: '1548' }],
    end: 'inRun',
    ago: 27,
  },
  {
    title: 'Circulation pump, seal pool',
    who: 'joren',
    place: 'quay',
    on: [['LS-210', '1510', null]],
    lines: [{ item: 'CP-1240', quantity: '1' }],
    end: 'paid',
    ago: 90,
  },
  {
    title: 'Herring, late summer',
    who: 'ines',
    place: 'quay',
    on: AC_FEED,
    lines: [{ item: 'FK-1220', quantity: '500' }],
    end: 'paid',
    ago: 84,
  },
  {
    title: 'Inspection dive, kelp hall',
    who: 'joren',
    place: 'quay',
    on: DIVING,
    lines: [{ work: 'Inspection dive with report', supplier: 'brightwater', price: '2880' }],
    end: 'paid',
    ago: 76,
  },
  {
    title: 'UV sterilisers for skids 1 and 2',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [{ item: 'UV-1220', quantity: '2' }],
    end: 'paid',
    ago: 96,
  },
  {
    title: 'Shop stock, summer',
    who: 'ines',
    place: 'quay',
    on: SHOP,
    lines: [
      { item: 'SH-1200', quantity: '144' },
      { item: 'SH-1260', quantity: '120' },
    ],
    end: 'paid',
    ago: 88,
  },
  {
    title: 'Rotifers, late summer',
    who: 'ines',
    place: 'hatchery',
    on: [['RS-710', '6010', null]],
    lines: [{ item: 'LF-1200', quantity: '40' }],
    end: 'paid',
    ago: 70,
  },
  {
    title: 'Elbows and tees',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [
      { item: 'PT-1200', quantity: '100' },
      { item: 'PT-1220', quantity: '80' },
    ],
    end: 'paid',
    ago: 92,
  },
  {
    title: 'Conductivity probes',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [{ item: 'PR-1240', quantity: '4' }],
    end: 'cancelled',
    ago: 30,
  },
  {
    title: 'Anchors, wrong size',
    who: 'joren',
    place: 'ropeworks',
    on: LS_PARTS,
    lines: [{ item: 'FA-1280', quantity: '100' }],
    end: 'cancelled',
    ago: 25,
  },
  {
    title: 'Acrylic for the touch pool',
    who: 'joren',
    place: 'quay',
    on: KELP,
    lines: [{ item: 'AP-1200', quantity: '3' }],
    end: 'revised',
    slowly: true,
    ago: 15,
  },
  {
    title: 'Six pumps for skids 1 to 3',
    who: 'joren',
    place: 'ropeworks',
    on: SKIDS,
    lines: [{ item: 'CP-1220', quantity: '6' }],
    end: 'revised',
    ago: 18,
  },
  {
    title: 'Water laboratory, July',
    who: 'ines',
    place: 'hatchery',
    on: LAB,
    lines: [{ work: 'Water analysis, 30 samples', supplier: 'klarwasser', price: '1290' }],
    end: 'sealed',
    ago: 110,
  },
  {
    title: 'Salt, summer tipper',
    who: 'joren',
    place: 'quay',
    on: LS_SALT,
    lines: [{ item: 'SP-1200', quantity: '10' }],
    end: 'sealed',
    ago: 120,
    freight: '240.00',
  },
]
