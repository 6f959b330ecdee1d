// Formulas as the tokens of the binary format ([MS-XLS] §2.2.2, §2.5.198): text read by how tight its operators bind,
// written in reverse Polish notation with the class of each operand (§2.2.2.1).
import { parseA1Ref, type Token, tokenize } from '@borgar/fx/xlsx'
import { functionNamed, isOfAddIn, nameInFormat } from './functions'
import { short } from './records'
import { errorNumber } from './values'

/** Numbers for what tokens name. */
export interface LinkNumbers {
  /** Of a sheet, or of those from one to another; undefined for one that is not there. */
  sheets(first: string, last: string): number | undefined
  /** A name that formulas use, seen from a sheet (its own, or that which stands before it); undefined for none. */
  name(name: string, sheet: string | null): number | undefined
  /** Functions that the format has no number for: of the add-in, and those that came later. */
  functionName(name: string): { sheets: number; name: number } | { name: number }
}

/** A formula that the format has no tokens for. */
export class NotWritten extends Error {}
const notWritten = (what: string): never => {
  throw new NotWritten(what)
}

/** How an operand is taken: as a reference, as its value, as an array, or as suits it. */
type Taken = 'R' | 'V' | 'A' | 'D'
type Tree = { gap: string } & (
  | { is: 'plain'; bytes: number[] }
  | { is: 'cell'; sheets: number | null; row: number; column: number }
  | { is: 'area'; sheets: number | null; edges: number[] }
  | { is: 'gone'; sheets: number | null }
  | { is: 'name'; number: number }
  | { is: 'array'; rows: ArrayElement[][] }
  | { is: 'sign'; token: number; inner: Tree }
  | { is: 'percent'; inner: Tree }
  | { is: 'both'; token: number; left: Tree; right: Tree }
  | { is: 'brackets'; inner: Tree; closing: string }
  | { is: 'call'; name: string; args: Tree[]; opening: string; closing: string }
)
type ArrayElement = { number: number } | { text: string } | { truth: boolean } | { error: number }

const operators: Readonly<Record<string, readonly [token: number, binds: number]>> = {
  '<': [0x09, 2],
  '<=': [0x0a, 2],
  '=': [0x0b, 2],
  '>=': [0x0c, 2],
  '>': [0x0d, 2],
  '<>': [0x0e, 2],
  '&': [0x08, 3],
  '+': [0x03, 4],
  '-': [0x04, 4],
  '*': [0x05, 5],
  '/': [0x06, 5],
  '^': [0x07, 6],
  ',': [0x10, 9],
  ' ': [0x0f, 10],
  ':': [0x11, 11],
}
const signs = 8
const percent = 7
const mostDeep = 200
/** The largest sheet of the format (§2.5.176). */
export const largestOfFormat = { rows: 65_536, columns: 256 }

/**
 * @param sheet the name of the sheet that it is in
 * @param taken as its value in a cell; as a reference where a name stands for it
 * @returns its tokens, and the elements of its arrays that stand behind them
 * @throws NotWritten
 */
export function formulaTokens(
  formula: string,
  sheet: string,
  links: LinkNumbers,
  taken: 'V' | 'R' = 'V',
): { tokens: Uint8Array; more: Uint8Array } {
  const tree = new Reader(formula, sheet, links).whole()
  const writer = new Writer(links)
  writer.write(tree, taken)
  if (writer.tokens.length > 8000) return notWritten('it is too long')
  return { tokens: Uint8Array.from(writer.tokens), more: Uint8Array.from(writer.more) }
}

class Reader {
  private readonly tokens: { type: string; value: string; gap: string }[] = []
  private at = 0
  private depth = 0
  constructor(
    formula: string,
    private readonly sheet: string,
    private readonly links: LinkNumbers,
  ) {
    if (formula.length > 8192) notWritten('it is too long')
    let gap = ''
    for (const { type, value } of tokenize(formula, { mergeRefs: true }) as Token[]) {
      if (type === 'whitespace' || type === 'newline') gap += value
      else {
        this.tokens.push({ type, value, gap })
        gap = ''
      }
    }
  }

  whole(): Tree {
    const tree = this.operand(0, false)
    if (this.at < this.tokens.length) return notWritten(this.tokens[this.at]!.value)
    return tree
  }
  private get next() {
    return this.tokens[this.at]
  }
  private is(value: string): boolean {
    return this.next?.type === 'operator' && this.next.value === value
  }

