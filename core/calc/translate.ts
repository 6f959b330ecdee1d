// A formula as files hold it (ECMA-376 part 1, §18.17), in the words of the engine that calculates it: names and
// tables become the cells that they stand for, sheets between two sheets become a list, what was known of other files
// becomes its value. What the engine cannot be told is said to be so, with what it reads all the same.
import { type AstExpression, parseA1Ref, parseStructRef } from '@borgar/fx/xlsx'
import { copyFormula, quotedSheet } from '../content/formula'
import { type CellValue, columnName, isError, largestSheet, type Workbook } from '../content/workbook'
import { arrays, countsShown, forcing, manyAreas, subtotal } from './arguments'
import { cellsIn, making, mostCells, mostOfArray } from './bounds'
import { elementOf, isPlain, literal, plainReference, writtenArea } from './engine-words'
import { type Area, around, dataOf, type FormulaSource, intersection } from './source'
import { calledOf, joined, treeOf, Unsupported, unsupported, withNewerName } from './tree'

export interface Place {
  sheet: number
  row: number
  column: number
}
/** What a formula is translated by. */
export interface Around {
  workbook: Workbook
  source: FormulaSource
  /** Whether the engine has a function of this name. */
  has(name: string): boolean
  /**
   * The result of an expression of the engine, for what a formula points at by calculating; undefined while nothing
   * can be calculated yet.
   */
  result?(expression: string, at: Place): CellValue | undefined
}
export type Translated = {
  /** Cells whose change changes the result. */
  reads: Area[]
  /** It points at what it calculates (INDIRECT, OFFSET), so that it is to be translated again after a change. */
  moving: boolean
} & ({ text: string } | { unsupported: string })

/** Nothing is deeper than this in a formula of a person; a name that leads to itself is. */
const deepest = 60

/**
 * @param array the formula fills an area, or is entered as an array
 */
export function translate(formula: string, at: Place, around: Around, array = false): Translated {
  const translation = new Translation(around, at, array)
  try {
    if (!array && isPlain(formula)) {
      translation.readPlain(formula)
      for (const area of translation.reads) translation.bounded(area)
      return { text: formula, reads: translation.reads, moving: false }
    }
    const text = translation.whole(treeOf(formula))
    return { text, reads: translation.reads, moving: translation.moving }
  } catch (error) {
    if (!(error instanceof Unsupported)) throw error
    return { unsupported: error.message, reads: translation.allReads(formula), moving: false }
  }
}

class Translation {
  readonly reads: Area[] = []
  moving = false
  private depth = 0
  private readonly given = new Map<string, AstExpression>()
  constructor(
    private readonly around: Around,
    private readonly at: Place,
    private readonly array: boolean,
  ) {}

  whole(tree: AstExpression): string {
    if (this.array) return this.write(tree)
    if (tree.type === 'CallExpression' && arrays.has(calledOf(tree))) return `INDEX(${this.write(tree)},1,1)`
    return this.operand(tree, this.array)
  }

  /** Everything that a formula names, whether or not it can be calculated. */
  allReads(formula: string): Area[] {
    const areas: Area[] = []
    const visit = (tree: AstExpression | null): void => {
      if (!tree) return
      if (tree.type === 'ReferenceIdentifier') {
        try {
          areas.push(...(this.areasOf(tree) ?? []))
        } catch (error) {
          if (!(error instanceof Unsupported)) throw error
        }
      }
      if (tree.type === 'LetExpression') for (const { init } of tree.declarations) visit(init)
      if ('body' in tree) visit(tree.body)
      if ('arguments' in tree) for (const one of tree.arguments) visit(one as AstExpression)
    }
    try {
      visit(treeOf(formula))
    } catch (error) {
      if (!(error instanceof Unsupported)) throw error
      this.readPlain(formula)
      areas.push(...this.reads)
    }
    return areas
  }

