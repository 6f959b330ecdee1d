// Filters of sheets (ECMA-376 part 1, §18.3.1.2 and §18.3.2): read, and written where they stand.
import { type ColumnFilter, columnsOf, type FilterTest, type SheetFilter, sameFilter } from '../../content/sheet-filter'
import { columnName, type MergedArea, type Sheet } from '../../content/workbook'
import { attributeOf, childrenIn, elementOf, nextTag, type Spanned, Splices } from '../opc/spans'
import { escapeAttribute } from '../opc/xml'
import { areaIn } from './formula-source'
import { tagWith } from './patch-rows'
import { placeBehindRows } from './sheet-order'
import { encodeString, unescapeString } from './string'

/** What stands between the rows of a sheet and its filter (§18.3.1.99). */
const beforeFilter = new Set('sheetCalcPr sheetProtection protectedRanges scenarios'.split(' '))
const refOf = ({ top, left, bottom, right }: MergedArea) =>
  `${columnName(left)}${top + 1}:${columnName(right)}${bottom + 1}`

/** How one is held against another (§18.18.31, and of rules for entries §18.18.20). */
export const comparisons = {
  equal: 'is',
  notEqual: 'is not',
  greaterThan: 'above',
  greaterThanOrEqual: 'at least',
  lessThan: 'below',
  lessThanOrEqual: 'at most',
} as const
const operators: Record<string, FilterTest['test']> = comparisons
const operatorOf = new Map(Object.entries(operators).map(([operator, test]) => [test, operator]))

/**
 * The filter of a sheet; null where it has none, or one whose area cannot be read.
 * @param xml of the sheet's part
 */
export function filterIn(xml: string): SheetFilter | null {
  if (!/<(?:[\w.-]+:)?autoFilter[\s/>]/.test(xml)) return null
  // It stands behind the rows, and what a sheet's own views filter (§18.3.1.25) behind it.
  for (let at = Math.max(0, xml.lastIndexOf('sheetData')); ; ) {
    const tag = nextTag(xml, at)
    if (!tag || localOf(tag.name) === 'customSheetViews') return null
    if (tag.kind !== 'close' && localOf(tag.name) === 'autoFilter') return read(xml, elementOf(xml, tag))
    at = tag.end
  }
}
const localOf = (name: string): string => name.slice(name.indexOf(':') + 1)

function read(xml: string, element: Spanned): SheetFilter | null {
  const found = areaIn(attributeOf(xml, element, 'ref'), 0)
  if (!found) return null
  const { top, left, bottom, right } = found
  const columns: Record<number, ColumnFilter> = {}
  for (const column of childrenIn(xml, element.inner)) {
    const place = left + Number(attributeOf(xml, column, 'colId'))
    if (localOf(column.name) !== 'filterColumn' || !(place >= left && place <= right)) continue
    const one = columnFilter(xml, column)
    if (one) columns[place] = one
  }
  return { area: { top, left, bottom, right }, columns }
}

/** @returns null for one that only says how its heading is shown */
function columnFilter(xml: string, column: Spanned): ColumnFilter | null {
  const [own, more] = [...childrenIn(xml, column.inner)]
  if (!own) return null
  const other: ColumnFilter = { by: 'other', kept: xml.slice(...column.inner) }
  if (more) return other
  const isTrue = (name: string) => /^(?:1|true)$/.test(attributeOf(xml, own, name) ?? '')
  const parts = [...childrenIn(xml, own.inner)]
  switch (localOf(own.name)) {
    case 'filters':
      if (parts.some(({ name }) => localOf(name) !== 'filter')) return other
      return {
        by: 'one of',
        texts: parts.map((part) => unescapeString(attributeOf(xml, part, 'val') ?? '')).filter((text) => text !== ''),
        empty: isTrue('blank') || parts.some((part) => attributeOf(xml, part, 'val') === ''),
      }
    case 'customFilters': {
      const tests = parts.map((part) =>
        testOf(attributeOf(xml, part, 'operator') ?? 'equal', unescapeString(attributeOf(xml, part, 'val') ?? '')),
      )
      const known = tests.filter((test) => test !== null)
      return known.length === tests.length && known.length
        ? { by: 'tested', tests: known, all: isTrue('and') || known.length === 1 }
        : other
    }
    default:
      return other
  }
}

