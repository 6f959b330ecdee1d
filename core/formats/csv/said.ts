// What somebody said of how a list is written goes with its type, as parameters do with a media type (RFC 4180 section 3,
// RFC 2045 section 5.1): whoever reads its bytes by the type reads them so.
import { z } from 'zod'
import { oneByte } from '../text/encoding'
import { plainType } from '../types'
import type { CsvDialect } from './dialect'

const separators = { comma: ',', semicolon: ';', tab: '\t', bar: '|' } as const
/** Those that can be said; others have a mark that says them. */
export const sayableEncodings = ['utf-8', ...oneByte] as const

export const SaidOfList = z.strictObject({
  separator: z.enum([',', ';', '\t', '|']).optional(),
  decimal: z.enum(['.', ',']).optional(),
  dates: z.enum(['day', 'month']).optional(),
  encoding: z.enum(sayableEncodings).optional(),
  /** Texts that a program could take for formulas stand behind an apostrophe. */
  guarded: z.literal(true).optional(),
})
export type SaidOfList = z.infer<typeof SaidOfList>

/** What was said, as letters that follow the type; null for nothing. The same for the same, in whatever order it was said. */
export function saidAsText({ separator, decimal, dates, encoding, guarded }: SaidOfList): string | null {
  const name = Object.entries(separators).find(([, sign]) => sign === separator)?.[0]
  const parts: [string, string | undefined][] = [
    ['separator', name],
    ['decimal', decimal && (decimal === ',' ? 'comma' : 'point')],
    ['dates', dates],
    ['encoding', encoding],
    ['guarded', guarded && 'yes'],
  ]
  return (
    parts
      .filter(([, value]) => value)
      .map(([key, value]) => `${key}=${value}`)
      .join('&') || null
  )
}

/** How a list is written, said whole, as `saidAsText` gives it. An encoding that is marked in its bytes says itself. */
export function dialectAsText({ separator, decimal, dates, encoding, guarded }: CsvDialect): string {
  const said = SaidOfList.safeParse({ separator, decimal, dates, encoding, ...(guarded && { guarded }) })
  return saidAsText(
    said.success ? said.data : SaidOfList.parse({ separator, decimal, dates, ...(guarded && { guarded }) }),
  )!
}

/**
 * Whether a list that was written in one way would be read in another one.
 * @param said what is said of its file @param written how it was written, said whole; both as `saidAsText` gives them
 */
export function isReadOtherwise(said: string | null, written: string): boolean {
  const [is, was] = [saidIn(typeReadAs('csv', said)), saidIn(typeReadAs('csv', written))]
  const parts = Object.keys(is) as (keyof SaidOfList)[]
  return (
    (!!was.guarded && !is.guarded) ||
    parts.some((part) => is[part] !== was[part] && !(part === 'encoding' && !was.encoding))
  )
}

/** A type with what was said of one of its files. @param said as `saidAsText` gives it */
export const typeReadAs = (type: string, said: string | null): string =>
  said ? `${plainType(type)}?${said}` : plainType(type)

/** What was said, of a type that may have it; what is nothing that can be said is left out. */
export function saidIn(type: string): SaidOfList {
  const said = new Map((type.split('?')[1] ?? '').split('&').map((part) => part.split('=') as [string, string]))
  const separator = separators[said.get('separator') as keyof typeof separators]
  const decimal = said.get('decimal')
  const dates = said.get('dates')
  const encoding = sayableEncodings.find((one) => one === said.get('encoding'))
  return {
    ...(separator && { separator }),
    ...((decimal === 'comma' || decimal === 'point') && { decimal: decimal === 'comma' ? ',' : '.' }),
    ...((dates === 'day' || dates === 'month') && { dates }),
    ...(encoding && { encoding }),
    ...(said.get('guarded') === 'yes' && { guarded: true as const }),
  }
}
