// Somebody says how a list is written while it is open elsewhere: those pages follow. Where one has changes that were made in
// the list as it was read, its save says how it was written, and the file is read that way again (server/saving).
import { useEffect, useSyncExternalStore } from 'react'
import type { CsvDialect } from '../../../core/formats/csv/dialect'
import { saidIn, typeReadAs } from '../../../core/formats/csv/said'
import type { WorkbookStore } from '../../views/workbook/store'
import type { DraftSession } from '../../work/session'

const sameReading = (a: CsvDialect, b: CsvDialect) =>
  a.separator === b.separator &&
  a.decimal === b.decimal &&
  a.dates === b.dates &&
  a.encoding === b.encoding &&
  a.guarded === b.guarded

/**
 * @param readAs what is said of the file with the version that this work is based on; undefined while that is not known
 * @param onReadAnew opens the file as it is read now
 */
export function useReading(
  store: WorkbookStore,
  session: DraftSession,
  readAs: string | null | undefined,
  onReadAnew: () => void,
): void {
  const { unsaved, head, elsewhere, taken } = useSyncExternalStore(session.subscribe, session.outline)
  const list = store.csv
  // biome-ignore lint/correctness/useExhaustiveDependencies: settled when what is said, or what is saved, changed
  useEffect(() => {
    // The draft of another tab is not this one's to end.
    if (!list || readAs === undefined || unsaved || elsewhere || taken) return
    let gone = false
    void store.preview(saidIn(typeReadAs('csv', readAs))).then((now) => {
      // What says the same in other words is no other reading.
      if (!gone && now && !sameReading(now.dialect, list.dialect)) onReadAnew()
    })
    return () => {
      gone = true
    }
  }, [list, readAs, unsaved, head?.id, elsewhere, taken])
}
