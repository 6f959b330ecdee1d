// Rules for entries (ECMA-376 part 1, §18.3.1.32 and §18.3.1.33): read, and written where they stand.
import {
  type EntryRule,
  longestList,
  type RuleCondition,
  type RuleOutcome,
  type RuleTest,
  type RuleWords,
  saidBy,
  sameRules,
} from '../../content/entry-rules'
import { columnName, type MergedArea, type Sheet } from '../../content/workbook'
import { attributeOf, childrenIn, elementOf, nextTag, type Spanned, Splices, textIn } from '../opc/spans'
import { escapeAttribute, escapeText } from '../opc/xml'
import { areaIn } from './formula-source'
import { tagWith } from './patch-rows'
import { placeBehindRows } from './sheet-order'
import { encodeString, unescapeString } from './string'

/** What stands between the rows of a sheet and its rules (§18.3.1.99). */
const beforeRules = new Set(
  'sheetCalcPr sheetProtection protectedRanges scenarios autoFilter sortState dataConsolidate customSheetViews mergeCells phoneticPr conditionalFormatting'.split(
    ' ',
  ),
)
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
  equal: 'is',
  notEqual: 'is not',
  greaterThan: 'above',
  greaterThanOrEqual: 'at least',
  lessThan: 'below',
  lessThanOrEqual: 'at most',
}
const operatorOf = new Map(Object.entries(operators).map(([operator, test]) => [test, operator]))
const styles: Record<string, RuleOutcome> = { stop: 'refused', warning: 'asked', information: 'told' }
const styleOf = new Map(Object.entries(styles).map(([style, outcome]) => [outcome, style]))

const localOf = (name: string): string => name.slice(name.indexOf(':') + 1)
const isTrue = (value: string | undefined) => /^(?:1|true)$/.test(value ?? '')

interface Found {
  rule: EntryRule
  element: Spanned
}
/** @param list the element that holds them */
const foundIn = (xml: string, list: Spanned): Found[] =>
  [...childrenIn(xml, list.inner)].flatMap((element) => {
    const rule = localOf(element.name) === 'dataValidation' ? read(xml, element) : null
    return rule ? [{ rule, element }] : []
  })

/**
 * The rules of a sheet, and how many it says that the model does not hold: others' own, those of a later version of the
 * format, and those of cells that another rule has, too.
 * @param xml of the sheet's part
 */
export function rulesIn(xml: string): { rules: EntryRule[]; others: number } {
  if (!/<(?:[\w.-]+:)?dataValidations[\s/>]/.test(xml)) return { rules: [], others: 0 }
  for (let at = Math.max(0, xml.lastIndexOf('sheetData')); ; ) {
    const tag = nextTag(xml, at)
    if (!tag) return { rules: [], others: 0 }
    // Those of the part itself come before those of its extensions (§18.2.10).
    if (tag.kind !== 'close' && localOf(tag.name) === 'extLst') return { rules: [], others: laterIn(xml, tag.end) }
    if (tag.kind !== 'close' && localOf(tag.name) === 'dataValidations') {
      const list = elementOf(xml, tag)
      const rules = foundIn(xml, list).map(({ rule }) => rule)
      const unknown = rules.filter(({ condition }) => condition.kind === 'other').length
      return { rules, others: unknown + laterIn(xml, list.end) }
    }
    at = tag.end
  }
}
/** How many rules of a later version there are. */
const laterIn = (xml: string, from: number): number =>
  [...xml.slice(from).matchAll(/<(?:[\w.-]+:)?dataValidation[\s>]/g)].length

function read(xml: string, element: Spanned): EntryRule | null {
  const said = (name: string) => attributeOf(xml, element, name)
  const areas = (said('sqref') ?? '')
    .trim()
    .split(/\s+/)
    .flatMap((ref): MergedArea[] => {
      const found = areaIn(ref, 0)
      return found ? [{ top: found.top, left: found.left, bottom: found.bottom, right: found.right }] : []
    })
  if (!areas.length) return null
  const formulas = new Map(
    [...childrenIn(xml, element.inner)].map((one) => [localOf(one.name), textIn(xml, one.inner)]),
  )
  const words = (title: string, text: string): RuleWords | undefined => {
    const [name, more] = [unescapeString(said(title) ?? ''), unescapeString(said(text) ?? '')]
    return name || more ? { ...(name && { title: name }), ...(more && { text: more }) } : undefined
  }
  const hint = isTrue(said('showInputMessage')) ? words('promptTitle', 'prompt') : undefined
  const fault = words('errorTitle', 'error')
  return {
    areas,
    condition: conditionIn(said, formulas) ?? { kind: 'other', kept: withoutCells(xml, element) },
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
  const { own, at } = placeBehindRows(xml, prefix, 'dataValidations', beforeRules)
  const there = own ? foundIn(xml, own) : []
  // What the file's rows moved is the same rule: its own text of it is what is written.
  const left = new Set(there)
  const isSame = ({ rule }: Found, wanted: EntryRule): boolean =>
    sqrefOf(rule.areas) === sqrefOf(wanted.areas) && saidBy(rule) === saidBy(wanted)
  const each = (sheet.rules ?? []).flatMap((rule) => {
    const found = [...left].find((one) => isSame(one, rule))
    if (!found) return ruleXml(prefix, rule) ?? []
    left.delete(found)
    return xml.slice(found.element.start, found.element.end)
  })
  const splices = new Splices()
  if (!each.length) {
    if (!own) return xml
    splices.replace(own.start, own.end, '')
    return splices.apply(xml)
  }
  const start = own
    ? tagWith(xml, own, { count: String(each.length) })
    : `<${prefix}dataValidations count="${each.length}"`
  const whole = `${start}>${each.join('')}</${prefix}dataValidations>`
  if (own) splices.replace(own.start, own.end, whole)
  else splices.insert(at, whole)
  return splices.apply(xml)
}
