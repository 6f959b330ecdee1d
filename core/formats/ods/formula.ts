// Formulas as texts of OpenFormula (ISO/IEC 26300-2 §5) and as the model has them (ECMA-376 part 1, §18.17): references
// stand in brackets, arguments behind semicolons, and functions that only some program has behind a name of its own.
import { type Part, partsOf, quotedSheet } from '../../content/formula'
import { filedFormula } from '../../content/later-functions'

/** A formula that the other notation has nothing for. */
export class NoCounterpart extends Error {}

/** Functions that the standard has by the names that other files write behind a prefix. */
const standard = new Set(
  `ACOT ACOTH ARABIC BASE BITAND BITLSHIFT BITOR BITRSHIFT BITXOR COMBINA COT COTH CSC CSCH DAYS DECIMAL GAMMA GAUSS
  IFNA IMCOSH IMCOT IMCSC IMCSCH IMSEC IMSECH IMSINH IMTAN ISFORMULA ISOWEEKNUM MUNIT NUMBERVALUE PDURATION
  PERMUTATIONA PHI RRI SEC SECH SHEET SHEETS UNICHAR UNICODE XOR`.split(/\s+/),
)
/** Names of the standard for functions that the model has by others. */
const toStandard = new Map([
  ...['CHIDIST', 'CHIINV', 'CHITEST', 'FDIST', 'FINV', 'NORMSDIST', 'NORMSINV', 'TDIST'].map(
    (name) => [name, `LEGACY.${name}`] as const,
  ),
  ['FORMULATEXT', 'FORMULA'],
  ['SKEW.P', 'SKEWP'],
  ['BINOM.DIST.RANGE', 'B'],
])
const fromStandard = new Map([...toStandard].map(([ours, theirs]) => [theirs, ours]))

function nameRead(name: string): string {
  const upper = name.toUpperCase()
  return fromStandard.get(upper) ?? upper.replace(/^(?:COM|ORG|NET)\.[A-Z]+\./, '')
}
/** @throws NoCounterpart for a function that the standard has not: files have it by the name of the program that it is of */
function nameWritten(name: string, later: boolean): string {
  const upper = name.toUpperCase()
  const known = toStandard.get(upper)
  if (!known && later && !standard.has(upper)) throw new NoCounterpart()
  return known ?? upper
}

const end = /^(?:\$?(?:'((?:[^']|'')*)'|([^.'\][]+)))?\.(\$?[A-Za-z]{1,3}\$?\d{1,7}|\$?[A-Za-z]{1,3}|\$?\d{1,7}|#REF!)$/

/** What stands in brackets (§5.8). @throws NoCounterpart */
function referenceRead(text: string): string {
  const [from, to, ...more] = endsOf(text).map((one) => end.exec(one))
  if (!from || to === null || more.length) throw new NoCounterpart()
  const sheetOf = (found: RegExpExecArray) => found[1]?.replaceAll("''", "'") ?? found[2]
  const addressOf = (found: RegExpExecArray) => found[3]!.toUpperCase()
  const [sheet, last] = [sheetOf(from), to && sheetOf(to)]
  const first = addressOf(from)
  if (first === '#REF!' || (to && addressOf(to) === '#REF!'))
    return sheet === undefined ? '#REF!' : `${quotedSheet(sheet)}!#REF!`
  const all = last !== undefined && last !== sheet
  if (all && sheet === undefined) throw new NoCounterpart()
  const prefix =
    sheet === undefined ? '' : all ? `'${`${sheet}:${last}`.replaceAll("'", "''")}'!` : `${quotedSheet(sheet)}!`
  // A whole row or column is said by both its ends.
  if (!to && /^\$?(?:[A-Z]+|\d+)$/.test(first)) throw new NoCounterpart()
  return prefix + first + (to && !(all && addressOf(to) === first) ? `:${addressOf(to)}` : '')
}
/** A range's ends; a colon in the name of a sheet parts nothing. */
function endsOf(text: string): string[] {
  const ends = ['']
  let quoted = false
  for (const letter of text) {
    if (letter === "'") quoted = !quoted
    if (letter === ':' && !quoted) ends.push('')
    else ends[ends.length - 1] += letter
  }
  return ends
}

const token =
  /"(?:[^"]|"")*"|\[(?:'(?:[^']|'')*'|[^\]'])*\]|[\p{L}_][\p{L}\p{N}_.]*|\d+(?:\.\d*)?(?:[eE][+-]?\d+)?|#[A-Z0-9/]+[!?]?|[\s\S]/gu

/**
 * A formula of a file as the model has it.
 * @param text with the name of its language, as files have it
 * @throws NoCounterpart
 */
