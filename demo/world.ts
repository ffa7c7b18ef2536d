import { STRICT } from '#core/bill/match.ts'
import { inventedIban, inventedVat } from '#demo/identifiers.ts'
import type { Organisation } from '#server/setup/organisation.ts'

const id = (number: number): string => `00000000-0000-4000-8000-${String(number).padStart(12, '0')}`

export const ADDRESSES = {
  quay: { id: id(901), code: 'QUAY', name: 'Saltmere Quay', dock: 'Quay gate', street: 'Harbour Walk 1', postalCode: '4381 SQ', city: 'Saltmere', country: 'NL', hours: 'Mon–Fri 7:00–16:00' },
  hatchery: { id: id(902), code: 'FENN', name: 'Fennick Point Hatchery', dock: 'Hatchery door', street: 'Fennick Point 12', postalCode: '4389 FP', city: 'Fennick', country: 'NL', hours: 'Mon–Sat 6:00–14:00' },
  ropeworks: { id: id(903), code: 'ROPE', name: 'The Old Ropeworks', dock: 'Store', street: 'Ropewalk 40', postalCode: '4382 RW', city: 'Saltmere', country: 'NL', hours: 'Mon–Fri 8:00–17:00' },
} as const
export type Place = keyof typeof ADDRESSES

export const organisation = (year: number): Organisation => ({
  company: { name: 'Saltmere Aquarium Trust', street: 'Harbour Walk 1', postalCode: '4381 SQ', city: 'Saltmere', country: 'NL', vat: 'NL999999999B99' },
  payFrom: { name: 'Saltmere Aquarium Trust', iban: inventedIban('NL', 1), bic: 'IVORNL2A' },
  calendar: { restDays: [0, 6], holidays: [year - 1, year, year + 1].flatMap(one => [`${one}-01-01`, `${one}-12-25`, `${one}-12-26`]) },
  tolerances: { ...STRICT, price: { percent: '2', absolute: '2500' }, freight: { percent: null, absolute: '2500' } },
  costCentres: [
    { code: 'AC-110', name: 'Animal care' }, { code: 'LS-210', name: 'Life support' }, { code: 'EX-310', name: 'Exhibits' }, { code: 'ED-410', name: 'Learning' }, { code: 'VS-510', name: 'Visitor services' }, { code: 'FA-610', name: 'Buildings' }, { code: 'RS-710', name: 'Research & hatchery' }, { code: 'OH-900', name: 'Administration' },
  ],
  accounts: [
    { code: '6010', name: 'feed' }, { code: '6020', name: 'salt & water chemistry' }, { code: '6110', name: 'veterinary & laboratory' }, { code: '6210', name: 'maintenance materials' }, { code: '6220', name: 'maintenance services' }, { code: '6310', name: 'diving & rope access' }, { code: '6410', name: 'printing & learning materials' },
    { code: '6510', name: 'shop & café goods' }, { code: '6610', name: 'consultancy & fees' }, { code: '6710', name: 'freight' }, { code: '1510', name: 'equipment' }, { code: '1410', name: 'stock' },
  ],
  projects: [{ code: 'KELP-HALL', name: 'Refit of the kelp hall' }, { code: 'JELLY-NURS', name: 'Jelly nursery' }, { code: 'SKID-26', name: 'Eight life-support skids' }],
  addresses: Object.values(ADDRESSES),
  rates: [['GBP', '1.1620', '1.1548'], ['NOK', '0.08610', '0.08545'], ['CHF', '1.0655', '1.0702'], ['USD', '0.9210', '0.8960'], ['JPY', '0.006120', '0.006045']].flatMap(([currency, first, second]) => [{ currency: currency!, validFrom: `${year - 1}-01-01`, rate: first! }, { currency: currency!, validFrom: `${year}-07-01`, rate: second! }]),
})

