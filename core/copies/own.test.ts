// Copies in a folder of somebody's own computer, as they are planned: carried out by whatever happens there and here, every
// file that is wanted ends up there, and nothing that is theirs is written over or taken away.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { end, leftOf, mayWrite, noted, type OwnKept, type OwnWanted, planOwn } from './own'

/** What is there, by path, as its digest; other people's begins with `theirs`. */
type Folder = Map<string, string>

/** Carries a plan out as the page does. @param writes so many, then it ends where it stands, as when the page is closed */
function step(
  wanted: readonly OwnWanted[],
  kept: Map<string, OwnKept>,
  there: Folder,
  whole: boolean,
  writes = Number.POSITIVE_INFINITY,
): void {
  const plan = planOwn(wanted, kept, whole)
  for (const one of plan.look) {
    const sum = there.get(one.path) ?? null
    const known = kept.get(one.fileId)!
    if (sum === null) plan.write.push(one)
    else if (sum !== one.sha256) kept.set(one.fileId, { ...known, problem: 'changed there' })
  }
  for (const one of plan.write) {
    if (writes-- <= 0) return
    const mine = mayWrite(there.get(one.path) ?? null, one, kept)
    if (mine) there.set(one.path, one.sha256)
    noted(kept, one, { problem: mine ? null : 'changed there', checkedAt: 0, modified: 0 })
  }
  for (const { path, sha256, forget } of leftOf(wanted, kept)) {
    if (there.get(path) === sha256) there.delete(path)
    forget()
  }
  end(kept, plan.ended)
}

test('whatever happens here and there, what is wanted is there, and what is theirs stays as it is', () => {
  const act = fc.oneof(
    fc.record({ do: fc.constant('save' as const), file: fc.nat(3) }),
    fc.record({ do: fc.constant('rename' as const), file: fc.nat(3), to: fc.nat(5) }),
    fc.record({ do: fc.constant('remove' as const), file: fc.nat(3) }),
    fc.record({ do: fc.constant('they write' as const), to: fc.nat(5) }),
    fc.record({ do: fc.constant('they remove' as const), to: fc.nat(5) }),
    fc.record({
      do: fc.constant('step' as const),
      whole: fc.boolean(),
      writes: fc.constantFrom(Number.POSITIVE_INFINITY, 1, 2),
    }),
  )
  const path = (to: number) => `Locks/Plan ${to}.docx`
  fc.assert(
    fc.property(fc.array(act, { maxLength: 40 }), (acts) => {
      let version = 0
      const here = new Map<number, OwnWanted>()
      const kept = new Map<string, OwnKept>()
      const there: Folder = new Map()
      const theirs = new Map<string, string>()
      const isFree = (at: string) => ![...here.values()].some((one) => one.path === at)
      for (const one of acts) {
        version++
        if (one.do === 'save') {
          const known = here.get(one.file)
          const at = known?.path ?? path(one.file)
          if (!known && !isFree(at)) continue
          here.set(one.file, {
            fileId: `${one.file}`,
            versionId: `${version}`,
            number: version,
            path: at,
            sha256: `v${version}`,
          })
        } else if (one.do === 'rename') {
          const known = here.get(one.file)
          if (known && isFree(path(one.to))) here.set(one.file, { ...known, path: path(one.to) })
        } else if (one.do === 'remove') here.delete(one.file)
        else if (one.do === 'they write') {
          there.set(path(one.to), `theirs ${version}`)
          theirs.set(path(one.to), `theirs ${version}`)
        } else if (one.do === 'they remove') {
          there.delete(path(one.to))
          theirs.delete(path(one.to))
        } else step([...here.values()], kept, there, one.whole, one.writes)
      }
      step([...here.values()], kept, there, true)
      step([...here.values()], kept, there, true)
      for (const [at, holds] of theirs) expect(there.get(at)).toBe(holds)
      for (const one of here.values())
        if (theirs.has(one.path)) expect(kept.get(one.fileId)?.problem).toBe('changed there')
        else expect([there.get(one.path), kept.get(one.fileId)?.problem]).toEqual([one.sha256, null])
      // What lay under a name before does not stay, but where it would be the only copy of its file.
      const may = new Set([...here.values()].map((one) => one.path))
      for (const known of kept.values())
        if (known.ended || known.problem) for (const it of [known, ...(known.former ?? [])]) may.add(it.path)
      for (const [at, holds] of there) if (!holds.startsWith('theirs')) expect(may).toContain(at)
      for (const one of here.values()) expect(kept.get(one.fileId)?.ended).toBeUndefined()
      // A step after that has nothing to do.
      const before = new Map(there)
      step([...here.values()], kept, there, false)
      expect(there).toEqual(before)
    }),
    { numRuns: 5000 },
  )
})
