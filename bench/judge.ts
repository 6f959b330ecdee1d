// What a saved file lost of the file that it came from, told from raw XML and raw parts: none of Jaula's own readers
// is asked. A part is a tree of names, attributes and text; whatever differs and was not allowed to is a loss.
import { unzipSync } from 'fflate'
import { SaxesParser } from 'saxes'

export interface Raw {
  name: string
  attributes: Record<string, string>
  children: (Raw | string)[]
}
export type Parts = Record<string, Uint8Array>
export const partsOf = (bytes: Uint8Array): Parts => unzipSync(bytes)

export function tree(bytes: Uint8Array): Raw {
  const parser = new SaxesParser({ xmlns: false, position: false })
  const top: Raw = { name: '', attributes: {}, children: [] }
  const open = [top]
  parser.on('opentag', ({ name, attributes }) => {
    const one: Raw = { name, attributes: { ...attributes } as Record<string, string>, children: [] }
    open.at(-1)!.children.push(one)
    open.push(one)
  })
  const text = (chunk: string) => {
    const children = open.at(-1)!.children
    if (typeof children.at(-1) === 'string') children[children.length - 1] += chunk
    else if (chunk) children.push(chunk)
  }
  parser.on('text', text)
  parser.on('cdata', text)
  parser.on('closetag', () => void open.pop())
  parser.on('error', (error) => {
    throw error
  })
  const utf16 = bytes[0] === 0xff && bytes[1] === 0xfe
  parser.write(new TextDecoder(utf16 ? 'utf-16le' : 'utf-8').decode(bytes)).close()
  return top.children.find((child): child is Raw => typeof child !== 'string')!
}
export const local = (name: string): string => name.slice(name.indexOf(':') + 1)
export const kids = (element: Raw | undefined, name?: string): Raw[] =>
  (element?.children ?? []).filter(
    (child): child is Raw => typeof child !== 'string' && (!name || local(child.name) === name),
  )
export const text = (element: Raw): string =>
  element.children.map((child) => (typeof child === 'string' ? child : text(child))).join('')
export function* every(element: Raw): Generator<Raw> {
  yield element
  for (const child of kids(element)) yield* every(child)
}
/** A tree as one string, so that two are compared at once. */
export const flat = (element: Raw): string =>
  `<${element.name} ${Object.entries(element.attributes)
    .toSorted(([a], [b]) => (a < b ? -1 : 1))
    .map(([key, value]) => `${key}=${JSON.stringify(value)}`)
    .join(' ')}>${element.children.map((child) => (typeof child === 'string' ? child : flat(child))).join('')}</>`

const same = (a: Uint8Array | undefined, b: Uint8Array | undefined) =>
  !!a && !!b && a.length === b.length && Buffer.compare(a, b) === 0

/** Where two trees first differ, in words; null where they do not. */
export function difference(a: Raw, b: Raw, at = ''): string | null {
  const here = `${at}/${a.name}`
  if (a.name !== b.name) return `${here} became ${b.name}`
  for (const key of new Set([...Object.keys(a.attributes), ...Object.keys(b.attributes)]))
    if (a.attributes[key] !== b.attributes[key])
      return `${here}@${key}: ${a.attributes[key]} became ${b.attributes[key]}`
  for (let index = 0; index < Math.max(a.children.length, b.children.length); index++) {
    const [one, other] = [a.children[index], b.children[index]]
    if (one === undefined) return `${here}: more of ${typeof other === 'string' ? JSON.stringify(other) : other!.name}`
    if (other === undefined) return `${here}: ${typeof one === 'string' ? JSON.stringify(one) : one.name} is gone`
    if (typeof one === 'string' || typeof other === 'string') {
      if (one !== other)
        return `${here}: text ${JSON.stringify(one).slice(0, 40)} became ${JSON.stringify(other).slice(0, 40)}`
      continue
    }
    const inside = difference(one, other, here)
    if (inside) return inside
  }
  return null
}

export interface Allowed {
  /** Parts that may differ, each judged by its own rule, which says what is lost. */
  parts: Record<string, (before: Raw, after: Raw) => string[]>
  /** The list of the order of calculation may go. */
  calcChain?: boolean
}

/** Everything of the file before that is not in the file after, and was not allowed to go. */
export function losses(before: Uint8Array, after: Uint8Array, allowed: Allowed): string[] {
  const [old, now] = [partsOf(before), partsOf(after)]
  const lost: string[] = []
  const isChain = (name: string) => /calcChain\.xml$/i.test(name)
  const chainGone = !!allowed.calcChain && Object.keys(old).some((name) => isChain(name) && !now[name])
  for (const [name, bytes] of Object.entries(old)) {
    const other = now[name]
    if (same(bytes, other)) continue
    if (!other) {
      if (!(chainGone && isChain(name))) lost.push(`${name} is gone`)
      continue
    }
    const rule = allowed.parts[name]
    if (rule) lost.push(...rule(tree(bytes), tree(other)).map((what) => `${name}: ${what}`))
    else if (chainGone && /workbook\.xml\.rels$|\[Content_Types\]\.xml$/.test(name)) {
      const was = tree(bytes)
      was.children = was.children.filter(
        (child) =>
          typeof child === 'string' || !/calcChain/i.test(`${child.attributes.Target}${child.attributes.PartName}`),
      )
      const what = difference(was, tree(other))
      if (what) lost.push(`${name}: ${what}`)
    } else {
      const what = /\.(xml|rels|vml)$/.test(name) ? difference(tree(bytes), tree(other)) : 'its bytes'
      lost.push(`${name}: ${what ?? 'written otherwise'}`)
    }
  }
  const names = (all: Parts) => Object.keys(all).filter((name) => name in old && name in now)
  if (names(old).join('\n') !== names(now).join('\n')) lost.push('the order of the parts')
  return lost
}