  /** @param union whether a comma puts areas together here: not between arguments */
  private operand(least: number, union: boolean): Tree {
    if (++this.depth > mostDeep) return notWritten('it is nested too deep')
    let left = this.first(union)
    for (;;) {
      const { next } = this
      if (!next) break
      if (this.is('%')) {
        if (percent < least) break
        this.at++
        left = { is: 'percent', inner: left, gap: next.gap }
        continue
      }
      // A space between two references is where they cross.
      const crosses = next.gap !== '' && this.beginsReference(next)
      const operator = crosses ? operators[' ']! : next.type === 'operator' ? operators[next.value] : undefined
      if (!operator || (next.value === ',' && !crosses && !union)) break
      const [token, binds] = operator
      if (binds < least) break
      const gap = crosses ? next.gap.slice(1) : next.gap
      if (crosses) next.gap = ''
      else this.at++
      left = { is: 'both', token, left, right: this.operand(binds + 1, union), gap: crosses ? '' : gap }
    }
    this.depth--
    return left
  }
  private beginsReference({ type, value }: { type: string; value: string }): boolean {
    return /^(?:range|range_beam|range_named|func)$/.test(type) || (type === 'operator' && value === '(')
  }

  private first(union: boolean): Tree {
    const { next } = this
    if (!next) return notWritten('an operand is missing')
    const { type, value, gap } = next
    this.at++
    if (type === 'operator') {
      if (value === '-' || value === '+')
        return { is: 'sign', token: value === '-' ? 0x13 : 0x12, inner: this.operand(signs, union), gap }
      if (value === '(') {
        const inner = this.operand(0, true)
        const closing = this.close(')')
        return { is: 'brackets', inner, closing, gap }
      }
      if (value === '{') return this.array(gap)
      return notWritten(value)
    }
    const opens = this.next && this.is('(')
    if (type === 'func' || (type === 'range_named' && opens)) return this.call(value, gap)
    if (type.startsWith('context')) return this.goneElsewhere(value, gap)
    switch (type) {
      case 'number':
        return { is: 'plain', bytes: numberToken(Number(value)), gap }
      case 'string':
        return { is: 'plain', bytes: textToken(value.slice(1, -1).replaceAll('""', '"')), gap }
      case 'bool':
        return { is: 'plain', bytes: [0x1d, /^true$/i.test(value) ? 1 : 0], gap }
      case 'error': {
        const number = errorNumber(value)
        if (number === undefined) return notWritten(value)
        return { is: 'plain', bytes: [0x1c, number], gap }
      }
      case 'range':
      case 'range_beam':
        return this.reference(value, gap)
      case 'range_named':
        return this.named(value, gap)
      default:
        return notWritten(value)
    }
  }
  private close(bracket: string): string {
    if (!this.is(bracket)) return notWritten(bracket)
    return this.tokens[this.at++]!.gap
  }

  private call(name: string, gap: string): Tree {
    const opening = this.tokens[this.at++]!.gap
    const args: Tree[] = []
    if (this.is(')')) return { is: 'call', name, args, opening, closing: this.close(')'), gap }
    for (;;) {
      if (this.is(',') || this.is(')')) args.push({ is: 'plain', bytes: [0x16], gap: '' })
      else args.push(this.operand(0, false))
      if (!this.is(',')) break
      this.at++
    }
    return { is: 'call', name, args, opening, closing: this.close(')'), gap }
  }

  private array(gap: string): Tree {
    const rows: ArrayElement[][] = [[]]
    for (;;) {
      let sign = 1
      if (this.is('-')) {
        sign = -1
        this.at++
      }
      const { next } = this
      this.at++
      if (next?.type === 'number') rows.at(-1)!.push({ number: sign * Number(next.value) })
      else if (next?.type === 'string') rows.at(-1)!.push({ text: next.value.slice(1, -1).replaceAll('""', '"') })
      else if (next?.type === 'bool') rows.at(-1)!.push({ truth: /^true$/i.test(next.value) })
      else if (next?.type === 'error' && errorNumber(next.value) !== undefined)
        rows.at(-1)!.push({ error: errorNumber(next.value)! })
      else return notWritten('{ }')
      const mark = this.tokens[this.at++]?.value
      if (mark === '}') break
      if (mark === ';') rows.push([])
      else if (mark !== ',') return notWritten('{ }')
    }
    if (rows.some((row) => row.length !== rows[0]!.length) || rows[0]!.length > 256) return notWritten('{ }')
    return { is: 'array', rows, gap }
  }

