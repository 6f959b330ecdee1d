// What is open in this tab: gone to from anywhere, and closed together with one question.
import clsx from 'clsx'
import { Files } from 'lucide-react'
import { useEffect, useState, useSyncExternalStore } from 'react'
import { useNavigate } from 'react-router'
import { defaultType } from '../../core/formats/types'
import { runCommand, useOffer } from '../design/commands'
import { KindGlyph } from '../design/kind'
import { Menu, MenuItem, MenuRule } from '../design/overlay'
import { t } from '../words'
import { neighbour, openWorks, subscribeOpenWorks } from './open-works'

export const useOpenWorks = () => useSyncExternalStore(subscribeOpenWorks, openWorks)

/** The button and its list. @param besides only where something else is open than what is shown */
export function OpenList({ besides = false }: { besides?: boolean }) {
  const works = useOpenWorks()
  const navigate = useNavigate()
  const [open, setOpen] = useState(false)
  const others = works.filter(({ shown }) => !shown)
  const unsaved = others.filter((work) => work.unsaved).length
  const some = besides ? others.length > 0 : works.length > 0
  useOffer(
    some
      ? [
          {
            id: 'open files',
            label: t('app.list-what-is-open'),
            keys: 'Alt+O',
            group: t('app.go-to'),
            run: () => setOpen(true),
          },
        ]
      : [],
  )
  useEffect(() => {
    if (!some) setOpen(false)
  }, [some])
  if (!some) return null
  return (
    <Menu
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button
          type="button"
          title={t('app.list-what-is-open')}
          aria-keyshortcuts="Alt+O"
          className="flex h-8 shrink-0 items-center gap-1.5 rounded-md px-2 text-[14px] hover:bg-wash"
        >
          <Files size={17} aria-hidden />
          <span className="max-md:sr-only">{t('app.n-open', { n: works.length })}</span>
          <span className="md:hidden" aria-hidden>
            {works.length}
          </span>
          {unsaved > 0 && (
            <>
              <span className="size-2 rounded-full bg-ochre" aria-hidden />
              <span className="sr-only">{t('app.n-of-them-not-saved', { n: unsaved })}</span>
            </>
          )}
        </button>
      }
    >
      <div className="max-h-[60vh] w-[min(420px,calc(100vw-32px))] overflow-auto">
        {works.map((work) => (
          <MenuItem key={work.draftId} onSelect={() => !work.shown && void navigate(work.address)}>
            <KindGlyph type={defaultType[work.kind]} size={16} />
            <span
              className={clsx(
                'min-w-0 flex-1 truncate',
                work.named && 'font-mono text-[14px]',
                work.shown && 'font-semibold',
              )}
            >
              {work.name}
            </span>
            {work.unsaved && <span className="shrink-0 text-[13px] text-ochre">{t('app.not-saved')}</span>}
            {work.shown && <span className="shrink-0 text-[13px] text-soft">{t('app.shown-now')}</span>}
          </MenuItem>
        ))}
      </div>
      <MenuRule />
      <MenuItem keys="Alt+S" onSelect={() => runCommand('save all')}>
        {t('common.save-everything-open')}
      </MenuItem>
      <MenuItem keys="Alt+Shift+W" onSelect={() => runCommand('close all')}>
        {t('app.close-everything-open')}
      </MenuItem>
    </Menu>
  )
}

/** Going from one to the next by keys, and each by its name in the list of commands. */
export function useSwitching(): void {
  const works = useOpenWorks()
  const navigate = useNavigate()
  const go = (step: 1 | -1) => {
    const next = neighbour(step)
    if (next) void navigate(next.address)
  }
  const group = t('app.open-now')
  const others = works.filter(({ shown }) => !shown)
  useOffer(
    others.length
      ? [
          { id: 'next open', label: t('app.next-open-file'), keys: 'Alt+PageDown', group, run: () => go(1) },
          { id: 'open before', label: t('app.open-file-before'), keys: 'Alt+PageUp', group, run: () => go(-1) },
          ...others.map(({ draftId, name, address }) => ({
            id: `open ${draftId}`,
            label: name,
            group,
            run: () => void navigate(address),
          })),
        ]
      : [],
  )
  // The browser asks before a tab with unsaved work in it goes.
  const unsaved = works.some((work) => work.unsaved)
  useEffect(() => {
    if (!unsaved) return
    const warn = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [unsaved])
}
