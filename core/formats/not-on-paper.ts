// What of a file is not on its pages, told before somebody gets them in place of the file.
import type { Node } from 'prosemirror-model'
import { type SheetLooks, shownLooks } from '../content/looks'
import type { Workbook } from '../content/workbook'
import { pageShows } from './docx/unseen'
import { allOf, type Limit, Limits } from './refusals'

const notOnPages: Readonly<Record<string, string>> = { comment: 'comments', removed: 'tracked removals' }

/** @param limits what its file holds beyond the model @param remarks comments and tracked changes are on the pages */
export function documentNotOnPaper(doc: Node, limits: readonly Limit[], remarks = false): Limit[] {
  const found = new Limits()
  let heading = ''
  doc.descendants((node, at) => {
    if (node.type.name === 'heading') heading = node.textContent.slice(0, 60)
    const feature = node.type.name === 'kept' ? notOnPages[node.attrs.kind] : undefined
    if (feature && !remarks) found.add(feature, heading, 1, [at])
  })
  return allOf(
    found.list(),
    limits.filter(({ feature }) => !pageShows.has(feature)),
  )
}

/** Features of a workbook's file that its pages are set by. */
const setBy: ReadonlySet<string> = new Set([...shownLooks, 'page breaks', 'page headers and footers', 'defined names'])

const hiddenLines = 'hidden rows and columns (they become visible)'

/** @param limits what its file holds beyond the model @param hidden sheets that are left out */
export function sheetsNotOnPaper(
  { sheets }: Workbook,
  looks: readonly SheetLooks[],
  limits: readonly Limit[],
  hidden: ReadonlySet<number> = new Set(),
): Limit[] {
  const found = new Limits()
  for (const [at, { name, rows }] of sheets.entries()) {
    if (hidden.has(at)) {
      found.add('hidden sheets (they become visible)', name, 1, [at, 0, 0])
      continue
    }
    for (const [row, line] of rows.entries())
      for (const [column, cell] of (line ?? []).entries())
        if (cell?.formula !== undefined) found.add('formulas (their results stay)', name, 1, [at, row, column])
    const { hiddenRows, hiddenColumns } = looks[at] ?? {}
    for (const row of hiddenRows ?? []) found.add(hiddenLines, name, 1, [at, row, 0])
    for (const column of hiddenColumns ?? []) found.add(hiddenLines, name, 1, [at, 0, column])
  }
  return allOf(
    found.list(),
    limits.filter(({ feature }) => !setBy.has(feature) && feature !== 'hidden sheets (they become visible)'),
  )
}
