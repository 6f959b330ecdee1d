// Copies in a folder of somebody's own computer: what has to be written there, read again or taken away, so that it is as it
// is here. Nothing of theirs is written over: what they changed there stays and is told.

/** A file as it should lie there. */
export interface OwnWanted {
  fileId: string
  versionId: string
  number: number
  /** From the folder that was chosen, with `/`. */
  path: string
  sha256: string
}
/** changed there: by another program, or by hand. refused: the computer did not take it. */
export type OwnProblem = 'changed there' | 'refused'
/** A file as it was put there. */
export interface OwnKept {
  path: string
  number: number
  sha256: string
  /** When it was last read back there, and what the computer then said of its last change; milliseconds. */
  checkedAt: number
  modified: number
  problem: OwnProblem | null
}

export interface OwnPlan {
  /** Not there yet as it is here. */
  write: OwnWanted[]
  /** There as far as is known: looked at again. */
  look: OwnWanted[]
  /** Lie under a path that is nobody's any more: they go when the file is where it belongs, if nobody changed them. */
  left: { path: string; sha256: string }[]
  /** Not in the place any more that is copied: their copies stay, and nobody looks after them any more. */
  ended: string[]
}

const keyOf = (path: string) => path.normalize('NFC').toLowerCase()

/** @param kept by the file's id @param whole also what could not be put there, or was changed there, is tried again */
export function planOwn(wanted: readonly OwnWanted[], kept: ReadonlyMap<string, OwnKept>, whole = false): OwnPlan {
  const plan: OwnPlan = { write: [], look: [], left: [], ended: [] }
  const paths = new Set(wanted.map(({ path }) => keyOf(path)))
  const ids = new Set(wanted.map(({ fileId }) => fileId))
  for (const one of wanted) {
    const there = kept.get(one.fileId)
    const same = there && there.path === one.path && there.sha256 === one.sha256
    if (same && there.problem === null) plan.look.push(one)
    // What was told is not tried at every turn, but when there is something else to put there or somebody asks for it.
    else if (!same || whole) plan.write.push(one)
    if (there && keyOf(there.path) !== keyOf(one.path) && !paths.has(keyOf(there.path)))
      plan.left.push({ path: there.path, sha256: there.sha256 })
  }
  for (const fileId of kept.keys()) if (!ids.has(fileId)) plan.ended.push(fileId)
  return plan
}

/** What of a path may be written over: nothing, what was put there from here, and what is wanted there anyway. */
export function mayWrite(
  there: string | null,
  one: Pick<OwnWanted, 'path' | 'sha256'>,
  kept: ReadonlyMap<string, OwnKept>,
): boolean {
  if (there === null || there === one.sha256) return true
  for (const known of kept.values()) if (keyOf(known.path) === keyOf(one.path) && known.sha256 === there) return true
  return false
}
