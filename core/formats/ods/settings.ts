// Rows and columns that stay in sight (ISO/IEC 26300-1 §3.10: settings by name, in the names that files have for them).

import type { OdfPackage } from '../odf/package'
import { spannedTree } from '../opc/spanned-xml'
import { elements, escapeAttribute, textOf, type XmlElement } from '../opc/xml'
import { DamagedFile } from '../refusals'

export interface Panes {
  rows: number
  columns: number
}
const frozenMode = '2'

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
            said.get(`${side}SplitMode`) === frozenMode ? Number(said.get(`${side}SplitPosition`)) || 0 : 0
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

/** @param sheets with the names that the settings are for */
export function settingsXml(sheets: readonly { name: string; frozen?: Panes | undefined }[]): string {
  const item = (name: string, type: string, value: string | number) =>
    `<config:config-item config:name="${name}" config:type="${type}">${value}</config:config-item>`
  const tables = sheets.map(({ name, frozen }) => {
    const side = (which: string, position: number, active: string) =>
      item(`${which}SplitMode`, 'short', position ? frozenMode : 0) +
      item(`${which}SplitPosition`, 'int', position) +
      item(active, 'int', position)
    const panes = frozen
      ? side('Horizontal', frozen.columns, 'PositionRight') +
        side('Vertical', frozen.rows, 'PositionBottom') +
        item('ActiveSplitRange', 'short', frozen.rows && frozen.columns ? 3 : frozen.columns ? 1 : 2)
      : ''
    return `<config:config-item-map-entry config:name="${escapeAttribute(name)}">${panes}</config:config-item-map-entry>`
  })
  return (
    '<?xml version="1.0" encoding="UTF-8"?>\n<office:document-settings xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:config="urn:oasis:names:tc:opendocument:xmlns:config:1.0" office:version="1.3"><office:settings><config:config-item-set config:name="ooo:view-settings"><config:config-item-map-indexed config:name="Views"><config:config-item-map-entry><config:config-item-map-named config:name="Tables">' +
    tables.join('') +
    '</config:config-item-map-named></config:config-item-map-entry></config:config-item-map-indexed></config:config-item-set></office:settings></office:document-settings>'
  )
}
