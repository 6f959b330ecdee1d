// A large spreadsheet takes its time to open: how far it is, and a way out.
import { useEffect, useState, useSyncExternalStore } from 'react'
import { runCommand } from '../../design/commands'
import { Blank, Button } from '../../design/controls'
import type { WorkbookStore } from '../../views/workbook/store'
import { t } from '../../words/all'

/** What opens sooner says no more than that; milliseconds. */
const patience = 1000

export function SlowOpening({
  store,
  size,
  mayStop,
}: {
  store: WorkbookStore
  /** Of the file; bytes. */
  size: number
  /** Nothing in it waits to be saved. */
  mayStop: boolean
}) {
  const [slow, setSlow] = useState(false)
  useEffect(() => {
    const later = setTimeout(() => setSlow(true), patience)
    return () => clearTimeout(later)
  }, [])
  const coming = useSyncExternalStore(store.subscribe, () => store.coming)
  const { rows, of } = coming
  return (
    <div className="min-h-0 flex-1">
      <Blank title={t('common.opening')} waiting>
        {slow && (
          <>
            <p className="tabular-nums">
              {of
                ? t('sheet.rows-of-rows', { rows, of })
                : t('sheet.reading-so-much', { megabytes: Math.ceil(size / 1e6) })}
            </p>
            <progress
              className="mt-3 h-1.5 w-64 accent-accent"
              aria-label={t('common.opening')}
              {...(of && { value: rows, max: of })}
            />
            {mayStop && (
              <p className="mt-4">
                <Button
                  onClick={() => {
                    store.close()
                    runCommand('close')
                  }}
                >
                  {t('sheet.stop-opening')}
                </Button>
              </p>
            )}
          </>
        )}
      </Blank>
    </div>
  )
}
