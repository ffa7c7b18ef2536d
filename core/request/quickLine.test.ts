import { expect } from 'chai'
import fc from 'fast-check'
import { readDay } from '#core/request/quickDates.ts'
import { numberReadings } from '#core/request/quickNumbers.ts'
import { quickLines, readQuickLine } from '#core/request/quickLine.ts'

const MONDAY = '2026-11-23'

/** What was understood, in one line: `12 | sea salt | >Fennick | by 2026-12-04 | LS-210/6020`; several readings are joined by ` or `. */
function understood(text: string): string {
  const { parts } = readQuickLine(text, MONDAY)
  const marks = {
    quantity: '',
    item: '',
    place: '>',
    date: 'by ',
    account: '',
    project: '#',
    supplier: '<',
    price: '@',
  } as const
  return parts
    .map(part => {
      const readings = part.readings.map(one =>
        [one.value, one.unit, one.currency, one.item && `“${one.item}”`].filter(Boolean).join(' '),
      )
      return `${marks[part.kind]}${readings.join(' or ') || '!'}${part.assumed ? '?' : ''}`
    })
    .join(' | ')
}

/** A phrase and what it means, one a line, parted by =>. */
const PHRASES = `
12 x sea salt 25 kg to Fennick by 4 Dec on LS-210/6020 => 12 | sea salt 25 kg | >Fennick | by 2026-12-04 | LS-210/6020
12x sea salt => 12 | sea salt
12 × sea salt => 12 | sea salt
12 * sea salt => 12 | sea salt
12 sea salt => 12 | sea salt
sea salt x 12 => 12 | sea salt
sea salt x12 => 12 | sea salt
sea salt × 12 => 12 | sea salt
sea salt, x 12 => 12 | sea salt
sea salt 12 pcs => 12 | sea salt
sea salt, 12 pieces => 12 | sea salt
sea salt 12x => 12 | sea salt
twelve sea salt => 12 | sea salt
a dozen puffin mugs => 12 | puffin mugs
dozen puffin mugs => 12 | puffin mugs
two dozen puffin mugs => 24 | puffin mugs
a pump => 1 | pump
an anode => 1 | anode
one pump => 1 | pump
two pumps => 2 | pumps
three UV lamps => 3 | UV lamps
ten anchors => 10 | anchors
twenty bolts => 20 | bolts
fifty washers => 50 | washers
two of the pH probes => 2 | the pH probes
5 of the pH probes => 5 | the pH probes
pump => 1? | pump
circulation pump 12 m³/h => 1? | circulation pump 12 m³/h
2 circulation pump 12 m³/h => 2 | circulation pump 12 m³/h
circulation pump 12 m³/h x 2 => 2 | circulation pump 12 m³/h
50 kg frozen krill => 50 KGM | frozen krill
50kg frozen krill => 50 KGM | frozen krill
50 kg of frozen krill => 50 KGM | frozen krill
50 kilos frozen krill => 50 KGM | frozen krill
50 kilograms of frozen krill => 50 KGM | frozen krill
half a tonne of salt => 0.5 TNE | salt
half tonne salt => 0.5 TNE | salt
2 t sea salt loose => 2 TNE | sea salt loose
2,5 t sea salt loose => 2.5 TNE | sea salt loose
2.5 tonnes of sea salt => 2.5 TNE | sea salt
1 ton salt => 1 TNE | salt
20 l rotifer culture => 20 LTR | rotifer culture
20 litres of rotifer culture => 20 LTR | rotifer culture
20 liters rotifer culture => 20 LTR | rotifer culture
3 m³ gravel => 3 MTQ | gravel
3 m3 gravel => 3 MTQ | gravel
4 m² liner => 4 MTK | liner
10 bags sea salt => 10 BG | sea salt
1 bag sea salt => 1 BG | sea salt
3 boxes of gloves => 3 BX | gloves
a box of gloves => 1 BX | gloves
2 sets dry suit => 2 SET | dry suit
5 pairs gloves => 5 PR | gloves
8 hours diving inspection => 8 HUR | diving inspection
2 days crane hire => 2 DAY | crane hire
500 g activated carbon => 500 GRM or 1 “500 g activated carbon” | activated carbon
500 g of activated carbon => 500 GRM | activated carbon
500 ml buffer => 500 MLT or 1 “500 ml buffer” | buffer
32 mm ball valve => 32 MMT or 1 “32 mm ball valve” | ball valve
5 m pipe 32 mm => 5 MTR or 1 “5 m pipe 32 mm” | pipe 32 mm
5 metres of pipe 32 mm => 5 MTR | pipe 32 mm
sea salt 25 kg => 25 KGM or 1 “sea salt 25 kg” | sea salt
krill, 50 kg => 50 KGM or 1 “krill, 50 kg” | krill
adapter 32 to 20 mm => 20 MMT or 1 “adapter 32 to 20 mm” | adapter 32 to
2 adapter 32 to 20 mm => 2 | adapter 32 to 20 mm
1,200 bolts => 1200 or 1.2 | bolts
1.200 bolts => 1.2 or 1200 | bolts
1 200 bolts => 1200 | bolts
1,200.50 kg salt => 1200.5 KGM | salt
1.200,50 kg salt => 1200.5 KGM | salt
1,200,000 washers => 1200000 | washers
0,5 kg carbon => 0.5 KGM | carbon
0.5 kg carbon => 0.5 KGM | carbon
0,125 kg carbon => 0.125 KGM | carbon
007 lamps => 7 | lamps
0 x salt => ! | salt
0 kg salt => ! | salt
-3 salt => ! | salt
-3 x salt => ! | salt
0.0000001 kg salt => ! | salt
1000000000000000000 bolts => ! | bolts
salt to Fennick => 1? | salt | >Fennick
salt to the Old Ropeworks => 1? | salt | >the Old Ropeworks
salt delivered to Fennick => 1? | salt | >Fennick
salt deliver to Fennick Point => 1? | salt | >Fennick Point
to Fennick 12 x salt => 1? | >Fennick 12 x salt
to Fennick, by 4 Dec 12 x salt => 12 | salt | >Fennick | by 2026-12-04
salt by 4 Dec => 1? | salt | by 2026-12-04
salt by 4 December => 1? | salt | by 2026-12-04
salt by 4th December => 1? | salt | by 2026-12-04
salt by the day after tomorrow => 1? | salt | by 2026-11-25
salt by Dec 4 => 1? | salt | by 2026-12-04
salt by December 4th => 1? | salt | by 2026-12-04
salt by 4 Dec 2027 => 1? | salt | by 2027-12-04
salt by Dec 4, 2027 => 1? | salt | by 2027-12-04
salt by 2026-12-04 => 1? | salt | by 2026-12-04
salt by 4.12. => 1? | salt | by 2026-12-04
salt by 4.12.2027 => 1? | salt | by 2027-12-04
salt by 24/12 => 1? | salt | by 2026-12-24
salt by 4/12 => 1? | salt | by 2026-12-04 or 2027-04-12
salt by 4/12/2026 => 1? | salt | by 2026-12-04 or 2026-04-12
salt by 5/5/2027 => 1? | salt | by 2027-05-05
salt by 3 Jan => 1? | salt | by 2027-01-03
salt by 22 Nov => 1? | salt | by 2027-11-22
salt by 23 Nov => 1? | salt | by 2026-11-23
salt needed by 4 Dec => 1? | salt | by 2026-12-04
salt before 4 Dec => 1? | salt | by 2026-12-04
salt until 4 Dec => 1? | salt | by 2026-12-04
salt no later than 4 Dec => 1? | salt | by 2026-12-04
salt by today => 1? | salt | by 2026-11-23
salt by tomorrow => 1? | salt | by 2026-11-24
salt by Friday => 1? | salt | by 2026-11-27
salt by fri => 1? | salt | by 2026-11-27
salt by this friday => 1? | salt | by 2026-11-27
salt by Monday => 1? | salt | by 2026-11-30
salt by next Monday => 1? | salt | by 2026-11-30
salt by next Friday => 1? | salt | by 2026-12-04 or 2026-11-27
salt by in 3 days => 1? | salt | by 2026-11-26
salt by in 2 weeks => 1? | salt | by 2026-12-07
salt by in a week => 1? | salt | by 2026-11-30
salt by end of month => 1? | salt | by 2026-11-30
salt by the end of the month => 1? | salt | by 2026-11-30
salt by end of this month => 1? | salt | by 2026-11-30
salt by end of next month => 1? | salt | by 2026-12-31
salt by 29 Feb => 1? | salt | by 2028-02-29
salt by 29 Feb 2027 => 1? | salt | by !
salt by 29 Feb 2028 => 1? | salt | by 2028-02-29
salt by 31 Nov => 1? | salt | by !
salt by 31.4.2027 => 1? | salt | by !
salt by 2026-13-01 => 1? | salt | by !
salt by 2026-02-30 => 1? | salt | by !
by 4 Dec salt => 1? | salt | by 2026-12-04
by 4 Dec 12 x salt => 12 | salt | by 2026-12-04
stand by pump => 1? | stand by pump
book by Marlowe by 4 Dec => 1? | book by Marlowe | by 2026-12-04
salt on LS-210/6020 => 1? | salt | LS-210/6020
salt LS-210/6020 => 1? | salt | LS-210/6020
salt on ls-210/6020 => 1? | salt | LS-210/6020
salt on LS-210 / 6020 => 1? | salt | LS-210/6020
salt account LS-210/6020 => 1? | salt | LS-210/6020
LS-210/6020 salt => 1? | salt | LS-210/6020
LS-210/6020 12 x salt => 12 | salt | LS-210/6020
add-on valve => 1? | add-on valve
lamp on stand => 1? | lamp on stand
salt #SKID-26 => 1? | salt | #SKID-26
salt #skid-26 => 1? | salt | #SKID-26
salt project KELP-HALL => 1? | salt | #KELP-HALL
salt for project KELP-HALL => 1? | salt | #KELP-HALL
salt on LS-210/1510 #SKID-26 => 1? | salt | LS-210/1510 | #SKID-26
#SKID-26 8 probes => 8 | probes | #SKID-26
salt from Salines => 1? | salt | <Salines
salt from Salines du Grand Pré-Vert => 1? | salt | <Salines du Grand Pré-Vert
salt from Salines to Fennick => 1? | salt | <Salines | >Fennick
salt to Fennick from Salines => 1? | salt | >Fennick | <Salines
salt from Salines by 4 Dec => 1? | salt | <Salines | by 2026-12-04
salt from Peltier & Soane, by 4 Dec => 1? | salt | <Peltier & Soane | by 2026-12-04
salt at 12.50 EUR => 1? | salt | @12.5 EUR
salt at 12,50 EUR => 1? | salt | @12.5 EUR
salt at EUR 12.50 => 1? | salt | @12.5 EUR
salt @ 12.50 => 1? | salt | @12.5
salt @12.50 => 1? | salt | @12.5
salt at €12.50 => 1? | salt | @12.5 EUR
salt at 12.50 € => 1? | salt | @12.5 EUR
salt at £9 => 1? | salt | @9 GBP
salt at $9 each => 1? | salt | @9 USD
salt at 9 GBP a piece => 1? | salt | @9 GBP
salt at 9 EUR per bag => 1? | salt | @9 EUR
salt for 250 EUR => 1? | salt | @250 EUR
salt for 250 => 1? | salt for 250
salt at 1,200 EUR => 1? | salt | @1200 EUR or 1.2 EUR
probes at 30600 JPY => 1? | probes | @30600 JPY
valve at dock => 1? | valve at dock
skimmer for 8 m³ => 8 MTQ or 1 “skimmer for 8 m³” | skimmer for
2 skimmer for 8 m³ => 2 | skimmer for 8 m³
UV lamp 80 W => 1? | UV lamp 80 W
3 UV lamp 80 W => 3 | UV lamp 80 W
80 W UV lamp => 80 | W UV lamp
SW-1200 => 1? | SW-1200
40 SW-1200 => 40 | SW-1200
40 x SW-1200 to Quay => 40 | SW-1200 | >Quay
4006381333931 => 1? | 4006381333931
2 x 4006381333931 => 2 | 4006381333931
hex bolt A4 M8×40 => 1? | hex bolt A4 M8×40
200 hex bolt A4 M8×40 => 200 | hex bolt A4 M8×40
200 x hex bolt A4 M8×40 => 200 | hex bolt A4 M8×40
acrylic panel 80 mm, 2.0 × 1.2 m => 1.2 MTR or 1 “acrylic panel 80 mm, 2.0 × 1.2 m” | acrylic panel 80 mm, 2.0 ×
ball valve 32 mm x 6 => 6 | ball valve 32 mm
6 ball valve 32 mm => 6 | ball valve 32 mm
pH probe x 2 on RS-710/6110 by 24/12 to Hatchery => 2 | pH probe | RS-710/6110 | by 2026-12-24 | >Hatchery
on RS-710/6110 to Hatchery by 24/12 2 x pH probe => 2 | pH probe | RS-710/6110 | >Hatchery | by 2026-12-24
by friday, 3 boxes of gloves to the quay, on AC-110/6110 => 3 BX | gloves | by 2026-11-27 | >the quay | AC-110/6110
12 x sea salt 25 kg, to Fennick, by 4 Dec, on LS-210/6020 => 12 | sea salt 25 kg | >Fennick | by 2026-12-04 | LS-210/6020
40 kg herring from Krillfisk at 44 NOK by tomorrow to Hatchery => 40 KGM | herring | <Krillfisk | @44 NOK | by 2026-11-24 | >Hatchery
Frozen krill, whole x 50 => 50 | Frozen krill, whole
50 Frozen krill, whole => 50 | Frozen krill, whole
🐟 food 3 kg => 3 KGM or 1 “🐟 food 3 kg” | 🐟 food
2 kg 🐟 food => 2 KGM | 🐟 food
=SUM(A1) => 1? | =SUM(A1)
'; drop table items; -- => 1? | '; drop table items; --
<b>salt</b> x 2 => 2 | <b>salt</b>
12 => 1? | 12
 => 1?
   => 1?
to Fennick => 1? | >Fennick
by 4 Dec => 1? | by 2026-12-04
salt to => 1? | salt to
salt by => 1? | salt by
salt from => 1? | salt from
Müller pump x 2 to Aalsiel => 2 | Müller pump | >Aalsiel
два насоса => 1? | два насоса
2 насоса to Fennick => 2 | насоса | >Fennick
12 X SEA SALT TO FENNICK BY 4 DEC ON LS-210/6020 => 12 | SEA SALT | >FENNICK | by 2026-12-04 | LS-210/6020
1 x a => 1 | a
3  x   salt    to   Quay => 3 | salt | >Quay
3 x salt, pepper to Quay => 3 | salt, pepper | >Quay
`

