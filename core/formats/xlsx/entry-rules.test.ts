import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type EntryRule, sameRules } from '../../content/entry-rules'
import { blankSheet, blankWorkbook } from '../../content/workbook'
import { anyRules } from '../../content/workbook.arbitrary'
import { applyOps } from '../../content/workbook-ops'
import { patchRules, rulesIn } from './entry-rules'
import { patchXlsx } from './patch'
import { readXlsx } from './read'
import { writeXlsx } from './write'

const sheetXml = (rules: string, prefix = '', extensions = '') =>
  `<${prefix}worksheet xmlns${prefix && `:${prefix.slice(0, -1)}`}="m"><${prefix}sheetData><${prefix}row r="1"/></${prefix}sheetData><${prefix}mergeCells count="0"/>${rules}<${prefix}hyperlinks/>${extensions}</${prefix}worksheet>`
const listOf = (...rules: string[]) => `<dataValidations count="${rules.length}">${rules.join('')}</dataValidations>`
const read = (...rules: string[]) => rulesIn(sheetXml(listOf(...rules))).rules
const area = { top: 1, left: 0, bottom: 8, right: 0 }

describe('the rules of a sheet of a file', () => {
  test('are lists, limits and formulas, with what is said of them', () => {
    expect(
      read(
        '<dataValidation type="list" allowBlank="1" showInputMessage="1" showErrorMessage="1" promptTitle="Kind" prompt="One_x000A_only" sqref="A2:A9 C3"><formula1>"Gate, Weir &amp; lock,""so"""</formula1></dataValidation>',
        '<dataValidation type="list" showDropDown="1" errorStyle="warning" showErrorMessage="true" error="No" sqref="B2"><formula1>Kinds!$A$1:$A$9</formula1></dataValidation>',
        '<dataValidation type="whole" errorStyle="information" showErrorMessage="1" sqref="D2"><formula1>1</formula1><formula2>A1</formula2></dataValidation>',
        '<dataValidation type="textLength" operator="lessThanOrEqual" sqref="E2"><formula1>12</formula1></dataValidation>',
        '<dataValidation type="custom" sqref="F2"><formula1>F2&lt;&gt;0</formula1></dataValidation>',
        '<dataValidation showInputMessage="1" prompt="In metres" sqref="G2"/>',
      ),
    ).toEqual([
      {
        areas: [area, { top: 2, left: 2, bottom: 2, right: 2 }],
        condition: { kind: 'one of', choices: ['Gate', 'Weir & lock', '"so"'], shown: true },
        empty: true,
        otherwise: 'refused',
        hint: { title: 'Kind', text: 'One\nonly' },
      },
      expect.objectContaining({
        condition: { kind: 'one of', choices: { from: 'Kinds!$A$1:$A$9' }, shown: false },
        empty: false,
        otherwise: 'asked',
        fault: { text: 'No' },
      }),
      expect.objectContaining({
        condition: { kind: 'whole number', test: 'between', limits: ['1', 'A1'] },
        otherwise: 'told',
      }),
      expect.objectContaining({ condition: { kind: 'length', test: 'at most', limits: ['12'] }, otherwise: 'taken' }),
      expect.objectContaining({ condition: { kind: 'formula', formula: 'F2<>0' } }),
      expect.objectContaining({ condition: { kind: 'anything' }, hint: { text: 'In metres' } }),
    ])
  })
  test('of a later version are rules like others, and stay in their extension while they are the same', () => {
    const later = (sqref: string) =>
      `<y:dataValidation type="list" allowBlank="1" showErrorMessage="1" y:uid="{1}"><y:formula1><z:f>Kinds!$A$1:$A$9</z:f></y:formula1><z:sqref>${sqref}</z:sqref></y:dataValidation>`
    const lists = `<ext uri="a"><y:dataValidations count="2" xmlns:y="y" xmlns:z="z">${later('A2:A9')}${later('C2')}</y:dataValidations></ext>`
    const xml = sheetXml('', '', `<extLst><ext uri="b"><other/></ext>${lists}</extLst>`)
    const { rules, others } = rulesIn(xml)
    expect(others).toBe(0)
    expect(rules[0]).toEqual({
      areas: [area],
      condition: { kind: 'one of', choices: { from: 'Kinds!$A$1:$A$9' }, shown: true },
      empty: true,
      otherwise: 'refused',
    })
    const before = { ...blankSheet('A'), rules }
    const now = patchRules(xml, '', before, { ...before, rules: [rules[1]!, { ...rules[0]!, empty: false }] })
    expect(now).toContain(
      `<ext uri="b"><other/></ext><ext uri="a"><y:dataValidations count="1" xmlns:y="y" xmlns:z="z">${later('C2')}</y:dataValidations></ext></extLst>`,
    )
    expect(now).toContain('<dataValidations count="1"><dataValidation type="list" showErrorMessage="1" sqref="A2:A9">')
    expect(patchRules(xml, '', before, blankSheet('A'))).toBe(
      sheetXml('', '', '<extLst><ext uri="b"><other/></ext></extLst>'),
    )
    const only = sheetXml('', '', `<extLst>${lists}</extLst>`)
    expect(patchRules(only, '', before, blankSheet('A'))).toBe(sheetXml(''))
  })
  test('that are not known are kept as they are', () => {
    const strange = '<dataValidation type="list" imeMode="on" sqref="A2"/>'
    const found = rulesIn(sheetXml(listOf(strange)))
    expect(found.others).toBe(1)
    expect(found.rules[0]!.condition).toEqual({ kind: 'other', kept: '<dataValidation type="list" imeMode="on"/>' })
    expect(rulesIn(sheetXml(''))).toEqual({ rules: [], others: 0 })
    // In a file that has none it comes in as it was.
    const sheet = { ...blankSheet('A'), rules: found.rules }
    expect(patchRules(sheetXml(''), '', blankSheet('A'), sheet)).toContain(
      '<dataValidations count="1"><dataValidation type="list" imeMode="on" sqref="A2"/></dataValidations><hyperlinks/>',
    )
  })
  test('are written where they stand, those that are the same as the file says them', () => {
    const own =
      '<dataValidation  type="list" xr:uid="{1}" sqref="A2:A9"><formula1>"Gate,Weir"</formula1></dataValidation>'
    const xml = sheetXml(`<dataValidations count="1" disablePrompts="0">${own}</dataValidations>`)
    const { rules } = rulesIn(xml)
    const before = { ...blankSheet('A'), rules }
    const more: EntryRule = {
      areas: [{ top: 1, left: 1, bottom: 1, right: 1 }],
      condition: { kind: 'number', test: 'above', limits: ['A1<2'] },
      empty: false,
      otherwise: 'refused',
      fault: { title: 'Depth', text: 'More than "0"' },
    }
    const now = patchRules(xml, '', before, { ...before, rules: [...rules, more] })
    expect(now).toContain(
      `<dataValidations count="2" disablePrompts="0">${own}<dataValidation type="decimal" operator="greaterThan" showErrorMessage="1" errorTitle="Depth" error="More than &quot;0&quot;" sqref="B2"><formula1>A1&lt;2</formula1></dataValidation></dataValidations><hyperlinks/>`,
    )
    expect(patchRules(now, '', { ...before, rules: [...rules, more] }, blankSheet('A'))).toBe(
      xml.replace(/<dataValidations.*<\/dataValidations>/, ''),
    )
    expect(patchRules(xml, '', before, { ...before })).toBe(xml)
  })
  test('read back as they are written, whatever they say and under any prefix', () => {
    fc.assert(
      fc.property(anyRules, anyRules, fc.constantFrom('', 'x:'), (first, second, prefix) => {
        const sheet = (rules: readonly EntryRule[]) => ({ ...blankSheet('A'), ...(rules.length && { rules }) })
        const once = patchRules(sheetXml('', prefix), prefix, sheet([]), sheet(first))
        expect(sameRules(rulesIn(once).rules, first)).toBe(true)
        const twice = patchRules(once, prefix, sheet(first), sheet(second))
        expect(sameRules(rulesIn(twice).rules, second)).toBe(true)
        expect(rulesIn(twice).others).toBe(0)
      }),
    )
  })
  test('move with their rows in the file as in the work', () => {
    const workbook = applyOps(blankWorkbook(), [
      { op: 'cells', sheet: 0, cells: [{ row: 9, column: 3, cell: { value: 1 } }] },
      {
        op: 'rules',
        sheet: 0,
        rules: [
          {
            areas: [area],
            condition: { kind: 'one of', choices: { from: '$D$1:$D$9' }, shown: true },
            empty: true,
            otherwise: 'refused',
          },
        ],
      },
    ])
    const base = writeXlsx(workbook, () => undefined)
    const ops = [{ op: 'insert' as const, sheet: 0, axis: 'rows' as const, at: 3, count: 2 }]
    const [read, now] = [readXlsx(base), applyOps(workbook, ops)]
    const bytes = patchXlsx({ base, read, ops, workbook: now, resultOf: () => undefined, isNew: () => false })
    const again = readXlsx(bytes).workbook.sheets[0]!
    expect(sameRules(again.rules, now.sheets[0]!.rules)).toBe(true)
    expect(again.rules![0]).toMatchObject({ areas: [{ bottom: 10 }], condition: { choices: { from: '$D$1:$D$11' } } })
  })
})
