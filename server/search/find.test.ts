// Search against reading everything: whatever files there are, and whatever happens to them, it finds those that one
// would find who looks at each, in the shares that are the asker's, and no others.
import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { tailsOf, typedWords, wordsOf } from '../../core/naming/search-words'
import { performAct } from '../acts/acts'
import { unbounded } from '../counts/quotas'
import { keepVersion } from '../saving/keep'
import { addMember, addShare } from '../shares/service'
import { openTestOffice, type TestOffice } from '../testing'
import { findFiles } from './find'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

interface Known {
  id: string
  share: string
  /** Names that it has and had, and what is in it. */
  texts: string[]
  removed: boolean
}

/** Words that share beginnings, endings and middles, and numbers. */
const word = fc.constantFrom(
  'gate',
  'gates',
  'floodgate',
  'paddle',
  'paddles',
  'weir',
  'weirside',
  'LK07',
  'LK17',
  '2026',
  'Größe',
  'niveau',
)
const words = fc.array(word, { minLength: 1, maxLength: 3 })
const query = fc.array(fc.tuple(word, fc.nat(3), fc.nat(2)), { minLength: 1, maxLength: 2 }).map((parts) =>
  // Some of them in the middle of a word, as people remember them.
  parts.map(([one, from, less]) => (/\d/.test(one) ? one : one.slice(Math.min(from, 1), one.length - less))).join(' '),
)

/** Whether somebody who reads it would find it by these words; null where a slip would have to be guessed. */
function reads({ texts }: Known, q: string, all: readonly Known[]): boolean | null {
  const holds = (known: Known, typed: string) =>
    known.texts.some((text) => wordsOf(text).some((one) => tailsOf(one).some((tail) => tail.startsWith(typed))))
  for (const typed of typedWords(q)) {
    if (!all.some((known) => holds(known, typed))) return null
    if (!holds({ id: '', share: '', removed: false, texts }, typed)) return false
  }
  return true
}

async function indexed(): Promise<void> {
  await expect
    .poll(async () => (await office.database.query('select count(*)::int as waiting from search_queue'))[0].waiting)
    .toBe(0)
}

test('it finds what reading every file finds', { timeout: 300_000 }, async () => {
  const { manager } = office.database
  const { ida, priya } = office.people
  let asked = 0
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(words, words, fc.boolean()), { minLength: 3, maxLength: 7 }),
      fc.array(fc.tuple(fc.nat(6), fc.constantFrom('rename', 'remove', 'write'), words), { maxLength: 4 }),
      fc.array(query, { minLength: 3, maxLength: 6 }),
      async (files, changes, queries) => {
        const mine = await addShare(manager, randomUUID())
        const others = await addShare(manager, randomUUID())
        await addMember(manager, mine, ida, 'edit')
        for (const share of [mine, others]) await addMember(manager, share, priya, 'edit')
        const known: Known[] = []
        const versions = new Map<string, string>()
        for (const [index, [name, content, isMine]] of files.entries()) {
          const called = `${name.join(' ')} ${index}.txt`
          const share = isMine ? mine : others
          const { file, version } = await keepVersion(office.database, unbounded, {
            personId: priya,
            bytes: Buffer.from(content.join(' ')),
            reason: 'saved',
            key: randomUUID(),
            target: { place: { shareId: share, folderId: null, name: called } },
          })
          known.push({ id: file.id, share, texts: [called, content.join(' ')], removed: false })
          versions.set(file.id, version.id)
        }
        for (const [which, what, text] of changes) {
          const one = known[which % known.length]!
          if (one.removed) continue
          if (what === 'rename') {
            const name = `${text.join(' ')} ${randomUUID().slice(0, 4)}.txt`
            await performAct(office.database, priya, {
              id: randomUUID(),
              what: 'rename',
              changes: [{ id: one.id, name }],
            })
            one.texts.push(name)
          } else if (what === 'remove') {
            await performAct(office.database, priya, { id: randomUUID(), what: 'remove', changes: [{ id: one.id }] })
            one.removed = true
          } else {
            const { version } = await keepVersion(office.database, unbounded, {
              personId: priya,
              bytes: Buffer.from(text.join(' ')),
              reason: 'saved',
              key: randomUUID(),
              target: { fileId: one.id, baseId: versions.get(one.id)! },
            })
            versions.set(one.id, version.id)
            // What it held before is in its history, and found there no more.
            one.texts[1] = text.join(' ')
          }
        }
        await indexed()
        for (const [person, shares] of [
          [ida, [mine]],
          [priya, [mine, others]],
        ] as const) {
          const seen = known.filter((one) => shares.includes(one.share) && !one.removed)
          for (const q of queries) {
            const answers = seen.map((one) => reads(one, q, seen))
            if (answers.includes(null)) continue
            const { hits } = await findFiles(manager, person, { q, shareId: undefined, facets: [] })
            const here = new Set<string>(known.map(({ id }) => id))
            expect([q, ...hits.map(({ file }) => file.id).filter((id) => here.has(id))].sort()).toEqual(
              [q, ...seen.filter((_, at) => answers[at]).map(({ id }) => id)].sort(),
            )
            asked++
          }
        }
      },
    ),
    { numRuns: 5 },
  )
  expect(asked).toBeGreaterThan(8)
})
