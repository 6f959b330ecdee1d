import { Link, useRouteError } from 'react-router'
import { Blank, Button } from '../design/controls'

export const Lost = () => (
  <Blank screen title="There is nothing at this address">
    <p>
      The file may have been moved or removed.{' '}
      <Link className="text-accent underline" to="/files">
        Look in Files
      </Link>
      .
    </p>
  </Blank>
)

/** A screen failed to draw; the journal does not depend on it. */
export function RouteFault() {
  const error = useRouteError()
  console.error(error)
  return (
    <Blank screen title="This screen could not be shown">
      <p>What you wrote is in this device’s journal and waits in Rescue.</p>
      <div className="mt-4 flex justify-center gap-2">
        <Button look="main" onClick={() => window.location.reload()}>
          Show it again
        </Button>
        <Button onClick={() => window.location.assign('/rescue')}>To Rescue</Button>
      </div>
    </Blank>
  )
}