  readPlain(formula: string): void {
    const reference =
      /\$?[A-Z]{1,3}\$?\d{1,7}(?::\$?[A-Z]{1,3}\$?\d{1,7})?|\$?[A-Z]{1,3}:\$?[A-Z]{1,3}|\$?\d{1,7}:\$?\d{1,7}/g
    for (const [text] of formula.matchAll(reference)) {
      const area = this.areaOf(text)
      if (area) this.reads.push(area)
    }
  }

  private write(tree: AstExpression, forced = this.array): string {
    if (++this.depth > deepest * 8) return unsupported('…')
    try {
      return this.written(tree, forced)
    } finally {
      this.depth--
    }
  }

  private written(tree: AstExpression, forced: boolean): string {
    switch (tree.type) {
      case 'Literal':
        return literal(tree.value)
      case 'ErrorLiteral':
        return tree.value
      case 'ReferenceIdentifier':
        return this.reference(tree.value, tree.kind, forced)
      case 'ArrayExpression':
        return `{${tree.elements
          .map((row) =>
            row
              .map((element) => {
                if (element.type === 'Literal') return elementOf(element.value)
                return element.type === 'ErrorLiteral' ? element.value : unsupported('{ }')
              })
              .join(','),
          )
          .join(';')}}`
      case 'UnaryExpression': {
        const [inner] = tree.arguments as [AstExpression]
        if (tree.operator === '%') return `(${this.operand(inner, forced)}/100)`
        if (tree.operator === '@') return this.operand(inner, false)
        if (tree.operator === '#') return unsupported('#')
        return `${tree.operator}${this.operand(inner, forced, true)}`
      }
      case 'BinaryExpression': {
        const [left, right] = tree.arguments as [AstExpression, AstExpression]
        if (tree.operator === ' ') {
          const [a, b] = [this.areaOfTree(left), this.areaOfTree(right)]
          const both = a && b && intersection(a, b)
          if (!a || !b) return unsupported('␣')
          if (!both) return '#NULL!'
          return this.area(both)
        }
        if (tree.operator === ':') {
          if (left.type === 'ErrorLiteral' || right.type === 'ErrorLiteral') return '#REF!'
          const [a, b] = [this.areaOfTree(left), this.areaOfTree(right)]
          if (!a || !b || a.sheet !== b.sheet) return unsupported(':')
          return this.area(around(a, b))
        }
        if (tree.operator === ',') return unsupported(',')
        if (tree.operator === '&')
          return `JOINED(${joined(tree)
            .map((part) => this.operand(part, forced))
            .join(',')})`
        return `${this.operand(left, forced, true)}${tree.operator}${this.operand(right, forced, true)}`
      }
      case 'CallExpression':
        return this.call(calledOf(tree), tree.arguments, forced)
      case 'LetExpression': {
        const before = new Map(this.given)
        for (const { id, init } of tree.declarations) {
          if (!init) return unsupported('LET')
          this.given.set(id.name.toLowerCase(), this.filledIn(init))
        }
        const text = tree.body ? this.operand(tree.body, forced, true) : unsupported('LET')
        this.given.clear()
        for (const [name, value] of before) this.given.set(name, value)
        return text
      }
      default:
        return unsupported('LAMBDA')
    }
  }

  /** A parameter's expression with those before it put in. */
  private filledIn(tree: AstExpression): AstExpression {
    if (tree.type === 'ReferenceIdentifier' && tree.kind === 'name')
      return this.given.get(tree.value.toLowerCase()) ?? tree
    if ('arguments' in tree && Array.isArray(tree.arguments))
      return {
        ...tree,
        arguments: tree.arguments.map((one) => (one ? this.filledIn(one as AstExpression) : one)),
      } as AstExpression
    return tree
  }

