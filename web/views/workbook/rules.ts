// What cells may hold, on this page: what an entry comes to, in words, and limits as somebody types and reads them.
import { toast } from 'sonner'
import { displayOf } from '../../../core/content/display'
import {
  type EntryRule,
  type Judged,
  judge,
  type RuleChoice,
  type RuleCondition,
  type RuleKind,
  type RuleTest,
  type RuleView,
  ruleAt,
  ruleChoices,
  withChoice,
} from '../../../core/content/entry-rules'
import { referencesIn } from '../../../core/content/formula-entry'
import { goingOn, knownEntries } from '../../../core/content/known-entries'
import { type Cell, cellAt, columnName, type MergedArea, type Sheet } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { t } from '../../words/all'
import type { ShownWorkbook } from './still'
import { typedCell } from './typed'

type RuledStore = Pick<ShownWorkbook, 'workbook' | 'result' | 'names'>

/** What the cells of a workbook hold, as the rules of one of its sheets see them. */
export function rulesView(store: RuledStore, home: number): RuleView {
  const { sheets } = store.workbook
  const indexOf = (name: string | null) =>
    name === null ? home : sheets.findIndex((one) => one.name.toLowerCase() === name.toLowerCase())
  return {
    named: (name) => {
      const same = store.names.filter((one) => one.name.toLowerCase() === name.toLowerCase())
      return (same.find((one) => one.sheet === home) ?? same.find((one) => one.sheet === null))?.formula
    },
    sheetOf: (name) => sheets[indexOf(name)],
    cellOf: (name, row, column) => {
      const index = indexOf(name)
      const cell = cellAt(sheets[index], row, column)
      return { cell, value: cell?.formula === undefined ? cell?.value : store.result(index, row, column) }
    },
  }
}

/** So many choices are named where a rule is said. */
const mostNamed = 8

/** What somebody's entry makes of a cell: as its list writes it, where the cell has one. */
export function enteredCell(
  store: RuledStore,
  sheet: number,
  row: number,
  column: number,
  entry: string,
): { cell: Cell | null; rule: EntryRule | undefined; fits: Judged['fits'] } {
  const on = store.workbook.sheets[sheet]
  const cell = typedCell(entry, cellAt(on, row, column), store.workbook, sheet)
  const rule = on && ruleAt(on, row, column)
  // What a formula results in is not known before it is there.
  if (!rule || cell?.formula !== undefined) return { cell, rule, fits: null }
  const text = displayOf(cell ?? undefined, undefined)
  const judged = judge(rule, { row, column }, cell?.value, text, rulesView(store, sheet))
  return {
    cell: judged.fits && judged.as ? withChoice(cell ?? undefined, judged.as) : cell,
    rule,
    fits: judged.fits,
  }
}

/** Puts an entry into a cell, as its list writes it; what its rule has said of it is said. @returns the operation */
export function enter(store: RuledStore, sheet: number, row: number, column: number, entry: string): WorkbookOp {
  const { cell, rule, fits } = enteredCell(store, sheet, row, column, entry)
  if (fits === false && rule?.otherwise === 'told')
    toast(faultWords(rule, ruleChoices(rule, { row, column }, rulesView(store, sheet))), { duration: 8000 })
  return { op: 'cells', sheet, cells: [{ row, column, cell }] }
}

/** So many entries are offered to who types. */
const mostOffered = 6
/** What the column of a cell holds, as long as its rows are the same; a workbook that is closed is not held by it. */
const known = new WeakMap<Sheet['rows'], { row: number; column: number; texts: string[] }>()
/** What somebody may mean who types into a cell: of its list where it has one, else of what its column holds. */
export function entriesGoingOn(
  store: RuledStore,
  at: { sheet: number; row: number; column: number },
  typed: string,
): readonly string[] {
  const sheet = store.workbook.sheets[at.sheet]
  if (!sheet) return []
  const rule = ruleAt(sheet, at.row, at.column)
  const choices = rule?.condition.kind === 'one of' ? ruleChoices(rule, at, rulesView(store, at.sheet)) : null
  if (choices)
    return goingOn(
      choices.map(({ text }) => text),
      typed,
      mostOffered,
    )
  let own = known.get(sheet.rows)
  if (own?.row !== at.row || own.column !== at.column) {
    own = { row: at.row, column: at.column, texts: knownEntries(sheet, at.row, at.column) }
    known.set(sheet.rows, own)
  }
  return goingOn(own.texts, typed, mostOffered)
}

/** How many of the cells that an operation fills hold something else than their rules ask for. */
export function againstRules(store: RuledStore, op: WorkbookOp): number {
  const sheet = op.op === 'cells' ? store.workbook.sheets[op.sheet] : undefined
  if (op.op !== 'cells' || !sheet?.rules) return 0
  const view = { ...rulesView(store, op.sheet), known: new Map() }
  return op.cells.filter(({ row, column, cell }) => {
    const rule = cell?.value === undefined ? undefined : ruleAt(sheet, row, column)
    if (!rule || rule.otherwise === 'taken') return false
    return judge(rule, { row, column }, cell?.value, displayOf(cell ?? undefined, undefined), view).fits === false
  }).length
}
/** What comes into cells in one go is not held back by their rules: how many break them is said. */
export function noticeOf(store: RuledStore, op: WorkbookOp): void {
  const n = againstRules(store, op)
  if (n) toast(t('sheet.came-against-rules', { n }), { duration: 8000 })
}

