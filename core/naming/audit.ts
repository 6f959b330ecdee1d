// An audit reads every name of a share against the convention that holds where it lies. A file
// whose name follows an earlier version of the convention, in force when the file was first
// saved, is not wrong. From the readings comes a correction plan: old name and place to new ones,
// sorted into what is sure, what a person should look at, and what only a person can do.
import type { Convention, PartValues, ShareNaming } from '../contract/naming'
import { type Sentence, say } from '../words/said'
import { adviseName } from './advice'
import { checkName, nameKey, splitExtension } from './check'
import { placeOf } from './compose'
import type { FileKind } from './convention'
import { type ReadyConvention, readyConvention } from './convention'
import { mixedWord } from './lookalike'
import { type ReadFault, readName } from './reading'
import { subjectIn } from './suggest'

export interface AuditFolder {
  id: string
  parentId: string | null
  name: string
}
export interface AuditFile {
  id: string
  folderId: string | null
  name: string
  kind: FileKind
  /** When it was first saved: ISO 8601. */
  at: string
  /** Its title, where that is known. */
  title?: string
}

export type AuditFault = ReadFault | 'refused' | 'spaces' | 'look-alike' | 'place'
/** What each fault is called on screen. */
export const faultNames: Record<AuditFault, Sentence> = {
  refused: say('naming.a-symbol-computers-refuse'),
  'version word': say('naming.versions-by-hand'),
  'date form': say('naming.date-in-another-form'),
  'not in list': say('naming.not-in-its-list'),
  missing: say('naming.a-part-is-missing'),
  spelling: say('naming.written-in-another-way'),
  order: say('naming.order-or-separators'),
  'left over': say('naming.words-of-no-part'),
  spaces: say('naming.doubled-spaces'),
  'look-alike': say('naming.look-alike-letters'),
  place: say('naming.not-where-the-rule-files-it'),
}

export interface Finding {
  file: AuditFile
  /** Folders from the share down. */
  path: readonly string[]
  state: 'follows' | 'follows an earlier version' | 'no convention' | 'differs'
  conventionId: string | null
  faults: readonly { about: AuditFault; reason: Sentence }[]
  /** Where it would go, when it can be read. */
  proposal: { name: string; path: readonly string[] } | null
  doubts: readonly Sentence[]
}

interface Governing {
  convention: Convention
  /** Newest first, with the time since which each held. */
  versions: { ready: ReadyConvention; since: string }[]
  /** Folders from the share down to where it is attached. */
  base: readonly string[]
}

/** Reads files of one share against what the share says of names. */
export class Auditor {
  private readonly folders: Map<string, AuditFolder>
  private readonly governing = new Map<string, Governing | null>()
  private readonly paths = new Map<string, readonly string[]>()
  private readonly attached = new Map<string, Convention>()
  private readonly ready = new Map<string, Governing>()

  constructor(
    private readonly naming: ShareNaming,
    folders: readonly AuditFolder[],
  ) {
    this.folders = new Map(folders.map((folder) => [folder.id, folder]))
    for (const convention of naming.conventions) this.attached.set(convention.folderId ?? '', convention)
  }

  /** The convention that holds in a folder (null: in the share itself), with where it is attached. */
  conventionAt(folderId: string | null): Governing | null {
    const key = folderId ?? ''
    const known = this.governing.get(key)
    if (known !== undefined) return known
    const own = this.attached.get(key)
    const folder = folderId ? this.folders.get(folderId) : undefined
    const found = own ? this.prepare(own) : folderId ? this.conventionAt(folder?.parentId ?? null) : null
    this.governing.set(key, found)
    return found
  }

  /** Folders from the share down to and with this one. */
  pathTo(folderId: string | null): readonly string[] {
    if (!folderId) return []
    const known = this.paths.get(folderId)
    if (known) return known
    const folder = this.folders.get(folderId)
    const path = folder ? [...this.pathTo(folder.parentId), folder.name] : []
    this.paths.set(folderId, path)
    return path
  }

