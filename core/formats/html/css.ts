// The few declarations of CSS that a document has a place for, as attributes of elements have them.
import names from 'color-name'

/** The declarations of a `style` attribute (CSS Style Attributes, §3), by their names in small letters. */
export function declarationsOf(text: string): Map<string, string> {
  const found = new Map<string, string>()
  let from = 0
  let quote = ''
  let depth = 0
  const take = (to: number) => {
    const part = text.slice(from, to)
    const colon = part.indexOf(':')
    if (colon > 0)
      found.set(
        part.slice(0, colon).trim().toLowerCase(),
        part
          .slice(colon + 1)
          .replace(/!\s*important\s*$/i, '')
          .trim(),
      )
    from = to + 1
  }
  for (let at = 0; at < text.length; at++) {
    const sign = text[at]!
    if (sign === '\\') at++
    else if (quote) quote = sign === quote ? '' : quote
    else if (sign === '"' || sign === "'") quote = sign
    else if (sign === '(') depth++
    else if (sign === ')') depth--
    else if (sign === ';' && depth <= 0) take(at)
  }
  take(text.length)
  return found
}

const hex = (parts: readonly number[]) =>
  `#${parts
    .map((part) =>
      Math.round(Math.min(255, Math.max(0, part)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`

/** A colour as `#rrggbb` (CSS Color 4, §4–§6); null for none, and for one that is not told. */
export function colorFrom(value: string | undefined): string | null {
  const text = value?.trim().toLowerCase() ?? ''
  const short = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/.exec(text)
  if (short)
    return `#${short
      .slice(1)
      .map((one) => one + one)
      .join('')}`
  if (/^#[0-9a-f]{6}$/.test(text)) return text
  const parts = /^rgba?\(\s*(\d+)[\s,]+(\d+)[\s,]+(\d+)\s*(?:[,/]\s*([\d.]+%?))?\s*\)$/.exec(text)
  if (parts)
    return parts[4] !== undefined && Number.parseFloat(parts[4]) === 0 ? null : hex(parts.slice(1, 4).map(Number))
  const named = Object.hasOwn(names, text) ? names[text as keyof typeof names] : undefined
  return named ? hex(named) : null
}

/** Points in each unit (CSS Values 4, §6.2). */
const units: Readonly<Record<string, number>> = { pt: 1, px: 0.75, pc: 12, in: 72, cm: 72 / 2.54, mm: 72 / 25.4 }
/** A length in points; null for one that is relative. */
export function pointsFrom(value: string | undefined): number | null {
  const found = /^(\d*\.?\d+)(pt|px|pc|in|cm|mm)$/.exec(value?.trim().toLowerCase() ?? '')
  return found ? Number(found[1]) * units[found[2]!]! : null
}

/** The first of a list of fonts; null for one that only says of which kind it is. */
export function fontFrom(value: string | undefined): string | null {
  const found = /^\s*(?:"((?:[^"\\]|\\.)*)"|'((?:[^'\\]|\\.)*)'|([^,"']+))/.exec(value ?? '')
  const name = (found?.[1] ?? found?.[2] ?? found?.[3] ?? '')
    .replace(/\\([0-9a-f]{1,6})\s?/gi, (_, code: string) =>
      String.fromCodePoint(Math.min(0x10ffff, Number.parseInt(code, 16))),
    )
    .replace(/\\(.)/g, '$1')
    .trim()
  return name && !/^(?:serif|sans-serif|monospace|cursive|fantasy|system-ui|inherit|initial|unset)$/i.test(name)
    ? name
    : null
}

/** A font's name as CSS writes it: nothing in it ends it. */
export const quotedFont = (name: string): string =>
  `'${name.replace(/["'\\<>&;\u0000-\u001f\u007f]/g, (sign) => `\\${sign.codePointAt(0)!.toString(16)} `)}'`