/** Why an entry is not taken, or only when it is said again; null where nothing is to be said before it is taken. */
export function faultOfEntry(
  store: RuledStore,
  sheet: number,
  row: number,
  column: number,
  entry: string,
): { words: string; again: boolean } | null {
  const { rule, fits } = enteredCell(store, sheet, row, column, entry)
  if (fits !== false || !rule || (rule.otherwise !== 'refused' && rule.otherwise !== 'asked')) return null
  const again = rule.otherwise === 'asked'
  const words = faultWords(rule, ruleChoices(rule, { row, column }, rulesView(store, sheet)))
  return { words: again ? t('sheet.rule-enter-again', { words }) : words, again }
}

/** What is said of an entry that a rule does not ask for: in its own words, where it has some. */
export function faultWords(rule: EntryRule, choices: readonly RuleChoice[] | null): string {
  const { title, text } = rule.fault ?? {}
  if (text) return title ? `${title}: ${text}` : text
  if (title) return title
  return choices?.length ? oneOf(choices.map((one) => one.text)) : ruleSays(rule)
}

const oneOf = (texts: readonly string[]): string =>
  t('sheet.rule-one-of', {
    choices: texts.slice(0, mostNamed).join(', '),
    more: Math.max(0, texts.length - mostNamed),
  })
const isCompared = (
  condition: RuleCondition,
): condition is Extract<RuleCondition, { limits: readonly [string] | readonly [string, string] }> =>
  'limits' in condition

/** What a rule asks for, in a sentence. */
export function ruleSays({ condition, empty }: Pick<EntryRule, 'condition' | 'empty'>): string {
  const wanted = (): string => {
    if (condition.kind === 'one of')
      return 'from' in condition.choices
        ? t('sheet.rule-one-of-cells', { cells: listText(condition.choices.from) })
        : oneOf(condition.choices)
    if (condition.kind === 'formula') return t('sheet.rule-by-formula', { formula: condition.formula })
    if (!isCompared(condition)) return t('sheet.rule-anything')
    const [first, second = ''] = condition.limits.map((limit) => limitText(condition.kind, limit))
    const facts = { test: condition.test.replace(' ', ''), first: first!, second }
    switch (condition.kind) {
      case 'whole number':
        return t('sheet.rule-whole-number', facts)
      case 'number':
        return t('sheet.rule-number', facts)
      case 'date':
        return t('sheet.rule-date', facts)
      case 'time':
        return t('sheet.rule-time', facts)
      case 'length':
        return t('sheet.rule-length', facts)
    }
  }
  return empty || condition.kind === 'anything' ? wanted() : t('sheet.rule-and-not-empty', { words: wanted() })
}

const formats: Partial<Record<RuleKind, string>> = { date: 'yyyy-mm-dd', time: 'hh:mm' }
const isNumber = (formula: string) => /^[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?$/i.test(formula.trim())
/** A limit as it is read: a number as numbers of its kind are, all else as the formula that it is. */
export function limitText(kind: RuleKind, formula: string): string {
  if (!isNumber(formula)) return isReference(formula) ? formula : `=${formula}`
  const format = formats[kind]
  return displayOf({ value: Number(formula), ...(format && { style: { format } }) }, undefined)
}
const isReference = (text: string): boolean => {
  const [only, more] = referencesIn(`=${text}`)
  return !!only && !more && only.from === 1 && only.to === text.length + 1
}
/** A limit as somebody types it. @returns null where it is neither a number, a date, a cell nor a formula */
export function limitFrom(typed: string, store: Pick<ShownWorkbook, 'workbook'>): string | null {
  const text = typed.trim()
  if (text === '') return null
  if (text.startsWith('=')) return text.length > 1 ? text.slice(1) : null
  if (isReference(text)) return text
  const value = typedCell(text, undefined, store.workbook, 0)?.value
  return typeof value === 'number' ? String(value) : null
}

/** Cells of a list as people write them; those that go along with a cell keep their signs. */
export function listText(from: string): string {
  const plain = from.replace(/\$([A-Z]{1,3})\$(\d+)/g, '$1$2')
  return plain.includes('$') || anchored(plain) !== from ? from : plain
}
/** Cells of a list are the same ones for each cell that has it, unless somebody says otherwise. */
export function anchored(from: string): string {
  const [only, more] = referencesIn(`=${from}`)
  if (!only || more || only.from !== 1 || only.to !== from.length + 1 || from.includes('$')) return from
  const cut = from.lastIndexOf('!') + 1
  return (
    from.slice(0, cut) +
    from
      .slice(cut)
      .toUpperCase()
      .replace(/([A-Z]{1,3})(\d+)/g, '$$$1$$$2')
  )
}

const cornerOf = (row: number, column: number) => `${columnName(column)}${row + 1}`
/** Areas as people read them, at most so many. */
export function areasText(areas: readonly MergedArea[], most = 3): string {
  const each = areas.slice(0, most).map(({ top, left, bottom, right }) => {
    if (bottom >= 1_048_575 && top === 0)
      return left === right ? columnName(left) : `${columnName(left)}:${columnName(right)}`
    const first = cornerOf(top, left)
    return top === bottom && left === right ? first : `${first}:${cornerOf(bottom, right)}`
  })
  return each.join(', ') + (areas.length > most ? ' …' : '')
}

/** Whether a test has two limits. */
export const hasTwo = (test: RuleTest): boolean => test === 'between' || test === 'not between'
