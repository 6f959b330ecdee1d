// Rules for entries in the open standard (ISO/IEC 26300-1 §9.4.4 to §9.4.8, conditions by §19.604): said once for a workbook,
// and named by each cell that has one. Their formulas are as if they stood in a cell that the rule names.
import {
  type EntryRule,
  firstCell,
  type RuleCondition,
  type RuleOutcome,
  type RuleTest,
  type RuleWords,
  ruleKey,
  rulesOutside,
  saidBy,
  withAreas,
} from '../../content/entry-rules'
import { columnName, columnNumber, type MergedArea, type Sheet } from '../../content/workbook'
import { emptyTag, openTag } from '../odf/new-styles'
import type { Splices } from '../opc/spans'
import { child, elements, escapeText, textOf, type XmlElement } from '../opc/xml'
import { NotPatched } from '../refusals'
import { comparisons } from './filter'
import { formulaRead, formulaWritten, NoCounterpart } from './formula'

/** A rule as a file says it: of the one cell that its formulas are written for. */
export interface NamedRule {
  name: string
  rule: EntryRule
  element: XmlElement
}

const tests: Record<string, RuleTest> = comparisons
const signOf = new Map(Object.entries(tests).map(([sign, test]) => [test, sign]))
const kinds = {
  'whole-number': 'whole number',
  'decimal-number': 'number',
  date: 'date',
  time: 'time',
} as const
type Compared = (typeof kinds)[keyof typeof kinds] | 'length'
const wordOf = new Map<Compared, string>(Object.entries(kinds).map(([word, kind]) => [kind, word]))
const outcomes: Record<string, RuleOutcome> = { stop: 'refused', warning: 'asked', information: 'told' }
const typeOf = new Map(Object.entries(outcomes).map(([type, outcome]) => [outcome, type]))

/** The rules of a workbook, by their names. */
export function rulesNamed(body: XmlElement): Map<string, NamedRule> {
  const found = new Map<string, NamedRule>()
  for (const element of elements(child(body, 'table:content-validations'), 'table:content-validation')) {
    const name = element.attributes['table:name'] ?? ''
    if (name && !found.has(name)) found.set(name, { name, rule: read(element), element })
  }
  return found
}

function read(element: XmlElement): EntryRule {
  const { attributes } = element
  const [, column = 'A', row = '1'] =
    /\.\$?([A-Z]{1,3})\$?(\d{1,7})$/.exec(attributes['table:base-cell-address'] ?? '') ?? []
  const place = { row: Number(row) - 1, column: columnNumber(column) }
  const text = attributes['table:condition'] ?? ''
  const help = child(element, 'table:help-message')
  const error = child(element, 'table:error-message')
  const isShown = (message: XmlElement | undefined) => message?.attributes['table:display'] === 'true'
  const hint = isShown(help) ? wordsIn(help) : undefined
  const fault = wordsIn(error)
  return {
    areas: [{ top: place.row, left: place.column, bottom: place.row, right: place.column }],
    condition: conditionIn(text, attributes['table:display-list'] !== 'none') ?? { kind: 'other', kept: text },
    empty: attributes['table:allow-empty-cell'] !== 'false',
    otherwise: isShown(error) ? (outcomes[error!.attributes['table:message-type'] ?? 'stop'] ?? 'refused') : 'taken',
    ...(hint && { hint }),
    ...(fault && { fault }),
  }
}
function wordsIn(message: XmlElement | undefined): RuleWords | undefined {
  const title = message?.attributes['table:title']
  const text = [...elements(message, 'text:p')].map(textOf).join('\n')
  return title || text ? { ...(title && { title }), ...(text && { text }) } : undefined
}