/** Allotments of the year: cost centre, account, project, amount, check level. */
export const BUDGETS: readonly [string, string, string | null, string, 'off' | 'note' | 'check' | 'stop'][] = [
  ['AC-110', '6010', null, '96000.00', 'check'], ['AC-110', '6020', null, '30000.00', 'check'], ['AC-110', '6110', null, '42000.00', 'check'], ['AC-110', '1510', null, '25000.00', 'stop'], ['LS-210', '6020', null, '88000.00', 'check'], ['LS-210', '6210', null, '54000.00', 'check'], ['LS-210', '6220', null, '36000.00', 'check'],
  ['LS-210', '1510', null, '140000.00', 'stop'], ['LS-210', '1510', 'SKID-26', '260000.00', 'stop'], ['LS-210', '6710', null, '9000.00', 'note'], ['EX-310', '6210', null, '38000.00', 'check'], ['EX-310', '6310', null, '48000.00', 'check'], ['EX-310', '1510', 'KELP-HALL', '310000.00', 'stop'], ['EX-310', '6610', null, '22000.00', 'check'],
  ['ED-410', '6410', null, '18000.00', 'check'], ['VS-510', '6510', null, '64000.00', 'check'], ['FA-610', '6220', null, '52000.00', 'check'], ['RS-710', '6010', null, '28000.00', 'check'], ['RS-710', '6110', null, '33000.00', 'check'], ['RS-710', '1510', 'JELLY-NURS', '120000.00', 'stop'], ['OH-900', '6610', null, '30000.00', 'check'],
]

interface DemoPerson { key: string; name: string; roles: [string, string | null][]; manager: string | null; active?: boolean }

/** People of the trust; keys are used by the threads. */
export const PEOPLE: readonly DemoPerson[] = [
  { key: 'henrik', name: 'Henrik Solvang-Abe', roles: [['director', null], ['requester', null]], manager: null },
  { key: 'marit', name: 'Marit Oland', roles: [['budgetHolder', 'LS-210'], ['budgetHolder', 'EX-310']], manager: 'henrik' },
  { key: 'tomas', name: 'Tomas Brackenfeld', roles: [['budgetHolder', 'AC-110'], ['budgetHolder', 'RS-710']], manager: 'henrik' },
  { key: 'adaeze', name: 'Adaeze Nwoko', roles: [['financeController', null]], manager: 'henrik' },
  { key: 'ines', name: 'Ines Castellane', roles: [['requester', null]], manager: 'tomas' },
  { key: 'joren', name: 'Joren Vaskuil', roles: [['requester', null]], manager: 'marit' },
  { key: 'pilar', name: 'Pilar Quenneville', roles: [['buyer', null]], manager: 'rasmus' },
  { key: 'rasmus', name: 'Rasmus Tielemann', roles: [['sourcingLead', null]], manager: 'henrik' },
  { key: 'yuki', name: 'Yuki Amberley', roles: [['receiver', null]], manager: 'marit' },
  { key: 'dov', name: 'Dov Halloran', roles: [['receiver', null]], manager: 'tomas' },
  { key: 'leonie', name: 'Leonie Mbeki-Strand', roles: [['invoiceClerk', null]], manager: 'adaeze' },
  { key: 'casimir', name: 'Casimir Floyd-Ortega', roles: [['treasurer', null]], manager: 'adaeze' },
  { key: 'wren', name: 'Wren Adeyemi', roles: [['steward', null]], manager: 'henrik' },
  { key: 'orla', name: 'Orla Pemberwick', roles: [['budgetHolder', null]], manager: 'henrik', active: false },
]

export const HOLDERS: Readonly<Record<string, string>> = { 'AC-110': 'tomas', 'LS-210': 'marit', 'EX-310': 'marit', 'ED-410': 'henrik', 'VS-510': 'henrik', 'FA-610': 'henrik', 'RS-710': 'tomas', 'OH-900': 'henrik' }

export const personEmail = (name: string): string => `${name.toLowerCase().normalize('NFKD').replace(/[^a-z ]/g, '').replace(/ +/g, '.')}@saltmere.example`

export interface DemoSupplier { key: string; name: string; country: string; city: string; street: string; postalCode: string; currency: string; days: number; from?: 'invoice' | 'receipt' | 'endOfMonth'; over?: number; categories: string[]; contact: string; account?: 'proven' | 'unproven' | 'none'; accountEnding?: string; state?: 'paused' | 'barred'; accountCountry?: string; kind?: 'company' | 'person'; web?: string; size?: 'one' | 'micro' | 'small' | 'medium' | 'large'; founded?: number; trade?: string; ourNumber?: string; incoterm?: [string, string] }

