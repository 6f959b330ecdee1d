// What became of the look of words, in words.

import type { Mark } from 'prosemirror-model'
import type { Look } from '../content/document'
import { type Said, type Sentence, say } from '../words/said'

const names: Record<string, Said> = {
  strong: say('changes.bold'),
  em: say('changes.italic'),
  underline: say('changes.underlined'),
  strike: say('changes.struck'),
  raised: say('changes.raised'),
  lowered: say('changes.lowered'),
  link: say('changes.a-link'),
}

/** "bold, no longer italic, 14 pt"; both are marks of the same word. */
export function lookInWords(before: readonly Mark[], now: readonly Mark[]): Sentence {
  const find = (marks: readonly Mark[], name: string) => marks.find((mark) => mark.type.name === name)
  const parts: Sentence[] = []
  for (const [name, word] of Object.entries(names)) {
    const [was, is] = [find(before, name), find(now, name)]
    if (was && !is) parts.push(say('changes.no-longer', { what: word }))
    else if (!was && is) parts.push(word)
    else if (was && is && !was.eq(is)) parts.push(say('changes.another-link'))
  }
  const none: Look = { color: null, fill: null, size: null, font: null }
  const was = (find(before, 'look')?.attrs ?? none) as Look
  const is = (find(now, 'look')?.attrs ?? none) as Look
  if (was.font !== is.font) parts.push(is.font ?? say('changes.usual-font'))
  if (was.size !== is.size) parts.push(is.size ? say('changes.points', { n: is.size }) : say('changes.usual-size'))
  if (was.color !== is.color) parts.push(say(is.color ? 'changes.another-colour' : 'changes.usual-colour'))
  if (was.fill !== is.fill) parts.push(say(is.fill ? 'changes.highlighted' : 'changes.not-highlighted'))
  return parts.length ? parts.reduce((first, then) => say('changes.comma', { first, then })) : ''
}
