import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type EntryRule, sameRules, withRule } from '../../content/entry-rules'
import { blankSheet, type Sheet } from '../../content/workbook'
import { anyRules } from '../../content/workbook.arbitrary'
import { applyOps, type WorkbookOp } from '../../content/workbook-ops'
import { openZip } from '../opc/zip'
import { NotPatched } from '../refusals'
import { patchOds } from './patch'
import { readOds } from './read'
import { odsOf } from './testing'
import { writeOds } from './write'

const contentOf = (bytes: Uint8Array) => new TextDecoder().decode(openZip(bytes).read('content.xml'))
const rulesOf = (bytes: Uint8Array) => readOds(bytes).workbook.sheets[0]!.rules
const ruled = (rules: readonly EntryRule[], rows: Sheet['rows'] = []): Sheet => ({
  ...blankSheet("Ben's kinds"),
  rows,
  ...(rules.length && { rules }),
})
const written = (sheet: Sheet) => writeOds({ workbook: { sheets: [sheet] }, resultOf: () => undefined })
const patched = (base: Uint8Array, ops: WorkbookOp[]) => {
  const read = readOds(base)
  return patchOds({ base, read, ops, workbook: applyOps(read.workbook, ops), resultOf: () => undefined })
}
const cell = '<table:table-cell table:content-validation-name="v1"'
/** As another program says a list from cells, in a column whose rows are said once for many, and a number elsewhere. */
const kinds = odsOf(
  '<table:content-validations>' +
    '<table:content-validation table:name="v1" table:condition="of:cell-content-is-in-list([$Kinds.$A$1:.$A$9])" table:allow-empty-cell="true" table:display-list="sort-ascending" table:base-cell-address="Repairs.B2"><table:help-message table:title="Kind" table:display="true"><text:p>As the</text:p><text:p>engineers say</text:p></table:help-message><table:error-message table:message-type="warning" table:display="true"/></table:content-validation>' +
    '<table:content-validation table:name="v2" table:condition="of:cell-content-is-whole-number() and cell-content-is-between(1,[.A2])" table:allow-empty-cell="false" table:base-cell-address="$Repairs.$C$2"/>' +
    '<table:content-validation table:name="v3" table:condition="of:cell-content-is-text()" table:base-cell-address="Repairs.D2"/>' +
    '</table:content-validations>' +
    '<table:table table:name="Repairs"><table:table-column table:number-columns-repeated="4"/>' +
    '<table:table-row><table:table-cell office:value-type="string" table:number-columns-repeated="4"><text:p>x</text:p></table:table-cell></table:table-row>' +
    `<table:table-row><table:table-cell/>${cell} office:value-type="string"><text:p>Gate</text:p></table:table-cell><table:table-cell table:content-validation-name="v2"/><table:table-cell table:content-validation-name="v3"/></table:table-row>` +
    `<table:table-row table:number-rows-repeated="1048574"><table:table-cell/>${cell}/></table:table-row></table:table>` +
    '<table:table table:name="Kinds"><table:table-column/><table:table-row><table:table-cell office:value-type="string"><text:p>Gate</text:p></table:table-cell></table:table-row></table:table>',
)
const yes = {
  condition: { kind: 'one of' as const, choices: ['Yes', 'No, "never"'], shown: true },
  empty: true,
  otherwise: 'refused' as const,
}