  private sheetsOf(name: string | undefined): number | null {
    if (!name) return null
    // A name that has a mark of its own in it is quoted, and none of several sheets.
    const [first, last = first] = name.split(':') as [string, string?]
    const number = this.links.sheets(first, last)
    return number === undefined ? notWritten(name) : number
  }
  private goneElsewhere(context: string, gap: string): Tree {
    this.at++
    const error = this.next
    this.at++
    if (error?.type !== 'error' || error.value !== '#REF!') return notWritten(context)
    const name = context.replace(/^'|'$/g, '').replaceAll("''", "'")
    return { is: 'gone', sheets: this.sheetsOf(name), gap }
  }
  private reference(text: string, gap: string): Tree {
    const found = parseA1Ref(text, { allowNamed: false, allowTernary: false })
    if (!found || !('range' in found) || !found.range) return notWritten(text)
    if ('workbookName' in found && found.workbookName) return notWritten(text)
    const sheets = this.sheetsOf('sheetName' in found ? found.sheetName : undefined)
    const { range } = found
    const { rows, columns } = largestOfFormat
    const [top, bottom] = [range.top ?? 0, range.bottom ?? rows - 1]
    const [left, right] = [range.left ?? 0, range.right ?? columns - 1]
    if (bottom >= rows || top >= rows || right >= columns || left >= columns) return notWritten(text)
    const flags = (column: number, fixedColumn: unknown, fixedRow: unknown) =>
      column | (fixedColumn ? 0 : 0x4000) | (fixedRow ? 0 : 0x8000)
    const from = flags(left, range.left === null || range.$left, range.top === null || range.$top)
    const to = flags(right, range.right === null || range.$right, range.bottom === null || range.$bottom)
    return text.includes(':', text.lastIndexOf('!') + 1)
      ? { is: 'area', sheets, edges: [top, bottom, from, to], gap }
      : { is: 'cell', sheets, row: top, column: from, gap }
  }
  private named(text: string, gap: string): Tree {
    const bang = text.lastIndexOf('!')
    const sheet = bang < 0 ? null : text.slice(0, bang).replace(/^'|'$/g, '').replaceAll("''", "'")
    const number = this.links.name(text.slice(bang + 1), sheet ?? this.sheet)
    return number === undefined ? notWritten(text) : { is: 'name', number, gap }
  }
}

export function double(value: number): number[] {
  const view = new DataView(new ArrayBuffer(8))
  view.setFloat64(0, value, true)
  return Array.from({ length: 8 }, (_, at) => view.getUint8(at))
}
const numberToken = (value: number) =>
  Number.isInteger(value) && value >= 0 && value <= 65_535 && !Object.is(value, -0)
    ? [0x1e, ...short(value)]
    : [0x1f, ...double(value)]
const isWide = (text: string) => /[^\u0000-\u00ff]/.test(text)
function letters(text: string): number[] {
  const wide = isWide(text)
  const bytes = [wide ? 1 : 0]
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (wide) bytes.push(...short(code))
    else bytes.push(code)
  }
  return bytes
}
const textToken = (text: string) =>
  text.length > 255 ? notWritten('a text is too long') : [0x17, text.length, ...letters(text)]

/** The class of a token, above that of references. */
const classOf = { R: 0, V: 0x20, A: 0x40 } as const

class Writer {
  readonly tokens: number[] = []
  readonly more: number[] = []
  constructor(private readonly links: LinkNumbers) {}

  /** Spaces and lines, before what comes next: 0 and 1 before it, 2 and 3 before an opening bracket, 4 and 5 a closing one. */
  private space(gap: string, kind: number): void {
    for (const [run] of gap.matchAll(/ +|[^ ]+/g))
      this.tokens.push(0x19, 0x40, kind + (run.startsWith(' ') ? 0 : 1), Math.min(255, run.length))
  }
  private put(...bytes: number[]): void {
    this.tokens.push(...bytes)
  }

