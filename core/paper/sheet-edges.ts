// What stands at the edges of a sheet's pages, in the codes of its file (ECMA-376 part 1, §18.3.1.39), as text.
import type { SheetEdges } from '../content/sheet-paper'

export interface EdgeText {
  t: string
  bold?: true
  italic?: true
  underline?: true
  strike?: true
  size?: number
  font?: string
}
/** Runs of each third. */
export type EdgeThirds = Record<'left' | 'center' | 'right', EdgeText[]>
export interface EdgeFacts {
  page: number
  pages: number
  day: string
  time: string
  file: string
  sheet: string
}

/** @returns null for nothing */
export function edgeOf(code: string, facts: EdgeFacts): EdgeThirds | null {
  const thirds: EdgeThirds = { left: [], center: [], right: [] }
  let third: EdgeText[] = thirds.center
  let look: Omit<EdgeText, 't'> = {}
  const add = (t: string) => {
    if (t) third.push({ t, ...look })
  }
  const turn = (trait: 'bold' | 'italic' | 'underline' | 'strike') => {
    const { [trait]: was, ...rest } = look
    look = was ? rest : { ...look, [trait]: true }
  }
  const to = (side: keyof EdgeThirds) => {
    third = thirds[side]
    look = {}
  }
  const fields: Readonly<Record<string, () => void>> = {
    L: () => to('left'),
    C: () => to('center'),
    R: () => to('right'),
    P: () => add(String(facts.page)),
    N: () => add(String(facts.pages)),
    D: () => add(facts.day),
    T: () => add(facts.time),
    F: () => add(facts.file),
    A: () => add(facts.sheet),
    B: () => turn('bold'),
    I: () => turn('italic'),
    U: () => turn('underline'),
    E: () => turn('underline'),
    S: () => turn('strike'),
    '&': () => add('&'),
  }
  // A size may be followed by a number of the text: a blank parts them.
  for (const [whole, name, size, sum, color, one, text] of code.matchAll(
    /&"([^"]*)"|&(\d{1,3}) ?|&P([+-]\d+)|&K([0-9A-Fa-f]{6}|\d\d[+-]\d{3})|&([\s\S])|([^&]+)/g,
  )) {
    if (name !== undefined) {
      const [font, style = ''] = name.split(',')
      const { font: _, bold: __, italic: ___, ...rest } = look
      look = {
        ...rest,
        ...(font && font !== '-' && { font }),
        ...(/bold/i.test(style) && { bold: true as const }),
        ...(/italic|oblique/i.test(style) && { italic: true as const }),
      }
    } else if (size !== undefined) {
      if (Number(size) >= 1 && Number(size) <= 200) look = { ...look, size: Number(size) }
    } else if (sum !== undefined) add(String(facts.page + Number(sum)))
    else if (color !== undefined) continue
    else if (one !== undefined) fields[one.toUpperCase()]?.()
    else if (text !== undefined) add(text)
    else add(whole)
  }
  return thirds.left.length || thirds.center.length || thirds.right.length ? thirds : null
}

/** @param at of its sheet's pages, from 0 */
export function edgeOn(edges: SheetEdges | undefined, at: number, facts: EdgeFacts): EdgeThirds | null {
  const code =
    (at === 0 ? edges?.first : undefined) ?? (facts.page % 2 === 0 ? edges?.even : undefined) ?? edges?.all ?? ''
  return edgeOf(code, facts)
}