  audit(file: AuditFile): Finding {
    const path = this.pathTo(file.folderId)
    const governing = this.conventionAt(file.folderId)
    if (!governing) return withoutConvention(file, path)
    const { versions, base } = governing
    const conventionId = governing.convention.id
    const [stem, extension] = splitExtension(file.name)
    const newest = versions[0]!.ready
    const values = newest.parse(stem)
    if (values) {
      const place = rulePlace(newest, values, base)
      if (!place || samePath(place, path))
        return { file, path, state: 'follows', conventionId, faults: none, proposal: null, doubts: none }
      const faults = [
        { about: 'place' as const, reason: say('naming.the-filing-rule-suggests', { place: place.join(' / ') }) },
      ]
      return {
        file,
        path,
        state: 'differs',
        conventionId,
        faults,
        proposal: { name: file.name, path: place },
        doubts: none,
      }
    }
    // Versions that held at some time since the file was first saved.
    for (let index = 1; index < versions.length && versions[index - 1]!.since >= file.at; index++)
      if (versions[index]!.ready.parse(stem))
        return {
          file,
          path,
          state: 'follows an earlier version',
          conventionId,
          faults: none,
          proposal: null,
          doubts: none,
        }
    const faults: { about: AuditFault; reason: Sentence }[] = []
    const fault = checkName(file.name)
    if (fault) faults.push({ about: 'refused', reason: fault.reason })
    if (stem.includes('  ')) faults.push({ about: 'spaces', reason: say('naming.two-spaces-are-next-to-each-other-2') })
    const mixed = mixedWord(stem)
    if (mixed) faults.push({ about: 'look-alike', reason: say('naming.mixes-scripts', { word: mixed.word }) })
    const reading = readName(newest, mixed ? stem.replace(mixed.word, mixed.latin) : stem, {
      kind: file.kind,
      fallback: fallbackFor(newest, file),
    })
    faults.push(...reading.faults)
    const place = reading.stem === null ? null : (rulePlace(newest, reading.values, base) ?? path)
    if (place && !samePath(place, path))
      faults.push({ about: 'place', reason: say('naming.the-filing-rule-suggests', { place: place.join(' / ') }) })
    const name = reading.stem === null ? null : reading.stem + extension.toLowerCase()
    const proposal = name && place && !checkName(name) ? { name, path: place } : null
    return { file, path, state: 'differs', conventionId, faults, proposal, doubts: reading.doubts }
  }

  private prepare(convention: Convention): Governing {
    const known = this.ready.get(convention.id)
    if (known) return known
    const made: Governing = {
      convention,
      versions: [convention, ...convention.earlier].map(({ rules, since }) => ({
        ready: readyConvention(rules, this.naming.lists),
        since,
      })),
      base: this.pathTo(convention.folderId),
    }
    this.ready.set(convention.id, made)
    return made
  }
}

const none: readonly never[] = []

function withoutConvention(file: AuditFile, path: readonly string[]): Finding {
  const advice = adviseName(file.name)
  const faults = advice.flatMap(({ about, reason }) =>
    about === 'refused' || about === 'spaces' || about === 'look-alike' ? [{ about, reason }] : [],
  )
  const better = faults.length ? advice.find(({ correction }) => correction)?.correction : null
  return {
    file,
    path,
    state: faults.length ? 'differs' : 'no convention',
    conventionId: null,
    faults,
    proposal: better && !checkName(better) ? { name: better, path } : null,
    doubts: none,
  }
}

/** Where the rule sends a file, or null when the convention has no rule. */
export function rulePlace(convention: ReadyConvention, values: PartValues, base: readonly string[]): string[] | null {
  const below = convention.rules.folders.length ? placeOf(convention, values) : null
  return below && [...base, ...below]
}

const samePath = (a: readonly string[], b: readonly string[]) =>
  a.length === b.length && a.every((name, index) => name === b[index] || nameKey(name) === nameKey(b[index]!))

function fallbackFor(convention: ReadyConvention, file: AuditFile): Map<string, { value: string; from: Sentence }> {
  const fallback = new Map<string, { value: string; from: Sentence }>()
  for (const { part } of convention.parts) {
    if (part.kind === 'date')
      fallback.set(part.id, {
        value: file.at.slice(0, 10),
        from: say('naming.from-when-it-was-first-saved', { at: file.at.slice(0, 10) }),
      })
    const subject = part.kind === 'words' && file.title ? subjectIn(convention, part, file.title) : undefined
    if (subject) fallback.set(part.id, { value: subject, from: say('naming.from-its-title', { title: file.title }) })
  }
  return fallback
}

