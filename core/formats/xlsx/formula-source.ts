// What a workbook's formulas refer to beside cells (ECMA-376 part 1): defined names (§18.2.5), tables (§18.5.1.2) and
// what was known of other files (§18.14).
import type { Area, DefinedName, NamedTable, OtherFile } from '../../calc/source'
import { type CellValue, columnNumber, largestSheet } from '../../content/workbook'
import { relationshipKind } from '../opc/package'
import { child, elements, textOf } from '../opc/xml'
import type { WorkbookParts } from './read'
import { unescapeString } from './string'

/** An area like `A1:B2`; null for what is none. */
export function areaIn(ref: string | undefined, sheet: number): Area | null {
  const found = /^\$?([A-Z]{1,3})\$?(\d{1,7})(?::\$?([A-Z]{1,3})\$?(\d{1,7}))?$/i.exec(ref?.trim() ?? '')
  if (!found) return null
  const [, left, top, right = left, bottom = top] = found as unknown as [string, string, string, string?, string?]
  const area = {
    sheet,
    top: Number(top) - 1,
    left: columnNumber(left),
    bottom: Number(bottom) - 1,
    right: columnNumber(right),
  }
  const fits = area.top >= 0 && area.bottom < largestSheet.rows && area.right < largestSheet.columns
  return fits && area.top <= area.bottom && area.left <= area.right ? area : null
}

export function definedNamesOf({ root, sheets, relationships }: WorkbookParts): DefinedName[] {
  // A name's sheet is counted among all sheets, also those that hold no cells.
  const order = [...elements(child(root, 'sheets'), 'sheet')].map(({ attributes }) => {
    const part = relationships.get(attributes['r:id'] ?? '')?.target
    return sheets.findIndex((sheet) => sheet.part === part)
  })
  return [...elements(child(root, 'definedNames'), 'definedName')].flatMap((element) => {
    const { name, localSheetId } = element.attributes
    if (!name || name.startsWith('_xlnm.')) return []
    const sheet = localSheetId === undefined ? null : (order[Number(localSheetId)] ?? -1)
    return sheet === -1 ? [] : [{ name, sheet, formula: textOf(element) }]
  })
}

/** The tables of one sheet; those that cannot be read are as if there were none. */
export function tablesOf({ opened }: WorkbookParts, part: string, sheet: number): NamedTable[] {
  return [...opened.relationships(part).values()].flatMap((relationship) => {
    if (relationshipKind(relationship) !== 'table') return []
    try {
      const table = opened.xml(relationship.target)
      const area = areaIn(table?.attributes.ref, sheet)
      const name = table?.attributes.displayName ?? table?.attributes.name
      if (!area || !name) return []
      return [
        {
          ...area,
          name,
          headings: Number(table?.attributes.headerRowCount ?? 1),
          totals: Number(table?.attributes.totalsRowCount ?? 0),
          columns: [...elements(child(table, 'tableColumns'), 'tableColumn')].map(({ attributes }) =>
            unescapeString(attributes.name ?? ''),
          ),
        },
      ]
    } catch {
      return []
    }
  })
}

/** Other files, in the order of their numbers. */
export function otherFilesOf({ opened, root, relationships }: WorkbookParts): OtherFile[] {
  return [...elements(child(root, 'externalReferences'), 'externalReference')].map(({ attributes }) => {
    const cells = new Map<string, Map<number, CellValue>>()
    const part = relationships.get(attributes['r:id'] ?? '')?.target
    try {
      const book = part === undefined ? undefined : child(opened.xml(part), 'externalBook')
      const names = [...elements(child(book, 'sheetNames'), 'sheetName')].map((one) => one.attributes.val ?? '')
      for (const data of elements(child(book, 'sheetDataSet'), 'sheetData')) {
        const held = new Map<number, CellValue>()
        cells.set((names[Number(data.attributes.sheetId)] ?? '').toLowerCase(), held)
        for (const row of elements(data, 'row'))
          for (const cell of elements(row, 'cell')) {
            const at = areaIn(cell.attributes.r, 0)
            const value = child(cell, 'v')
            if (at && value)
              held.set(at.top * largestSheet.columns + at.left, valueIn(cell.attributes.t, textOf(value)))
          }
      }
    } catch {
      // Another file's values are only known as far as they can be read.
    }
    return cells
  })
}
function valueIn(type: string | undefined, text: string): CellValue {
  if (type === 'str' || type === 's') return unescapeString(text)
  if (type === 'b') return text.trim() === '1' || text.trim() === 'true'
  if (type === 'e') return { error: text }
  const number = Number(text)
  return Number.isFinite(number) ? number : text
}
