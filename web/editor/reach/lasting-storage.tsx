import { useEffect, useState } from 'react'
import { size } from '../../design/words'

/** Whether the browser may clear the journal when its disk is short of room, and how much room there is. */
export function LastingStorage() {
  const [lasting, setLasting] = useState<boolean | null>(null)
  const [room, setRoom] = useState<number | null>(null)
  const [refused, setRefused] = useState(false)
  useEffect(() => {
    void navigator.storage?.persisted?.().then(setLasting)
    void navigator.storage?.estimate?.().then(({ quota = 0, usage = 0 }) => setRoom(quota - usage))
  }, [])
  if (lasting !== false) return null
  const ask = async () => {
    const granted = await navigator.storage.persist()
    setLasting(granted)
    setRefused(!granted)
  }
  return (
    <p className="mt-3 text-[13px] leading-[18px] text-soft" data-testid="lasting">
      This browser may clear the journal when its disk is full
      {room !== null && ` (${size(room)} are free for it)`}.{' '}
      {refused ? (
        'It does not promise to keep it; recovery points on shared storage are not touched by that.'
      ) : (
        <button type="button" className="text-accent underline" onClick={ask}>
          Ask it to keep the journal
        </button>
      )}
    </p>
  )
}
