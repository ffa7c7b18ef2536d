import { table } from '#core/text/table.ts'

/** Regions of supply by the countries in them (ISO 3166-1): the European Union (since 2020), EFTA, and the continents of UN M49 as far as houses buy there. */
export const REGIONS = table({
  EU: 'AT BE BG CY CZ DE DK EE ES FI FR GR HR HU IE IT LT LU LV MT NL PL PT RO SE SI SK',
  EFTA: 'CH IS LI NO',
  Europe:
    'AD AL AT BA BE BG BY CH CY CZ DE DK EE ES FI FR GB GG GI GR HR HU IE IM IS IT JE LI LT LU LV MC MD ME MK MT NL NO PL PT RO RS SE SI SK SM UA VA XK',
  Americas: 'AR BO BR CA CL CO CR CU DO EC GT HN JM MX NI PA PE PR PY SV US UY VE',
  Asia: 'AE BD BH CN GE HK ID IL IN JO JP KH KR KW KZ LA LB LK MN MY NP OM PH PK QA SA SG TH TR TW UZ VN',
  Africa: 'DZ EG ET GH KE MA MG MU MZ NA NG SN TN TZ UG ZA ZM ZW',
  Oceania: 'AU FJ NC NZ PF PG',
})
export type Region = keyof typeof REGIONS
export const REGION_CODES = Object.keys(REGIONS) as Region[]

export const countriesOf = (region: Region): string[] => REGIONS[region].split(' ')

/** What some countries are called where they are just those of a region among all that there are; else undefined. regionOf(['NO', 'CH'], ['NO', 'CH', 'NL']) //=> 'EFTA' */
export const regionOf = (countries: readonly string[], all: readonly string[]): Region | undefined =>
  countries.length === 0
    ? undefined
    : REGION_CODES.find(region => {
        const own = countriesOf(region)
        const there = all.filter(one => own.includes(one))
        return there.length === countries.length && countries.every(one => there.includes(one))
      })
