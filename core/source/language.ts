const GERMAN = new Set(['DE', 'AT', 'CH', 'LI'])

/**
 * The language in which a supplier of a country is first written to, until somebody says another: German where most people read it, else
 * English. ISO 3166-1 country to ISO 639-1 language.
 *
 * languageOfCountry('AT') //=> 'de'
 */
export const languageOfCountry = (country: string): 'de' | 'en' => (GERMAN.has(country) ? 'de' : 'en')
