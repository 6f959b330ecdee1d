// What stands around the work of somebody who came by a link to write: nothing of the office, and the way back to what the
// link shows.
import { useEffect } from 'react'
import { Outlet, useLocation } from 'react-router'
import { useSession } from '../api/signed-in'
import { runByKeys } from '../design/commands'
import { Blank, Button } from '../design/controls'
import { goHome, toMain, watchFocus } from '../design/focus'
import { t } from '../words'
import { useSwitching } from '../work/open-list'
import { linkThatBrought } from './link-brought'
import { useNews } from './news'
import { useAnswering } from './save-all'
import { Wordmark } from './wordmark'

export function GuestShell() {
  const { pathname } = useLocation()
  useNews()
  useEffect(watchFocus, [])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the focus follows the address
  useEffect(() => {
    const frame = requestAnimationFrame(goHome)
    return () => cancelAnimationFrame(frame)
  }, [pathname])
  useEffect(() => {
    const press = (event: KeyboardEvent) => void (event.defaultPrevented || runByKeys(event))
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [])
  useAnswering()
  useSwitching()
  return (
    <div className="flex h-full flex-col">
      <button
        type="button"
        className="absolute left-2 top-2 z-[70] -translate-y-20 rounded-md bg-ink px-3 py-1.5 text-paper focus:translate-y-0"
        onClick={toMain}
      >
        {t('app.skip-to-the-content')}
      </button>
      <div className="flex min-h-0 flex-1 flex-col overflow-hidden">
        <Outlet />
      </div>
    </div>
  )
}

/** Where a guest is who has closed what they wrote. */
export function GuestHome() {
  const { person, signOut } = useSession()
  const back = linkThatBrought()
  useEffect(() => {
    document.title = t('common.jaula')
  }, [])
  return (
    <>
      <header className="border-b px-4 py-3 md:px-6">
        <Wordmark />
      </header>
      <Blank screen title={t('app.you-came-by-a-link')}>
        <p>{t('app.what-you-saved-is-kept-as', { name: person.name })}</p>
        {back ? (
          <Button look="main" className="mt-4" onClick={() => window.location.assign(back)}>
            {t('app.back-to-the-link')}
          </Button>
        ) : (
          <p className="mt-2">{t('app.open-the-link-again')}</p>
        )}
        <p>
          <Button look="quiet" className="mt-3" onClick={() => void signOut()}>
            {t('app.sign-in-with-an-account')}
          </Button>
        </p>
      </Blank>
    </>
  )
}

/** In the place of signing in again: a guest has no password, and the link is what lets them in. */
export function LinkAgain() {
  const back = linkThatBrought()
  return (
    <div className="w-72 rounded-lg border bg-paper p-4 shadow-slip">
      <p className="mb-3">{t('app.open-the-link-again')}</p>
      {back && <Button onClick={() => window.open(back)}>{t('app.back-to-the-link')}</Button>}
    </div>
  )
}