const KNOWN: readonly DemoSupplier[] = [
  { key: 'salines', name: 'Salines du Grand Pré-Vert', country: 'FR', accountCountry: 'BE', city: 'Pré-Vert', street: 'Chemin des Œillets 7', postalCode: '17999', currency: 'EUR', days: 30, over: 5, categories: ['Salt & water chemistry'], contact: 'Maëlle Tréguier' },
  { key: 'krill', name: 'Krillfisk Samvirke', country: 'NO', city: 'Havnsund', street: 'Kaivegen 3', postalCode: '9999', currency: 'NOK', days: 21, categories: ['Feed'], contact: 'Sindre Vollheim', over: 2 },
  { key: 'nordhavn', name: 'Nordhavn Pumpeverk', country: 'NO', city: 'Nordhavn', street: 'Verftsgata 18', postalCode: '9998', currency: 'EUR', days: 30, categories: ['Pumps'], contact: 'Aslaug Rindal' },
  { key: 'aldis', name: 'Aldis Membranes', country: 'GB', city: 'Wexcombe', street: 'Mill Lane 22', postalCode: 'WX9 9ZZ', currency: 'GBP', days: 30, categories: ['Filtration & UV'], contact: 'Perpetua Hale' },
  { key: 'peltier', name: 'Peltier & Soane Acrylics', country: 'DE', city: 'Neufeldsund', street: 'Werkstraße 9', postalCode: '99999', currency: 'EUR', days: 45, categories: ['Panels & tanks'], contact: 'Friedegund Aschau' },
  { key: 'toshima', name: 'Toshima Probe Works', country: 'JP', accountCountry: 'NL', city: 'Toshima-minami', street: '4-99 Minato', postalCode: '999-9999', currency: 'JPY', days: 60, categories: ['Probes & dosing'], contact: 'Haruna Isobe' },
  { key: 'orrin', name: 'Orrin Valve Company', country: 'US', accountCountry: 'NL', city: 'Port Orrin', street: '99 Foundry Street', postalCode: '99999', currency: 'USD', days: 30, categories: ['Valves & pipe'], contact: 'Delmar Quist' },
  { key: 'brightwater', name: 'Brightwater Diving', country: 'IE', city: 'Ballinroe', street: 'The Slip 4', postalCode: 'Z99 Z999', currency: 'EUR', days: 14, categories: ['Diving & rope access'], contact: 'Eoghan Farrelly' },
  { key: 'ferrolund', name: 'Ferrolund Fastenings', country: 'SE', city: 'Ferrolund', street: 'Smedjegatan 6', postalCode: '999 99', currency: 'EUR', days: 30, categories: ['Fasteners'], contact: 'Tuva Lindmark', over: 10 },
  { key: 'marlowe', name: 'Marlowe Laboratory Supply', country: 'GB', city: 'Estermouth', street: 'Beaker Row 15', postalCode: 'ES9 9ZZ', currency: 'GBP', days: 30, categories: ['Laboratory'], contact: 'Quentin Ashdown' },
  { key: 'klarwasser', name: 'Klarwasser Prüflabor Hennings', country: 'DE', city: 'Brunshafen', street: 'Am Siel 2', postalCode: '99998', currency: 'EUR', days: 14, categories: ['Laboratory'], contact: 'Ottilie Hennings' },
  { key: 'coldline', name: 'Coldline Titanium', country: 'CH', city: 'Seewilen', street: 'Industrieweg 11', postalCode: '9999', currency: 'CHF', days: 45, categories: ['Heat exchange'], contact: 'Reto Amherd' },
  { key: 'rotifer', name: 'Levende Rotiferen Kwekerij', country: 'NL', city: 'Zoutkamp-Noord', street: 'Broedweg 5', postalCode: '9999 ZZ', currency: 'EUR', days: 14, from: 'receipt', categories: ['Feed'], contact: 'Famke Stuurop', over: 3 },
  { key: 'ropeline', name: 'Ropeline Access Crew', country: 'IE', city: 'Carrowbeg', street: 'Quarry Road 8', postalCode: 'Z98 Z998', currency: 'EUR', days: 30, categories: ['Diving & rope access'], contact: 'Siobhra Mulkern', account: 'unproven' },
  { key: 'tidewind', name: 'Tidewind Printers', country: 'NL', city: 'Saltmere', street: 'Zetterij 19', postalCode: '4380 ZZ', currency: 'EUR', days: 30, from: 'endOfMonth', categories: ['Print & learning'], contact: 'Joost Verhaal' },
  { key: 'puffin', name: 'Puffin & Parcel Gifts', country: 'GB', city: 'Lowstrand', street: 'Market Yard 3', postalCode: 'LS9 9ZZ', currency: 'GBP', days: 30, categories: ['Shop goods'], contact: 'Ottoline Brace' },
  { key: 'nightlamp', name: 'Nightlamp Guarding', country: 'NL', city: 'Fennick', street: 'Wachtstraat 2', postalCode: '4388 ZZ', currency: 'EUR', days: 14, categories: ['Guarding'], contact: 'Berend Oosterlaan', accountEnding: '404' },
  { key: 'highreach', name: 'Highreach Crane Hire', country: 'DK', city: 'Kransund', street: 'Havnevej 77', postalCode: '9999', currency: 'EUR', days: 30, categories: ['Crane hire'], contact: 'Svend Aggerholm' },
  { key: 'aldisltd', name: 'ALDIS Membrane Ltd.', country: 'GB', city: 'Wexcombe', street: 'Mill Lane 22', postalCode: 'WX9 9ZZ', currency: 'GBP', days: 30, categories: ['Filtration & UV'], contact: 'Perpetua Hale', account: 'none', state: 'paused' },
  { key: 'quickbrine', name: 'Quickbrine Trading', country: 'PT', city: 'Salgueira', street: 'Rua da Doca 9', postalCode: '9999-999', currency: 'EUR', days: 0, categories: ['Salt & water chemistry'], contact: 'Anselmo Vidigal', account: 'none', state: 'barred' },
  { key: 'seefelder', name: 'Seefelder Pumpen GmbH', country: 'AT', city: 'Seefeld-Nord', street: 'Uferweg 14', postalCode: '9998', currency: 'EUR', days: 30, categories: ['Pumps'], contact: 'Leopold Haslinger', web: 'www.seefelder.example', size: 'medium', founded: 1961, incoterm: ['DAP', 'Saltmere'] },
  { key: 'aquanera', name: 'Acquanera Impianti S.r.l.', country: 'IT', city: 'Portovero', street: 'Via del Molo 3', postalCode: '19999', currency: 'EUR', days: 60, categories: ['Filtration & UV', 'Pumps'], contact: 'Ottavia Brenzone', web: 'acquanera.example', size: 'small', founded: 1998 },
  { key: 'branaverde', name: 'Hermanos Brañaverde S.L.', country: 'ES', accountCountry: 'NL', city: 'Puertolargo', street: 'Calle de las Redes 21', postalCode: '15999', currency: 'EUR', days: 45, categories: ['Feed'], contact: 'Iria Brañaverde', size: 'small', trade: 'Redes y Piensos del Norte' },
  { key: 'merilaite', name: 'Merilaite Oy', country: 'FI', city: 'Uusisalmi', street: 'Telakkatie 8', postalCode: '99910', currency: 'EUR', days: 21, categories: ['Probes & dosing', 'Laboratory'], contact: 'Aino Rautasalo', web: 'merilaite.example', size: 'small', founded: 2004 },
  { key: 'wlokna', name: 'Włókna Bałtyk Sp. z o.o.', country: 'PL', city: 'Morzewo', street: 'ul. Portowa 12', postalCode: '81-999', currency: 'EUR', days: 30, categories: ['Panels & tanks'], contact: 'Jagna Wrzosek', size: 'medium' },
  { key: 'weissfluh', name: 'Weißfluh Kältetechnik AG', country: 'CH', city: 'Seewilen', street: 'Kirchgasse 2', postalCode: '9999', currency: 'CHF', days: 30, categories: ['Heat exchange'], contact: 'Seraina Capaul', size: 'medium', founded: 1974 },
  { key: 'tern', name: 'Tern International Manufacturing', country: 'US', accountCountry: 'NL', city: 'Gull Harbor', street: '12 Breakwater Avenue', postalCode: '98999', currency: 'USD', days: 30, categories: ['Valves & pipe', 'Fasteners'], contact: 'Marguerite Oldham', size: 'large', incoterm: ['CIF', 'Saltmere'] },
  { key: 'umineko', name: 'Umineko Kagaku K.K.', country: 'JP', accountCountry: 'NL', city: 'Minatogawa', street: '7-11 Kaigan', postalCode: '998-9999', currency: 'JPY', days: 60, categories: ['Salt & water chemistry', 'Laboratory'], contact: 'Sayuri Hanabusa', size: 'large' },
  { key: 'grevelle', name: 'Coopérative des Éleveurs de Grévelle', country: 'FR', accountCountry: 'BE', city: 'Grévelle', street: 'Route des Polders 1', postalCode: '62999', currency: 'EUR', days: 20, categories: ['Feed'], contact: 'Théophile Lamarck', size: 'small', founded: 1952, trade: 'La Ferme de la Mer' },
  { key: 'tangwald', name: 'Tangwald Seile GmbH', country: 'DE', city: 'Aalsiel', street: 'Hafenstraße 4', postalCode: '24999', currency: 'EUR', days: 30, categories: ['Diving & rope access'], contact: 'Wiebke Tangwald', size: 'micro' },
  { key: 'tangwald2', name: 'TANGWALD SEIL', country: 'DE', city: 'Aalsiel', street: 'Hafenstr. 4', postalCode: '24999', currency: 'EUR', days: 30, categories: ['Diving & rope access'], contact: 'Wiebke Tangwald', account: 'none' },
  { key: 'halvorsen', name: 'Halvorsen Tauverk AS', country: 'NO', city: 'Havnsund', street: 'Kaivegen 31', postalCode: '9999', currency: 'NOK', days: 30, categories: ['Diving & rope access'], contact: 'Torbjørg Halvorsen', size: 'micro' },
  { key: 'kvisten', name: 'Linde Kvistgaard', country: 'DK', city: 'Limvig', street: 'Strandvejen 9', postalCode: '7999', currency: 'EUR', days: 14, categories: ['Illustration'], contact: 'Linde Kvistgaard', kind: 'person', size: 'one' },
  { key: 'peregrin', name: 'Peregrin Engineering Study Office', country: 'GB', city: 'Estermouth', street: 'Dockside 40', postalCode: 'ES9 8ZZ', currency: 'GBP', days: 30, categories: ['Engineering'], contact: 'Araminta Doyle', size: 'micro', founded: 2015 },
  { key: 'lotsenhaus', name: 'Lotsenhaus Messtechnik', country: 'DE', city: 'Kliffhusen', street: 'Deichweg 17', postalCode: '25998', currency: 'EUR', days: 30, categories: ['Probes & dosing'], contact: 'Enno Petersilie', size: 'small' },
  { key: 'garnaal', name: 'Garnaal en Zoon', country: 'BE', city: 'Nieuwhaven', street: 'Vismijnstraat 2', postalCode: '8999', currency: 'EUR', days: 14, categories: ['Feed'], contact: 'Lieselot Garnaal', size: 'micro' },
  { key: 'kelpie', name: 'Kelpie Rigging Ltd', country: 'GB', city: 'Lowstrand', street: 'Rope Yard 1', postalCode: 'LS9 7ZZ', currency: 'GBP', days: 30, categories: ['Diving & rope access'], contact: 'Rowan Achterlonie', size: 'small', state: 'paused' },
  { key: 'puffin2', name: 'Puffin and Parcel Gift Ltd', country: 'GB', city: 'Lowstrand', street: 'Market Yard 3', postalCode: 'LS99ZZ', currency: 'GBP', days: 30, categories: ['Shop goods'], contact: 'Ottoline Brace', account: 'none' },
  { key: 'ostersoe', name: 'Østersø Rør A/S', country: 'DK', city: 'Mørkhavn', street: 'Rørvej 5', postalCode: '4999', currency: 'EUR', days: 30, categories: ['Valves & pipe'], contact: 'Gudrun Ravnkilde', size: 'medium', founded: 1933 },
  { key: 'duinroos', name: 'Duinroos Schoonmaak', country: 'NL', city: 'Saltmere', street: 'Duinpad 3', postalCode: '4381 DR', currency: 'EUR', days: 14, categories: ['Guarding'], contact: 'Mieke Zandvliet', size: 'micro' },
]

