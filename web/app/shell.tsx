import { useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { FilePlus2, Search, UserRound } from 'lucide-react'
import { useEffect, useState } from 'react'
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { runByKeys, useOffer } from '../design/commands'
import { goHome, toMain, watchFocus } from '../design/focus'
import { IconButton } from '../design/icon-button'
import { KindGlyph } from '../design/kind'
import { Menu, MenuItem, MenuRule } from '../design/overlay'
import { t } from '../words'
import { OpenList, useOpenWorks, useSwitching } from '../work/open-list'
import { tidyDevice } from '../work/pieces'
import { CloseAll } from './close-all'
import { AllKeys } from './keys'
import { useNews } from './news'
import { CommandPalette } from './palette'
import { SaveAll, useAnswering } from './save-all'
import { Wordmark } from './wordmark'

const everybodys = [
  [t('app.desk'), '/'],
  [t('app.files'), '/files'],
  [t('common.find'), '/find'],
  [t('common.rescue'), '/rescue'],
  [t('common.names'), '/names'],
  [t('app.copies'), '/copies'],
  [t('common.settings'), '/settings'],
] as const

/** What nobody waits for begins when the first screen is there; milliseconds. */
const settled = 3000

/** What stands around every screen: the way to the others, the command palette, the news. */
export function Shell() {
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const editing = /^\/(open|draft)\//.test(pathname)
  const { person, settings, signOut } = useSession()
  const views = person.administrator
    ? [...everybodys.slice(0, -1), [t('app.people'), '/people'] as const, ...everybodys.slice(-1)]
    : everybodys
  const [palette, setPalette] = useState(false)
  const [keys, setKeys] = useState(false)
  const [all, setAll] = useState<'save' | 'close' | null>(null)
  useNews()
  useEffect(watchFocus, [])
  // A screen that took nothing for itself gets the keyboard at its beginning, and the window its name.
  // biome-ignore lint/correctness/useExhaustiveDependencies: title and focus follow the address and nothing else
  useEffect(() => {
    const here = views.find(([, path]) => (path === '/' ? pathname === '/' : pathname.startsWith(path)))
    if (!editing)
      document.title = t('app.jaula', {
        it: pathname.startsWith('/copies/retention')
          ? t('common.retention')
          : pathname.startsWith('/take-over')
            ? t('files.take-over')
            : (here?.[0] ?? t('common.jaula')),
      })
    const frame = requestAnimationFrame(goHome)
    return () => cancelAnimationFrame(frame)
  }, [pathname])
  const templates = useQuery(queries.templates)
  useEffect(() => void tidyDevice(person, settings).catch(() => {}), [person, settings])
  // Copies in folders of this computer, where the browser gives any.
  useEffect(() => {
    if (!('showDirectoryPicker' in window)) return
    let stop = () => {}
    let ended = false
    const timer = setTimeout(async () => {
      const { keepOwnCopies } = await import('../own/runner')
      if (!ended) stop = keepOwnCopies(person.id)
    }, settled)
    return () => {
      ended = true
      clearTimeout(timer)
      stop()
    }
  }, [person.id])
  useEffect(() => {
    const press = (event: KeyboardEvent) => void (event.defaultPrevented || runByKeys(event))
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [])
  useAnswering()
  useSwitching()
  const anyOpen = useOpenWorks().length > 0
  useOffer([
    {
      id: 'save all',
      label: t('common.save-everything-open'),
      keys: 'Alt+S',
      group: t('app.open-now'),
      run: () => setAll('save'),
    },
    ...(anyOpen
      ? [
          {
            id: 'close all',
            label: t('app.close-everything-open'),
            keys: 'Alt+Shift+W',
            group: t('app.open-now'),
            run: () => setAll('close'),
          },
        ]
      : []),
    ...views.map(([label, path]) => ({
      id: `go ${label}`,
      label,
      group: t('app.go-to'),
      run: () => void navigate(path),
    })),
    {
      id: 'go Retention',
      label: t('common.retention'),
      group: t('app.go-to'),
      run: () => void navigate('/copies/retention'),
    },
    {
      id: 'search in history',
      label: t('common.search-in-history'),
      group: t('app.go-to'),
      run: () => void navigate('/history'),
    },
    {
      id: 'new document',
      label: t('common.new-document'),
      keys: 'Alt+N',
      group: t('common.begin'),
      run: () => void navigate('/new/document'),
    },
    {
      id: 'new spreadsheet',
      label: t('common.new-spreadsheet'),
      keys: 'Alt+Shift+N',
      group: t('common.begin'),
      run: () => void navigate('/new/spreadsheet'),
    },
    {
      id: 'find a file',
      label: t('app.find-a-file-2'),
      keys: 'Alt+F',
      group: t('app.go-to'),
      run: () => void navigate('/find'),
    },
    ...(templates.data?.map((template) => ({
      id: `template ${template.id}`,
      label: t('app.new-from', { templateName: template.name }),
      group: t('common.begin'),
      run: () => void navigate(`/new/${template.kind}?template=${template.id}`),
    })) ?? []),
    ...(person.administrator
      ? [
          {
            id: 'add people',
            label: t('app.add-people'),
            group: t('common.begin'),
            run: () => void navigate('/people?add=1'),
          },
        ]
      : []),
    { id: 'sign out', label: t('common.sign-out'), group: t('common.jaula'), run: () => void signOut() },
    {
      id: 'palette',
      label: t('app.all-commands'),
      keys: 'Alt+K',
      group: t('common.jaula'),
      run: () => setPalette((open) => !open),
    },
    {
      id: 'keys',
      label: t('app.all-keys'),
      words: t('app.shortcuts-keyboard'),
      group: t('common.jaula'),
      run: () => setKeys(true),
    },
  ])
  return (
    <div className="flex h-full flex-col">
      <button
        type="button"
        className="absolute left-2 top-2 z-[70] -translate-y-20 rounded-md bg-ink px-3 py-1.5 text-paper focus:translate-y-0"
        onClick={toMain}
      >
        {t('app.skip-to-the-content')}
      </button>
      {!editing && (
        <header className="flex min-h-14 shrink-0 flex-wrap items-center max-md:pt-2 gap-x-2 border-b bg-paper px-3 lg:gap-x-4 lg:px-6">
          <NavLink to="/" aria-label={t('app.jaula-to-the-desk')}>
            <Wordmark />
          </NavLink>
          <nav
            className="order-last flex h-11 w-full items-stretch overflow-x-auto md:order-none md:h-14 md:w-auto"
            aria-label={t('app.views')}
          >
            {views.map(([label, path]) => (
              <NavLink
                key={path}
                to={path}
                end={path === '/'}
                className={({ isActive }) =>
                  clsx(
                    'flex shrink-0 items-center border-b-2 border-t-2 border-t-transparent px-2.5 lg:px-3',
                    isActive ? 'border-b-accent font-semibold' : 'border-b-transparent text-soft hover:text-ink',
                  )
                }
              >
                {label}
              </NavLink>
            ))}
          </nav>
          <span className="ml-auto" />
          <OpenList />
          <button
            type="button"
            onClick={() => setPalette(true)}
            className="flex h-8 items-center gap-2 rounded-md border border-rule-strong bg-sheet px-3 text-[14px] text-soft hover:text-ink"
          >
            <Search size={15} aria-hidden /> <span className="whitespace-nowrap">{t('app.go-to-or-do')}</span>
            <kbd className="ml-4 hidden font-mono text-[12px] lg:inline">Alt+K</kbd>
          </button>
          <Menu
            trigger={
              <IconButton label={t('app.begin-something-new')}>
                <FilePlus2 />
              </IconButton>
            }
          >
            <MenuItem keys="Alt+N" onSelect={() => navigate('/new/document')}>
              {t('common.new-document')}
            </MenuItem>
            <MenuItem keys="Alt+Shift+N" onSelect={() => navigate('/new/spreadsheet')}>
              {t('common.new-spreadsheet')}
            </MenuItem>
            {!!templates.data?.length && <MenuRule />}
            {templates.data?.map((template) => (
              <MenuItem key={template.id} onSelect={() => navigate(`/new/${template.kind}?template=${template.id}`)}>
                <KindGlyph type={template.type} size={16} /> {template.name}
                <span className="ml-auto pl-4 text-[13px] text-soft">{template.share}</span>
              </MenuItem>
            ))}
          </Menu>
          <Menu
            trigger={
              <button type="button" className="flex items-center gap-2 rounded-md px-2 py-1 hover:bg-wash">
                <UserRound size={18} aria-hidden />
                <span className="sr-only max-w-36 truncate lg:not-sr-only lg:max-w-36">{person.name}</span>
              </button>
            }
          >
            <MenuItem onSelect={() => navigate('/settings')}>{t('common.settings')}</MenuItem>
            <MenuRule />
            <MenuItem onSelect={signOut}>{t('common.sign-out')}</MenuItem>
          </Menu>
        </header>
      )}
      <div className="min-h-0 flex-1 overflow-hidden">
        <Outlet />
      </div>
      <CommandPalette open={palette} onOpenChange={setPalette} />
      {all === 'save' && <SaveAll onClose={() => setAll(null)} />}
      {all === 'close' && <CloseAll onClose={() => setAll(null)} />}
      {keys && <AllKeys onClose={() => setKeys(false)} />}
    </div>
  )
}
