import { valueOf } from '../opc/package'
import { child, elements, type XmlElement } from '../opc/xml'

export interface Numbering {
  has(number: string): boolean
  /** How a level is numbered; `plain` when bullets or simple digits say all of it. */
  level(number: string, level: number): { ordered: boolean; start: number; plain: boolean }
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
      return {
        ordered,
        start: Number.isFinite(start) ? Math.max(0, start) : 1,
        plain: !ordered || (format === 'decimal' && /^(%\d)?[.)]?$/.test(text)),
      }
    },
  }
}
