// Which files of a drive are versions of one: told by their names, where people write versions by hand ("v2", "final",
// "copy of", a date, a folder "old"), and by what they hold. A name alone folds only what differs in such words and lies
// together; everything weaker has to be borne out by the content. Nothing is folded over two types.

import { versionWords, without } from '../naming/advice'
import { splitExtension } from '../naming/check'
import { type FoundDate, findDates, lowered } from '../naming/dates'
import { skeleton } from '../naming/lookalike'
import { type Sentence, say } from '../words/said'
import { resemblance } from './sketch'

/** A file of the drive. */
export interface Found {
  no: number
  /** From the drive's folder down, with `/`. */
  path: string
  size: number
  /** When it was changed last: as it says itself, otherwise as the drive has it; ISO 8601. */
  at: string
  sha256: string
  type: string
  /** Empty where there is no text, or none can be read. */
  sketch: Uint32Array
  /** Its name follows the convention of where it goes: a date in it is part of what it is. */
  follows?: boolean
}

export interface Series {
  /** Oldest first; each holds something else than the one before it. */
  files: number[]
  /** The same bytes once more, under another name or place. */
  doubles: { no: number; of: number }[]
  /** What all of it is called, with its ending: the newest one's name without the words that told versions apart. */
  name: string
  /** The folders that it lies in, without those that only told versions apart. */
  folders: string[]
  /** Why these are versions of one file; empty for one alone. */
  why: Sentence[]
  /** What somebody should look at. */
  doubts: Sentence[]
}

/** How two names differ: in words that tell versions apart, in weaker ones, in a number at the end, in a date. */
type Apart = 'words' | 'draft' | 'number' | 'date'
/** How much of their content two files have in common at least, by what their names differ in; in a folder of old things more. */
const least: Record<Apart, number> = { words: 0.08, draft: 0.3, number: 0.35, date: 0.5 }
const leastElsewhere = 0.3
/** What has less in common is told. */
const littleAlike = 0.25
/** Files before it that one is held against. */
const lookBack = 24

/** What people write in German in place of the words that `versionWords` knows. */
const germanWord =
  /(?<![\p{L}\p{N}])(?:kopie(?:[ _-]+von)?|endgültig|endfassung|neueste|neu|alt|aktuell|korrigiert|überarbeitet|fassung[ ._-]?\d{1,3})(?![\p{L}\p{N}])/gu
/** Words that a file may have for good: they fold only what the content bears out. */
const weakWord = /(?<![\p{L}\p{N}])(?:draft|entwurf|signed|approved|revised|clean)(?![\p{L}\p{N}])/gu
const wordsIn = (text: string, word: RegExp): Stretch[] =>
  Array.from(lowered(text).matchAll(word), (match) => ({
    from: match.index,
    to: match.index + match[0].length,
    word: text.slice(match.index, match.index + match[0].length),
  }))
/** Folders of what is over: they tell versions apart and not what a file is about. */
const oldFolder =
  /^(?:\W*(?:old|older|olds|archive[ds]?|archiv|backups?|bak|sicherung(?:en)?|versions?|superseded|previous|final|drafts?|entwürfe|copy|copies|kopien?|alt|alte|(?:19|20)\d{2}-\d{2}-\d{2})\W*)+$/iu

interface Stretch {
  from: number
  to: number
  word: string
}
interface Named {
  found: Found
  stem: string
  ending: string
  folders: string[]
  /** Whether it lies in a folder of old things. */
  aside: boolean
  /** The name without the words that tell versions apart; and without everything that might. */
  key: string
  loose: string
  words: Stretch[]
  weak: Stretch[]
  dates: FoundDate[]
  number: number | null
}

const keyOf = (stem: string) =>
  skeleton(stem)
    .replace(/[\s._\-–—,()[\]]+/g, ' ')
    .trim()
/** A number at the end that is no year and no code: `Offer 2`, `Offer_02`, `Offer2`. */
const endNumber = /(?<![\p{N}.])(\d{1,2})$/u
/** A short code before a number belongs to it: LK07, BR 01, Q3. */
const code = /(?<![\p{L}\p{N}])\p{L}{1,4}[ _-]?\d{1,3}$/u

