// What is looked for in a file, and what comes in its place: one line above the work, the same for all kinds of it.
import { ArrowDown, ArrowUp, X } from 'lucide-react'
import { type ReactNode, useEffect, useRef } from 'react'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { t } from '../words/all'

export function FindBar({
  text,
  onText,
  replacement,
  onReplacement,
  found,
  status,
  sameCase,
  onSameCase,
  editable,
  onGo,
  onReplace,
  onReplaceAll,
  onClose,
  children,
}: {
  text: string
  onText: (text: string) => void
  replacement: string
  onReplacement: (text: string) => void
  /** How many places there are. */
  found: number
  status: string
  sameCase: boolean
  onSameCase: (same: boolean) => void
  editable: boolean
  onGo: (way: 'next' | 'previous') => void
  onReplace: () => void
  onReplaceAll: () => void
  onClose: () => void
  /** Other choices. */
  children?: ReactNode
}) {
  const input = useRef<HTMLInputElement>(null)
  const bar = useRef<HTMLElement>(null)
  useEffect(() => input.current?.select(), [])
  // A button that does nothing any more gives the keyboard back.
  useEffect(() => {
    const at = document.activeElement
    if (found === 0 && at instanceof HTMLButtonElement && bar.current?.contains(at)) input.current?.focus()
  }, [found])
  const field = 'h-8 w-44 rounded-md border border-rule-strong bg-sheet px-2'
  return (
    <search
      ref={bar}
      className="flex flex-wrap items-center gap-2 border-b bg-paper px-3 py-1.5"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose()
        // Asked for again: what is looked for is chosen, to be typed over.
        if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'f') {
          event.preventDefault()
          event.stopPropagation()
          input.current?.select()
        }
      }}
    >
      <input
        ref={input}
        className={field}
        placeholder={t('common.find')}
        aria-label={t('common.find')}
        value={text}
        onChange={(event) => onText(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && onGo(event.shiftKey ? 'previous' : 'next')}
      />
      <IconButton label={t('document.previous')} keys="Shift+Enter" onClick={() => onGo('previous')}>
        <ArrowUp />
      </IconButton>
      <IconButton label={t('document.next')} keys="Enter" onClick={() => onGo('next')}>
        <ArrowDown />
      </IconButton>
      <span className="w-24 text-[13px] text-soft" role="status">
        {status}
      </span>
      {editable && (
        <>
          <input
            className={field}
            placeholder={t('document.replace-with')}
            aria-label={t('document.replace-with')}
            value={replacement}
            onChange={(event) => onReplacement(event.target.value)}
            onKeyDown={(event) => event.key === 'Enter' && onReplace()}
          />
          <Button disabled={found === 0} onClick={onReplace}>
            {t('common.replace')}
          </Button>
          <Button disabled={found === 0} onClick={onReplaceAll}>
            {t('document.replace-all')}
          </Button>
        </>
      )}
      <FindChoice label={t('document.same-case')} checked={sameCase} onChange={onSameCase} />
      {children}
      <IconButton label={t('common.close')} className="ml-auto" onClick={onClose}>
        <X />
      </IconButton>
    </search>
  )
}

export const FindChoice = ({
  label,
  checked,
  onChange,
}: {
  label: string
  checked: boolean
  onChange: (checked: boolean) => void
}) => (
  <label className="flex items-center gap-1.5 text-[13px]">
    <input
      type="checkbox"
      className="accent-accent"
      checked={checked}
      onChange={(event) => onChange(event.target.checked)}
    />
    {label}
  </label>
)
