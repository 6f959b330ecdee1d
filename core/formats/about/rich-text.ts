// What a rich text says of itself: its information group (RTF 1.9.1, "Information Group").
import { type About, type AboutField, aboutFields, tidyAbout } from '../../content/about'
import { joined } from '../compound/compound'
import { NotPatched } from '../refusals'
import { lettersAnywhere } from '../rtf/letters-out'
import { Scanner } from '../rtf/tokens'
import { Words } from '../rtf/words'

interface Found {
  about: About | null
  /** Where the group of each field stands, from its opening brace to behind its closing one. */
  groups: ReadonlyMap<AboutField, readonly [from: number, to: number]>
  /** Behind what begins the information group; null where there is none. */
  inside: number | null
  /** Where one could begin: before the first group or text that stands behind the tables. */
  room: number | null
}

const isField = (name: string): name is AboutField => (aboutFields as readonly string[]).includes(name)
/** Groups that come before the information group. */
const before: ReadonlySet<string> = new Set([
  'fonttbl',
  'colortbl',
  'stylesheet',
  'listtable',
  'listoverridetable',
  'revtbl',
  'rsidtbl',
  'generator',
  'filetbl',
])

/** Looks through the groups that stand directly in the file, until its text begins. */
function find(bytes: Uint8Array): Found {
  const scanner = new Scanner(bytes)
  const said: Partial<Record<AboutField, string>> = {}
  const groups = new Map<AboutField, readonly [number, number]>()
  let [inside, room]: [number | null, number | null] = [null, null]
  let page = 1252
  if (scanner.next().is !== 'open') return { about: null, groups, inside, room }
  for (let token = scanner.next(); token.is !== 'end' && token.is !== 'close'; token = scanner.next()) {
    if (token.is === 'word' && token.name === 'ansicpg' && token.value) page = token.value
    if (token.is === 'text' || token.is === 'byte') {
      room ??= token.from
      break
    }
    if (token.is !== 'open') continue
    const opened = token.from
    let first = scanner.next()
    while (first.is === 'word' && first.name === '*') first = scanner.next()
    const name = first.is === 'word' ? first.name : ''
    if (name === 'info') {
      inside = first.to
      for (let one = scanner.next(); one.is !== 'end' && one.is !== 'close'; one = scanner.next()) {
        if (one.is !== 'open') continue
        const from = one.from
        const words = new Words(bytes, page)
        let field: string | null = null
        const to = scanner.restOfGroup((part) => {
          if (part.is !== 'word' || letters.test(part.name)) return words.take(part)
          if (isField(part.name)) field ??= part.name
          // The same once more, in letters that every program knows: what was said before is not meant.
          else if (part.name === 'ud') words.text = ''
          return undefined
        })
        if (field && !groups.has(field)) {
          said[field as AboutField] = words.text
          groups.set(field, [from, to])
        }
      }
      break
    }
    if (first.is !== 'close') scanner.restOfGroup()
    if (before.has(name)) room = scanner.at
    else {
      room ??= opened
      break
    }
  }
  return { about: tidyAbout(said), groups, inside, room }
}
/** Words that stand for letters, and the letters by their numbers. */
const letters = /^(?:u|tab|emdash|endash|[lr]d?quote|[lr]dblquote|bullet|e[mn]space|qmspace|[~\-_\\{}])$/

export const aboutOfRtf = (bytes: Uint8Array): About | null => find(bytes).about

/** The file with some of what it says of itself changed; everything else keeps its bytes. @throws NotPatched */
export function withAboutInRtf(bytes: Uint8Array, about: About | null, changed: readonly AboutField[]): Uint8Array {
  const { groups, inside, room } = find(bytes)
  const splices: { from: number; to: number; text: string }[] = []
  const made: string[] = []
  for (const field of changed) {
    const value = about?.[field]
    const text = value === undefined ? '' : `{\\${field} ${lettersAnywhere(value)}}`
    const there = groups.get(field)
    if (there) splices.push({ from: there[0], to: there[1], text })
    else if (text) made.push(text)
  }
  if (made.length) {
    const at = inside ?? room
    if (at === null) throw new NotPatched('about')
    splices.push({ from: at, to: at, text: inside === null ? `{\\info${made.join('')}}` : made.join('') })
  }
  const out: Uint8Array[] = []
  let at = 0
  for (const { from, to, text } of splices.toSorted((a, b) => a.from - b.from || a.to - b.to)) {
    out.push(bytes.subarray(at, from), new TextEncoder().encode(text))
    at = to
  }
  out.push(bytes.subarray(at))
  return joined(out)
}
