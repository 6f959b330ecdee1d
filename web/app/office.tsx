import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { Tooltip } from 'radix-ui'
import { useEffect, useState } from 'react'
import { createBrowserRouter, type RouteObject, RouterProvider } from 'react-router'
import { Toaster } from 'sonner'
import type { Session } from '../../core/contract'
import { isAway } from '../api/call'
import { registerOffline } from '../offline/register'
import { Lost, RouteFault } from './faults'
import { GuestHome, GuestShell } from './guest'
import { SessionGate } from './session'
import { Shell } from './shell'

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (failures, error) => isAway(error) && failures < 2,
      refetchOnWindowFocus: true,
      networkMode: 'always',
    },
    mutations: { networkMode: 'always' },
  },
})
// Each screen is fetched when it is first gone to, so that signing in waits for none of them.
const desk = async () => ({ Component: (await import('../desk/desk')).Desk })
const files = async () => ({ Component: (await import('../files/files')).Files })
const anyFiles = async () => {
  const { Files, toShare } = await import('../files/files')
  return { Component: Files, loader: ({ request }: { request: Request }) => toShare(client, request) }
}
const removed = async () => ({ Component: (await import('../files/files')).RemovedFiles })
const momentView = async () => ({ Component: (await import('../moment/moment')).MomentView })
const past = async () => ({ Component: (await import('../past/search-history')).SearchHistory })
const find = async () => ({ Component: (await import('../find/find')).Find })
const names = async () => ({ Component: (await import('../names/names')).Names })
const rescue = async () => ({ Component: (await import('../rescue/rescue')).Rescue })
const inside = async () => ({ Component: (await import('../rescue/inside-view')).InsideView })
const copies = async () => ({ Component: (await import('../copies/copies')).CopiesView })
const retention = async () => ({ Component: (await import('../retention/retention')).RetentionView })
const settings = async () => ({ Component: (await import('../settings/settings')).SettingsView })
const filesInCopy = async () => ({ Component: (await import('../copies/files-in-copy')).FilesInCopy })
const intakes = async () => ({ Component: (await import('../intake/intakes')).Intakes })
const intake = async () => ({ Component: (await import('../intake/intake')).IntakeView })
const people = async () => ({ Component: (await import('../people/people')).People })
const access = async () => ({ Component: (await import('../people/access')).AccessView })
const scratch = async () => ({ Component: (await import('../drill/scratch')).Scratch })
const editor = () => import('../editor/routes')

const officeRoutes: RouteObject[] = [
  { path: '/drill/:kind/:draftId', lazy: scratch, errorElement: <RouteFault />, hydrateFallbackElement: <></> },
  {
    element: <Shell />,
    errorElement: <RouteFault />,
    hydrateFallbackElement: <></>,
    children: [
      { path: '/', lazy: desk },
      { path: '/files', lazy: anyFiles },
      { path: '/files/:shareId', lazy: files },
      { path: '/files/:shareId/:folderId', lazy: files },
      { path: '/moment/:shareId', lazy: momentView },
      { path: '/take-over/:shareId', lazy: intakes },
      { path: '/take-over/:shareId/:intakeId', lazy: intake },
      { path: '/find', lazy: find },
      { path: '/history', lazy: past },
      { path: '/removed/:shareId', lazy: removed },
      { path: '/names', lazy: names },
      { path: '/names/:shareId', lazy: names },
      { path: '/names/:shareId/:tab', lazy: names },
      { path: '/rescue', lazy: rescue },
      { path: '/rescue/:draftId', lazy: inside },
      { path: '/copies', lazy: copies },
      { path: '/copies/of/:siteId/:shareId', lazy: filesInCopy },
      { path: '/copies/retention', lazy: retention },
      { path: '/copies/retention/:shareId', lazy: retention },
      { path: '/people', lazy: people },
      { path: '/people/:tab', lazy: people },
      { path: '/access/:id', lazy: access },
      { path: '/settings', lazy: settings },
      { path: '/new/:kind', lazy: async () => ({ Component: (await editor()).NewRoute }) },
      { path: '/open/:fileId', lazy: async () => ({ Component: (await editor()).FileRoute }) },
      { path: '/draft/:draftId', lazy: async () => ({ Component: (await editor()).DraftRoute }) },
      { path: '*', element: <Lost /> },
    ],
  },
]
/** Whoever came by a link to write has the work, and nothing else of the office. */
const guestRoutes: RouteObject[] = [
  {
    element: <GuestShell />,
    errorElement: <RouteFault />,
    hydrateFallbackElement: <></>,
    children: [
      { path: '/open/:fileId', lazy: async () => ({ Component: (await editor()).FileRoute }) },
      { path: '/draft/:draftId', lazy: async () => ({ Component: (await editor()).DraftRoute }) },
      { path: '*', element: <GuestHome /> },
    ],
  },
]

/** The first screen is there by then; milliseconds. */
const settled = 3000

/** All that somebody who is signed in sees. */
export function Office({ session }: { session: Session }) {
  const guest = session.person?.guestOf !== undefined
  const [router] = useState(() => createBrowserRouter(guest ? guestRoutes : officeRoutes))
  useEffect(() => {
    // A guest's browser keeps nothing of the office.
    if (guest) return
    // Whoever comes here comes to write: the editor is at hand when it is asked for.
    const timer = setTimeout(() => void editor().catch(() => {}), settled)
    const stop = registerOffline(settled, () => void client.invalidateQueries())
    return () => {
      clearTimeout(timer)
      stop()
    }
  }, [guest])
  return (
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={400}>
        <SessionGate first={session}>
          <RouterProvider router={router} />
        </SessionGate>
        <Toaster
          position="bottom-center"
          toastOptions={{
            classNames: {
              toast: '!bg-ink !text-paper !border-0 !font-sans !text-[14px]',
              actionButton: '!bg-paper !text-ink !font-medium !text-[14px] !h-7 !px-3',
            },
          }}
        />
      </Tooltip.Provider>
    </QueryClientProvider>
  )
}
