// The sentences of a link's page, and no others: whoever comes by a link waits for nothing else of Jaula.
import type { Messages } from '../../core/words/en'
import type { links } from '../../core/words/en/links'
import { isSaid, type Sentence } from '../../core/words/said'
import { speaker } from '../../core/words/speak'
import { language, locale } from '../words/language'

const messages: Partial<Messages> = (
  await (language === 'de' ? import('../../core/words/de/links') : import('../../core/words/en/links'))
).links
const words = speaker(locale, messages)
document.documentElement.lang = language

export const t = (code: keyof typeof links, values?: Record<string, unknown>): string =>
  String(words.format(code, values))

/** What the server says, in the page's language where it has it. */
export const told = ({ says, title }: { says?: Sentence | undefined; title: string }): string =>
  isSaid(says) && says.say in messages ? words.text(says) : title

const units = ['byte', 'kilobyte', 'megabyte', 'gigabyte'] as const
export function size(bytes: number): string {
  const step = bytes < 1000 ? 0 : Math.min(3, Math.floor(Math.log10(bytes) / 3))
  const style = { style: 'unit', unit: units[step]!, unitDisplay: step ? 'short' : 'long' } as const
  return new Intl.NumberFormat(locale, { ...style, maximumSignificantDigits: 3 }).format(bytes / 1000 ** step)
}
export const listed = (names: readonly string[]): string => new Intl.ListFormat(locale).format(names)
