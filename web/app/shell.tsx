import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { Command as Palette } from 'cmdk'
import { FilePlus2, Search, UserRound } from 'lucide-react'
import { Dialog } from 'radix-ui'
import { useEffect, useState } from 'react'
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router'
import { News } from '../../core/contract'
import { IconButton } from '../design/icon-button'
import { KindGlyph } from '../design/kind'
import { Menu, MenuItem, MenuRule } from '../design/overlay'
import { withControl } from '../design/words'
import { tellJournal } from '../work/journal'
import { tidyDevice } from '../work/pieces'
import { call } from './call'
import { runByKeys, useCommands, useOffer } from './commands'
import { goHome, watchFocus } from './focus'
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
  const { person, settings, signOut } = useSession()
  const [palette, setPalette] = useState(false)
  useNews()
  useEffect(watchFocus, [])
  // A screen that took nothing for itself gets the keyboard at its beginning.
  useEffect(() => {
    const frame = requestAnimationFrame(goHome)
    return () => cancelAnimationFrame(frame)
  }, [pathname])
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => call('templates', {}), staleTime: 60_000 })
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
    { id: 'palette', label: 'All commands', keys: 'Mod+K', group: 'Jaula', run: () => setPalette((open) => !open) },
  ])
  const editing = /^\/(open|draft)\//.test(pathname)
  return (
    <div className="flex h-full flex-col">
      {!editing && (
        <header className="flex h-14 shrink-0 items-center gap-8 border-b bg-paper px-6">
          <NavLink to="/" aria-label="Jaula, to the Desk">
            <Wordmark />
          </NavLink>
          <nav className="flex h-full items-stretch" aria-label="Views">
            {views.map(([label, path]) => (
              <NavLink
                key={path}
                to={path}
                end={path === '/'}
                className={({ isActive }) =>
                  clsx(
                    'flex items-center border-b-2 border-t-2 border-t-transparent px-3.5',
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
            <Search size={15} aria-hidden /> Go to, or do{' '}
            <kbd className="ml-4 font-mono text-[12px]">{withControl('K')}</kbd>
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
                {person.name}
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
    </div>
  )
}

function CommandPalette({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const commands = useCommands()
  const groups = [...new Set(commands.map(({ group }) => group))]
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="fixed left-1/2 top-[14vh] z-50 w-[min(560px,calc(100vw-32px))] -translate-x-1/2 overflow-hidden rounded-lg border bg-paper shadow-slip"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">Go to, or do</Dialog.Title>
          <Palette label="Go to, or do">
            <Palette.Input
              placeholder="Where to, or what to do?"
              className="h-12 w-full border-b bg-transparent px-4 text-[16px] outline-none"
            />
            <Palette.List className="max-h-[50vh] overflow-auto p-2">
              <Palette.Empty className="px-3 py-6 text-center text-soft">Nothing here is called that.</Palette.Empty>
              {groups.map((group) => (
                <Palette.Group
                  key={group}
                  heading={group}
                  className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[13px] [&_[cmdk-group-heading]]:text-soft"
                >
                  {commands
                    .filter((command) => command.group === group && command.id !== 'palette')
                    .map((command) => (
                      <Palette.Item
                        key={command.id}
                        value={`${command.label} ${command.id}`}
                        onSelect={() => {
                          onOpenChange(false)
                          command.run()
                        }}
                        className="flex cursor-pointer items-center rounded px-3 py-2 data-[selected=true]:bg-wash"
                      >
                        {command.label}
                        {command.keys && (
                          <kbd className="ml-auto font-mono text-[12px] text-soft">
                            {command.keys.replace('Mod+', withControl(''))}
                          </kbd>
                        )}
                      </Palette.Item>
                    ))}
                </Palette.Group>
              ))}
            </Palette.List>
          </Palette>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** Listens to the server's news and asks again for what it concerns. */
function useNews(): void {
  const client = useQueryClient()
  useEffect(() => {
    let source: EventSource
    let later: ReturnType<typeof setTimeout> | undefined
    const again = () => void client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'session' })
    let first = true
    const listen = () => {
      source = new EventSource('/api/events')
      source.addEventListener('again', () => {
        if (!first) again()
        // What was asked for before anybody listened may have changed since.
        else void client.invalidateQueries({ queryKey: ['search'] })
        first = false
      })
      source.onmessage = ({ data }) => hear(data)
      source.onerror = () => {
        if (source.readyState !== EventSource.CLOSED) return
        // The server refuses: perhaps this session was ended elsewhere. Asking tells, and says so on the screen.
        void call('settings', {}).catch(() => {})
        later = setTimeout(listen, 5000)
      }
    }
    const hear = (data: string) => {
      const news = News.safeParse(JSON.parse(data)).data
      if (!news) return
      if (news.about === 'place') {
        void client.invalidateQueries({ queryKey: ['place', news.shareId] })
        void client.invalidateQueries({ queryKey: ['names', news.shareId] })
      }
      if (news.about === 'file') {
        void client.invalidateQueries({ queryKey: ['file', news.fileId] })
        void client.invalidateQueries({ queryKey: ['recent'] })
      }
      if (news.about === 'names') {
        const concerned = ['naming', 'names', 'file', 'recent', 'removed', 'templates', 'search', 'audit', 'shares']
        void client.invalidateQueries({ predicate: ({ queryKey }) => concerned.includes(String(queryKey[0])) })
      }
      if (news.about === 'words') void client.invalidateQueries({ queryKey: ['search'] })
      if (news.about === 'presence') void client.invalidateQueries({ queryKey: ['presence', news.fileId] })
      if (news.about === 'draft') {
        void client.invalidateQueries({ queryKey: ['pieces'] })
        // Whoever goes on with it elsewhere is heard of at once.
        tellJournal({ do: 'look', draftId: news.draftId })
      }
    }
    listen()
    return () => {
      clearTimeout(later)
      source.close()
    }
  }, [client])
}
