import { X } from 'lucide-react'
import { IconButton } from '../design/icon-button'
import { t, told } from '../words'
import type { BroughtIn } from './bring-in'

export function BroughtInList({
  items,
  onAgain,
  onClose,
}: {
  items: BroughtIn[]
  onAgain: (item: BroughtIn, name: string) => void
  onClose: () => void
}) {
  const done = items.filter((item) => item.state === 'done').length
  return (
    <section className="mx-6 mb-3 rounded-md border bg-paper" aria-label={t('files.files-being-brought-in')}>
      <div className="flex items-center px-4 py-2">
        <span className="font-medium" role="status">
          {t('files.of-files-brought-in', { done, items: items.length })}
        </span>
        <IconButton label={t('files.close-this-list')} className="ml-auto size-7" onClick={onClose}>
          <X />
        </IconButton>
      </div>
      <ul className="max-h-44 overflow-auto border-t">
        {items.map((item) => (
          <li key={item.key} className="flex items-center gap-3 px-4 py-1.5 text-[14px]">
            <span className="w-72 shrink-0 truncate font-mono">{item.name}</span>
            {item.state === 'refused' ? (
              <span className="flex flex-wrap items-center gap-x-3 text-rust" role="alert">
                {item.problem && told(item.problem)}
                {item.problem?.freeName && (
                  <button type="button" className="underline" onClick={() => onAgain(item, item.problem!.freeName!)}>
                    {t('common.use-2', { freeName: item.problem.freeName })}
                  </button>
                )}
                {item.mayKeepName && (
                  <button type="button" className="underline" onClick={() => onAgain(item, item.name)}>
                    {t('files.keep-the-name')}
                  </button>
                )}
                {(item.problem?.status ?? 500) >= 500 || item.problem?.status === 0 ? (
                  <button type="button" className="underline" onClick={() => onAgain(item, item.name)}>
                    {t('common.try-again')}
                  </button>
                ) : null}
              </span>
            ) : (
              <>
                <progress
                  className="h-1.5 w-40 accent-accent"
                  value={item.progress}
                  aria-label={t('files.progress-of', { itemName: item.name })}
                />
                <span className="text-soft">
                  {item.state === 'done'
                    ? t('common.done')
                    : item.state === 'sending'
                      ? `${Math.round(item.progress * 100)} %`
                      : t('files.waiting')}
                </span>
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
