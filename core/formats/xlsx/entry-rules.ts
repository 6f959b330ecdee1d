// Rules for entries (ECMA-376 part 1, §18.3.1.32 and §18.3.1.33): read, and written where they stand.
import {
  type EntryRule,
  longestList,
  type RuleCondition,
  type RuleOutcome,
  type RuleTest,
  type RuleWords,
  ruleKey,
  sameRules,
} from '../../content/entry-rules'
import { columnName, type MergedArea, type Sheet } from '../../content/workbook'
import { attributeOf, childrenIn, elementOf, nextTag, rootOf, type Spanned, Splices, textIn } from '../opc/spans'
import { escapeAttribute, escapeText } from '../opc/xml'
import { comparisons } from './filter'
import { areaIn } from './formula-source'
import { tagWith } from './patch-rows'
import { placeBehindRows } from './sheet-order'
import { encodeString, unescapeString } from './string'

/** What stands between the rows of a sheet and its rules (§18.3.1.99). */
const others = new Set(
  'sheetCalcPr sheetProtection protectedRanges scenarios autoFilter sortState dataConsolidate customSheetViews mergeCells phoneticPr'.split(
    ' ',
  ),
)
const beforeRules = { has: (name: string) => others.has(name) || name.startsWith('conditional') }
const kinds = {
  whole: 'whole number',
  decimal: 'number',
  date: 'date',
  time: 'time',
  textLength: 'length',
} as const
type Compared = (typeof kinds)[keyof typeof kinds]
const typeOf = new Map(Object.entries(kinds).map(([type, kind]) => [kind, type]))
const operators: Record<string, RuleTest> = {
  between: 'between',
  notBetween: 'not between',
  ...comparisons,
}
const operatorOf = new Map(Object.entries(operators).map(([operator, test]) => [test, operator]))
const styles: Record<string, RuleOutcome> = { stop: 'refused', warning: 'asked', information: 'told' }
const styleOf = new Map(Object.entries(styles).map(([style, outcome]) => [outcome, style]))

const localOf = (name: string): string => name.slice(name.indexOf(':') + 1)
const isTrue = (value: string | undefined) => /^(?:1|true)$/.test(value ?? '')

interface Found {
  /** None where its cells cannot be read: it stays where it is. */
  rule: EntryRule | null
  element: Spanned
}
interface FoundList {
  /** Of a later version, in an extension (§18.2.10): its formulas name other sheets. */
  later: boolean
  element: Spanned
  rules: Found[]
}
/** The lists of rules behind the rows of a sheet. */
function listsIn(xml: string): FoundList[] {
  if (!/<(?:[\w.-]+:)?dataValidations[\s/>]/.test(xml)) return []
  const lists: FoundList[] = []
  for (let at = Math.max(0, xml.lastIndexOf('sheetData')), later = false; ; ) {
    const tag = nextTag(xml, at)
    if (!tag) return lists
    at = tag.end
    if (tag.kind === 'close') continue
    if (localOf(tag.name) === 'extLst') later = true
    if (localOf(tag.name) !== 'dataValidations') continue
    const element = elementOf(xml, tag)
    const rules = [...childrenIn(xml, element.inner)].map((one) => ({
      rule: localOf(one.name) === 'dataValidation' ? read(xml, one) : null,
      element: one,
    }))
    lists.push({ later, element, rules })
    at = element.end
  }
}

/**
 * The rules of a sheet, and how many of them the model only keeps as they are.
 * @param xml of the sheet's part
 */
export function rulesIn(xml: string): { rules: EntryRule[]; others: number } {
  const rules = listsIn(xml).flatMap((list) => list.rules.flatMap(({ rule }) => rule ?? []))
  return { rules, others: rules.filter(({ condition }) => condition.kind === 'other').length }
}

