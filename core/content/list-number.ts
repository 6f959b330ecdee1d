// How the numbers of a list are written (ECMA-376 part 1, §17.9.17 and §17.9.11), where they are not plain ones with a dot.

export const numberFormats = [
  'decimal',
  'decimal-leading-zero',
  'lower-alpha',
  'upper-alpha',
  'lower-roman',
  'upper-roman',
] as const
export interface ListNumber {
  format: (typeof numberFormats)[number]
  /** What stands around the number. */
  before: string
  after: string
  /** The numbers of the lists that it stands in come before its own, with dots between. */
  path: boolean
}

const longest = 24
const around = (value: unknown): string | null =>
  typeof value === 'string' && value.length <= longest && !/[%\u0000-\u001f\u007f-\u009f\ud800-\udfff]/.test(value)
    ? value
    : null

/** From anything: null for plain numbers with a dot, and for what cannot be one. */
export function listNumberFrom(value: unknown): ListNumber | null {
  if (typeof value !== 'object' || value === null) return null
  const given = value as Record<keyof ListNumber, unknown>
  const format = numberFormats.find((one) => one === given.format)
  const [before, after] = [around(given.before), around(given.after)]
  if (!format || before === null || after === null) return null
  const path = given.path === true
  return format === 'decimal' && before === '' && after === '.' && !path ? null : { format, before, after, path }
}

/** A string of CSS (CSS Syntax 3, §4.3.7): nothing in it ends it. */
const quoted = (text: string): string =>
  `"${text.replace(/["\\<>&]/g, (sign) => `\\${sign.codePointAt(0)!.toString(16)} `)}"`

/** The marker of an item, as content of CSS. */
export function markerOf({ format, before, after, path }: ListNumber): string {
  const number = path ? `counters(list-item, ".", ${format})` : `counter(list-item, ${format})`
  return `${quoted(before)} ${number} ${quoted(`${after} `)}`
}
