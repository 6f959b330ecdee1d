// Letters of a block that are others now, as edits of the bytes that they stand in: what stays is not touched, and what
// comes in looks like the letter that it is put next to.
import type { Mark, Node } from 'prosemirror-model'
import { layItems } from '../docx/patch-diff'
import { lettersAnywhere } from './letters-out'
import type { RtfSource } from './read'

type Edit = [from: number, to: number, text: string]
interface Letter {
  key: string
  text: string | null
  marks: readonly Mark[]
}

/** @returns null where more than letters of its lines is another */
export function patchLetters(before: Node, now: Node, source: RtfSource): Edit[] | null {
  if (before.type !== now.type || JSON.stringify(before.attrs) !== JSON.stringify(now.attrs)) return null
  if (before.eq(now)) return []
  if (!before.isTextblock) {
    if (before.childCount !== now.childCount) return null
    const edits: Edit[] = []
    for (let at = 0; at < before.childCount; at++) {
      const inner = patchLetters(before.child(at), now.child(at), source)
      if (!inner) return null
      for (const edit of inner) edits.push(edit)
    }
    return edits
  }
  const line = source.lines.get(before)
  const older = lettersOf(before)
  const newer = lettersOf(now)
  if (!line || line.spans.length !== older.length * 2) return null
  const steps = layItems(
    older.map(({ key }) => key),
    newer.map(({ key }) => key),
    (key) => /^[\p{L}\p{N}]/u.test(key),
  )
  const edits: Edit[] = []
  let at = 0
  let fresh: Letter[] = []
  const put = (): boolean => {
    if (!fresh.length) return true
    const some = fresh
    fresh = []
    const looks = (letter: Letter | undefined) =>
      !!letter &&
      letter.text !== null &&
      some.every(({ text, marks }) => text !== null && sameMarks(marks, letter.marks))
    const text = lettersAnywhere(some.map((one) => one.text).join(''))
    if (looks(older[at - 1]) && line.spans[at * 2 - 1]! >= 0)
      edits.push([line.spans[at * 2 - 1]!, line.spans[at * 2 - 1]!, text])
    else if (looks(older[at]) && line.spans[at * 2]! >= 0) edits.push([line.spans[at * 2]!, line.spans[at * 2]!, text])
    else return false
    return true
  }
  for (const [from, to] of steps) {
    if (from < 0) {
      fresh.push(newer[to]!)
      continue
    }
    if (!put()) return null
    at = from + 1
    if (to >= 0) continue
    const [start, end] = [line.spans[from * 2]!, line.spans[from * 2 + 1]!]
    if (start < 0) return null
    edits.push([start, end, ''])
  }
  return put() ? edits : null
}

const sameMarks = (a: readonly Mark[], b: readonly Mark[]): boolean =>
  a.length === b.length && a.every((mark, at) => mark.eq(b[at]!))

function lettersOf(line: Node): Letter[] {
  const all: Letter[] = []
  const numbers = new Map<string, number>()
  line.forEach((child) => {
    const looks = JSON.stringify(child.marks.map((mark) => mark.toJSON()))
    let number = numbers.get(looks)
    if (number === undefined) numbers.set(looks, (number = numbers.size))
    const { marks } = child
    if (child.isText) for (const unit of child.text!.split('')) all.push({ key: `${unit}${looks}`, text: unit, marks })
    else all.push({ key: `\u0000${JSON.stringify(child.toJSON())}`, text: null, marks })
  })
  return all
}
