/** Where somebody is. */
export interface Address {
  readonly street: string
  readonly postalCode: string
  readonly city: string
  readonly country: string
}

/** Countries in which the postal code comes after the city (UPU, addressing systems). */
const CODE_LAST = new Set(['GB', 'IE', 'US', 'CA', 'AU', 'NZ', 'IN', 'SG', 'ZA'])

/**
 * An address on one line, as it is written in its country: the postal code before the city on the Continent, after it in Britain, America
 * and where they set the custom.
 *
 * addressText({ street: 'Kaistr. 4', postalCode: '20457', city: 'Hamburg', country: 'DE' }) //=> 'Kaistr. 4, 20457 Hamburg, DE'
 */
export function addressText({ street, postalCode, city, country }: Address): string {
  const place = CODE_LAST.has(country) ? [city, postalCode] : [postalCode, city]
  return [street, place.filter(Boolean).join(' '), country].filter(Boolean).join(', ')
}
