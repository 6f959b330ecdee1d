// How a copy becomes what it should be, with as little as possible sent: what is there under another name is moved.

export type Step =
  /** What is there goes on under another name; nothing is at that name. */
  | { do: 'move'; from: string; to: string; sha256: string }
  /** What stays where it is, is also wanted elsewhere. */
  | { do: 'copy'; from: string; to: string; sha256: string }
  /** It is not there: from the store, over what may be at that name. */
  | { do: 'write'; to: string; sha256: string }
  | { do: 'remove'; path: string }

/**
 * @param there SHA-256 by path, as the copy has it @param wanted likewise
 * @returns the steps, in an order in which none takes what a later one needs
 */
export function bring(there: ReadonlyMap<string, string>, wanted: ReadonlyMap<string, string>): Step[] {
  const moves: Step[] = []
  const copies: Step[] = []
  const writes: Step[] = []
  /** Places whose content goes: moved from there it is not sent again. */
  const leaving = new Map<string, string[]>()
  const staying = new Map<string, string>()
  for (const [path, sha256] of there)
    if (wanted.get(path) === sha256) staying.set(sha256, path)
    else leaving.set(sha256, [...(leaving.get(sha256) ?? []), path])
  const moved = new Set<string>()
  for (const [to, sha256] of wanted) {
    if (there.get(to) === sha256) continue
    const stays = staying.get(sha256)
    if (stays !== undefined) {
      copies.push({ do: 'copy', from: stays, to, sha256 })
      continue
    }
    // Only to where nothing is: of two that change places one is sent.
    const from = there.has(to) ? undefined : leaving.get(sha256)?.pop()
    if (from === undefined) writes.push({ do: 'write', to, sha256 })
    else {
      moves.push({ do: 'move', from, to, sha256 })
      moved.add(from)
    }
  }
  const removes: Step[] = [...there.keys()]
    .filter((path) => !wanted.has(path) && !moved.has(path))
    .map((path) => ({ do: 'remove', path }))
  return [...moves, ...copies, ...writes, ...removes]
}
