// What cells may hold: rules for what is entered into them, as the open formats keep them (ECMA-376 part 1, §18.3.1.32).
// A sheet has any number of them; no cell has two.
import { displayOf } from './display'
import { copyFormula } from './formula'
import { referencesIn } from './formula-entry'
import { movedArea } from './moved-lines'
import { folded } from './sheet-filter'
import { type Cell, type CellValue, isError, type MergedArea, type Sheet } from './workbook'

/** What an entry is to be; `anything` only has a hint. */
export const ruleKinds = ['one of', 'whole number', 'number', 'date', 'time', 'length', 'formula', 'anything'] as const
export type RuleKind = (typeof ruleKinds)[number]
export const ruleTests = ['between', 'not between', 'is', 'is not', 'above', 'at least', 'below', 'at most'] as const
export type RuleTest = (typeof ruleTests)[number]
/** What becomes of an entry that breaks it: it is not taken, or taken when asked again, or taken and told of, or taken. */
export const ruleOutcomes = ['refused', 'asked', 'told', 'taken'] as const
export type RuleOutcome = (typeof ruleOutcomes)[number]

export type RuleCondition =
  | { readonly kind: 'anything' }
  /** @property shown the choices can be opened at the cell */
  | {
      readonly kind: 'one of'
      readonly choices: readonly string[] | { readonly from: string }
      readonly shown: boolean
    }
  /** Limits are formulas, as if they stood in the first cell; the second is there between two. */
  | {
      readonly kind: Exclude<RuleKind, 'one of' | 'formula' | 'anything'>
      readonly test: RuleTest
      readonly limits: readonly [string] | readonly [string, string]
    }
  /** Whatever a formula says is true. It is kept, and not calculated here. */
  | { readonly kind: 'formula'; readonly formula: string }
  /** What a file says that is not known here, as it says it, without its cells. */
  | { readonly kind: 'other'; readonly kept: string }

export interface RuleWords {
  readonly title?: string
  readonly text?: string
}
export interface EntryRule {
  readonly areas: readonly MergedArea[]
  readonly condition: RuleCondition
  /** Nothing at all breaks it, too, otherwise. */
  readonly empty: boolean
  readonly otherwise: RuleOutcome
  /** What is said while a cell of it is chosen. */
  readonly hint?: RuleWords
  /** What is said of an entry that breaks it. */
  readonly fault?: RuleWords
}

/** More of them than the open formats take of a title and a text (ECMA-376 part 1, §18.3.1.32). */
export const longestTitle = 32
export const longestText = 255
/** A list that is written into a rule, with its commas. */
export const longestList = 255

const plainArea = ({ top, left, bottom, right }: MergedArea) => [top, left, bottom, right]
const plainWords = (words: RuleWords | undefined) => [words?.title ?? '', words?.text ?? '']
const plainCondition = (one: RuleCondition): unknown[] => {
  switch (one.kind) {
    case 'anything':
      return [one.kind]
    case 'one of':
      return [one.kind, 'from' in one.choices ? one.choices.from : one.choices, one.shown]
    case 'formula':
      return [one.kind, one.formula]
    case 'other':
      return [one.kind, one.kept]
    default:
      return [one.kind, one.test, one.limits]
  }
}
/** What a rule says, wherever it holds: equal for two that say the same. */
export const saidBy = (rule: EntryRule): string =>
  JSON.stringify([
    plainCondition(rule.condition),
    rule.empty,
    rule.otherwise,
    plainWords(rule.hint),
    plainWords(rule.fault),
  ])
/** The same cells as areas that are parted in one way alone: as wide as can be, then as high, from the top. */
export function bands(areas: readonly MergedArea[]): readonly MergedArea[] {
  if (areas.length < 2) return areas
  const rows = [...new Set(areas.flatMap(({ top, bottom }) => [top, bottom + 1]))].sort((a, b) => a - b)
  const done: MergedArea[] = []
  let open: MergedArea[] = []
  for (const [at, top] of rows.entries()) {
    const bottom = (rows[at + 1] ?? top) - 1
    const spans: { left: number; right: number }[] = []
    for (const { left, right } of areas
      .filter((area) => area.top <= top && area.bottom >= top)
      .sort((a, b) => a.left - b.left)) {
      const last = spans.at(-1)
      if (last && left <= last.right + 1) last.right = Math.max(last.right, right)
      else spans.push({ left, right })
    }
    const next = spans.map(({ left, right }) => {
      const above = open.find((one) => one.left === left && one.right === right)
      return { top: above?.top ?? top, left, bottom, right }
    })
    done.push(...open.filter((one) => !next.some(({ top: from, left }) => from === one.top && left === one.left)))
    open = next
  }
  return done.sort((a, b) => a.top - b.top || a.left - b.left)
}
/** What a rule says, and of which cells: equal for two that are the same. */
export const ruleKey = (rule: EntryRule): string => JSON.stringify([bands(rule.areas).map(plainArea), saidBy(rule)])
/** Whether two sheets have the same rules, in whatever order. */
export function sameRules(a: readonly EntryRule[] | undefined, b: readonly EntryRule[] | undefined): boolean {
  if (a === b) return true
  if ((a?.length ?? 0) !== (b?.length ?? 0)) return false
  const there = (b ?? []).map(ruleKey).sort()
  return (a ?? [])
    .map(ruleKey)
    .sort()
    .every((key, at) => key === there[at])
}

