// The lists of a document and how paragraphs use them ([MS-DOC] §2.9.150 LVL, §2.9.147 LSTF, §2.9.131 LFO).
import { levelNumber, type Numbering } from '../docx/numbering'
import { numberNames } from '../flat/roles'
import { pageBlank } from './blank'
import { type DocFile, Numbers, parts } from './file'
import { paraWith, propertiesIn } from './properties'

interface Level {
  start: number
  format: number
  text: string
  left: number
  first: number
}
interface Use {
  levels: (Level | undefined)[]
  starts: Map<number, number>
}
const listSize = 28
const useSize = 16

export class Lists implements Numbering {
  private readonly uses: Use[] = []

  constructor(file: DocFile) {
    const lists = new Map<number, Level[]>()
    const of = new Numbers(file.from(parts.lists))
    const count = Math.min(of.u16(0), 4096)
    let at = 2 + count * listSize
    for (let index = 0; index < count; index++) {
      const place = 2 + index * listSize
      const levels: Level[] = []
      for (let level = 0; level < (of.u8(place + 26) & 1 ? 1 : 9) && at < of.length; level++) {
        const read = levelAt(of, at)
        levels.push(read.level)
        at = read.next
      }
      lists.set(of.i32(place), levels)
    }
    const used = new Numbers(file.part(parts.listUses))
    const uses = Math.min(used.u32(0), 4096)
    let next = 4 + uses * useSize
    for (let index = 0; index < uses; index++) {
      const place = 4 + index * useSize
      const use: Use = { levels: [...(lists.get(used.i32(place)) ?? [])], starts: new Map() }
      // What is said of levels here begins with a mark of four bytes.
      next += 4
      for (let one = 0; one < used.u8(place + 12) && next < used.length; one++) {
        const flags = used.u32(next + 4)
        const level = flags & 15
        if (flags & 16) use.starts.set(level, used.i32(next))
        next += 8
        if (!(flags & 32)) continue
        const read = levelAt(used, next)
        use.levels[level] = read.level
        next = read.next
      }
      this.uses.push(use)
    }
  }

  /** @param number from 1 */
  levelOf(number: number, level: number): Level | undefined {
    return this.uses[number - 1]?.levels[level]
  }
  has(number: string): boolean {
    return !!this.uses[Number(number) - 1]?.levels.length
  }
  level(number: string, level: number): ReturnType<Numbering['level']> {
    const use = this.uses[Number(number) - 1]
    // A list of one level has that at all of them.
    const found = use?.levels[level] ?? use?.levels[0]
    const formats = Array.from({ length: level + 1 }, (_, at) => formatOf(use?.levels[at]) ?? 'decimal')
    const ordered = formatOf(found) !== null
    const start = use?.starts.get(level) ?? found?.start ?? 1
    return {
      ordered,
      start: Math.max(0, Math.min(32_767, start)),
      plain: true,
      written: ordered && found ? levelNumber(found.text, formats) : null,
    }
  }
}

const formatOf = (level: Level | undefined): string | null =>
  !level || level.format === 23 || level.format === 255 ? null : (numberNames[level.format] ?? 'other')

function levelAt(of: Numbers, at: number): { level: Level; next: number } {
  const letters = of.u8(at + 24)
  const paragraphs = of.u8(at + 25)
  const texts = at + 28 + paragraphs + letters
  const count = Math.min(of.u16(texts), 255)
  let para = pageBlank.para
  for (const property of propertiesIn(of.bytes.subarray(at + 28, at + 28 + paragraphs))) para = paraWith(para, property)
  const text = Array.from(of.text(texts + 2, count), (letter) =>
    letter.charCodeAt(0) < 9 ? `%${letter.charCodeAt(0) + 1}` : letter,
  ).join('')
  return {
    level: { start: of.i32(at), format: of.u8(at + 4), text, left: para.left, first: para.first },
    next: texts + 2 + count * 2,
  }
}
