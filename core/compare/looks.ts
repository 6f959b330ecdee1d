// What became of the look of words, in words.
import type { Mark } from 'prosemirror-model'
import type { Look } from '../content/document'

const names: Record<string, string> = {
  strong: 'bold',
  em: 'italic',
  underline: 'underlined',
  strike: 'struck through',
  raised: 'raised',
  lowered: 'lowered',
  link: 'a link',
}

/** "bold, no longer italic, 14 pt"; both are marks of the same word. */
export function lookInWords(before: readonly Mark[], now: readonly Mark[]): string {
  const find = (marks: readonly Mark[], name: string) => marks.find((mark) => mark.type.name === name)
  const parts: string[] = []
  for (const [name, word] of Object.entries(names)) {
    const [was, is] = [find(before, name), find(now, name)]
    if (was && !is) parts.push(`no longer ${word}`)
    else if (!was && is) parts.push(word)
    else if (was && is && !was.eq(is)) parts.push('another link')
  }
  const none: Look = { color: null, fill: null, size: null, font: null }
  const was = (find(before, 'look')?.attrs ?? none) as Look
  const is = (find(now, 'look')?.attrs ?? none) as Look
  if (was.font !== is.font) parts.push(is.font ?? 'the usual font')
  if (was.size !== is.size) parts.push(is.size ? `${is.size} pt` : 'the usual size')
  if (was.color !== is.color) parts.push(is.color ? 'another colour' : 'the usual colour')
  if (was.fill !== is.fill) parts.push(is.fill ? 'highlighted' : 'no longer highlighted')
  return parts.join(', ')
}