/** Suppliers with a VAT number that passes its country's check digits and belongs to nobody; records planted as duplicates have none. */
export const SUPPLIERS: readonly (DemoSupplier & { vat: string })[] = KNOWN.map((supplier, index) => ({ ...supplier, vat: supplier.key.endsWith('2') ? '' : inventedVat(supplier.country, 101 + index * 7) }))

/** The VAT number of a demo supplier. */
export const vatOf = (key: string): string => SUPPLIERS.find(supplier => supplier.key === key)?.vat ?? ''

/** What a category asks for and who looks after it. */
export const CATEGORIES: readonly { name: string; owner: string; certificates: readonly { kind: string; lapse: 'note' | 'check' | 'stop' }[]; thresholds: Readonly<Record<string, string>> }[] = [
  { name: 'Feed', owner: 'tomas', certificates: [{ kind: 'Food safety certificate', lapse: 'stop' }], thresholds: { onTimeInFull: '95', returnRate: '1' } },
  { name: 'Salt & water chemistry', owner: 'rasmus', certificates: [{ kind: 'Safety data sheets', lapse: 'check' }], thresholds: {} },
  { name: 'Diving & rope access', owner: 'marit', certificates: [{ kind: 'Diving safety certificate', lapse: 'stop' }], thresholds: {} },
  { name: 'Laboratory', owner: 'tomas', certificates: [{ kind: 'Accreditation', lapse: 'note' }], thresholds: {} },
  { name: 'Pumps', owner: 'marit', certificates: [], thresholds: { onTimeInFull: '85' } },
  { name: 'Illustration', owner: 'rasmus', certificates: [], thresholds: {} },
]

