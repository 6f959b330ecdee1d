// How much room unsaved work may take, on a device and on shared storage, and what goes first when it
// takes more. Only work that somebody set aside (closed without saving, or let go) ever goes to make
// room; work that is open, or was cut off, stays whatever it takes, and that is told instead.

/** oldest: by last edit. largest: by the room it takes. */
export type GoesFirst = 'oldest' | 'largest'

export interface RoomPiece {
  id: string
  bytes: number
  /** Milliseconds since 1970. */
  lastEditAt: number
  /** Somebody closed it without saving or let it go. */
  setAside: boolean
}

export interface Room {
  /** What has to go, in the order in which it goes. */
  going: string[]
  /** Bytes taken when these are gone. */
  left: number
  /** Bytes by which what must stay takes more than it may. */
  over: number
}

/**
 * What has to go for the pieces to take at most `limit` bytes: no more than needed, in the chosen order.
 * @param limit bytes
 */
export function makeRoom(pieces: readonly RoomPiece[], limit: number, goesFirst: GoesFirst): Room {
  let left = pieces.reduce((sum, { bytes }) => sum + bytes, 0)
  const going: string[] = []
  const order = pieces
    .filter(({ setAside }) => setAside)
    .toSorted((a, b) =>
      goesFirst === 'oldest' ? a.lastEditAt - b.lastEditAt : b.bytes - a.bytes || a.lastEditAt - b.lastEditAt,
    )
  for (const { id, bytes } of order) {
    if (left <= limit) break
    going.push(id)
    left -= bytes
  }
  return { going, left, over: Math.max(0, left - limit) }
}
