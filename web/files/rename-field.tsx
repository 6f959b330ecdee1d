import { useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { useEffect, useRef, useState } from 'react'
import type { Entry } from '../../core/contract'
import { checkName, correctName, splitExtension } from '../../core/naming/check'
import { t, told } from '../words'
import { act } from './acts'

/** The name in its row, without its ending, so that it cannot be broken by accident. */
export function RenameField({ entry, onEnd }: { entry: Entry; onEnd: () => void }) {
  const client = useQueryClient()
  const [stem, ending] = entry.kind === 'file' ? splitExtension(entry.name) : [entry.name, '']
  const [text, setText] = useState(stem)
  const [refusal, setRefusal] = useState<{ title: string; better?: string | undefined } | null>(null)
  const field = useRef<HTMLInputElement>(null)
  const ended = useRef(false)
  useEffect(() => {
    field.current?.focus()
    field.current?.select()
  }, [])
  const name = text.trim() + ending
  const fault = checkName(name)
  const keep = async () => {
    if (ended.current) return
    if (name === entry.name) return onEnd()
    if (fault) return setRefusal({ title: told(fault.reason), better: correctName(name) ?? undefined })
    ended.current = true
    const problem = await act(client, 'rename', [{ id: entry.id, name, from: entry.name }])
    // The field goes when the name is kept, and going it loses the focus: that is not another wish.
    if (!problem) return onEnd()
    ended.current = false
    setRefusal({ title: told(problem), better: problem.freeName })
  }
  const said =
    refusal ?? (fault && text.trim() ? { title: told(fault.reason), better: correctName(name) ?? undefined } : null)
  return (
    <span className="relative flex min-w-0 flex-1 items-center" onPointerDown={(event) => event.stopPropagation()}>
      <input
        ref={field}
        aria-label={t('files.new-name-of', { entryName: entry.name })}
        aria-invalid={said ? true : undefined}
        className={clsx(
          'h-8 min-w-0 flex-1 rounded border bg-sheet px-2 font-mono text-[14px]',
          said ? 'border-rust' : 'border-accent',
        )}
        value={text}
        dir="auto"
        spellCheck={false}
        onChange={(event) => {
          setText(event.target.value)
          setRefusal(null)
        }}
        onBlur={() => void keep()}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key === 'Enter') void keep()
          if (event.key === 'Escape') {
            ended.current = true
            onEnd()
          }
        }}
      />
      <span className="pl-1 font-mono text-[14px] text-soft">{ending}</span>
      {said && (
        <span
          role="alert"
          className="absolute left-0 top-9 z-20 max-w-xl rounded border bg-paper px-3 py-1.5 text-[13px] text-rust shadow-slip"
        >
          {said.title}{' '}
          {said.better && (
            <button
              type="button"
              className="underline"
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => {
                setText(ending && said.better!.endsWith(ending) ? said.better!.slice(0, -ending.length) : said.better!)
                setRefusal(null)
              }}
            >
              {t('common.use', { better: said.better })}
            </button>
          )}
        </span>
      )}
    </span>
  )
}
