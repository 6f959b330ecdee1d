// A formula while somebody types it: which cells it names, what the place where the cursor is asks for, and where it cannot
// be read.
import { parse, tokenize } from '@borgar/fx/xlsx'
import { type Said, say } from '../words/said'
import { type EntryWays, readEntry } from './entry'
import { partsOf, quotedSheet } from './formula'
import type { MergedArea } from './looks'
import { type Cell, columnName, largestSheet } from './workbook'

/** Cells that an entry names, at letters of it; both ends of the area are in it. */
export interface EntryReference {
  from: number
  to: number
  /** null for the sheet that the entry is on. */
  sheet: string | null
  area: MergedArea
}

export const isFormulaEntry = (entry: string): boolean => entry.startsWith('=') && entry.length > 1

/** The cells that an entry names, in the order in which it does; of one that is no formula none. */
export function referencesIn(entry: string): EntryReference[] {
  if (!entry.startsWith('=')) return []
  const found: EntryReference[] = []
  let at = 1
  let begin: number | null = null
  for (const part of partsOf(entry.slice(1))) {
    if (part.is === 'sheet') begin = at
    else if (part.is === 'reference') {
      const { from, to } = part.reference
      const ends = (key: 'row' | 'column', last: number): [number, number] => {
        const [a, b] = [from[key] ?? 0, (to ?? from)[key] ?? last]
        return a <= b ? [a, b] : [b, a]
      }
      const [top, bottom] = ends('row', largestSheet.rows - 1)
      const [left, right] = ends('column', largestSheet.columns - 1)
      found.push({
        from: begin ?? at,
        to: at + part.text.length,
        sheet: part.sheet,
        area: { top, left, bottom, right },
      })
      begin = null
    } else begin = null
    at += part.text.length
  }
  return found
}

/** A call that the cursor is in. */
export interface CallAround {
  name: string
  /** Which of its arguments; from 0. */
  argument: number
}
interface Around {
  calls: (CallAround | null)[]
  /** In a text, in braces, or in the brackets of a table. */
  closed: boolean
  /** What stands before the cursor, without spaces; of a text its quotation mark. */
  last: string
}
/** Goes through an entry up to the cursor. */
function around(entry: string, caret: number): Around {
  const calls: (CallAround | null)[] = []
  let last = ''
  let braces = 0
  let at = 1
  while (at < caret) {
    const symbol = entry[at]!
    if (symbol === '"' || (symbol === "'" && !/[\p{L}\p{N}]/u.test(last))) {
      let end = at + 1
      while (end < caret && (entry[end] !== symbol || (entry[end + 1] === symbol && end++ < caret))) end++
      if (end >= caret) return { calls, closed: true, last: symbol }
      last = symbol
      at = end + 1
      continue
    }
    if (symbol === '[') {
      let depth = 0
      for (; at < caret; at++) {
        if (entry[at] === '[') depth++
        else if (entry[at] === ']' && --depth === 0) break
      }
      if (at >= caret) return { calls, closed: true, last: '[' }
    } else if (symbol === '{') braces++
    else if (symbol === '}') braces--
    else if (symbol === '(') {
      const name = /([\p{L}_][\p{L}\p{N}_.]*)$/u.exec(entry.slice(0, at))?.[1]
      calls.push(name ? { name: name.toUpperCase(), argument: 0 } : null)
    } else if (symbol === ')') calls.pop()
    else if ((symbol === ',' || symbol === ';') && braces <= 0) {
      const call = calls.at(-1)
      if (call) call.argument++
    }
    if (symbol.trim()) last = symbol
    at++
  }
  return { calls, closed: braces > 0, last: last || '=' }
}

/** The innermost call that the cursor is in; null outside of all. */
export function callAround(entry: string, caret: number): CallAround | null {
  if (!entry.startsWith('=') || caret < 1) return null
  return around(entry, caret).calls.findLast((call) => call !== null) ?? null
}