export interface PlanStep {
  id: string
  from: { name: string; path: readonly string[] }
  to: { name: string; path: readonly string[] }
  /** sure: nothing to look at. doubtful: read with a guess. collision: the name is or would be taken there. */
  state: 'sure' | 'doubtful' | 'collision'
  remarks: Sentence[]
}
export interface CorrectionPlan {
  steps: PlanStep[]
  /** What only a person can name. */
  byHand: Finding[]
}

const spot = (path: readonly string[], name: string) => `${path.map(nameKey).join('/')}/${nameKey(name)}`

/**
 * The plan for all findings of a share. @param others names that are no files of the audit but take
 * a place, as folders do
 */
export function planCorrections(
  findings: readonly Finding[],
  others: readonly { path: readonly string[]; name: string }[] = [],
): CorrectionPlan {
  const moving = findings.filter(({ proposal }) => proposal)
  const leaving = new Set(moving.map(({ file }) => file.id))
  const held = new Map<string, Sentence>()
  for (const { path, name } of others) held.set(spot(path, name), say('naming.the-folder', { name }))
  for (const { file, path } of findings) if (!leaving.has(file.id)) held.set(spot(path, file.name), file.name)
  const wanted = new Map<string, Finding[]>()
  for (const finding of moving) {
    const key = spot(finding.proposal!.path, finding.proposal!.name)
    const those = wanted.get(key)
    if (those) those.push(finding)
    else wanted.set(key, [finding])
  }
  const steps = moving.map((finding): PlanStep => {
    const { file, path, doubts } = finding
    const proposal = finding.proposal!
    const key = spot(proposal.path, proposal.name)
    const remarks = [...doubts]
    const there = held.get(key)
    const rivals = wanted.get(key)!.filter((other) => other !== finding)
    if (there) remarks.unshift(say('naming.has-this-name-there', { there }))
    if (rivals.length)
      remarks.unshift(
        say('naming.would-get-the-same-name-and-more', {
          fileName: rivals[0]!.file.name,
          rivals: Boolean(rivals.length > 1),
          it: rivals.length - 1,
        }),
      )
    return {
      id: file.id,
      from: { name: file.name, path },
      to: proposal,
      state: there || rivals.length ? 'collision' : doubts.length ? 'doubtful' : 'sure',
      remarks,
    }
  })
  return { steps, byHand: findings.filter(({ state, proposal }) => state === 'differs' && !proposal) }
}

/** How many names of each folder follow, and how often each fault occurs. */
export interface AuditSummary {
  files: number
  follow: number
  earlier: number
  differ: number
  without: number
  folders: { path: readonly string[]; files: number; follow: number }[]
  faults: { about: AuditFault; files: number }[]
}

export function summarise(findings: readonly Finding[]): AuditSummary {
  const folders = new Map<string, { path: readonly string[]; files: number; follow: number }>()
  const faults = new Map<AuditFault, number>()
  const summary: AuditSummary = {
    files: findings.length,
    follow: 0,
    earlier: 0,
    differ: 0,
    without: 0,
    folders: [],
    faults: [],
  }
  for (const { path, state, faults: those } of findings) {
    if (state === 'follows') summary.follow++
    else if (state === 'follows an earlier version') summary.earlier++
    else if (state === 'differs') summary.differ++
    else summary.without++
    for (const about of new Set(those.map((one) => one.about))) faults.set(about, (faults.get(about) ?? 0) + 1)
    if (state === 'no convention') continue
    const key = path.join('/')
    const folder = folders.get(key) ?? { path, files: 0, follow: 0 }
    folder.files++
    if (state !== 'differs') folder.follow++
    folders.set(key, folder)
  }
  summary.folders = [...folders.values()].sort((a, b) => b.files - b.follow - (a.files - a.follow) || b.files - a.files)
  summary.faults = [...faults].map(([about, files]) => ({ about, files })).sort((a, b) => b.files - a.files)
  return summary
}