/** Certificates as of the demo's day: supplier, kind, issuer, days until the end (negative: lapsed). */
export const CERTIFICATES: readonly { supplier: string; kind: string; category: string; issuer: string; number: string; ends: number }[] = [
  { supplier: 'krill', kind: 'Food safety certificate', category: 'Feed', issuer: 'Havnsund Mattilsyn', number: 'FS-2210', ends: 410 },
  { supplier: 'rotifer', kind: 'Food safety certificate', category: 'Feed', issuer: 'Keurmerk Voer', number: 'KV-771', ends: 24 },
  { supplier: 'branaverde', kind: 'Food safety certificate', category: 'Feed', issuer: 'Registro Sanitario del Norte', number: 'RS-0419', ends: -18 },
  { supplier: 'grevelle', kind: 'Food safety certificate', category: 'Feed', issuer: 'Bureau des Aliments', number: 'BA-88', ends: 190 },
  { supplier: 'salines', kind: 'Safety data sheets', category: 'Salt & water chemistry', issuer: 'Salines du Grand Pré-Vert', number: 'FDS 2025', ends: 320 },
  { supplier: 'brightwater', kind: 'Diving safety certificate', category: 'Diving & rope access', issuer: 'Irish Commercial Divers Board', number: 'ICD-5501', ends: 150 },
  { supplier: 'ropeline', kind: 'Diving safety certificate', category: 'Diving & rope access', issuer: 'Rope Access Register', number: 'RAR-12', ends: 55 },
  { supplier: 'klarwasser', kind: 'Accreditation', category: 'Laboratory', issuer: 'Akkreditierungsstelle Nord', number: 'AN-17025-9', ends: 600 },
]