describe('a quick line', () => {
  const phrases = PHRASES.split('\n')
    .filter(line => line.includes('=>'))
    .map(line => line.split('=>') as [string, string])

  it('has more than two hundred phrases here', () => expect(phrases.length).to.be.above(200))

  for (const [text, meaning] of phrases)
    it(`“${text.trim()}”`, () => expect(understood(text.replace(/ $/, ''))).to.equal(meaning.trim()))

  it('says why a part is none, beside the part', () => {
    const places = (text: string): string[] =>
      readQuickLine(text, MONDAY).reasons.map(reason => `${reason.code} ${reason.place ?? ''}`.trim())
    expect(places('0 x salt by 31 Nov')).to.deep.equal(['quick.noSuchDay date', 'quick.quantity quantity'])
    expect(places('')).to.deep.equal(['quick.noItem'])
    expect(places('12 x salt')).to.deep.equal([])
  })

  it('never throws and never loses a letter or digit, whatever is typed', () => {
    const letters = (text: string): string => [...text.replace(/[^\p{L}\p{N}]/gu, '')].sort().join('')
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), text => {
        const { parts } = readQuickLine(text, MONDAY)
        expect(letters(parts.map(part => part.text).join(' '))).to.equal(letters(text))
      }),
      { numRuns: 400 },
    )
  })

  it('means the same in whatever order its parts stand', () => {
    const tail = ['to Fennick', 'by 4 Dec', 'on LS-210/6020', 'at 12.50 EUR']
    fc.assert(
      fc.property(fc.shuffledSubarray(tail, { minLength: 4 }), order => {
        const { parts } = readQuickLine(`12 x sea salt ${order.join(' ')}`, MONDAY)
        expect(parts.map(part => `${part.kind} ${part.readings[0]!.value}`).sort()).to.deep.equal([
          'account LS-210/6020',
          'date 2026-12-04',
          'item sea salt',
          'place Fennick',
          'price 12.5',
          'quantity 12',
        ])
      }),
    )
  })
})

describe('a pasted block', () => {
  it('is read line by line, without bullets and numbers before them', () => {
    expect(quickLines('- 12 x salt\r\n\n2) 3 lamps\n3. pump\n• a box\tof gloves\n   \n')).to.deep.equal([
      '12 x salt',
      '3 lamps',
      'pump',
      'a box of gloves',
    ])
  })
})

describe('numbers and days in a line', () => {
  it('that may mean two things come with both', () => {
    expect(numberReadings('1,200')).to.deep.equal(['1200', '1.2'])
    expect(numberReadings('12,00')).to.deep.equal(['12'])
    expect(numberReadings('1.2.3')).to.deep.equal([])
    expect(readDay('4/12', MONDAY)?.days).to.deep.equal(['2026-12-04', '2027-04-12'])
  })

  it('are only days when they are there', () => {
    expect(readDay('salt', MONDAY)).to.equal(undefined)
    expect(readDay('31 Nov', MONDAY)).to.deep.include({ days: [] })
    expect(readDay('4 Decks', MONDAY)).to.equal(undefined)
  })
})