  /** An operand: of a range outside arrays, the cell in this row or column (§18.17.2.6, implicit intersection). */
  private operand(tree: AstExpression, forced: boolean, part = false): string {
    const text = this.operandText(tree, forced)
    const several =
      (tree.type === 'BinaryExpression' && !' :&'.includes(tree.operator)) ||
      (tree.type === 'UnaryExpression' && tree.operator !== '%')
    return part && several ? `(${text})` : text
  }
  private operandText(tree: AstExpression, forced: boolean): string {
    if (!forced) {
      const area = this.areaOfTree(tree)
      if (area && (area.top !== area.bottom || area.left !== area.right)) {
        const { row, column } = this.at
        if (area.left === area.right && row >= area.top && row <= area.bottom)
          return this.area({ ...area, top: row, bottom: row })
        if (area.top === area.bottom && column >= area.left && column <= area.right)
          return this.area({ ...area, left: column, right: column })
        this.reads.push(area)
        return '#VALUE!'
      }
    }
    return this.write(tree, forced)
  }

  /** @throws Unsupported for an area that is too large */
  bounded(area: Area): Area {
    return cellsIn(area, this.around.workbook) > mostCells ? unsupported('…') : area
  }
  private area(area: Area): string {
    this.reads.push(this.bounded(area))
    return writtenArea(area, this.at.sheet, this.around.workbook)
  }

  private sheetOf(name: string): number {
    const wanted = name.toLowerCase()
    return this.around.workbook.sheets.findIndex((sheet) => sheet.name.toLowerCase() === wanted)
  }

  /** The area that a reference means in this workbook; null where it means none, or more than one. */
  private areaOf(text: string): Area | null {
    const found = parseA1Ref(text, { allowNamed: false, allowTernary: true })
    if (!found || !('range' in found) || !found.range) return null
    if ('workbookName' in found && found.workbookName) return null
    const named = 'sheetName' in found ? (found.sheetName as string | undefined) : undefined
    const sheet = named ? this.sheetOf(named) : this.at.sheet
    if (sheet < 0) return null
    const { top, left, bottom, right } = found.range
    return {
      sheet,
      top: Math.min(top ?? 0, bottom ?? largestSheet.rows - 1),
      left: Math.min(left ?? 0, right ?? largestSheet.columns - 1),
      bottom: Math.max(top ?? 0, bottom ?? largestSheet.rows - 1),
      right: Math.max(left ?? 0, right ?? largestSheet.columns - 1),
    }
  }
  private areaOfTree(tree: AstExpression): Area | null {
    if (tree.type !== 'ReferenceIdentifier') return null
    if (tree.kind === 'range' || tree.kind === 'beam') return this.areaOf(tree.value)
    if (tree.kind === 'table') return this.areaOfTable(tree.value)
    const given = this.given.get(tree.value.toLowerCase())
    if (given) return this.areaOfTree(given)
    const meant = this.named(tree.value)
    if (meant === null) return null
    const inner = treeOf(meant)
    return inner.type === 'ReferenceIdentifier' && inner.kind !== 'name' ? this.areaOfTree(inner) : null
  }

