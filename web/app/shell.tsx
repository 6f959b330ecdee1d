import { useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { FilePlus2, Search, UserRound } from 'lucide-react'
import { useEffect, useState } from 'react'
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router'

import { useNews } from '../api/news'
import { queries } from '../api/queries'
import { IconButton } from '../design/icon-button'
import { KindGlyph } from '../design/kind'
import { Menu, MenuItem, MenuRule } from '../design/overlay'
import { tidyDevice } from '../work/pieces'
import { runByKeys, useOffer } from './commands'
import { goHome, toMain, watchFocus } from './focus'
import { AllKeys } from './keys'
import { CommandPalette } from './palette'
import { useSession } from './session'
import { Wordmark } from './wordmark'

const views = [
  ['Desk', '/'],
  ['Files', '/files'],
  ['Find', '/find'],
  ['Rescue', '/rescue'],
  ['Names', '/names'],
  ['Settings', '/settings'],
] as const

/** What stands around every screen: the way to the others, the command palette, the news. */
export function Shell() {
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const editing = /^\/(open|draft)\//.test(pathname)
  const { person, settings, signOut } = useSession()
  const [palette, setPalette] = useState(false)
  const [keys, setKeys] = useState(false)
  useNews()
  useEffect(watchFocus, [])
  // A screen that took nothing for itself gets the keyboard at its beginning, and the window its name.
  useEffect(() => {
    const here = views.find(([, path]) => (path === '/' ? pathname === '/' : pathname.startsWith(path)))
    if (!editing) document.title = `${here?.[0] ?? (pathname.startsWith('/retention') ? 'Retention' : 'Jaula')} – Jaula`
    const frame = requestAnimationFrame(goHome)
    return () => cancelAnimationFrame(frame)
  }, [pathname])
  const templates = useQuery(queries.templates)
  useEffect(() => void tidyDevice(person, settings).catch(() => {}), [person, settings])
  useEffect(() => {
    const press = (event: KeyboardEvent) => void (event.defaultPrevented || runByKeys(event))
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [])
  useOffer([
    ...views.map(([label, path]) => ({
      id: `go ${label}`,
      label,
      group: 'Go to' as const,
      run: () => void navigate(path),
    })),
    { id: 'go Retention', label: 'Retention', group: 'Go to', run: () => void navigate('/retention') },
    {
      id: 'new document',
      label: 'New document',
      keys: 'Alt+N',
      group: 'Begin',
      run: () => void navigate('/new/document'),
    },
    {
      id: 'new spreadsheet',
      label: 'New spreadsheet',
      keys: 'Alt+Shift+N',
      group: 'Begin',
      run: () => void navigate('/new/spreadsheet'),
    },
    { id: 'find a file', label: 'Find a file', keys: 'Alt+F', group: 'Go to', run: () => void navigate('/find') },
    ...(templates.data?.map((template) => ({
      id: `template ${template.id}`,
      label: `New from ‹${template.name}›`,
      group: 'Begin' as const,
      run: () => void navigate(`/new/${template.kind}?template=${template.id}`),
    })) ?? []),
    { id: 'sign out', label: 'Sign out', group: 'Jaula', run: () => void signOut() },
    { id: 'palette', label: 'All commands', keys: 'Alt+K', group: 'Jaula', run: () => setPalette((open) => !open) },
    { id: 'keys', label: 'All keys', words: 'shortcuts keyboard', group: 'Jaula', run: () => setKeys(true) },
  ])
  return (
    <div className="flex h-full flex-col">
      <button
        type="button"
        className="absolute left-2 top-2 z-[70] -translate-y-20 rounded-md bg-ink px-3 py-1.5 text-paper focus:translate-y-0"
        onClick={toMain}
      >
        Skip to the content
      </button>
      {!editing && (
        <header className="flex min-h-14 shrink-0 flex-wrap items-center max-md:pt-2 gap-x-2 border-b bg-paper px-3 lg:gap-x-8 lg:px-6">
          <NavLink to="/" aria-label="Jaula, to the Desk">
            <Wordmark />
          </NavLink>
          <nav
            className="order-last flex h-11 w-full items-stretch overflow-x-auto md:order-none md:h-14 md:w-auto"
            aria-label="Views"
          >
            {views.map(([label, path]) => (
              <NavLink
                key={path}
                to={path}
                end={path === '/'}
                className={({ isActive }) =>
                  clsx(
                    'flex shrink-0 items-center border-b-2 border-t-2 border-t-transparent px-2.5 lg:px-3.5',
                    isActive ? 'border-b-accent font-semibold' : 'border-b-transparent text-soft hover:text-ink',
                  )
                }
              >
                {label}
              </NavLink>
            ))}
          </nav>
          <button
            type="button"
            onClick={() => setPalette(true)}
            className="ml-auto flex h-8 items-center gap-2 rounded-md border border-rule-strong bg-sheet px-3 text-[14px] text-soft hover:text-ink"
          >
            <Search size={15} aria-hidden /> <span className="whitespace-nowrap">Go to, or do</span>
            <kbd className="ml-4 hidden font-mono text-[12px] lg:inline">Alt+K</kbd>
          </button>
          <Menu
            trigger={
              <IconButton label="Begin something new">
                <FilePlus2 />
              </IconButton>
            }
          >
            <MenuItem keys="Alt+N" onSelect={() => navigate('/new/document')}>
              New document
            </MenuItem>
            <MenuItem keys="Alt+Shift+N" onSelect={() => navigate('/new/spreadsheet')}>
              New spreadsheet
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
                <span className="sr-only lg:not-sr-only">{person.name}</span>
              </button>
            }
          >
            <MenuItem onSelect={() => navigate('/settings')}>Settings</MenuItem>
            <MenuRule />
            <MenuItem onSelect={signOut}>Sign out</MenuItem>
          </Menu>
        </header>
      )}
      <div className="min-h-0 flex-1 overflow-hidden">
        <Outlet />
      </div>
      <CommandPalette open={palette} onOpenChange={setPalette} />
      {keys && <AllKeys onClose={() => setKeys(false)} />}
    </div>
  )
}