  write(tree: Tree, taken: Taken): void {
    const value = taken === 'A' ? 'A' : 'V'
    switch (tree.is) {
      case 'plain':
        this.space(tree.gap, 0)
        return this.put(...tree.bytes)
      case 'cell': {
        this.space(tree.gap, 0)
        const of = classOf[taken === 'D' ? 'V' : taken]
        if (tree.sheets === null) this.put(0x24 + of, ...short(tree.row), ...short(tree.column))
        else this.put(0x3a + of, ...short(tree.sheets), ...short(tree.row), ...short(tree.column))
        return
      }
      case 'area': {
        this.space(tree.gap, 0)
        const of = classOf[taken === 'D' ? 'R' : taken]
        const edges = tree.edges.flatMap(short)
        if (tree.sheets === null) this.put(0x25 + of, ...edges)
        else this.put(0x3b + of, ...short(tree.sheets), ...edges)
        return
      }
      case 'gone':
        this.space(tree.gap, 0)
        if (tree.sheets === null) this.put(0x1c, errorNumber('#REF!')!)
        else this.put(0x3c + classOf[taken === 'D' ? 'R' : taken], ...short(tree.sheets), 0, 0, 0, 0)
        return
      case 'name':
        this.space(tree.gap, 0)
        return this.put(0x23 + classOf[taken === 'D' ? 'R' : taken], ...short(tree.number), 0, 0)
      case 'array':
        this.space(tree.gap, 0)
        this.put(0x60, 0, 0, 0, 0, 0, 0, 0)
        this.more.push(tree.rows[0]!.length - 1, ...short(tree.rows.length - 1))
        for (const one of tree.rows.flat()) {
          if ('number' in one) this.more.push(1, ...double(one.number))
          else if ('text' in one) this.more.push(2, ...short(one.text.length), ...letters(one.text))
          else if ('truth' in one) this.more.push(4, one.truth ? 1 : 0, 0, 0, 0, 0, 0, 0, 0)
          else this.more.push(16, one.error, 0, 0, 0, 0, 0, 0, 0)
        }
        return
      case 'sign':
        this.write(tree.inner, value)
        this.space(tree.gap, 0)
        return this.put(tree.token)
      case 'percent':
        this.write(tree.inner, value)
        this.space(tree.gap, 0)
        return this.put(0x14)
      case 'both': {
        // What makes references of references takes them as such.
        const of = tree.token >= 0x0f ? 'R' : value
        this.write(tree.left, of)
        this.write(tree.right, of)
        this.space(tree.gap, 0)
        return this.put(tree.token)
      }
      case 'brackets':
        this.write(tree.inner, taken)
        this.space(tree.gap, 2)
        this.space(tree.closing, 4)
        return this.put(0x15)
      case 'call':
        return this.call(tree, taken)
    }
  }

  private call({ name, args, gap, opening, closing }: Extract<Tree, { is: 'call' }>, taken: Taken): void {
    const plain = name.replace(/^(?:_xlfn\.|_xlws\.)+/i, '')
    const known = plain === name ? functionNamed(name) : undefined
    const spaces = () => {
      const from = this.tokens.length
      this.space(gap, 0)
      this.space(opening, 2)
      this.space(closing, 4)
      return this.tokens.splice(from)
    }
    if (!known) {
      if (args.length > 29) notWritten(name)
      const by = this.links.functionName(isOfAddIn(plain) ? plain.toUpperCase() : nameInFormat(name))
      // Its name is the first of its arguments.
      if ('sheets' in by) this.put(0x39, ...short(by.sheets), ...short(by.name), 0, 0)
      else this.put(0x23, ...short(by.name), 0, 0)
      for (const arg of args) this.write(arg, 'D')
      this.put(...spaces())
      return this.put(0x22 + classOf[taken === 'A' ? 'A' : 'V'], args.length + 1, ...short(255))
    }
    const { id, least, most, takes, result } = known
    if (args.length < least || args.length > most) notWritten(name)
    const takenAs = (index: number) => (takes[index] ?? takes.at(-1) ?? 'V') as Taken
    const before = spaces()
    if (id === 1) this.condition(args, taken, before.length)
    else for (const [index, arg] of args.entries()) this.write(arg, takenAs(index))
    this.put(...before)
    const as = result === 'R' ? (taken === 'D' ? 'R' : taken) : taken === 'A' || result === 'A' ? 'A' : 'V'
    if (least === most) this.put(0x21 + classOf[as], ...short(id))
    else this.put(0x22 + classOf[as], args.length, ...short(id))
  }

  /**
   * A choice by a condition: behind it, and behind each way, how far the next token to be looked at is (§2.5.198.4).
   * @param spaces bytes before the token of the function itself
   */
  private condition(args: readonly Tree[], taken: Taken, spaces: number): void {
    const [condition, yes, no] = args as [Tree, Tree, Tree?]
    const way: Taken = taken === 'A' ? 'A' : taken === 'R' || taken === 'D' ? 'R' : 'V'
    this.write(condition, taken === 'A' ? 'A' : 'V')
    const first = this.tokens.length
    this.put(0x19, 0x02, 0, 0)
    this.write(yes, way)
    const second = this.tokens.length
    this.put(0x19, 0x08, 0, 0)
    this.set(first, this.tokens.length - first - 4)
    if (!no) return this.set(second, spaces + 3)
    this.write(no, way)
    const third = this.tokens.length
    this.put(0x19, 0x08, 0, 0)
    this.set(third, spaces + 3)
    this.set(second, third - second + spaces + 3)
  }
  private set(at: number, distance: number): void {
    const [low, high] = short(distance) as [number, number]
    this.tokens[at + 2] = low
    this.tokens[at + 3] = high
  }
}
