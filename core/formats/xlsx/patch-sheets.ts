// Sheets that are new in a file, that go and that change their places (ECMA-376 part 1, §18.2.19 and §18.2.20). What
// counts sheets by their places (names that are of one sheet, the one on show) counts them anew; what only a sheet that
// goes led to goes with it.

import { renameInFormula } from '../../content/formula'
import { blankSheet, type Sheet } from '../../content/workbook'
import { freePart, relate, typeOfPart } from '../opc/add-part'
import { dropPart } from '../opc/drop-part'
import { relationshipsPartOf } from '../opc/package'
import { attributeOf, attributeSpan, childrenIn, decoded, rootOf, Splices, textIn } from '../opc/spans'
import { escapeAttribute } from '../opc/xml'
import { patchFrame } from './patch-frame'
import { CannotMove } from './patch-references'
import type { PartTexts } from './patch-reshape'
import { type CellWrite, localName, patchRows, sheetSource, tagWith } from './patch-rows'
import type { WorkbookParts } from './read'

const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'

/** A sheet as a part of its own. @param write what is written into a cell */
export function newSheetXml(sheet: Sheet, write: (row: number, column: number) => CellWrite): string {
  const blank = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<worksheet xmlns="${main}"><sheetData/></worksheet>`
  const writes: CellWrite[] = []
  sheet.rows.forEach((line, row) => {
    line?.forEach((cell, column) => {
      if (cell) writes.push(write(row, column))
    })
  })
  const { xml } = patchRows(sheetSource(blank)!, writes, () => false)
  return patchFrame(xml, '', blankSheet(sheet.name), sheet)
}

/**
 * Puts the sheets of a workbook in another order, with new ones among them.
 * @param origins of each sheet now the one of the file that it is; null for one that is new
 * @param fresh the names and the XML of the new ones, in order
 * @returns the parts of the new ones, in order
 */
export function relistSheets(
  parts: WorkbookParts,
  texts: PartTexts,
  changes: Map<string, Uint8Array | null>,
  origins: readonly (number | null)[],
  fresh: readonly { name: string; xml: string }[],
): string[] {
  // Sheets of another kind have their places among them, which nobody here knows.
  if (parts.others.length) throw new CannotMove('sheets of another kind')
  const { opened } = parts
  const xml = texts.get(parts.main)
  const root = rootOf(xml)
  const lists = [...childrenIn(xml, root.inner)]
  const list = lists.find(({ name }) => localName(name) === 'sheets')
  const known = list ? [...childrenIn(xml, list.inner)] : []
  const sample = known[0]
  if (!list || !sample || known.length !== parts.sheets.length) throw new CannotMove('sheets')
  const prefix = /\s([\w.-]+):id=/.exec(xml.slice(sample.start, sample.end))?.[1]
  const kind = parts.relationships.get(parts.sheets[0]!.relationship)?.type ?? ''
  if (!prefix || !kind.startsWith('http://schemas.openxmlformats.org/')) throw new CannotMove('sheets')

  const folder = parts.main.slice(0, parts.main.lastIndexOf('/') + 1)
  let number = Math.max(0, ...known.map((one) => Number(attributeOf(xml, one, 'sheetId') ?? 0)))
  const made = [...fresh]
  const newParts: string[] = []
  const elements = origins.map((origin) => {
    if (origin !== null) return xml.slice(known[origin]!.start, known[origin]!.end)
    const { name, xml: content } = made.shift()!
    const part = freePart(opened, changes, `${folder}worksheets/sheet`, 'xml')
    changes.set(part, new TextEncoder().encode(content))
    newParts.push(part)
    typeOfPart(opened, changes, part, 'application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml')
    const id = relate(opened, changes, parts.main, 'worksheet', part.slice(folder.length))
    number++
    return `<${sample.name} name="${escapeAttribute(name)}" sheetId="${number}" ${prefix}:id="${id}"/>`
  })
  const splices = new Splices()
  splices.replace(list.inner[0], list.inner[1], elements.join(''))
  const gone = parts.sheets.flatMap(({ name }, index) => (origins.includes(index) ? [] : [name]))
  for (const element of lists) {
    const name = localName(element.name)
    if (name === 'bookViews')
      for (const view of childrenIn(xml, element.inner))
        for (const key of ['activeTab', 'firstSheet']) {
          const span = attributeSpan(xml, view, key)
          if (span) splices.replace(span[0], span[1], String(Math.max(0, origins.indexOf(Number(xml.slice(...span))))))
        }
    if (name !== 'definedNames') continue
    const left: string[] = []
    for (const one of childrenIn(xml, element.inner)) {
      const local = attributeOf(xml, one, 'localSheetId')
      const now = local === undefined ? null : origins.indexOf(Number(local))
      // A name of a sheet that went is a name of nothing.
      if (now !== null && now < 0) continue
      const formula = decoded(textIn(xml, one.inner))
      const lost = gone.some((sheet) => renameInFormula(formula, sheet, '\u0001') !== formula)
      const start = `${tagWith(xml, one, now === null ? {} : { localSheetId: String(now) })}>`
      left.push(`${start}${lost ? '#REF!' : xml.slice(...one.inner)}</${one.name}>`)
    }
    if (left.length) splices.replace(element.inner[0], element.inner[1], left.join(''))
    else splices.replace(element.start, element.end, '')
  }
  texts.set(parts.main, splices.apply(xml))
  dropSheets(parts, changes, origins)
  return newParts
}

/** Parts that go with the sheets that alone led to them. */
function dropSheets(
  parts: WorkbookParts,
  changes: Map<string, Uint8Array | null>,
  origins: readonly (number | null)[],
): void {
  const { opened } = parts
  const gone = new Set(parts.sheets.flatMap(({ part }, index) => (origins.includes(index) ? [] : [part])))
  if (!gone.size) return
  const reached = (without: ReadonlySet<string>) => {
    const seen = new Set<string>()
    const open = ['']
    for (let part = open.pop(); part !== undefined; part = open.pop())
      for (const { target, external } of opened.relationships(part).values())
        if (!external && !seen.has(target) && !without.has(target)) {
          seen.add(target)
          open.push(target)
        }
    return seen
  }
  const stays = reached(gone)
  for (const part of reached(new Set())) {
    if (stays.has(part)) continue
    dropPart(opened, parts.main, part, changes)
    const relationships = relationshipsPartOf(part)
    if (opened.bytes(relationships)) changes.set(relationships, null)
  }
}
