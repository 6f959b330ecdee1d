// What a paragraph says of its place and frame, in words that a reader can tell two of them apart by.
import { borderSides, type ParagraphLook } from '../content/paragraph-look'
import { type Said, type Sentence, say } from '../words/said'

const centimetres = (twips = 0): number => Math.round((twips / 1440) * 25.4) / 10
const points = (twips = 0): number => Math.round(twips / 2) / 10

function lines(line: ParagraphLook['line']): Sentence {
  if (!line) return ''
  if ('share' in line) return say('changes.lines-of-a-share', { share: Math.round((line.share / 240) * 100) / 100 })
  return say('changes.lines-of-points', { points: points('exact' in line ? line.exact : line.least) })
}

function spaced(before: number | undefined, after: number | undefined): Sentence {
  if (before !== undefined && after !== undefined)
    return say('changes.spaced', { before: points(before), after: points(after) })
  if (before !== undefined) return say('changes.spaced-before', { before: points(before) })
  return after === undefined ? '' : say('changes.spaced-after', { after: points(after) })
}

/** @returns each thing behind a comma */
export function placeInWords({ before, after, line, left, right, first, fill, borders }: ParagraphLook): Said {
  const indented = left !== undefined || right !== undefined || first !== undefined
  return say('changes.place-of-block', {
    indents: indented
      ? left || right || first
        ? say('changes.indented', { left: centimetres(left), right: centimetres(right), first: centimetres(first) })
        : say('changes.not-indented')
      : '',
    space: spaced(before, after),
    lines: lines(line),
    fill: fill ? say('changes.shaded', { fill }) : '',
    border: borders ? say('changes.bordered', { sides: borderSides.filter((side) => borders[side]).length }) : '',
  })
}