/** A test of a custom filter (§18.3.2.2), whose texts have signs that stand for others. */
function testOf(operator: string, val: string): FilterTest | null {
  const test = operators[operator]
  if (!test) return null
  if (val.trim() !== '' && Number.isFinite(Number(val))) return { test, with: Number(val) }
  if (test !== 'is' && test !== 'is not') return { test, with: val }
  if (val.trim() === '') return { test, with: '' }
  const signs = [...val.matchAll(/~[*?~]|[\s\S]/gu)].map(([sign]) => sign)
  const starts = signs[0] === '*'
  const ends = signs.length > 1 && signs.at(-1) === '*'
  const between = signs.slice(starts ? 1 : 0, ends ? -1 : undefined)
  if (!between.length || between.includes('*') || between.includes('?')) return null
  const text = between.map((sign) => (sign.length > 1 && sign.startsWith('~') ? sign.slice(1) : sign)).join('')
  if (!starts && !ends) return { test, with: text }
  if (test === 'is not') return starts && ends ? { test: 'lacks', with: text } : null
  return { test: starts && ends ? 'contains' : starts ? 'ends' : 'begins', with: text }
}

function testXml(prefix: string, { test, with: limit }: FilterTest): string {
  const plain = (text: string) => text.replace(/[~*?]/g, '~$&')
  let operator = operatorOf.get(test)
  let val = String(limit)
  if (!operator) {
    operator = test === 'lacks' ? 'notEqual' : 'equal'
    val = `${test === 'begins' ? '' : '*'}${plain(val)}${test === 'ends' ? '' : '*'}`
  } else if (limit === '') val = ' '
  else if (typeof limit === 'string' && (test === 'is' || test === 'is not')) val = plain(val)
  const said = operator === 'equal' ? '' : ` operator="${operator}"`
  return `<${prefix}customFilter${said} val="${escapeAttribute(encodeString(val))}"/>`
}

/** What a column's filter says; null for one of another format. */
function innerXml(prefix: string, one: ColumnFilter): string | null {
  if (one.by === 'other') return prefix === '' && !/<\/?[\w.-]+:/.test(one.kept) ? one.kept : null
  if (one.by === 'one of') {
    const each = one.texts.map((text) => `<${prefix}filter val="${escapeAttribute(encodeString(text))}"/>`).join('')
    const start = `<${prefix}filters${one.empty ? ' blank="1"' : ''}`
    return each ? `${start}>${each}</${prefix}filters>` : `${start}/>`
  }
  // More of them than two there are not (§18.3.2.2).
  if (one.tests.length > 2) return null
  return `<${prefix}customFilters${one.all ? ' and="1"' : ''}>${one.tests.map((test) => testXml(prefix, test)).join('')}</${prefix}customFilters>`
}

/** @param xml of the sheet's part */
export function patchFilter(xml: string, prefix: string, before: Sheet, sheet: Sheet): string {
  if (sameFilter(before.filter, sheet.filter)) return xml
  const { own, at } = placeBehindRows(xml, prefix, 'autoFilter', beforeFilter)
  const splices = new Splices()
  const { filter } = sheet
  if (!filter) {
    if (own) splices.replace(own.start, own.end, '')
    return splices.any ? splices.apply(xml) : xml
  }
  const was = own ? [...childrenIn(xml, own.inner)] : []
  const known = was.filter(({ name }) => localOf(name) === 'filterColumn')
  const rest = was.filter((one) => !known.includes(one)).map(({ start, end }) => xml.slice(start, end))
  const columns = columnsOf(filter).flatMap(([column, one]) => {
    const colId = String(column - filter.area.left)
    // One that says the same stays as the file says it.
    const same = known.find((element) => JSON.stringify(columnFilter(xml, element)) === JSON.stringify(one))
    if (same) return `${tagWith(xml, same, { colId })}>${xml.slice(...same.inner)}</${same.name}>`
    const inner = innerXml(prefix, one)
    return inner === null ? [] : `<${prefix}filterColumn colId="${colId}">${inner}</${prefix}filterColumn>`
  })
  const ref = refOf(filter.area)
  const tag = own ? tagWith(xml, own, { ref }) : `<${prefix}autoFilter ref="${ref}"`
  const inner = [...columns, ...rest].join('')
  const whole = inner ? `${tag}>${inner}</${prefix}autoFilter>` : `${tag}/>`
  if (own) splices.replace(own.start, own.end, whole)
  else splices.insert(at, whole)
  return splices.apply(xml)
}