function readName(found: Found): Named {
  const steps = found.path.split('/')
  const [stem, ending] = splitExtension(steps.pop()!)
  const folders = steps.filter((step) => !oldFolder.test(step))
  const words = [...versionWords(stem), ...wordsIn(stem, germanWord)]
  const rest = without(stem, words)
  const weak = wordsIn(rest, weakWord)
  const dates = findDates(rest)
  const bare = without(rest, [...dates, ...weak])
  const counted = code.test(bare) ? null : endNumber.exec(bare)
  const digits = words.map(({ word }) => /\d+(?:\.\d+)?/.exec(word)?.[0]).filter((one) => one !== undefined)
  const unnumbered = counted ? bare.slice(0, counted.index) : bare
  return {
    found,
    stem,
    ending,
    folders,
    aside: folders.length < steps.length,
    key: keyOf(rest),
    loose: keyOf(unnumbered),
    words,
    weak,
    dates,
    number: digits.length ? Number(digits.at(-1)) : counted && !dates.length ? Number(counted[1]) : null,
  }
}

function howApart(one: Named, other: Named): Apart {
  if (one.key === other.key) return 'words'
  const day = ({ dates }: Named) => dates.map(({ value }) => value).join(' ')
  if (day(one) !== day(other)) return 'date'
  const bare = ({ key, weak }: Named) => weak.reduce((text, { word }) => keyOf(text.replace(skeleton(word), ' ')), key)
  return bare(one) === bare(other) ? 'draft' : 'number'
}

/** Whether two are versions of one file, and how alike they are; null where they are not, or are not known to be. */
function areOne(one: Named, other: Named): { apart: Apart; alike: number | null } | null {
  const same = one.found.sha256 === other.found.sha256
  const alike = same ? 1 : resemblance(one.found.sketch, other.found.sketch)
  const apart = howApart(one, other)
  // Two records of different days are two files, also where both are copies of one form.
  if (apart === 'date' && (one.found.follows || other.found.follows)) return null
  const together = !one.aside && !other.aside
  if (alike === null)
    return apart === 'words' && together && one.words.length + other.words.length > 0 ? { apart, alike } : null
  const bound = together ? least[apart] : Math.max(least[apart], leastElsewhere)
  return alike >= bound ? { apart, alike } : null
}

const rankOf = ({ words, weak, aside }: Named): number => {
  const said = [...words, ...weak].map(({ word }) => word.toLowerCase()).join(' ')
  if (aside || /\b(?:old|alt)\b/.test(said)) return -2
  if (/draft|entwurf/.test(said)) return -1
  return /final|latest|newest|last|endgültig|endfassung|neueste|signed|approved/.test(said) ? 1 : 0
}
const inTime = (a: Named, b: Named) => (a.found.at < b.found.at ? -1 : a.found.at > b.found.at ? 1 : byName(a, b))
const byName = (a: Named, b: Named) =>
  rankOf(a) - rankOf(b) ||
  (a.number ?? 0) - (b.number ?? 0) ||
  a.found.path.length - b.found.path.length ||
  a.found.no - b.found.no

/** Oldest first: by their times, unless the numbers that people wrote say otherwise. */
function inOrder(members: Named[]): { ordered: Named[]; doubts: Sentence[] } {
  const ordered = [...members].sort(inTime)
  const numbers = ordered.flatMap(({ number }) => number ?? [])
  const rising = numbers.every((number, at) => at === 0 || number >= numbers[at - 1]!)
  if (rising) return { ordered, doubts: [] }
  // Whoever copies a drive may give all files the time of that day; numbers are meant.
  return {
    ordered: ordered.sort((a, b) => rankOf(a) - rankOf(b) || (a.number ?? 0) - (b.number ?? 0) || inTime(a, b)),
    doubts: [say('intake.numbers-and-times-differ')],
  }
}

/**
 * Files of a drive, those that are versions of one file together.
 * @returns each file once, in one of the series; in the order of the first file's number
 */
export function foldSeries(files: readonly Found[]): Series[] {
  const groups = new Map<string, Named[]>()
  for (const found of files) {
    const named = readName(found)
    const key = [found.type, ...named.folders.map(skeleton), named.loose || named.key].join('/')
    const group = groups.get(key)
    if (group) group.push(named)
    else groups.set(key, [named])
  }
  const folded: Series[] = []
  for (const group of groups.values()) folded.push(...foldGroup(group))
  return folded.sort((a, b) => Math.min(...a.files) - Math.min(...b.files))
}