describe('rules for entries in an .ods', () => {
  test('are read with the cells that name them, and what they say of these', () => {
    const { workbook, limits } = readOds(kinds)
    expect(workbook.sheets[0]!.rules).toEqual([
      {
        areas: [{ top: 1, left: 1, bottom: 1_048_575, right: 1 }],
        condition: { kind: 'one of', choices: { from: 'Kinds!$A$1:$A$9' }, shown: true },
        empty: true,
        otherwise: 'asked',
        hint: { title: 'Kind', text: 'As the\nengineers say' },
      },
      {
        areas: [{ top: 1, left: 2, bottom: 1, right: 2 }],
        condition: { kind: 'whole number', test: 'between', limits: ['1', 'A2'] },
        empty: false,
        otherwise: 'taken',
      },
      expect.objectContaining({ condition: { kind: 'other', kept: 'of:cell-content-is-text()' } }),
    ])
    expect(limits.filter(({ feature }) => feature === 'input rules')).toHaveLength(1)
  })
  test.each([
    ['cell-content()>=2.5', null],
    ['cell-content-is-decimal-number() and cell-content()!=2.5', { kind: 'number', test: 'is not', limits: ['2.5'] }],
    ['cell-content-is-date() and cell-content()<[$Kinds.B1]', { kind: 'date', test: 'below', limits: ['Kinds!B1'] }],
    ['cell-content-text-length()<=12', { kind: 'length', test: 'at most', limits: ['12'] }],
    [
      'cell-content-text-length-is-not-between(LEN("a,b");SUM(1;2))',
      { kind: 'length', test: 'not between', limits: ['LEN("a,b")', 'SUM(1,2)'] },
    ],
    [
      'cell-content-is-time() and cell-content-is-between(0,0.5)',
      { kind: 'time', test: 'between', limits: ['0', '0.5'] },
    ],
    ['is-true-formula(COUNTIF([.$D$2:.$D$9];[.D2])=1)', { kind: 'formula', formula: 'COUNTIF($D$2:$D$9,D2)=1' }],
    ['cell-content-is-in-list("a;b";"say ""so""")', { kind: 'one of', choices: ['a;b', 'say "so"'], shown: true }],
    ['', { kind: 'anything' }],
  ])('of the condition %s', (text, condition) => {
    const xml = contentOf(kinds).replace(
      'of:cell-content-is-text()',
      text && `of:${text.replaceAll('"', '&quot;').replaceAll('<', '&lt;')}`,
    )
    const inner = /<office:spreadsheet>([\s\S]*)<\/office:spreadsheet>/.exec(xml)![1]!
    const found = rulesOf(odsOf(inner))![2]!.condition
    if (condition) expect(found).toEqual(condition)
    else expect(found.kind).toBe('other')
  })
  test('are read back as they are written, whatever they say and wherever they are, and nothing is lost', () => {
    fc.assert(
      fc.property(anyRules, fc.boolean(), (rules, filled) => {
        const rows = filled ? [[{ value: 1 }], undefined, [undefined, undefined, { value: 'x' }]] : []
        const { bytes, lost } = written(ruled(rules, rows))
        expect(lost).toEqual([])
        expect(sameRules(rulesOf(bytes), rules)).toBe(true)
        expect(readOds(bytes).workbook.sheets[0]!.rows).toEqual(rows)
      }),
    )
  })
  test('become others where they stand, and what is said of other cells stays', () => {
    fc.assert(
      fc.property(anyRules, anyRules, (first, second) => {
        const base = written(ruled(first, [[{ value: 1 }]])).bytes
        const bytes = patched(base, [{ op: 'rules', sheet: 0, rules: second }])
        expect(sameRules(rulesOf(bytes), second)).toBe(true)
        expect(readOds(bytes).workbook.sheets[0]!.rows).toEqual([[{ value: 1 }]])
        // None is left that no cell has.
        const names = [...contentOf(bytes).matchAll(/<table:content-validation table:name="([^"]*)"/g)]
        for (const [, name] of names) expect(contentOf(bytes)).toContain(`table:content-validation-name="${name}"`)
      }),
    )
  })
  test('of a whole column are written in a few rows, and a part of them is changed without the rest', () => {
    const whole = { top: 1, left: 1, bottom: 1_048_575, right: 1 }
    const { bytes } = written(ruled([{ ...yes, areas: [whole] }], [[{ value: 'x' }]]))
    expect(contentOf(bytes).length).toBeLessThan(5000)
    expect(sameRules(rulesOf(bytes), [{ ...yes, areas: [whole] }])).toBe(true)
    const before = readOds(kinds).workbook.sheets[0]!.rules!
    const part = { top: 2, left: 1, bottom: 3, right: 1 }
    const now = patched(kinds, [{ op: 'rules', sheet: 0, rules: withRule(before, [part], yes) }])
    expect(sameRules(rulesOf(now), withRule(before, [part], yes))).toBe(true)
    const original = /<table:content-validation table:name="v1".*?<\/table:content-validation>/.exec(
      contentOf(kinds),
    )![0]
    expect(contentOf(now)).toContain(original)
    expect(contentOf(now)).toContain(
      `<table:table-row table:number-rows-repeated="1048572"><table:table-cell/>${cell}/></table:table-row>`,
    )
    // More cells than are said one by one are left to who writes the file whole.
    const many = { top: 0, left: 5, bottom: 200_000, right: 5 }
    expect(() => patched(kinds, [{ op: 'rules', sheet: 0, rules: withRule(before, [many], yes) }])).toThrow(NotPatched)
  })
})
