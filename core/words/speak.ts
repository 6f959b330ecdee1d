import { IntlMessageFormat } from 'intl-messageformat'
import type { Code, Messages } from './en'
import type { Fact, Facts, Said } from './said'

/** Says sentences in one language. */
export interface Speaker {
  /** @param values anything that stands in the sentence; functions dress what stands between tags */
  format(code: Code, values?: Record<string, unknown>): unknown
  /** A sentence as text, its facts said in the same language. */
  text(said: Said): string
}

const isSaid = (fact: unknown): fact is Said => typeof fact === 'object' && fact !== null && 'say' in fact

/**
 * @param locale a BCP 47 language tag, by which numbers and plurals go
 * @param messages sentences by their code, in ICU MessageFormat (https://unicode-org.github.io/icu/userguide/format_parse/messages)
 */
export function speaker(locale: string, messages: Messages): Speaker {
  const known = new Map<Code, IntlMessageFormat>()
  const list = new Intl.ListFormat(locale)
  const plain = (fact: Fact | unknown): unknown => {
    if (Array.isArray(fact)) return list.format(fact.map((one) => (isSaid(one) ? text(one) : String(one))))
    return isSaid(fact) ? text(fact) : fact
  }
  const format = (code: Code, values: Record<string, unknown> = {}): unknown => {
    let message = known.get(code)
    if (!message) {
      message = new IntlMessageFormat(messages[code] ?? code, locale)
      known.set(code, message)
    }
    return message.format(values as never)
  }
  const text = ({ say, facts = {} }: Said): string =>
    String(format(say, Object.fromEntries(Object.entries(facts as Facts).map(([key, fact]) => [key, plain(fact)]))))
  return { format, text }
}