/** @returns null for one that is not known here */
function conditionIn(said: string, shown: boolean): RuleCondition | null {
  const text = said.trim().replace(/^(?:of|oooc):/, '')
  if (text === '') return { kind: 'anything' }
  try {
    const list = insideOf(text, 'cell-content-is-in-list')
    if (list) {
      const choices = list.map((one) => /^"((?:[^"]|"")*)"$/s.exec(one)?.[1]?.replaceAll('""', '"'))
      if (choices.every((one) => one !== undefined)) return { kind: 'one of', choices, shown }
      return list.length === 1 ? { kind: 'one of', choices: { from: formulaIn(list[0]!) }, shown } : null
    }
    const formula = insideOf(text, 'is-true-formula', 'whole')
    if (formula) return { kind: 'formula', formula: formulaIn(formula[0]!) }
    const length = /^cell-content-text-length([\s\S]*)$/.exec(text)?.[1]
    if (length !== undefined) return compared('length', length.startsWith('(') ? `content${length}` : length.slice(1))
    const typed = /^cell-content-is-(whole-number|decimal-number|date|time)\(\)\s+and\s+cell-([\s\S]+)$/.exec(text)
    return typed && compared(kinds[typed[1] as keyof typeof kinds], typed[2]!.replace(/^content-/, ''))
  } catch (error) {
    if (error instanceof NoCounterpart) return null
    throw error
  }
}
/** What is behind the kind: `content()>5`, `is-between(1,5)`. */
function compared(kind: Compared, text: string): RuleCondition | null {
  const one = /^content\(\)\s*(<=|>=|!=|[<>=])([\s\S]+)$/.exec(text)
  if (one) return { kind, test: tests[one[1]!]!, limits: [formulaIn(one[2]!)] }
  for (const [word, test] of [
    ['is-between', 'between'],
    ['is-not-between', 'not between'],
  ] as const) {
    const [first, second, more] = insideOf(text, word) ?? []
    if (first && second && !more) return { kind, test, limits: [formulaIn(first), formulaIn(second)] }
  }
  return null
}
const formulaIn = (text: string): string => formulaRead(`of:=${text.trim()}`)
/**
 * What stands between the brackets of a call that is all of a text, part by part.
 * @param as `whole` for one part, whatever is in it
 */
function insideOf(text: string, name: string, as?: 'whole'): string[] | null {
  if (!text.startsWith(`${name}(`) || !text.endsWith(')')) return null
  const inside = text.slice(name.length + 1, -1)
  if (as) return [inside]
  const parts = ['']
  let depth = 0
  for (const [piece] of inside.matchAll(/"(?:[^"]|"")*"|\[(?:'(?:[^']|'')*'|[^\]'])*\]|[\s\S]/gu)) {
    if (piece === '(' || piece === '{') depth++
    if (piece === ')' || piece === '}') depth--
    if (depth === 0 && (piece === ',' || piece === ';')) parts.push('')
    else parts[parts.length - 1] += piece
  }
  return parts.map((one) => one.trim())
}

/** Gathers the cells of each rule, row by row. */
export class RuleCells {
  private readonly done = new Map<string, MergedArea[]>()
  /** Those that end with the row before. */
  private open = new Map<string, { area: MergedArea; name: string }>()
  private line: { name: string; left: number; right: number }[] = []

  add(name: string, from: number, count: number): void {
    const last = this.line.at(-1)
    if (last?.name === name && last.right === from - 1) last.right += count
    else this.line.push({ name, left: from, right: from + count - 1 })
  }
  /** A row, or so many that are alike, is over. */
  endRows(from: number, count: number): void {
    const next = new Map<string, { area: MergedArea; name: string }>()
    for (const { name, left, right } of this.line) {
      const key = `${left} ${right} ${name}`
      const above = this.open.get(key)
      if (above?.area.bottom === from - 1) {
        const area = { ...above.area, bottom: from + count - 1 }
        this.done.get(name)!.splice(this.done.get(name)!.indexOf(above.area), 1, area)
        next.set(key, { area, name })
      } else {
        const area = { top: from, left, bottom: from + count - 1, right }
        if (!this.done.get(name)?.push(area)) this.done.set(name, [area])
        next.set(key, { area, name })
      }
    }
    this.open = next
    this.line = []
  }
  /** @param named those of the workbook */
  rules(named: ReadonlyMap<string, NamedRule>): EntryRule[] {
    return [...this.done].flatMap(([name, areas]) => {
      const found = named.get(name)
      return found ? [withAreas(found.rule, areas)] : []
    })
  }
}

