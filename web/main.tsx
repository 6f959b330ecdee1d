import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { Tooltip } from 'radix-ui'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { Toaster } from 'sonner'
import './design/theme.css'
import { isAway } from './app/call'
import { Lost, RouteFault } from './app/faults'
import { SessionGate } from './app/session'
import { Shell } from './app/shell'
import { Desk } from './desk/desk'
import { Scratch } from './drill/scratch'
import { DraftRoute, FileRoute, NewRoute } from './editor/routes'
import { Files } from './files/files'
import { Find } from './find/find'
import { Names } from './names/names'
import { registerOffline } from './offline/register'
import { InsideView } from './rescue/inside-view'
import { Rescue } from './rescue/rescue'
import { RetentionView } from './retention/retention'
import { SettingsView } from './settings/settings'

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
const router = createBrowserRouter([
  { path: '/drill/:kind/:draftId', element: <Scratch />, errorElement: <RouteFault /> },
  {
    element: <Shell />,
    errorElement: <RouteFault />,
    children: [
      { path: '/', element: <Desk /> },
      { path: '/files', element: <Files /> },
      { path: '/files/:shareId', element: <Files /> },
      { path: '/files/:shareId/:folderId', element: <Files /> },
      { path: '/find', element: <Find /> },
      { path: '/removed/:shareId', element: <Files removed /> },
      { path: '/names', element: <Names /> },
      { path: '/names/:shareId', element: <Names /> },
      { path: '/names/:shareId/:tab', element: <Names /> },
      { path: '/rescue', element: <Rescue /> },
      { path: '/rescue/:draftId', element: <InsideView /> },
      { path: '/retention', element: <RetentionView /> },
      { path: '/retention/:shareId', element: <RetentionView /> },
      { path: '/settings', element: <SettingsView /> },
      { path: '/new/:kind', element: <NewRoute /> },
      { path: '/open/:fileId', element: <FileRoute /> },
      { path: '/draft/:draftId', element: <DraftRoute /> },
      { path: '*', element: <Lost /> },
    ],
  },
])

registerOffline(() => void client.invalidateQueries())
createRoot(document.getElementById('root')!).render(
  <QueryClientProvider client={client}>
    <Tooltip.Provider delayDuration={400}>
      <SessionGate>
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
  </QueryClientProvider>,
)
