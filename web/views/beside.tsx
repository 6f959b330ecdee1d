// What stands beside the work: a panel with a heading, which takes the keys with it and gives them back.
import { X } from 'lucide-react'
import { type ReactNode, useEffect, useId, useRef } from 'react'
import { IconButton } from '../design/icon-button'
import { t } from '../words/all'

/** @param escapeFromFields Escape closes it also where somebody types */
export function Beside({
  title,
  escapeFromFields = true,
  onClose,
  children,
}: {
  title: string
  escapeFromFields?: boolean
  onClose: () => void
  children: ReactNode
}) {
  const panel = useRef<HTMLElement>(null)
  const heading = useId()
  // The keys come along, and go back to the work with it.
  useEffect(() => panel.current?.focus(), [])
  return (
    <section
      ref={panel}
      tabIndex={-1}
      data-beside
      aria-labelledby={heading}
      className="absolute inset-0 z-30 overflow-auto bg-paper px-4 pb-6 outline-none md:static md:z-auto md:w-[380px] md:shrink-0 md:border-r"
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return
        if (!escapeFromFields && event.target instanceof HTMLInputElement) return
        event.stopPropagation()
        onClose()
      }}
    >
      <div className="flex items-center gap-3 pb-1 pt-3">
        <h2 id={heading} className="min-w-0 flex-1 text-[17px] font-semibold">
          {title}
        </h2>
        <IconButton label={t('people.close-this')} onClick={onClose}>
          <X />
        </IconButton>
      </div>
      {children}
    </section>
  )
}