function read(xml: string, element: Spanned): EntryRule | null {
  const said = (name: string) => attributeOf(xml, element, name)
  // Of a later version its cells and its formulas stand in elements.
  const texts = new Map(
    [...childrenIn(xml, element.inner)].map((one) => {
      const [inner] = childrenIn(xml, one.inner)
      return [localOf(one.name), textIn(xml, (inner ?? one).inner)]
    }),
  )
  const areas = (said('sqref') ?? texts.get('sqref') ?? '')
    .trim()
    .split(/\s+/)
    .flatMap((ref): MergedArea[] => {
      const found = areaIn(ref, 0)
      return found ? [{ top: found.top, left: found.left, bottom: found.bottom, right: found.right }] : []
    })
  if (!areas.length) return null
  const words = (title: string, text: string): RuleWords | undefined => {
    const [name, more] = [unescapeString(said(title) ?? ''), unescapeString(said(text) ?? '')]
    return name || more ? { ...(name && { title: name }), ...(more && { text: more }) } : undefined
  }
  const hint = isTrue(said('showInputMessage')) ? words('promptTitle', 'prompt') : undefined
  const fault = words('errorTitle', 'error')
  return {
    areas,
    condition: conditionIn(said, texts) ?? { kind: 'other', kept: withoutCells(xml, element) },
    empty: isTrue(said('allowBlank')),
    otherwise: isTrue(said('showErrorMessage')) ? (styles[said('errorStyle') ?? 'stop'] ?? 'refused') : 'taken',
    ...(hint && { hint }),
    ...(fault && { fault }),
  }
}

const withoutCells = (xml: string, element: Spanned): string => {
  const start = tagWith(xml, element, { sqref: null })
  return element.kind === 'empty' ? `${start}/>` : `${start}>${xml.slice(...element.inner)}</${element.name}>`
}

/** @returns null for one that is not known */
function conditionIn(
  said: (name: string) => string | undefined,
  formulas: ReadonlyMap<string, string>,
): RuleCondition | null {
  const type = said('type') ?? 'none'
  const [first, second] = [formulas.get('formula1')?.trim(), formulas.get('formula2')?.trim()]
  if (type === 'none') return { kind: 'anything' }
  if (!first) return null
  if (type === 'custom') return { kind: 'formula', formula: first }
  if (type === 'list') {
    // Here alone what is true hides (§18.3.1.32, showDropDown).
    const shown = !isTrue(said('showDropDown'))
    const written = /^"((?:[^"]|"")*)"$/s.exec(first)
    if (!written) return { kind: 'one of', choices: { from: first }, shown }
    const choices = written[1]!
      .replaceAll('""', '"')
      .split(',')
      .map((one) => one.trim())
      .filter((one) => one !== '')
    return choices.length ? { kind: 'one of', choices, shown } : null
  }
  const kind = kinds[type as keyof typeof kinds] as Compared | undefined
  const test = operators[said('operator') ?? 'between']
  if (!kind || !test) return null
  const two = test === 'between' || test === 'not between'
  if (two && !second) return null
  return { kind, test, limits: two ? [first, second!] : [first] }
}

const refOf = ({ top, left, bottom, right }: MergedArea): string => {
  const corner = `${columnName(left)}${top + 1}`
  return top === bottom && left === right ? corner : `${corner}:${columnName(right)}${bottom + 1}`
}
const sqrefOf = (areas: readonly MergedArea[]): string => areas.map(refOf).join(' ')

