// Small documents of the binary format ([MS-DOC]), written by hand for tests: text in pieces, properties on pages, styles,
// fonts, lists, sections, notes, edges and boxes.
import { blankRoot, writeCompound } from '../compound/compound'

export const u8 = (...values: number[]): number[] => values
export const u16 = (value: number): number[] => [value & 255, (value >> 8) & 255]
export const u32 = (value: number): number[] => [...u16(value & 0xffff), ...u16(Math.floor(value / 65536) & 0xffff)]
const utf16 = (text: string): number[] => text.split('').flatMap((letter) => u16(letter.charCodeAt(0)))

/** Properties, each with the bytes of its value. */
export type Properties = readonly (readonly [code: number, ...value: number[]])[]
const listOf = (properties: Properties): number[] =>
  properties.flatMap(([code, ...value]) => {
    const sized = code >> 13 === 6 ? (code === 0xd608 ? u16(value.length + 1) : [value.length]) : []
    return [...u16(code), ...sized, ...value]
  })

export interface DocRun {
  text: string
  says?: Properties
}
export interface DocLine {
  runs: readonly (DocRun | string)[]
  style?: number
  says?: Properties
  /** What ends it; a paragraph's mark where it is not said. */
  mark?: string
}
export interface DocStyleGiven {
  name: string
  known?: number
  base?: number
  para?: Properties
  char?: Properties
}
export interface DocGiven {
  lines: readonly DocLine[]
  notes?: readonly (readonly DocLine[])[]
  /** Even head, head, even foot, foot, first head, first foot. */
  edges?: readonly (readonly DocLine[])[]
  boxes?: readonly { shape: number; lines: readonly DocLine[] }[]
  styles?: readonly DocStyleGiven[]
  fonts?: readonly string[]
  /** Levels of one list. */
  list?: readonly { format: number; start: number; text: string; says?: Properties }[]
  section?: Properties
  data?: Uint8Array
  /** Letters of one byte where that is enough, as old programs write them; of two from here on. */
  wideFrom?: number
  flags?: number
  version?: number
  facing?: boolean
  storages?: readonly string[]
}

const pageSize = 512

/** Properties on pages of 512 bytes, each with as many stretches as go on it. */
function pagesOf(runs: readonly { from: number; to: number; bytes: number[] }[], entry: number) {
  const pages: { from: number; to: number; bytes: Uint8Array }[] = []
  let at = 0
  while (at < runs.length) {
    let count = 0
    let room = pageSize - 1 - 4
    while (at + count < runs.length && count < 20) {
      const need = 4 + entry + runs[at + count]!.bytes.length + 2
      if (room < need) break
      room -= need
      count++
    }
    if (!count) throw new Error('More properties than go on a page.')
    const some = runs.slice(at, at + count)
    const page = new Uint8Array(pageSize)
    let end = pageSize - 1
    some.forEach((run, index) => {
      page.set(u32(run.from), index * 4)
      if (!run.bytes.length) return
      end -= run.bytes.length
      end -= end % 2
      page.set(run.bytes, end)
      page[(count + 1) * 4 + index * entry] = end / 2
    })
    page.set(u32(some.at(-1)!.to), count * 4)
    page[pageSize - 1] = count
    pages.push({ from: some[0]!.from, to: some.at(-1)!.to, bytes: page })
    at += count
  }
  return pages
}

