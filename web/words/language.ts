/** The languages that Jaula speaks, by their own names, each with the locale by which its dates and numbers go. */
export const languages = { en: { name: 'English', locale: 'en-GB' }, de: { name: 'Deutsch', locale: 'de-DE' } } as const
export type Language = keyof typeof languages

const mark = 'jaula-language'

const isLanguage = (tag: string | null | undefined): tag is Language => tag != null && tag in languages

/** What this browser asks for, where nobody chose. */
export const usualLanguage = (): Language =>
  (globalThis.navigator?.languages ?? []).map((tag) => tag.slice(0, 2)).find(isLanguage) ?? 'en'

/** The language of this page, for as long as it is open: chosen in this browser, or what the browser asks for. */
export const language: Language = (() => {
  try {
    const chosen = globalThis.localStorage?.getItem(mark)
    if (isLanguage(chosen)) return chosen
  } catch {
    // A browser that keeps nothing has a language all the same.
  }
  return usualLanguage()
})()
export const { locale } = languages[language]

/** Chooses a language for pages that are opened from now on. @returns whether this page has another one */
export function keepLanguage(chosen: Language | 'system'): boolean {
  try {
    if (chosen === 'system') localStorage.removeItem(mark)
    else localStorage.setItem(mark, chosen)
  } catch {
    // The next page asks the browser again.
    return false
  }
  return language !== (chosen === 'system' ? usualLanguage() : chosen)
}

/** The sentences of this page's language that its first screens say; no other language's are fetched. */
export const fetchFirst = () =>
  language === 'de' ? import('../../core/words/de/first') : import('../../core/words/en/first')
/** Those of the other screens. */
export const fetchLater = () =>
  language === 'de' ? import('../../core/words/de/later') : import('../../core/words/en/later')