/** A rule as an element; null for one of another format, or that this one has no place for. */
function ruleXml(prefix: string, rule: EntryRule): string | null {
  const { condition, areas, empty, otherwise, hint, fault } = rule
  if (condition.kind === 'other') {
    if (prefix !== '' || /<\/?[\w.-]+:|\s(?:[\w.-]+):[\w.-]+=/.test(condition.kept)) return null
    return /^<dataValidation[\s>/]/.test(condition.kept) ? keptXml(condition.kept, areas) : null
  }
  const set: [string, string | undefined][] = []
  let formulas: string[] = []
  if (condition.kind === 'one of') {
    if (!isWritable(condition)) return null
    set.push(['type', 'list'])
    formulas = ['from' in condition.choices ? condition.choices.from : listText(condition.choices)]
  } else if (condition.kind === 'formula') {
    set.push(['type', 'custom'])
    formulas = [condition.formula]
  } else if (condition.kind !== 'anything') {
    set.push(['type', typeOf.get(condition.kind)])
    if (condition.test !== 'between') set.push(['operator', operatorOf.get(condition.test)])
    formulas = [...condition.limits]
  }
  if (otherwise === 'asked' || otherwise === 'told') set.push(['errorStyle', styleOf.get(otherwise)])
  if (empty) set.push(['allowBlank', '1'])
  if (condition.kind === 'one of' && !condition.shown) set.push(['showDropDown', '1'])
  if (hint) set.push(['showInputMessage', '1'])
  if (otherwise !== 'taken') set.push(['showErrorMessage', '1'])
  set.push(['errorTitle', fault?.title], ['error', fault?.text], ['promptTitle', hint?.title], ['prompt', hint?.text])
  set.push(['sqref', sqrefOf(areas)])
  const attributes = set.flatMap(([name, value]) =>
    value === undefined ? [] : ` ${name}="${escapeAttribute(encodeString(value))}"`,
  )
  const each = formulas.map((text, at) => `<${prefix}formula${at + 1}>${escapeText(text)}</${prefix}formula${at + 1}>`)
  const start = `<${prefix}dataValidation${attributes.join('')}`
  return each.length ? `${start}>${each.join('')}</${prefix}dataValidation>` : `${start}/>`
}
const listText = (choices: readonly string[]): string => `"${choices.join(',').replaceAll('"', '""')}"`
/** Whether a list has a place in a rule of this format. */
const isWritable = ({ choices }: Extract<RuleCondition, { kind: 'one of' }>): boolean =>
  'from' in choices ||
  (choices.every((one) => !one.includes(',') && one.trim() === one && one !== '') &&
    listText(choices).length <= longestList + 2)
const keptXml = (kept: string, areas: readonly MergedArea[]): string => {
  const tag = nextTag(kept, 0)!
  const element = elementOf(kept, tag)
  const start = tagWith(kept, element, { sqref: sqrefOf(areas) })
  return element.kind === 'empty' ? `${start}/>` : `${start}>${kept.slice(...element.inner)}</${element.name}>`
}

/** @param xml of the sheet's part */
export function patchRules(xml: string, prefix: string, before: Sheet, sheet: Sheet): string {
  if (sameRules(before.rules, sheet.rules)) return xml
  const lists = listsIn(xml)
  const kept = new Set<Found>()
  const there = new Map<string, Found[]>()
  for (const one of lists.flatMap(({ rules }) => rules)) {
    if (!one.rule) kept.add(one)
    else if (!there.get(ruleKey(one.rule))?.push(one)) there.set(ruleKey(one.rule), [one])
  }
  // One that is the same stays where it is, as the file says it.
  const fresh = (sheet.rules ?? []).flatMap((rule) => {
    const found = there.get(ruleKey(rule))?.shift()
    if (!found) return ruleXml(prefix, rule) ?? []
    kept.add(found)
    return []
  })
  const own = lists.find(({ later }) => !later)
  const splices = new Splices()
  for (const list of lists) {
    const each = list.rules.flatMap((one) => (kept.has(one) ? [xml.slice(one.element.start, one.element.end)] : []))
    if (list === own) each.push(...fresh)
    const { element } = list
    const gone = list.later ? alone(xml, element) : element
    if (!each.length) splices.replace(gone.start, gone.end, '')
    else
      splices.replace(
        element.start,
        element.end,
        `${tagWith(xml, element, { count: String(each.length) })}>${each.join('')}</${element.name}>`,
      )
  }
  if (!own && fresh.length) {
    const { at } = placeBehindRows(xml, prefix, 'dataValidations', beforeRules)
    const name = `${prefix}dataValidations`
    splices.insert(at, `<${name} count="${fresh.length}">${fresh.join('')}</${name}>`)
  }
  return splices.any ? splices.apply(xml) : xml
}

/** An element with those around it that hold nothing else: an extension without content is none. */
function alone(xml: string, element: Spanned): Spanned {
  const around = [...childrenIn(xml, rootOf(xml).inner)].find(({ name }) => localOf(name) === 'extLst')
  if (!around || around.start > element.start || around.end < element.end) return element
  const extensions = [...childrenIn(xml, around.inner)]
  const extension = extensions.find(({ start, end }) => start <= element.start && end >= element.end)
  if (!extension || [...childrenIn(xml, extension.inner)].length > 1) return element
  return extensions.length > 1 ? extension : around
}
