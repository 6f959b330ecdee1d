// An earlier moment as it is put on pages.
import { noLooks } from '../../core/content/looks'
import type { Workbook } from '../../core/content/workbook'
import { applyOps } from '../../core/content/workbook-ops'
import { shownSheet } from '../../core/paper/shown'
import type { PutOnPaper } from '../work/content'
import type { Then } from '../workers/looking-back'

/** What is looked at in place of the work. */
export interface LookedAtThen {
  id: string
  then: Then
  /** The work that it was told against. */
  present: unknown
  /** The version that it is; null for a moment between them. */
  version: { id: string; number: number } | null
}

/** @param only its first sheet @returns null for what cannot be shown */
export function thenOnPaper({ then, present }: LookedAtThen, only: boolean): PutOnPaper | null {
  if (then.kind === 'document') return { kind: 'document', json: then.json }
  if (then.kind !== 'spreadsheet') return null
  const { sheets } = applyOps(present as Workbook, then.ops)
  return {
    kind: 'sheets',
    sheets: sheets
      .slice(0, only ? 1 : sheets.length)
      .map((sheet, at) =>
        shownSheet(sheet, then.looks?.[at] ?? noLooks, (row, column) => then.results[at]?.get(row * 16_384 + column)),
      ),
    others: sheets.length - 1,
  }
}