  private reference(text: string, kind: 'name' | 'range' | 'beam' | 'table', forced: boolean): string {
    if (kind === 'name') return this.name(text, forced)
    if (kind === 'table') {
      const area = this.areaOfTable(text)
      return area ? this.area(area) : '#REF!'
    }
    const area = this.areaOf(text)
    if (area) {
      this.reads.push(this.bounded(area))
      return plainReference.test(text) ? text : writtenArea(area, this.at.sheet, this.around.workbook)
    }
    if (/\[/.test(text)) return this.elsewhere(text)
    if (/:.*!/.test(text)) return unsupported(text)
    return '#REF!'
  }

  private named(text: string): string | null {
    const bang = text.lastIndexOf('!')
    const plain = (bang < 0 ? text : text.slice(bang + 1)).toLowerCase()
    const scope =
      bang < 0 ? this.at.sheet : this.sheetOf(text.slice(0, bang).replace(/^'|'$/g, '').replaceAll("''", "'"))
    const own = this.around.source.names.filter(({ name }) => name.toLowerCase() === plain)
    const found = own.find(({ sheet }) => sheet === scope) ?? own.find(({ sheet }) => sheet === null)
    if (!found) return null
    return copyFormula(found.formula, this.at.row, this.at.column)
  }
  private name(text: string, forced: boolean): string {
    const given = this.given.get(text.toLowerCase())
    if (given) return `(${this.write(given, forced)})`
    const meant = this.named(text)
    if (meant === null) {
      const table = this.around.source.tables.find(({ name }) => name.toLowerCase() === text.toLowerCase())
      if (table) return this.area(dataOf(table))
      if (/\[/.test(text)) return unsupported(text)
      return '#NAME?'
    }
    const tree = treeOf(meant)
    const inner = this.write(tree, forced)
    return tree.type === 'ReferenceIdentifier' || tree.type === 'Literal' ? inner : `(${inner})`
  }

  private areaOfTable(text: string): Area | null {
    const found = parseStructRef(text)
    if (!found) return unsupported(text)
    const { row, column, sheet: home } = this.at
    const { tables } = this.around.source
    const table = found.table
      ? tables.find(({ name }) => name.toLowerCase() === found.table!.toLowerCase())
      : tables.find(
          ({ sheet, top, left, bottom, right }) =>
            sheet === home && row >= top && row <= bottom && column >= left && column <= right,
        )
    if (!table) return null
    const body = dataOf(table)
    const sections = (found.sections ?? []).map((section) => section.toLowerCase())
    let { top, bottom } = body
    if (sections.includes('all')) [top, bottom] = [table.top, table.bottom]
    else if (sections.includes('this row')) {
      if (row < body.top || row > body.bottom) return null
      top = row
      bottom = row
    } else if (sections.length) {
      const rows = sections.map((section) =>
        section === 'headers'
          ? table.headings
            ? [table.top, table.top]
            : null
          : section === 'totals'
            ? table.totals
              ? [table.bottom, table.bottom]
              : null
            : [body.top, body.bottom],
      )
      const there = rows.filter((one) => one !== null) as [number, number][]
      if (!there.length) return null
      top = Math.min(...there.map(([first]) => first))
      bottom = Math.max(...there.map(([, last]) => last))
    }
    let { left, right } = table
    if (found.columns?.length) {
      const places = found.columns.map((name) =>
        table.columns.findIndex((column) => column.toLowerCase() === name.toLowerCase()),
      )
      if (places.some((place) => place < 0)) return null
      left = table.left + Math.min(...places)
      right = table.left + Math.max(...places)
    }
    return { sheet: table.sheet, top, left, bottom, right }
  }

  /** What another file held when this one was written. */
  private elsewhere(text: string): string {
    const found = /^'?\[(\d+)\]([^!]*?)'?!(.+)$/.exec(text)
    const cells =
      found && this.around.source.others[Number(found[1]) - 1]?.get(found[2]!.replaceAll("''", "'").toLowerCase())
    const area = found && this.areaOf(found[3]!)
    if (!cells || !area) return unsupported(text)
    const size = (area.bottom - area.top + 1) * (area.right - area.left + 1)
    if (size > 2000) return unsupported(text)
    const value = (row: number, column: number): string => {
      const one = cells.get(row * largestSheet.columns + column)
      if (one === undefined) return size === 1 ? '0' : '""'
      return size > 1 ? elementOf(one) : literal(one)
    }
    if (size === 1) return value(area.top, area.left)
    const rows: string[] = []
    for (let row = area.top; row <= area.bottom; row++) {
      const line: string[] = []
      for (let column = area.left; column <= area.right; column++) line.push(value(row, column))
      rows.push(line.join(','))
    }
    return `{${rows.join(';')}}`
  }

  /** The areas that one argument stands for: sheets between two sheets, or a list of areas in parentheses. */
  private areasOf(tree: AstExpression): Area[] | null {
    if (tree.type === 'BinaryExpression' && tree.operator === ',') {
      const [left, right] = (tree.arguments as [AstExpression, AstExpression]).map((one) => this.areasOf(one))
      return left && right ? [...left, ...right] : null
    }
    if (tree.type !== 'ReferenceIdentifier') return null
    const through = /^'?([^'![\]]+):([^'!]+)'?!(.+)$/.exec(tree.value)
    if (through && (tree.kind === 'range' || tree.kind === 'beam')) {
      const [first, last] = [this.sheetOf(through[1]!), this.sheetOf(through[2]!)].sort((a, b) => a - b) as [
        number,
        number,
      ]
      const area = this.areaOf(through[3]!)
      if (!area || first < 0) return null
      return Array.from({ length: last - first + 1 }, (_, index) => ({ ...area, sheet: first + index }))
    }
    if (tree.kind === 'name' && !this.given.has(tree.value.toLowerCase())) {
      const meant = this.named(tree.value)
      if (meant !== null) {
        const inner = treeOf(meant)
        if (inner.type === 'ReferenceIdentifier' && inner.kind === 'name') return null
        return this.areasOf(inner)
      }
    }
    const area = this.areaOfTree(tree)
    return area && [area]
  }

  private call(called: string, given: (AstExpression | null)[], forced: boolean): string {
    const [name, args] = withNewerName(called, given as AstExpression[])
    switch (name) {
      case 'TRUE':
      case 'FALSE':
        return `${name}()`
      case 'INDIRECT':
        return this.indirect(args)
      case 'OFFSET':
        return this.offset(args)
      case 'CELL':
        return this.factOfCell(args)
      case 'AREAS': {
        const areas = args[0] && this.areasOf(args[0])
        return areas ? String(areas.length) : '#REF!'
      }
      case 'SINGLE':
        return this.operand(args[0]!, false)
      case 'ANCHORARRAY':
        return unsupported(name)
    }
    if (!this.around.has(name)) return unsupported(name)
    if (making.has(name)) {
      const sizes = args.slice(0, 2).map((arg) => (arg?.type === 'Literal' ? Number(arg.value) : 1))
      const [height = 1, width = name === 'MUNIT' ? height : 1] = sizes
      if (height * width > mostOfArray) return unsupported(name)
    }
    if (arrays.has(name) || forced || forcing.has(name))
      for (const arg of args) {
        const area = arg && this.areaOfTree(arg)
        if (area && cellsIn(area, this.around.workbook) > mostOfArray) return unsupported(name)
      }
    if ((name === 'SUMIF' || name === 'AVERAGEIF') && args[2]) {
      // What is added up is as large as what is looked at, wherever it was said to end (§18.17.7.324).
      const [looked, summed] = [args[0] && this.areaOfTree(args[0]), this.areaOfTree(args[2])]
      if (looked && summed) {
        const bottom = Math.min(largestSheet.rows - 1, summed.top + looked.bottom - looked.top)
        const right = Math.min(largestSheet.columns - 1, summed.left + looked.right - looked.left)
        return `${name}(${this.area(looked)},${this.write(args[1]!, forced)},${this.area({ ...summed, bottom, right })})`
      }
    }
    const inside = forced || forcing.has(name)
    const written = args.flatMap((arg) => {
      if (!arg) return ['']
      if (arg.type === 'BinaryExpression' && arg.operator === ',' && !manyAreas.has(name)) return unsupported(',')
      const areas = manyAreas.has(name) ? this.areasOf(arg) : null
      if (areas && areas.length > 1) return areas.map((area) => this.area(area))
      const one = countsShown.has(name) ? this.areaOfTree(arg) : null
      if (one && one.top === one.bottom && one.left === one.right) {
        // The engine does not tell a function which single cell it was given.
        const { formula } = this.around.workbook.sheets[one.sheet]!.rows[one.top]?.[one.left] ?? {}
        if (formula && subtotal.test(formula)) {
          this.reads.push(one)
          this.moving = true
          return []
        }
      }
      return [this.write(arg, inside)]
    })
    if (countsShown.has(name) && written.length < args.length && written.length < 2) written.push('{""}')
    const text = `${name}(${written.join(',')})`
    return forcing.has(name) && !forced ? `ARRAYFORMULA(${text})` : text
  }

  /** A number that is calculated now; null where it is none. */
  private numberOf(tree: AstExpression | undefined, otherwise: number | null): number | null {
    if (!tree) return otherwise
    if (tree.type === 'Literal' && typeof tree.value === 'number') return tree.value
    if (
      tree.type === 'UnaryExpression' &&
      tree.operator === '-' &&
      tree.arguments[0]?.type === 'Literal' &&
      typeof tree.arguments[0].value === 'number'
    )
      return -tree.arguments[0].value
    this.moving = true
    const value = this.around.result?.(this.operand(tree, false), this.at)
    return typeof value === 'number' ? value : typeof value === 'boolean' ? Number(value) : null
  }
  private offset(args: (AstExpression | undefined)[]): string {
    const from = args[0] && this.areaOfTree(args[0])
    if (!from) return unsupported('OFFSET')
    this.reads.push(from)
    const rows = this.numberOf(args[1] ?? undefined, 0)
    const columns = this.numberOf(args[2] ?? undefined, 0)
    const high = this.numberOf(args[3] ?? undefined, from.bottom - from.top + 1)
    const wide = this.numberOf(args[4] ?? undefined, from.right - from.left + 1)
    if (rows === null || columns === null || high === null || wide === null) return '#VALUE!'
    const top = from.top + Math.trunc(rows) + (high < 0 ? Math.trunc(high) + 1 : 0)
    const left = from.left + Math.trunc(columns) + (wide < 0 ? Math.trunc(wide) + 1 : 0)
    const area = {
      sheet: from.sheet,
      top,
      left,
      bottom: top + Math.abs(Math.trunc(high)) - 1,
      right: left + Math.abs(Math.trunc(wide)) - 1,
    }
    return this.pointedAt(area)
  }
  private pointedAt(area: Area): string {
    const { top, left, bottom, right } = area
    if (
      top < 0 ||
      left < 0 ||
      bottom >= largestSheet.rows ||
      right >= largestSheet.columns ||
      bottom < top ||
      right < left
    )
      return '#REF!'
    if (
      top === this.at.row &&
      top === bottom &&
      left === this.at.column &&
      left === right &&
      area.sheet === this.at.sheet
    )
      return unsupported('…')
    return this.area(area)
  }
  private indirect(args: (AstExpression | undefined)[]): string {
    const [first, second] = args
    if (!first) return '#VALUE!'
    let text: CellValue | undefined
    if (first.type === 'Literal') text = first.value
    else {
      this.moving = true
      text = this.around.result?.(this.operand(first, false), this.at)
    }
    if (isError(text)) return text.error
    if (typeof text !== 'string' || !text.trim()) return '#REF!'
    if (second && !(second.type === 'Literal' && second.value !== false && second.value !== 0))
      if (!(second.type === 'CallExpression' && second.callee.name.toUpperCase() === 'TRUE'))
        return unsupported('INDIRECT')
    let tree: AstExpression
    try {
      tree = treeOf(text.trim())
    } catch (error) {
      if (error instanceof Unsupported) return '#REF!'
      throw error
    }
    if (tree.type !== 'ReferenceIdentifier') return '#REF!'
    const area = this.areaOfTree(tree)
    return area ? this.pointedAt(area) : '#REF!'
  }

  /** CELL, for what can be told of a cell without its look (OpenFormula 1.2 §6.13.3). */
  private factOfCell(args: AstExpression[]): string {
    const [what, of] = args
    if (what?.type !== 'Literal' || typeof what.value !== 'string') return unsupported('CELL')
    const area = of ? this.areaOfTree(of) : null
    if (!area) return unsupported('CELL')
    switch (what.value.toLowerCase()) {
      case 'row':
        return String(area.top + 1)
      case 'col':
        return String(area.left + 1)
      case 'address':
        return `"${area.sheet === this.at.sheet ? '' : `${quotedSheet(this.around.workbook.sheets[area.sheet]!.name)}!`}$${columnName(area.left)}$${area.top + 1}"`
      case 'contents':
        return this.area({ ...area, bottom: area.top, right: area.left })
      case 'type': {
        const cell = this.area({ ...area, bottom: area.top, right: area.left })
        return `IF(ISBLANK(${cell}),"b",IF(ISTEXT(${cell}),"l","v"))`
      }
      default:
        return unsupported('CELL')
    }
  }
}