/** Whether the place behind `caret` letters asks for a value, so that cells can be named there. */
export function asksForCells(entry: string, caret: number): boolean {
  if (!entry.startsWith('=') || caret < 1) return false
  const { closed, last } = around(entry, caret)
  // Behind a space between two areas their common part would be meant: that is typed.
  return !closed && /[=(,;+\-*/^&<>:]/.test(last) && !/[\p{L}\p{N}_.$!]/u.test(entry[caret] ?? '')
}

/** The beginning of a function's name that is being typed before the cursor; null where none is. */
export function nameBefore(entry: string, caret: number): { from: number; name: string } | null {
  if (!entry.startsWith('=') || /[\p{L}\p{N}_.(!$:]/u.test(entry[caret] ?? '')) return null
  const typed = /(?<![\p{L}\p{N}_.$!:'"\]])(\p{L}[\p{L}\p{N}.]*)$/u.exec(entry.slice(0, caret))
  if (!typed || around(entry, caret).closed) return null
  return { from: typed.index, name: typed[1]!.toUpperCase() }
}

/** Cells as a formula names them. @param sheet null where they are on the formula's own */
export function referenceTo({ top, left, bottom, right }: MergedArea, sheet: string | null): string {
  const whole =
    top === 0 && bottom === largestSheet.rows - 1
      ? `${columnName(left)}:${columnName(right)}`
      : left === 0 && right === largestSheet.columns - 1
        ? `${top + 1}:${bottom + 1}`
        : null
  const first = `${columnName(left)}${top + 1}`
  const cells = whole ?? (top === bottom && left === right ? first : `${first}:${columnName(right)}${bottom + 1}`)
  return sheet === null ? cells : `${quotedSheet(sheet)}!${cells}`
}

const anchors = [
  ['', ''],
  ['$', '$'],
  ['', '$'],
  ['$', ''],
] as const
/**
 * The reference that the cursor is in or behind with the next of the four ways to keep it when the formula is copied: free,
 * both, its row, its column.
 * @returns null where there is none
 */
export function withNextAnchors(entry: string, caret: number): { from: number; to: number; text: string } | null {
  const here = referencesIn(entry).find(({ from, to }) => from <= caret && caret <= to)
  if (!here) return null
  const whole = entry.slice(here.from, here.to)
  const cut = whole.lastIndexOf('!') + 1
  const ends = whole.slice(cut).split(':')
  const partsOfEnd = (end: string) => /^(\$?)([A-Za-z]*)(\$?)(\d*)$/.exec(end)!
  const [, column, letters, row, digits] = partsOfEnd(ends[0]!)
  const now = anchors.findIndex(([a, b]) => (!letters || a === column) && (!digits || b === row))
  // Of whole columns or rows there are two ways.
  const next = letters && digits ? anchors[(now + 1) % 4]! : anchors[column || row ? 0 : 1]!
  const text = ends
    .map((end) => {
      const [, , name, , number] = partsOfEnd(end)
      return `${name ? next[0] : ''}${name}${number ? next[1] : ''}${number}`
    })
    .join(':')
  return { from: here.from, to: here.to, text: whole.slice(0, cut) + text }
}

/** Where a formula cannot be read, in letters of it, and why. */
export interface FormulaFault {
  from: number
  to: number
  why: Said
}
/** @param formula without its equals sign @returns null where it can be read (OpenFormula 1.2 §5, ECMA-376 part 1 §18.17.2) */
export function faultOf(formula: string): FormulaFault | null {
  const tokens = tokenize(formula, { mergeRefs: true, withLocation: true })
  try {
    parse(tokens, { permitArrayCalls: true })
    return null
  } catch (error) {
    const end = Math.min(formula.length, Number((error as { sourceOffset?: number }).sourceOffset ?? formula.length))
    const open = tokens.find((token) => token.unterminated)
    if (open)
      return {
        from: Math.min(formula.length, open.loc?.[0] ?? 0),
        to: formula.length,
        why: say('content.formula-text-not-closed'),
      }
    const opens = tokens.filter(({ value }) => value === '(').length
    const closes = tokens.filter(({ value }) => value === ')').length
    const last = formula.trimEnd().length
    const hangs = /[-+*/^&<>=:(,]\s*$/.test(formula) && !formula.trimEnd().endsWith('(')
    if (end >= last && opens > closes && !hangs)
      return { from: last, to: last, why: say('content.formula-bracket-not-closed') }
    const shown = tokens.filter(({ value }) => value.trim())
    const placeOf = (token: (typeof shown)[number] | undefined): readonly [number, number] => {
      const [from = end, to = end] = token?.loc ?? []
      return [from, to]
    }
    const told = shown.findIndex((token) => placeOf(token)[0] < end && placeOf(token)[1] >= end)
    // A sign that stands where a value is due is told with what comes after it.
    const joins = (index: number) => /^[-+*/^&<>=:(,]+$/.test(shown[index]?.value ?? '(')
    const at = told > 0 && joins(told - 1) && shown[told - 1]!.value !== '(' && joins(told - 2) ? told - 1 : told
    const [from, to] = placeOf(shown[at])
    const piece = formula.slice(from, to).trim()
    if (piece === ')' && closes > opens) return { from, to, why: say('content.formula-bracket-too-many') }
    if (to >= last && (!piece || /^[-+*/^&<>=:(,]+$/.test(piece)))
      return { from: last, to: last, why: say('content.formula-ends-too-soon') }
    return { from, to, why: say('content.formula-not-read-here', { piece: piece || formula.slice(from).trim() }) }
  }
}

/**
 * A formula with what hands leave out: brackets that are not closed at its end, and semicolons between arguments, as several
 * languages have them.
 * @param formula without its equals sign @returns null where that does not make it one
 */
export function mended(formula: string): string | null {
  const commas = formula.replace(/"(?:[^"]|"")*"|'(?:[^']|'')*'|\{[^}]*\}|;/g, (part) => (part === ';' ? ',' : part))
  for (const one of commas === formula ? [formula] : [formula, commas]) {
    if (!faultOf(one)) return one
    // A value that is missing is not made up for.
    if (/[(,+\-*/^&<>=:]\s*$/.test(one)) continue
    for (let brackets = 1; brackets <= 8; brackets++) {
      const closed = one.trimEnd() + ')'.repeat(brackets)
      if (!faultOf(closed)) return closed
    }
  }
  return null
}

/** What somebody typed as the cell that it means: a formula only where it can be read, otherwise the text that it is. */
export function readTyped(entry: string, before: Cell | undefined, ways?: EntryWays): Cell | null {
  if (!isFormulaEntry(entry)) return readEntry(entry, before, ways)
  const formula = mended(entry.slice(1))
  return readEntry(formula === null ? `'${entry}` : `=${formula}`, before)
}
