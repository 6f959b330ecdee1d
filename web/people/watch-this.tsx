import { useQuery, useQueryClient } from '@tanstack/react-query'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { t } from '../words/all'

/** Has what others save here on the Desk. */
export function WatchThis({
  id,
  name,
  tried,
}: {
  id: string
  name: string
  tried: (what: () => Promise<unknown>) => Promise<boolean>
}) {
  const client = useQueryClient()
  const watched = useQuery(queries.watched)
  if (!watched.data) return null
  const on = watched.data.some(({ of }) => of.id === id)
  return (
    <label className="mt-3 flex w-fit items-center gap-2.5">
      <input
        type="checkbox"
        className="accent-accent"
        checked={on}
        onChange={async (event) => {
          const body = { on: event.target.checked }
          await tried(() => call('watch', { params: { id }, body }))
          await client.invalidateQueries({ queryKey: keys.watched() })
        }}
      />
      {t('people.watch', { name })}
    </label>
  )
}
