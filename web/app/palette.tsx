// Where everything that can be done is listed by name. The list comes when it is wanted the first time, and is fetched ahead;
// whoever is quicker types meanwhile into a line that hands on what was typed.
import { Dialog } from 'radix-ui'
import { lazy, Suspense, useEffect, useRef } from 'react'
import { whenIdle } from '../design/when-idle'
import { t } from '../words'

const fetchList = () => import('./palette-list')
const PaletteList = lazy(fetchList)

const lineToType = 'h-12 w-full border-b bg-transparent px-4 text-[16px] outline-none'

export function CommandPalette({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const typed = useRef('')
  useEffect(() => whenIdle(() => void fetchList().catch(() => {})), [])
  useEffect(() => {
    if (!open) typed.current = ''
  }, [open])
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="fixed left-1/2 top-[min(14vh,12px+6vh)] z-50 w-[min(600px,calc(100vw-32px))] -translate-x-1/2 overflow-hidden rounded-lg border bg-paper shadow-slip"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">{t('app.go-to-or-do')}</Dialog.Title>
          <Suspense
            fallback={
              <input
                autoFocus
                placeholder={t('app.where-to-what-to-do-or-how')}
                aria-label={t('app.go-to-or-do')}
                className={lineToType}
                onChange={(event) => {
                  typed.current = event.target.value
                }}
              />
            }
          >
            <Handed typed={typed} onClose={() => onOpenChange(false)} />
          </Suspense>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** Takes what was typed when the list is there, not before. */
function Handed({ typed, onClose }: { typed: React.RefObject<string>; onClose: () => void }) {
  return <PaletteList typed={typed.current} line={lineToType} onClose={onClose} />
}
