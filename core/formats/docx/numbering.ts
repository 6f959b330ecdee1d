import { type ListNumber, listNumberFrom } from '../../content/list-number'
import { valueOf } from '../opc/package'
import { child, elements, type XmlElement } from '../opc/xml'

export interface Numbering {
  has(number: string): boolean
  /**
   * How a level is numbered. `written` is how the model has its numbers, undefined where it cannot; `plain` is what earlier
   * forms of it said of that.
   */
  level(
    number: string,
    level: number,
  ): { ordered: boolean; start: number; plain: boolean; written: ListNumber | null | undefined }
}

/** ST_NumberFormat (§17.18.59) as far as it is shown. */
export const formatNames: Record<string, ListNumber['format']> = {
  decimal: 'decimal',
  decimalZero: 'decimal-leading-zero',
  lowerLetter: 'lower-alpha',
  upperLetter: 'upper-alpha',
  lowerRoman: 'lower-roman',
  upperRoman: 'upper-roman',
}

/**
 * What a level's text (§17.9.11) is in the model.
 * @param formats of the levels down to it @returns undefined for what the model has no way to say
 */
export function levelNumber(text: string, formats: readonly string[]): ListNumber | null | undefined {
  const level = formats.length
  const format = formatNames[formats[level - 1]!]
  if (!format) return undefined
  const parts = text.split(/%(\d)/)
  const path = Array.from({ length: level }, (_, at) => `%${at + 1}`).join('.')
  const whole = level > 1 && formats.every((one) => one === 'decimal') ? text.split(path) : []
  if (whole.length === 2 && !/%\d/.test(whole.join('')))
    return heldNumber({ format, before: whole[0]!, after: whole[1]!, path: true })
  if (parts.length !== 3 || Number(parts[1]) !== level) return undefined
  return heldNumber({ format, before: parts[0]!, after: parts[2]!, path: false })
}
function heldNumber(given: ListNumber): ListNumber | null | undefined {
  const held = listNumberFrom(given)
  const plain = given.format === 'decimal' && given.before === '' && given.after === '.' && !given.path
  return held ?? (plain ? null : undefined)
}

/** numbering.xml (ECMA-376 part 1, §17.9). */
export function readNumbering(root: XmlElement | undefined): Numbering {
  const abstracts = new Map<string, Map<string, XmlElement>>()
  for (const abstract of elements(root, 'w:abstractNum'))
    abstracts.set(
      abstract.attributes['w:abstractNumId'] ?? '',
      new Map([...elements(abstract, 'w:lvl')].map((level) => [level.attributes['w:ilvl'] ?? '0', level])),
    )
  const numbers = new Map<string, { levels: Map<string, XmlElement>; overrides: Map<string, XmlElement> }>()
  for (const number of elements(root, 'w:num'))
    numbers.set(number.attributes['w:numId'] ?? '', {
      levels: abstracts.get(valueOf(number, 'w:abstractNumId') ?? '') ?? new Map(),
      overrides: new Map(
        [...elements(number, 'w:lvlOverride')].map((override) => [override.attributes['w:ilvl'] ?? '0', override]),
      ),
    })
  return {
    has: (number) => numbers.has(number),
    level(number, level) {
      const found = numbers.get(number)
      const override = found?.overrides.get(String(level))
      const definition = child(override, 'w:lvl') ?? found?.levels.get(String(level))
      const format = valueOf(definition, 'w:numFmt') ?? 'decimal'
      const start = Number(valueOf(override, 'w:startOverride') ?? valueOf(definition, 'w:start') ?? 1)
      const ordered = format !== 'bullet' && format !== 'none'
      const text = valueOf(definition, 'w:lvlText') ?? ''
      const formats = Array.from({ length: level + 1 }, (_, at) => {
        const one =
          at === level
            ? definition
            : (child(found?.overrides.get(String(at)), 'w:lvl') ?? found?.levels.get(String(at)))
        return valueOf(one, 'w:numFmt') ?? 'decimal'
      })
      return {
        ordered,
        start: Number.isFinite(start) ? Math.max(0, start) : 1,
        plain: !ordered || (format === 'decimal' && /^(%\d)?[.)]?$/.test(text)),
        written: ordered ? levelNumber(text, formats) : null,
      }
    },
  }
}