export function formulaRead(text: string): string {
  const [, language = '', body = ''] = /^(?:([a-z]+):)?=?([\s\S]*)$/.exec(text) ?? []
  if (language === 'msoxl') return filedFormula(body)
  if (language && language !== 'of' && language !== 'oooc') throw new NoCounterpart()
  let out = ''
  const open: ('call' | 'group' | 'array')[] = []
  let called = false
  for (const { 0: one, index } of body.matchAll(token)) {
    const inArray = open.at(-1) === 'array'
    if (one.startsWith('[')) out += referenceRead(one.slice(1, -1))
    else if (/^[\p{L}_]/u.test(one)) {
      called = /^\s*\(/.test(body.slice(index + one.length))
      out += called ? nameRead(one) : one
      continue
    } else if (one === '(') {
      open.push(called ? 'call' : 'group')
      out += one
    } else if (one === '{') {
      open.push('array')
      out += one
    } else if (one === ')' || one === '}') {
      open.pop()
      out += one
    } else if (one === ';') out += ','
    else if (one === '|' && inArray) out += ';'
    else if (one === '~') {
      // What is joined without brackets would be more than one argument.
      if (open.at(-1) !== 'group') throw new NoCounterpart()
      out += ','
    } else if (one === '!') out += ' '
    else if (one === '.' && inArray) throw new NoCounterpart()
    else out += one
    if (one.trim()) called = false
  }
  return filedFormula(out)
}

const quotedPlace = (name: string): string =>
  `$${/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) ? name : `'${name.replaceAll("'", "''")}'`}`
const piece =
  /"(?:[^"]|"")*"|(_xlfn\.(?:_xlws\.)?|_xlpm\.)?([\p{L}_\\][\p{L}\p{N}_.]*)|\d+(?:\.\d*)?(?:[eE][+-]?\d+)?|#[A-Z0-9/]+[!?]?|[\s\S]/gu

/** The error of a reference that is gone ends like the name of a sheet before something. */
function withErrors(parts: readonly Part[]): Part[] {
  const all: Part[] = []
  for (const part of parts) {
    const last = all.at(-1)
    const isError = part.is === 'sheet' && part.text === 'REF!' && last?.is === 'text' && last.text.endsWith('#')
    if (last?.is === 'text' && (isError || part.is === 'text'))
      all[all.length - 1] = { is: 'text', text: last.text + part.text }
    else all.push(part)
  }
  return all
}

/** A formula of the model as files have it, with the name of its language. @throws NoCounterpart */
export function formulaWritten(formula: string): string {
  const parts = withErrors(partsOf(formula))
  const open: ('call' | 'group' | 'array')[] = []
  let out = ''
  let called = false
  const isReference = (part: Part | undefined) => part?.is === 'reference' || part?.is === 'sheet'
  for (const [at, part] of parts.entries()) {
    if (part.is === 'sheet') {
      if (part.sheet.includes('[')) throw new NoCounterpart()
      const next = parts[at + 1]
      // Of what is gone the sheet is still said.
      if (next?.is === 'text' && next.text.startsWith('#REF!') && !part.sheet.includes(':'))
        out += `[${quotedPlace(part.sheet)}.#REF!]`
      else if (next?.is !== 'reference') throw new NoCounterpart()
      continue
    }
    if (part.is === 'reference') {
      const [from, to] = part.text.split(':')
      const [first, last] = part.sheet?.includes(':') ? part.sheet.split(':') : [part.sheet, null]
      const place = first === null || first === undefined ? '' : quotedPlace(first)
      const other = last ? `:${quotedPlace(last)}.${to ?? from}` : to === undefined ? '' : `:.${to}`
      out += `[${place}.${from}${other}]`
      called = false
      continue
    }
    let { text } = part
    const before = parts[at - 1]
    if (before?.is === 'sheet' && text.startsWith('#REF!')) text = text.slice('#REF!'.length)
    if (text && !text.trim() && isReference(before) && isReference(parts[at + 1])) {
      out += '!'
      continue
    }
    for (const { 0: one, 1: prefix, 2: name, index } of text.matchAll(piece)) {
      if (name !== undefined) {
        if (prefix === '_xlpm.') throw new NoCounterpart()
        called = /^\s*\(/.test(text.slice(index + one.length))
        out += called ? nameWritten(name, prefix !== undefined) : one
        continue
      }
      const around = open.at(-1)
      if (one === '[' || one === '@' || one === '#') throw new NoCounterpart()
      if (one === '(') open.push(called ? 'call' : 'group')
      else if (one === '{') open.push('array')
      else if (one === ')' || one === '}') open.pop()
      if (one === ',') out += around === 'group' ? '~' : ';'
      else if (one === ';') out += around === 'array' ? '|' : ';'
      else out += one
      if (one.trim()) called = false
    }
  }
  return `of:=${out}`
}