/** The cell that the formulas of a rule are written for: the corner of all its areas. */
export const firstCell = ({ areas }: Pick<EntryRule, 'areas'>): { row: number; column: number } => ({
  row: areas.reduce((row, { top }) => Math.min(row, top), Number.POSITIVE_INFINITY),
  column: areas.reduce((column, { left }) => Math.min(column, left), Number.POSITIVE_INFINITY),
})

/** A rule with each of its formulas rewritten; the same object when none is another. */
export function withRuleFormulas(rule: EntryRule, rewrite: (formula: string) => string): EntryRule {
  const { condition } = rule
  if (condition.kind === 'one of' && 'from' in condition.choices) {
    const from = rewrite(condition.choices.from)
    return from === condition.choices.from ? rule : { ...rule, condition: { ...condition, choices: { from } } }
  }
  if (condition.kind === 'formula') {
    const formula = rewrite(condition.formula)
    return formula === condition.formula ? rule : { ...rule, condition: { ...condition, formula } }
  }
  if (!('limits' in condition)) return rule
  const limits = condition.limits.map(rewrite) as unknown as typeof condition.limits
  return limits.every((limit, at) => limit === condition.limits[at])
    ? rule
    : { ...rule, condition: { ...condition, limits } }
}

/** A rule for other areas: its formulas mean what they meant. */
export function withAreas(rule: EntryRule, areas: readonly MergedArea[]): EntryRule {
  const [was, is] = [firstCell(rule), firstCell({ areas })]
  const [down, right] = [is.row - was.row, is.column - was.column]
  const moved = { ...rule, areas }
  return down || right ? withRuleFormulas(moved, (formula) => copyFormula(formula, down, right)) : moved
}

/** Rules once rows or columns came or went; their formulas are as they were. */
export const movedRules = (
  rules: readonly EntryRule[],
  axis: 'rows' | 'columns',
  at: number,
  count: number,
): EntryRule[] =>
  rules.flatMap((rule) => {
    const areas = rule.areas.flatMap((area) => movedArea(area, axis, at, count) ?? [])
    return areas.length ? [{ ...rule, areas }] : []
  })

/** What of an area is outside another. */
function without(area: MergedArea, hole: MergedArea): MergedArea[] {
  const { top, left, bottom, right } = area
  if (hole.top > bottom || hole.bottom < top || hole.left > right || hole.right < left) return [area]
  const [from, to] = [Math.max(top, hole.top), Math.min(bottom, hole.bottom)]
  return [
    { top, left, bottom: from - 1, right },
    { top: from, left, bottom: to, right: hole.left - 1 },
    { top: from, left: hole.right + 1, bottom: to, right },
    { top: to + 1, left, bottom, right },
  ].filter((part) => part.top <= part.bottom && part.left <= part.right)
}
/** Rules that hold nowhere in some areas. */
export const rulesOutside = (rules: readonly EntryRule[], areas: readonly MergedArea[]): EntryRule[] =>
  rules.flatMap((rule) => {
    const rest = areas.reduce((parts, hole) => parts.flatMap((part) => without(part, hole)), [...rule.areas])
    if (!rest.length) return []
    return rest.length === rule.areas.length && rest.every((part, at) => part === rule.areas[at])
      ? [rule]
      : [withAreas(rule, rest)]
  })
/** Rules with another one in its areas; null takes away those of `areas`. */
export const withRule = (
  rules: readonly EntryRule[] | undefined,
  areas: readonly MergedArea[],
  rule: Omit<EntryRule, 'areas'> | null,
): EntryRule[] => {
  const rest = rulesOutside(rules ?? [], areas)
  if (!rule) return rest
  const own = { ...rule, areas }
  // One that says the same already is of these cells, too.
  const same = rest.findIndex((one) => saidBy(withAreas(own, one.areas)) === saidBy(one))
  const known = rest[same]
  return known ? rest.with(same, withAreas(known, [...known.areas, ...areas])) : [...rest, own]
}