/** What a condition is said as. @throws NoCounterpart where there is none for it */
function conditionText(condition: RuleCondition): string {
  const formula = (text: string) => formulaWritten(text).slice('of:='.length)
  switch (condition.kind) {
    case 'anything':
      return ''
    case 'one of':
      return `of:cell-content-is-in-list(${
        'from' in condition.choices
          ? formula(condition.choices.from)
          : condition.choices.map((one) => `"${one.replaceAll('"', '""')}"`).join(';')
      })`
    case 'formula':
      return `of:is-true-formula(${formula(condition.formula)})`
    case 'other':
      throw new NoCounterpart()
    default: {
      const { kind, test } = condition
      const [first, second] = condition.limits.map(formula)
      const two = test === 'between' || test === 'not between'
      const what = two ? `is-${test.replace(' ', '-')}(${first},${second})` : `${signOf.get(test)}${first}`
      if (kind === 'length') return `of:cell-content-text-length${two ? `-${what}` : `()${what}`}`
      return `of:cell-content-is-${wordOf.get(kind)}() and cell-content${two ? `-${what}` : `()${what}`}`
    }
  }
}
const messageXml = (name: string, words: RuleWords | undefined, attributes: Record<string, string>): string => {
  const all = { ...(words?.title !== undefined && { 'table:title': words.title }), ...attributes }
  const text = (words?.text ?? '')
    .split('\n')
    .map((line) => `<text:p>${escapeText(line)}</text:p>`)
    .join('')
  return words?.text ? `${openTag(name, all)}${text}</${name}>` : emptyTag(name, all)
}
/** @returns null for one that the standard has no place for */
function ruleXml(name: string, rule: EntryRule, sheet: string): string | null {
  const { row, column } = firstCell(rule)
  const { condition, hint, fault, otherwise } = rule
  let said: string
  try {
    said = conditionText(condition)
  } catch (error) {
    if (error instanceof NoCounterpart) return null
    throw error
  }
  const type = typeOf.get(otherwise)
  const messages = [
    hint ? messageXml('table:help-message', hint, { 'table:display': 'true' }) : '',
    fault || type
      ? messageXml('table:error-message', fault, {
          ...(type && { 'table:message-type': type }),
          'table:display': String(type !== undefined),
        })
      : '',
  ].join('')
  const attributes = {
    'table:name': name,
    ...(said && { 'table:condition': said }),
    'table:allow-empty-cell': String(rule.empty),
    ...(condition.kind === 'one of' && { 'table:display-list': condition.shown ? 'unsorted' : 'none' }),
    'table:base-cell-address': `$'${sheet.replaceAll("'", "''")}'.$${columnName(column)}$${row + 1}`,
  }
  return messages
    ? `${openTag('table:content-validation', attributes)}${messages}</table:content-validation>`
    : emptyTag('table:content-validation', attributes)
}

/** The rules of sheets with the names that their cells have them by. */
export class RuleNames {
  /** What is said beside those of the file. */
  fresh = ''
  private readonly names = new Map<string, string | null>()
  private readonly taken: Set<string>
  private readonly file: readonly NamedRule[]

