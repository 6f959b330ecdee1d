// Rows and columns that stay in sight (ISO/IEC 26300-1 §3.10: settings by name, in the names that files have for them).

import type { OdfPackage } from '../odf/package'
import { spannedTree } from '../opc/spanned-xml'
import { Splices } from '../opc/spans'
import { elements, escapeAttribute, textOf, type XmlElement } from '../opc/xml'
import { DamagedFile, NotPatched } from '../refusals'

export interface Panes {
  rows: number
  columns: number
}
const frozenMode = 2

/** By the name of a sheet. */
export function frozenIn({ container }: OdfPackage): Map<string, Panes> {
  const found = new Map<string, Panes>()
  const bytes = container.read('settings.xml')
  if (!bytes) return found
  try {
    const visit = (element: XmlElement): void => {
      if (element.name === 'config:config-item-map-named' && element.attributes['config:name'] === 'Tables')
        for (const table of elements(element)) {
          const said = new Map(
            Array.from(elements(table), (one) => [one.attributes['config:name'], textOf(one).trim()]),
          )
          const count = (side: 'Vertical' | 'Horizontal') =>
            Number(said.get(`${side}SplitMode`)) === frozenMode ? Number(said.get(`${side}SplitPosition`)) || 0 : 0
          const panes = { rows: count('Vertical'), columns: count('Horizontal') }
          if (panes.rows || panes.columns) found.set(table.attributes['config:name'] ?? '', panes)
        }
      else for (const inner of elements(element)) visit(inner)
    }
    visit(spannedTree(new TextDecoder().decode(bytes)))
  } catch (error) {
    // What cannot be read of it is how the sheets are shown, and nothing of what they hold.
    if (!(error instanceof DamagedFile)) throw error
  }
  return found
}

/** What one sheet's settings say of its panes. */
function items(panes: Panes | undefined): [name: string, type: string, value: number][] {
  const { rows = 0, columns = 0 } = panes ?? {}
  return [
    ['HorizontalSplitMode', 'short', columns ? frozenMode : 0],
    ['HorizontalSplitPosition', 'int', columns],
    ['VerticalSplitMode', 'short', rows ? frozenMode : 0],
    ['VerticalSplitPosition', 'int', rows],
    ['PositionRight', 'int', columns],
    ['PositionBottom', 'int', rows],
    ['ActiveSplitRange', 'short', rows && columns ? 3 : columns ? 1 : 2],
  ]
}
const itemXml = ([name, type, value]: [string, string, number]): string =>
  `<config:config-item config:name="${name}" config:type="${type}">${value}</config:config-item>`
const entryXml = (name: string, panes: Panes | undefined): string =>
  `<config:config-item-map-entry config:name="${escapeAttribute(name)}">${panes ? items(panes).map(itemXml).join('') : ''}</config:config-item-map-entry>`

/**
 * Settings with other panes for some sheets; everything else that they say stays.
 * @throws NotPatched where they have no place for what is said of sheets
 */
export function settingsWith(xml: string, changed: ReadonlyMap<string, Panes | undefined>): string {
  const found: XmlElement[] = []
  const visit = (element: XmlElement): void => {
    if (element.name === 'config:config-item-map-named' && element.attributes['config:name'] === 'Tables')
      found.push(element)
    else for (const inner of elements(element)) visit(inner)
  }
  visit(spannedTree(xml))
  const splices = new Splices()
  if (!found.length || found.some(({ at }) => at!.kind !== 'open')) throw new NotPatched('settings')
  for (const tables of found)
    for (const [name, panes] of changed) {
      const entry = Array.from(elements(tables)).find((one) => one.attributes['config:name'] === name)
      if (!entry || entry.at!.kind !== 'open') {
        if (entry) splices.replace(entry.at!.start, entry.at!.end, entryXml(name, panes))
        else splices.insert(tables.at!.inner[1], entryXml(name, panes))
        continue
      }
      const before = new Map(Array.from(elements(entry), (one) => [one.attributes['config:name'], one]))
      for (const item of items(panes)) {
        const old = before.get(item[0])
        if (old) splices.replace(old.at!.start, old.at!.end, itemXml(item))
        else splices.insert(entry.at!.inner[1], itemXml(item))
      }
    }
  return splices.apply(xml)
}

/** @param sheets with the names that the settings are for */
export const settingsXml = (sheets: readonly { name: string; frozen?: Panes | undefined }[]): string =>
  '<?xml version="1.0" encoding="UTF-8"?>\n<office:document-settings xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:config="urn:oasis:names:tc:opendocument:xmlns:config:1.0" office:version="1.3"><office:settings><config:config-item-set config:name="ooo:view-settings"><config:config-item-map-indexed config:name="Views"><config:config-item-map-entry><config:config-item-map-named config:name="Tables">' +
  sheets.map(({ name, frozen }) => entryXml(name, frozen)).join('') +
  '</config:config-item-map-named></config:config-item-map-entry></config:config-item-map-indexed></config:config-item-set></office:settings></office:document-settings>'