/** The rule of a cell. */
export const ruleAt = ({ rules }: Pick<Sheet, 'rules'>, row: number, column: number): EntryRule | undefined =>
  rules?.find(({ areas }) =>
    areas.some(({ top, left, bottom, right }) => row >= top && row <= bottom && column >= left && column <= right),
  )

/** Cells that a formula refers to, alone: an area, on a sheet of its own where it names one. */
function areaMeant(formula: string, view: RuleView): { sheet: string | null; area: MergedArea } | null {
  const given = formula.trim()
  const text = /^[\p{L}_\\][\p{L}\p{N}_.\\]*$/u.test(given) ? (view.named(given)?.trim() ?? given) : given
  const [only, more] = referencesIn(`=${text}`)
  return only && !more && only.from === 1 && only.to === text.length + 1 ? { sheet: only.sheet, area: only.area } : null
}

/** What other cells hold: formulas with their results. @param sheet null for the rule's own */
export interface RuleView {
  sheetOf(name: string | null): Pick<Sheet, 'rows'> | undefined
  cellOf(sheet: string | null, row: number, column: number): { cell: Cell | undefined; value: CellValue | undefined }
  /** What a name means that a file gives to cells. */
  named(name: string): string | undefined
  /** Lists that were looked up already, while nothing changes: by where they are. */
  readonly known?: Map<unknown, KnownList | null>
}
interface KnownList {
  readonly choices: readonly RuleChoice[]
  /** By their letters, without regard to small and capital ones. */
  readonly byText: ReadonlyMap<string, RuleChoice>
}

/** A rule's formula, as it is meant at one of its cells. */
const formulaAt = (rule: EntryRule, formula: string, { row, column }: { row: number; column: number }): string => {
  const from = firstCell(rule)
  return copyFormula(formula, row - from.row, column - from.column)
}

/** A choice: how it is shown, and what a cell holds that has it. */
export interface RuleChoice {
  readonly text: string
  readonly value: CellValue
  /** Of the cell that it comes of: a day is a number without one. */
  readonly format?: string
}
/** A cell with a choice in it, shown as the list shows it where the cell says nothing else. */
export const withChoice = (before: Cell | undefined, { value, format }: RuleChoice): Cell => {
  const style =
    typeof value === 'number' && format && !before?.style?.format ? { ...before?.style, format } : before?.style
  return style ? { value, style } : { value }
}
/**
 * What may be chosen in a cell.
 * @returns null where the rule has no list, or where what its list is made of is not known here
 */
export function ruleChoices(
  rule: EntryRule,
  at: { row: number; column: number },
  view: RuleView,
): readonly RuleChoice[] | null {
  const { condition } = rule
  if (condition.kind !== 'one of') return null
  const { choices } = condition
  if (!('from' in choices)) return choices.map((text) => ({ text, value: readChoice(text) }))
  const meant = areaMeant(formulaAt(rule, choices.from, at), view)
  const sheet = meant && view.sheetOf(meant.sheet)
  if (!meant || !sheet) return null
  const { top, left, bottom, right } = meant.area
  const found: RuleChoice[] = []
  for (let row = top; row <= Math.min(bottom, sheet.rows.length - 1); row++)
    for (let column = left; column <= Math.min(right, (sheet.rows[row]?.length ?? 0) - 1); column++) {
      const { cell, value } = view.cellOf(meant.sheet, row, column)
      const text = displayOf(cell, cell?.formula === undefined ? undefined : value)
      const format = cell?.style?.format
      if (value !== undefined && text !== '' && !isError(value)) found.push({ text, value, ...(format && { format }) })
    }
  return found
}
function listAt(
  rule: EntryRule,
  choices: readonly string[] | { readonly from: string },
  at: { row: number; column: number },
  view: RuleView,
): KnownList | null {
  const key = 'from' in choices ? formulaAt(rule, choices.from, at) : choices
  const known = view.known?.get(key)
  if (known !== undefined) return known
  const found = ruleChoices(rule, at, view)
  const byText = new Map<string, RuleChoice>()
  // Of two that differ in capitals alone the first is meant.
  for (const one of found ?? []) if (!byText.has(folded(one.text))) byText.set(folded(one.text), one)
  const list = found && { choices: found, byText }
  view.known?.set(key, list)
  return list
}
/** What a choice that is written into a rule is in a cell: digits are a number. */
const readChoice = (text: string): CellValue =>
  /^-?(?:0|[1-9]\d{0,14})(?:\.\d{1,10})?$/.test(text) ? Number(text) : text