  constructor(file: ReadonlyMap<string, NamedRule> = new Map()) {
    this.file = [...file.values()]
    this.taken = new Set(file.keys())
  }
  /** @returns null for one that the standard has no place for */
  nameOf(rule: EntryRule, sheet: string): string | null {
    const key = `${sheet} ${ruleKey(rule)}`
    const known = this.names.get(key)
    if (known !== undefined) return known
    // Said of the cell that the file's own is said of, it says the same.
    const same = this.file.find((one) => saidBy(withAreas(rule, one.rule.areas)) === saidBy(one.rule))
    let name = same?.name ?? null
    if (!same) {
      let fresh = 'Rule'
      for (let number = 2; this.taken.has(fresh); number++) fresh = `Rule ${number}`
      const xml = ruleXml(fresh, rule, sheet)
      if (xml !== null) {
        this.taken.add(fresh)
        this.fresh += xml
        name = fresh
      }
    }
    this.names.set(key, name)
    return name
  }
}

/** Columns of a row that have a rule. */
export interface RuleSpan {
  left: number
  right: number
  name: string
}
/** Where the rules of a sheet are, by their names. */
export class PlacedRules {
  private readonly areas: (MergedArea & { name: string })[]
  /** Rows at which other columns have rules than in the row before, in order. */
  readonly breaks: readonly number[]

  constructor({ name, rules = [] }: Pick<Sheet, 'name' | 'rules'>, names: RuleNames) {
    this.areas = rules.flatMap((rule) => {
      const own = names.nameOf(rule, name)
      return own === null ? [] : rule.areas.map((area) => ({ ...area, name: own }))
    })
    this.breaks = [...new Set(this.areas.flatMap(({ top, bottom }) => [top, bottom + 1]))].sort((a, b) => a - b)
  }
  get names(): string[] {
    return this.areas.map(({ name }) => name)
  }
  /** From the left. */
  in(row: number): RuleSpan[] {
    return this.areas
      .filter(({ top, bottom }) => row >= top && row <= bottom)
      .map(({ left, right, name }) => ({ left, right, name }))
      .sort((a, b) => a.left - b.left)
  }
  at(row: number, column: number): string | undefined {
    return this.areas.find(
      ({ top, left, bottom, right }) => row >= top && row <= bottom && column >= left && column <= right,
    )?.name
  }
  /** Areas that have a rule here that they do not have there. */
  notIn(others: PlacedRules): MergedArea[] {
    return this.areas.flatMap((area) => {
      const there = others.areas.filter(({ name }) => name === area.name)
      const { name: _, ...bare } = area
      const whole: EntryRule = { areas: [bare], condition: { kind: 'anything' }, empty: true, otherwise: 'taken' }
      return rulesOutside([whole], there).flatMap(({ areas }) => areas)
    })
  }
}

/** What stands before the sheets in a body (§9.1.1), behind the rules. */
const behindRules = /^table:(?:label-ranges|table)$/
export const rulesXml = (rules: string): string =>
  rules && `<table:content-validations>${rules}</table:content-validations>`

/**
 * Says the rules that came in the file, and those no more that no cell has.
 * @param before the names that cells had @param now those that they have
 */
export function patchNamedRules(
  body: XmlElement,
  splices: Splices,
  names: RuleNames,
  before: ReadonlySet<string>,
  now: ReadonlySet<string>,
): void {
  const list = child(body, 'table:content-validations')
  const all = [...elements(list)]
  const gone = all.filter(({ attributes }) => {
    const name = attributes['table:name'] ?? ''
    return before.has(name) && !now.has(name)
  })
  if (list && gone.length === all.length && all.length && !names.fresh) {
    splices.replace(list.at!.start, list.at!.end, '')
    return
  }
  for (const { at } of gone) splices.replace(at!.start, at!.end, '')
  if (!names.fresh) return
  if (list && list.at!.inner[1] > list.at!.inner[0]) splices.insert(list.at!.inner[1], names.fresh)
  else if (list) splices.replace(list.at!.start, list.at!.end, rulesXml(names.fresh))
  else {
    const next = [...elements(body)].find(({ name }) => behindRules.test(name))
    if (!next) throw new NotPatched('rules')
    splices.insert(next.at!.start, rulesXml(names.fresh))
  }
}
