import { Link, useRouteError } from 'react-router'
import { Blank, Button } from '../design/controls'
import { T, t } from '../words'

export const Lost = () => (
  <Blank screen title={t('app.there-is-nothing-at-this-address')}>
    <p>
      <T
        k="app.the-file-may-have-been-moved-or"
        v={{
          link: (c) => (
            <Link className="text-accent underline" to="/files">
              {c}
            </Link>
          ),
        }}
      />
    </p>
  </Blank>
)

/** A screen failed to draw; the journal does not depend on it. */
export function RouteFault() {
  const error = useRouteError()
  console.error(error)
  return (
    <Blank screen title={t('app.this-screen-could-not-be-shown')}>
      <p>{t('app.rescue-lists-what-is-kept')}</p>
      <div className="mt-4 flex justify-center gap-2">
        <Button look="main" onClick={() => window.location.reload()}>
          {t('app.show-it-again')}
        </Button>
        <Button onClick={() => window.location.assign('/rescue')}>{t('app.to-rescue')}</Button>
      </div>
    </Blank>
  )
}
