// Somebody says how a list is written while it is open elsewhere: those pages follow. Where one has changes that were made in
// the list as it was read, its save is written that way, and the file is read that way again.
import { useEffect, useRef, useSyncExternalStore } from 'react'
import type { CsvDialect } from '../../../core/formats/csv/dialect'
import { type SaidOfList, saidIn, typeReadAs } from '../../../core/formats/csv/said'
import { call } from '../../api/call'
import type { WorkbookStore } from '../../views/workbook/store'
import type { DraftSession } from '../../work/session'

const sameReading = (a: CsvDialect, b: CsvDialect) =>
  a.separator === b.separator &&
  a.decimal === b.decimal &&
  a.dates === b.dates &&
  a.encoding === b.encoding &&
  a.guarded === b.guarded

/**
 * @param readAs what is said of the file now; undefined while that is not known
 * @param mayEdit whether this page writes
 * @param onReadAnew opens the file as it is read now
 */
export function useReading(
  store: WorkbookStore,
  session: DraftSession,
  readAs: string | null | undefined,
  mayEdit: boolean,
  onReadAnew: () => void,
): void {
  const { unsaved, head, file, elsewhere, taken } = useSyncExternalStore(session.subscribe, session.outline)
  const list = store.csv
  /** The version that there was when there were changes of one's own in the other reading. */
  const written = useRef<string | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: settled when what is said, or what is saved, changed
  useEffect(() => {
    // The draft of another tab is not this one's to end.
    if (!list || !file || readAs === undefined || elsewhere || taken) return
    let gone = false
    void store.preview(saidIn(typeReadAs('csv', readAs))).then((now) => {
      if (gone) return
      // What says the same in other words is no other reading.
      if (!now || sameReading(now.dialect, list.dialect)) {
        written.current = null
        return
      }
      if (unsaved) {
        written.current ??= head?.id ?? ''
        return
      }
      const saved = written.current !== null && written.current !== head?.id
      written.current = null
      if (!saved || !mayEdit) return onReadAnew()
      const { separator, decimal, dates } = list.dialect
      const said: SaidOfList = { ...saidIn(list.readAs), separator, decimal, dates }
      void call('setReading', { params: { fileId: file.id }, body: said }).catch(() => {})
    })
    return () => {
      gone = true
    }
  }, [list, readAs, unsaved, head?.id, elsewhere, taken])
}
