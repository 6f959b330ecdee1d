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
  /** What lies elsewhere from here: as it was called before, or what was put there before somebody wrote over it. */
  former?: readonly OwnFormer[]
  /** Not in the place any more that is copied: its copy stays, and nobody looks after it. */
  ended?: boolean
}
export interface OwnFormer {
  path: string
  sha256: string
}

export interface OwnPlan {
  /** Not there yet as it is here. */
  write: OwnWanted[]
  /** There as far as is known: looked at again. */
  look: OwnWanted[]
  /** Files that are not in the place any more that is copied. */
  ended: string[]
}

const keyOf = (path: string) => path.normalize('NFC').toLowerCase()

/** @param kept by the file's id @param whole also what could not be put there, or was changed there, is tried again */
export function planOwn(wanted: readonly OwnWanted[], kept: ReadonlyMap<string, OwnKept>, whole = false): OwnPlan {
  const plan: OwnPlan = { write: [], look: [], ended: [] }
  const ids = new Set(wanted.map(({ fileId }) => fileId))
  for (const one of wanted) {
    const there = kept.get(one.fileId)
    const same = there && !there.ended && there.path === one.path && there.sha256 === one.sha256
    if (same && there.problem === null) plan.look.push(one)
    // What was told is not tried at every turn, but when there is something else to put there or somebody asks for it.
    else if (!same || whole) plan.write.push(one)
  }
  for (const [fileId, { ended }] of kept) if (!ended && !ids.has(fileId)) plan.ended.push(fileId)
  return plan
}

/**
 * Takes note of what was found or put under a file's path. What is known of the copies of other files that lay there before
 * goes with it: they lie there no more.
 * @param problem why it is not there as it should be; null when it is
 */
export function noted(
  kept: Map<string, OwnKept>,
  one: OwnWanted,
  { problem, checkedAt, modified }: Pick<OwnKept, 'problem' | 'checkedAt' | 'modified'>,
): void {
  const known = kept.get(one.fileId)
  const here = keyOf(one.path)
  const isElsewhere = ({ path }: OwnFormer) => problem !== null || keyOf(path) !== here
  const before = known?.sha256 ? [{ path: known.path, sha256: known.sha256 }] : []
  const former = new Map(
    [...(known?.former ?? []), ...before].filter(isElsewhere).map((it) => [`${keyOf(it.path)} ${it.sha256}`, it]),
  )
  if (problem === null)
    for (const [id, { former: others, ...rest }] of kept)
      if (others?.some((it) => !isElsewhere(it))) kept.set(id, { ...rest, former: others.filter(isElsewhere) })
  kept.set(one.fileId, {
    path: one.path,
    number: one.number,
    // The computer did not take it: so it is tried at the next turn.
    sha256: problem === 'refused' ? '' : one.sha256,
    checkedAt,
    modified,
    problem,
    former: [...former.values()],
  })
}

/**
 * What lies under paths that are nobody's any more, of files that are where they belong: it goes, if nobody changed it.
 * @param forget is called with what went
 */
export function leftOf(
  wanted: readonly OwnWanted[],
  kept: Map<string, OwnKept>,
): (OwnFormer & { forget: () => void })[] {
  const paths = new Set(wanted.map(({ path }) => keyOf(path)))
  const isLeft = ({ path }: OwnFormer) => !paths.has(keyOf(path))
  return wanted.flatMap(({ fileId }) => {
    const known = kept.get(fileId)
    if (!known || known.problem !== null) return []
    return (known.former ?? []).filter(isLeft).map((it) => ({
      ...it,
      forget: () => {
        const now = kept.get(fileId)!
        kept.set(fileId, { ...now, former: now.former?.filter((other) => other.path !== it.path) })
      },
    }))
  })
}

/** Nobody looks after these copies any more; what was put there is still known for ours. */
export function end(kept: Map<string, OwnKept>, fileIds: readonly string[]): void {
  for (const id of fileIds) kept.set(id, { ...kept.get(id)!, problem: null, ended: true })
}

/** What of a path may be written over: nothing, what was put there from here, and what is wanted there anyway. */
export function mayWrite(
  there: string | null,
  one: Pick<OwnWanted, 'path' | 'sha256'>,
  kept: ReadonlyMap<string, OwnKept>,
): boolean {
  if (there === null || there === one.sha256) return true
  const isOurs = ({ path, sha256 }: OwnFormer) => keyOf(path) === keyOf(one.path) && sha256 === there
  return [...kept.values()].some((known) => isOurs(known) || known.former?.some(isOurs))
}
