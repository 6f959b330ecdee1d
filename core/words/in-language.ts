import { messages as german } from './de'
import { messages as english } from './en'
import { type Speaker, speaker } from './speak'

export type Language = 'en' | 'de'
const speakers = new Map<Language, Speaker>()

/** Who says sentences in a language, where they are not said by the page of whoever reads: in messages that go out. */
export function speaking(language: Language): Speaker {
  const known = speakers.get(language) ?? (language === 'de' ? speaker('de-DE', german) : speaker('en-GB', english))
  speakers.set(language, known)
  return known
}