function foldGroup(group: Named[]): Series[] {
  if (group.length === 1) return [alone(group[0]!)]
  group.sort(inTime)
  const root = group.map((_, at) => at)
  const top = (at: number): number => {
    while (root[at] !== at) at = root[at] = root[root[at]!]!
    return at
  }
  const links: Link[] = []
  const lastOf = new Map<string, number[]>()
  for (const [at, named] of group.entries()) {
    // Of many, those right before it, and those that differ from it in such words only.
    const near = new Set(lastOf.get(named.key) ?? [])
    for (let before = at - 1; before >= Math.max(0, at - lookBack); before--) near.add(before)
    for (const before of near) {
      const one = areOne(group[before]!, named)
      if (!one) continue
      links.push({ at, ...one })
      root[top(at)] = top(before)
    }
    lastOf.set(named.key, [...(lastOf.get(named.key) ?? []).slice(1 - lookBack), at])
  }
  const members = new Map<number, { those: Named[]; by: Link[] }>()
  for (const [at, named] of group.entries()) {
    const there = members.get(top(at))
    if (there) there.those.push(named)
    else members.set(top(at), { those: [named], by: [] })
  }
  for (const link of links) members.get(top(link.at))!.by.push(link)
  return [...members.values()].map(({ those, by }) => (those.length === 1 ? alone(those[0]!) : together(those, by)))
}

interface Link {
  at: number
  apart: Apart
  alike: number | null
}

const alone = ({ found, folders, stem, ending }: Named): Series => ({
  files: [found.no],
  doubles: [],
  name: stem + ending,
  folders,
  why: [],
  doubts: [],
})

function together(those: Named[], links: readonly Link[]): Series {
  const { ordered, doubts } = inOrder(those)
  const files: number[] = []
  const doubles: Series['doubles'] = []
  const seen = new Map<string, number>()
  for (const { found } of ordered) {
    const of = seen.get(found.sha256)
    if (of === undefined) files.push(found.no)
    else doubles.push({ no: found.no, of })
    if (of === undefined) seen.set(found.sha256, found.no)
  }
  const newest = ordered.at(-1)!
  const apart = new Set(links.map((link) => link.apart))
  return {
    files,
    doubles,
    name: nameOf(newest, apart) + newest.ending,
    folders: newest.folders,
    why: reasonsFor(those, links, apart, doubles.length),
    doubts: [...doubts, ...doubtsOf(links, apart)],
  }
}

const most = 5
const quoted = (word: string) => say('intake.quoted', { word })
const eachOnce = (words: readonly string[]) => [...new Map(words.map((word) => [word.toLowerCase(), word])).values()]

function reasonsFor(
  those: readonly Named[],
  links: readonly Link[],
  apart: ReadonlySet<Apart>,
  doubles: number,
): Sentence[] {
  const why: Sentence[] = []
  const words = eachOnce(those.flatMap((one) => [...one.words, ...one.weak].map(({ word }) => word.trim())))
  const aside = eachOnce(
    those.flatMap(({ found }) =>
      found.path
        .split('/')
        .slice(0, -1)
        .filter((step) => oldFolder.test(step)),
    ),
  )
  if (words.length) why.push(say('intake.words-tell-apart', { words: words.slice(0, most).map(quoted) }))
  if (aside.length) why.push(say('intake.folders-tell-apart', { folders: aside.slice(0, most).map(quoted) }))
  if (apart.has('number')) why.push(say('intake.numbers-tell-apart'))
  if (apart.has('date')) why.push(say('intake.dates-tell-apart'))
  const alike = leastAlike(links)
  if (alike !== null && alike < 1) why.push(say('intake.alike', { percent: Math.round(alike * 100) }))
  if (doubles) why.push(say('intake.same-bytes', { n: doubles }))
  return why
}

/** Of each file the nearest of those before it, and of all files the one that is least like its nearest. */
function leastAlike(links: readonly Link[]): number | null {
  const nearest = new Map<number, number>()
  for (const { at, alike } of links) if (alike !== null) nearest.set(at, Math.max(alike, nearest.get(at) ?? 0))
  return nearest.size ? Math.min(...nearest.values()) : null
}

function doubtsOf(links: readonly Link[], apart: ReadonlySet<Apart>): Sentence[] {
  const doubts: Sentence[] = []
  const alike = leastAlike(links)
  if (alike === null) doubts.push(say('intake.not-compared'))
  else if (alike < littleAlike) doubts.push(say('intake.little-alike', { percent: Math.round(alike * 100) }))
  if (apart.has('date')) doubts.push(say('intake.may-be-records'))
  return doubts
}

function nameOf(newest: Named, apart: ReadonlySet<Apart>): string {
  const rest = without(newest.stem, newest.words)
  const counted = apart.has('number') && !newest.dates.length && !code.test(rest) ? endNumber.exec(rest) : null
  return (counted ? rest.slice(0, counted.index).replace(/[\s._-]+$/, '') : rest) || newest.stem
}
