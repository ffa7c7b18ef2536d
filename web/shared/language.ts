import type german from 'element-plus/es/locale/lang/de'
import { shallowRef } from 'vue'
import { type Details, fill } from '#contract/messages/fill.ts'
import { type Language, languageOf, type Translation } from '#contract/messages/languages.ts'

type Controls = typeof german
interface Spoken {
  readonly words: Translation
  /** What calendars and other controls say of themselves. */
  readonly controls: Controls
}

/** The language of the pages, as far as it is not English, which stands in the pages themselves. */
const spoken = shallowRef<Spoken>()
export const translation = (): Translation | undefined => spoken.value?.words
export const controls = (): Controls | undefined => spoken.value?.controls

const LOADED: Readonly<Record<Exclude<Language, 'en'>, () => Promise<Spoken>>> = {
  de: async () => {
    const [{ de }, { default: controls }] = await Promise.all([
      import('#contract/messages/de/index.ts'),
      import('element-plus/es/locale/lang/de'),
      import('dayjs/locale/de'),
    ])
    return { words: de, controls }
  },
}

/** Speaks to outsiders, and to whoever stands at the door, in their language where the house uses it. The team's pages are English. */
export async function speak(locale: string, used: readonly string[]): Promise<void> {
  const language = languageOf(locale, used)
  spoken.value = language === 'en' ? undefined : await LOADED[language]()
  document.documentElement.lang = language
}

/**
 * Words of a page that outsiders see, in their language, with the details put in.
 *
 * t('Order {number}', { number: 'O-1' }) //=> 'Bestellung O-1' for whoever reads German
 */
export const t = (text: string, details: Details = {}): string => fill(spoken.value?.words.texts[text] ?? text, details)