/** A limit's value; undefined where it is not known here. */
function limitOf(
  rule: EntryRule,
  formula: string,
  at: { row: number; column: number },
  view: RuleView,
): number | undefined {
  const text = formulaAt(rule, formula, at).trim()
  if (/^[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?$/i.test(text)) return Number(text)
  const meant = areaMeant(text, view)
  if (!meant || meant.area.top !== meant.area.bottom || meant.area.left !== meant.area.right) return undefined
  const { value } = view.cellOf(meant.sheet, meant.area.top, meant.area.left)
  // An empty cell is nothing, as everywhere.
  return typeof value === 'number' ? value : value === undefined ? 0 : undefined
}

/** What an entry comes to. */
export type Judged =
  /** @property as the entry as the list writes it, where that is otherwise */
  | { readonly fits: true; readonly as?: RuleChoice }
  | { readonly fits: false }
  /** What it is held against is not known here. */
  | { readonly fits: null }

/**
 * Whether a value is what a rule asks for.
 * @param value of the cell; undefined for an empty one
 * @param text how the cell shows it
 */
export function judge(
  rule: EntryRule,
  at: { row: number; column: number },
  value: CellValue | undefined,
  text: string,
  view: RuleView,
): Judged {
  const { condition } = rule
  if (condition.kind === 'anything') return { fits: true }
  if (condition.kind === 'formula' || condition.kind === 'other') return { fits: null }
  if (value === undefined || value === '') return { fits: rule.empty }
  if (isError(value)) return { fits: false }
  if (condition.kind === 'one of') {
    const list = listAt(rule, condition.choices, at, view)
    if (!list) return { fits: null }
    const like = list.byText.get(folded(text.trim())) ?? list.choices.find((one) => one.value === value)
    if (!like) return { fits: false }
    return like.value === value ? { fits: true } : { fits: true, as: like }
  }
  let held: number
  if (condition.kind === 'length') held = [...(typeof value === 'string' ? value : text)].length
  else if (typeof value !== 'number') return { fits: false }
  else held = value
  if (condition.kind === 'whole number' && !Number.isInteger(held)) return { fits: false }
  const [low, high = Number.NaN] = condition.limits.map((limit) => limitOf(rule, limit, at, view))
  if (low === undefined || high === undefined) return { fits: null }
  return { fits: holds(condition.test, held, low, high) }
}
function holds(test: RuleTest, value: number, low: number, high: number): boolean {
  switch (test) {
    case 'between':
      return value >= Math.min(low, high) && value <= Math.max(low, high)
    case 'not between':
      return value < Math.min(low, high) || value > Math.max(low, high)
    case 'is':
      return value === low
    case 'is not':
      return value !== low
    case 'above':
      return value > low
    case 'at least':
      return value >= low
    case 'below':
      return value < low
    case 'at most':
      return value <= low
  }
}

/**
 * Entries that are something else than their rules ask for, from the top, and how many are held against nothing, as what
 * they would be held against is not known here.
 * @param most so many are listed
 */
export function cellsAgainst(
  sheet: Sheet,
  rules: readonly EntryRule[],
  view: RuleView,
  most = 1000,
): { against: { row: number; column: number }[]; unchecked: number } {
  let unchecked = 0
  const found: { row: number; column: number }[] = []
  const remembering = { ...view, known: new Map<unknown, KnownList | null>() }
  for (const rule of rules)
    for (const { top, left, bottom, right } of rule.areas)
      for (let row = top; row <= Math.min(bottom, sheet.rows.length - 1); row++)
        for (let column = left; column <= Math.min(right, (sheet.rows[row]?.length ?? 0) - 1); column++) {
          const { cell, value } = view.cellOf(null, row, column)
          if (value === undefined) continue
          const text = displayOf(cell, cell?.formula === undefined ? undefined : value)
          const { fits } = judge(rule, { row, column }, value, text, remembering)
          if (fits === false) found.push({ row, column })
          else if (fits === null) unchecked++
        }
  return { against: found.sort((a, b) => a.row - b.row || a.column - b.column).slice(0, most), unchecked }
}

/** A workbook without its rules, as it was before they were a part of the model. */
export const withoutRules = <T extends { sheets: readonly Sheet[] }>(workbook: T): T => ({
  ...workbook,
  sheets: workbook.sheets.map(({ rules: _, ...sheet }) => sheet),
})