export function docOf(given: DocGiven): Uint8Array {
  const { notes = [], edges = [], boxes = [], styles = [{ name: 'Normal' }], fonts = ['Times New Roman'] } = given
  const end: DocLine = { runs: [] }
  const stories: DocLine[][] = [
    [...given.lines],
    notes.length ? [...notes.flat(), end] : [],
    edges.length ? [...edges.flat(), end] : [],
    [],
    [],
    boxes.length ? [...boxes.flatMap(({ lines }) => lines), end] : [],
  ]
  let text = ''
  const letters: { from: number; to: number; says: Properties }[] = []
  const paragraphs: { from: number; to: number; line: DocLine }[] = []
  const lengthOf = (line: DocLine) =>
    line.runs.reduce((sum, run) => sum + (typeof run === 'string' ? run : run.text).length, 0) + 1
  const lengths = stories.map((lines) => lines.reduce((sum, line) => sum + lengthOf(line), 0))
  const references: number[] = []
  const anchors: number[] = []
  for (const line of stories.flat()) {
    const from = text.length
    for (const run of line.runs) {
      const { text: words, says = [] } = typeof run === 'string' ? { text: run } : run
      for (let at = 0; at < words.length; at++) {
        if (words[at] === '\u0002' && text.length + at < lengths[0]!) references.push(text.length + at)
        if (words[at] === '\u0008') anchors.push(text.length + at)
      }
      letters.push({ from: text.length, to: text.length + words.length, says })
      text += words
    }
    letters.push({ from: text.length, to: text.length + 1, says: [] })
    text += line.mark ?? '\r'
    paragraphs.push({ from, to: text.length, line })
  }

  // The main stream: the head, the text in two pieces, then the pages.
  const wideFrom = given.wideFrom ?? 0
  const textAt = 1024
  const wideAt = textAt + wideFrom + (wideFrom % 2)
  const placeOf = (letter: number) => (letter < wideFrom ? textAt + letter : wideAt + (letter - wideFrom) * 2)
  const endOf = (letter: number) => (letter <= wideFrom && wideFrom ? textAt + letter : placeOf(letter))
  const main: number[] = new Array(wideAt + (text.length - wideFrom) * 2).fill(0)
  for (let at = 0; at < text.length; at++) {
    main[placeOf(at)] = text.charCodeAt(at) & 255
    if (at >= wideFrom) main[placeOf(at) + 1] = text.charCodeAt(at) >> 8
  }
  const pad = () => {
    while (main.length % pageSize) main.push(0)
  }
  const put = (bytes: Iterable<number>) => {
    const at = main.length
    main.push(...bytes)
    return at
  }
  const split = <T extends { from: number; to: number }>(runs: readonly T[]): T[] =>
    runs.flatMap((run) =>
      run.from < wideFrom && run.to > wideFrom
        ? [
            { ...run, to: wideFrom },
            { ...run, from: wideFrom },
          ]
        : [run],
    )
  pad()
  const paged = (runs: readonly { from: number; to: number; bytes: number[] }[], entry: number): number[] => {
    const pages = pagesOf(
      split(runs).map((run) => ({ ...run, from: placeOf(run.from), to: endOf(run.to) })),
      entry,
    )
    const first = main.length / pageSize
    for (const { bytes } of pages) put(bytes)
    return [
      ...pages.flatMap(({ from }) => u32(from)),
      ...u32(pages.at(-1)?.to ?? 0),
      ...pages.flatMap((_, at) => u32(first + at)),
    ]
  }
  const letterPages = paged(
    letters
      .filter(({ from, to }) => to > from)
      .map(({ from, to, says }) => {
        const list = listOf(says)
        return { from, to, bytes: list.length ? [list.length, ...list] : [] }
      }),
    1,
  )
  const paragraphPages = paged(
    paragraphs.map(({ from, to, line }) => {
      const list = [...u16(line.style ?? 0), ...listOf(line.says ?? [])]
      if (list.length % 2 === 0) list.push(0)
      return { from, to, bytes: [(list.length + 1) / 2, ...list] }
    }),
    13,
  )
  const section = listOf(given.section ?? [])
  const sectionAt = put([...u16(section.length), ...section])
  pad()

  const table: number[] = []
  const places = new Map<number, [number, number]>()
  const part = (at: number, bytes: readonly number[], size = bytes.length) => {
    places.set(at, [table.length, size])
    table.push(...bytes)
  }
  const pieces = wideFrom
    ? [
        ...u32(0),
        ...u32(wideFrom),
        ...u32(text.length),
        ...u16(0),
        ...u32(textAt * 2 + 0x40000000),
        ...u16(0),
        ...u16(0),
        ...u32(wideAt),
        ...u16(0),
      ]
    : [...u32(0), ...u32(text.length), ...u16(0), ...u32(wideAt), ...u16(0)]
  part(33, [2, ...u32(pieces.length), ...pieces])
  part(12, letterPages)
  part(13, paragraphPages)
  const style = ({ name, known = 0xffe, base = 0xfff, para = [], char = [] }: DocStyleGiven, at: number): number[] => {
    const even = (bytes: number[]) => (bytes.length % 2 ? [...bytes, 0] : bytes)
    const update = (bytes: number[]) => even([...u16(bytes.length), ...bytes])
    const body = [
      ...u16(known),
      ...u16(1 | (base << 4)),
      ...u16(2 | (at << 4)),
      ...u16(0),
      ...u16(0),
      ...u16(name.length),
      ...utf16(name),
      ...u16(0),
      ...update([...u16(at), ...listOf(para)]),
      ...update(listOf(char)),
    ]
    return [...u16(body.length), ...even(body)]
  }
  part(1, [
    ...u16(18),
    ...u16(styles.length),
    ...u16(10),
    ...new Array(14).fill(0),
    ...styles.flatMap((one, at) => style({ known: at === 0 ? 0 : undefined, ...one } as DocStyleGiven, at)),
  ])
  part(15, [
    ...u16(fonts.length),
    ...u16(0),
    ...fonts.flatMap((name) => {
      const font = [...new Array(39).fill(0), ...utf16(name), ...u16(0)]
      return [font.length, ...font]
    }),
  ])
  part(6, [...u32(0), ...u32(lengths[0]!), ...u16(0), ...u32(sectionAt), ...new Array(6).fill(0)])
  part(31, [given.facing ? 1 : 0, ...new Array(99).fill(0)])
  if (notes.length) {
    part(2, [...references.slice(0, notes.length).flatMap(u32), ...u32(lengths[0]!), ...notes.flatMap(() => u16(1))])
    let at = 0
    part(3, [
      ...[0, ...notes.map((lines) => (at += lines.reduce((sum, line) => sum + lengthOf(line), 0)))].flatMap(u32),
      ...u32(at + 1),
    ])
  }
  if (edges.length) {
    let at = 0
    const ends = edges.map((lines) => (at += lines.reduce((sum, line) => sum + lengthOf(line), 0)))
    part(11, [...new Array(7).fill(0), ...ends, at + 1].flatMap(u32))
  }
  if (boxes.length) {
    let at = 0
    const ends = boxes.map(({ lines }) => (at += lines.reduce((sum, line) => sum + lengthOf(line), 0)))
    const shape = (id: number) => [...new Array(14).fill(0), ...u32(id), ...u32(0)]
    part(56, [...[0, ...ends, at + 1].flatMap(u32), ...boxes.flatMap(({ shape: id }) => shape(id)), ...shape(0)])
    part(40, [
      ...anchors.flatMap(u32),
      ...u32(lengths[0]!),
      ...anchors.flatMap((_, index) => [...u32(boxes[index]?.shape ?? 0), ...new Array(22).fill(0)]),
    ])
  }
  if (given.list) {
    const levels = Array.from({ length: 9 }, (_, at) => given.list![Math.min(at, given.list!.length - 1)]!)
    const head = [...u16(1), ...u32(77), ...u32(0), ...new Array(18).fill(255), 0, 0]
    const rest = levels.flatMap(({ format, start, text: words, says = [] }) => {
      const list = listOf(says)
      return [
        ...u32(start),
        format,
        0,
        ...new Array(9).fill(0),
        0,
        ...u32(0),
        ...u32(0),
        0,
        list.length,
        0,
        0,
        ...list,
        ...u16(words.length),
        ...utf16(words),
      ]
    })
    // Levels stand behind what the list of lists is said to be.
    part(73, [...head, ...rest], head.length)
    part(74, [...u32(1), ...u32(77), ...u32(0), ...u32(0), 0, 0, 0, 0, ...u32(0xffffffff)])
  }

  const head: number[] = new Array(1024).fill(0)
  const at = (place: number, bytes: readonly number[]) => head.splice(place, bytes.length, ...bytes)
  at(0, u16(0xa5ec))
  at(2, u16(given.version ?? 0xc1))
  at(6, u16(0x409))
  at(10, u16(given.flags ?? 0x0200))
  at(12, u16(0xbf))
  at(24, u32(textAt))
  at(28, u32(main.length))
  at(32, u16(14))
  at(62, u16(22))
  const longs = 64
  at(longs, u32(main.length))
  for (const [place, length] of [
    [3, lengths[0]],
    [4, lengths[1]],
    [5, lengths[2]],
    [7, lengths[3]],
    [8, lengths[4]],
    [9, lengths[5]],
  ] as const)
    at(longs + place * 4, u32(length ?? 0))
  at(152, u16(93))
  for (const [place, [from, size]] of places) at(154 + place * 8, [...u32(from), ...u32(size)])
  main.splice(0, 1024, ...head)
  while (main.length < 4096) main.push(0)
  while (table.length < 4096) table.push(0)
  return writeCompound(
    blankRoot([
      { is: 'stream', name: 'WordDocument', bytes: Uint8Array.from(main) },
      { is: 'stream', name: '1Table', bytes: Uint8Array.from(table) },
      ...(given.data ? [{ is: 'stream' as const, name: 'Data', bytes: given.data }] : []),
      ...(given.storages ?? []).map((name) => ({ ...blankRoot([]), name })),
    ]),
  )
}
