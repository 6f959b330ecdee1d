import { IntlMessageFormat } from 'intl-messageformat'
import type { Code, Messages } from './en'
import { type Fact, type Facts, isSaid, type Sentence } from './said'

/** As the library has them, but a moment that is none is said as it came: a sentence is said whatever its facts are. */
const formatters = {
  getNumberFormat: (...how: ConstructorParameters<typeof Intl.NumberFormat>) => new Intl.NumberFormat(...how),
  getPluralRules: (...how: ConstructorParameters<typeof Intl.PluralRules>) => new Intl.PluralRules(...how),
  getDateTimeFormat(...how: ConstructorParameters<typeof Intl.DateTimeFormat>) {
    const dates = new Intl.DateTimeFormat(...how)
    const format = (value: number | Date | string) =>
      Number.isNaN(new Date(value).getTime()) ? String(value) : dates.format(new Date(value))
    // Nothing else of it is asked for.
    return { format } as Intl.DateTimeFormat
  },
}

/** Says sentences in one language. */
export interface Speaker {
  /** @param values anything that stands in the sentence; functions dress what stands between tags */
  format(code: Code, values?: Record<string, unknown>): unknown
  /** A sentence as text, its facts said in the same language. */
  text(said: Sentence): string
}

/**
 * @param locale a BCP 47 language tag, by which numbers and plurals go
 * @param messages sentences by their code, in ICU MessageFormat (https://unicode-org.github.io/icu/userguide/format_parse/messages)
 */
export function speaker(locale: string, messages: Readonly<Partial<Messages>>): Speaker {
  const known = new Map<Code, IntlMessageFormat>()
  const all = new Intl.ListFormat(locale)
  const oneOf = new Intl.ListFormat(locale, { type: 'disjunction' })
  const plain = (fact: Fact | unknown): unknown => {
    if (Array.isArray(fact)) return all.format(fact.map((one) => (isSaid(one) ? text(one) : String(one))))
    if (typeof fact === 'object' && fact !== null && 'or' in fact) return oneOf.format(fact.or as string[])
    return isSaid(fact) ? text(fact) : fact
  }
  const format = (code: Code, values: Record<string, unknown> = {}): unknown => {
    let message = known.get(code)
    if (!message) {
      message = new IntlMessageFormat(messages[code] ?? code, locale, undefined, { formatters })
      known.set(code, message)
    }
    return message.format(values as never)
  }
  const text = (said: Sentence): string => {
    if (!isSaid(said)) return said
    const facts = Object.entries((said.facts ?? {}) as Facts).map(([key, fact]) => [key, plain(fact)])
    return String(format(said.say, Object.fromEntries(facts)))
  }
  return { format, text }
}
