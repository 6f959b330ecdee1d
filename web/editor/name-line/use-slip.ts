// What the filing slip knows while a name and a place are being settled: the convention that holds
// in the place, values proposed and chosen, the name they make or that was typed, where the filing
// rule sends it, and all there is to say against it.

import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import type { FileWords } from '../../../core/content/words'
import type { Composition, Entry, PartValues } from '../../../core/contract'
import type { Limit } from '../../../core/formats/refusals'
import type { ReadText } from '../../../core/formats/text/read'
import { fileType } from '../../../core/formats/types'
import { type Advice, adviseName, sayNeighbour } from '../../../core/naming/advice'
import { correctName, nameKey, splitExtension } from '../../../core/naming/check'
import { readyConvention } from '../../../core/naming/convention'
import { proposeName } from '../../../core/naming/propose'
import { endsAsRuled, freeUnder, settleName, settleParts } from '../../../core/naming/slip'
import { type Suggestion, suggest } from '../../../core/naming/suggest'
import { call } from '../../api/call'
import { keys } from '../../api/keys'
import { queries } from '../../api/queries'
import { useSession } from '../../api/signed-in'
import { type ChosenPlace, conventionIn, lastPlace, usePlace, useShareNaming } from '../../places/place'
import { t } from '../../words/all'
import { isOtherwise, type WrittenType } from '../../work/content'
import { namingWork } from '../../workers/naming'

export interface SlipBeginning {
  kind: 'document' | 'spreadsheet' | 'other'
  /** The type it is saved in. */
  type: string
  /** The file's present name without its ending, if it has one. */
  present: string | null
  /** Begin with the present name as it is: to rename. */
  keep: boolean
  /** Other types that it can be written as, with what each loses; absent where it stays what it is. */
  as?: {
    /** The type of the file that the work is in. */
    own: string
    types: readonly string[]
    /** Lists of its sheets can be put beside it. */
    beside: boolean
    /** A PDF of it can be put beside it. */
    pdf: boolean
    /** Formulas can be written as their results: it is another file than the work. */
    values: boolean
    sheets: readonly string[]
    lossOf: (as: WrittenType) => Promise<readonly Limit[]>
    /** How its file writes plain text. */
    textWay: () => Promise<Pick<ReadText, 'encoding' | 'end'> | null>
    /** Shows the place of something that is lost. */
    show: (at: readonly number[]) => void
    /** The type to begin with; that of the work where it is not said. */
    begin: string
    /** How far the work is written, and who wants to know of more. */
    edits: { now: () => number; subscribe: (listener: () => void) => () => void }
  }
  /** Another file than the one that has the present name: it begins with a name that is free. */
  apart?: boolean
  clues: FileWords
  place: ChosenPlace | null
  presets?: PartValues | undefined
}

export interface SlipTarget {
  shareId: string
  folderId: string | null
  path: string[]
  name: string
  composition?: Composition
  /** Another type than that of the work. */
  as?: WrittenType
}

const today = () => {
  const now = new Date()
  return `${now.getFullYear()}-${String(now.getMonth() + 1).padStart(2, '0')}-${String(now.getDate()).padStart(2, '0')}`
}

/** @param as what it is written as */
export function useSlip(beginning: SlipBeginning, as: WrittenType) {
  const { person, settings } = useSession()
  const { kind, present, clues, presets } = beginning
  const { type } = as
  const shares = useQuery(queries.shares)
  const writable = shares.data?.filter(({ role, archived }) => role !== 'view' && !archived)
  const recent = useQuery(queries.recentPlaces)
  const [chosen, setChosen] = useState<ChosenPlace | null | undefined>(undefined)
  const [byRule, setByRule] = useState(!beginning.keep)
  const [own, setOwn] = useState<PartValues>({})
  const [typed, setTyped] = useState<string | null>(beginning.keep ? present : null)
  const [pointed, setPointed] = useState<string | null>(beginning.keep ? null : present)

  // Where it begins: what was asked for, the person's default, the share's, where they filed last, a share.
  const defaults = kind === 'other' ? undefined : settings.defaults[kind]?.place
  // biome-ignore lint/correctness/useExhaustiveDependencies: settled by which shares there are, not by every answer that tells of them again
  const fallback = useMemo((): ChosenPlace | null => {
    if (!writable || recent.isPending) return beginning.place
    const may = (place: { shareId: string; folderId: string | null } | null | undefined): ChosenPlace | null =>
      place && writable.some(({ id }) => id === place.shareId)
        ? { shareId: place.shareId, folderId: place.folderId, path: [] }
        : null
    const shared = writable.map((share) => (kind === 'other' ? null : share.defaults[kind]?.place)).find(Boolean)
    return (
      may(beginning.place) ??
      may(defaults) ??
      may(shared) ??
      may(lastPlace()) ??
      may(writable[0] && { shareId: writable[0].id, folderId: null })
    )
  }, [writable?.length, beginning.place, defaults, recent.isPending])
  const base = chosen === undefined ? fallback : chosen

  const naming = useShareNaming(base?.shareId)
  const baseListing = usePlace(base)
  const trail = base?.folderId ? baseListing.data?.trail : []
  const convention = trail ? conventionIn(naming.data, trail) : null
  const ready = useMemo(
    () => (convention && naming.data ? readyConvention(convention.rules, naming.data.lists) : null),
    [convention, naming.data],
  )
  const used = useQuery({
    queryKey: keys.usedValues(convention?.id),
    enabled: !!convention,
    queryFn: () => call('usedValues', { params: { conventionId: convention!.id } }),
  })
  const folders = baseListing.data
    ? [baseListing.data.share.name, ...baseListing.data.trail.map(({ name }) => name)]
    : []
  const suggestWith = (next: number | undefined): Map<string, Suggestion[]> =>
    ready
      ? suggest(ready, {
          content: clues,
          folders: folders.slice(1),
          ...(pointed && { pointed }),
          lastUsed: used.data ?? [],
          today: today(),
          person: person.name,
          initials: settings.initials,
          kind,
          ...(next !== undefined && { next }),
          ...(presets && { presets }),
        })
      : new Map()
  // biome-ignore lint/correctness/useExhaustiveDependencies: suggested anew when what it is suggested from changes; the function is made at every drawing
  const withoutNumber = useMemo(
    () => suggestWith(undefined),
    [ready, clues, folders.join('/'), pointed, used.data, presets],
  )
  const entered = useMemo(() => ({ typed, own }), [typed, own])
  const parts = useMemo(() => settleParts(ready, withoutNumber, entered, kind), [ready, withoutNumber, entered, kind])
  const { reading, counter, complete } = parts
  const scope = JSON.stringify(Object.entries(parts.values).filter(([id]) => id !== counter?.part.id))
  const rulePath = convention && parts.path
  const place: ChosenPlace | null =
    byRule && complete && rulePath && convention
      ? { shareId: convention.shareId, folderId: convention.folderId, path: rulePath }
      : base
  const listing = usePlace(place)
  const folderId = listing.data && !listing.data.missing.length ? (listing.data.trail.at(-1)?.id ?? null) : undefined
  const next = useQuery({
    queryKey: keys.nextNumber(convention?.id, folderId, scope),
    enabled: !!counter && folderId !== undefined,
    queryFn: () =>
      call('nextNumber', {
        params: { conventionId: convention!.id },
        body: { values: parts.values, folderId: folderId ?? null },
      }),
  })
  const suggestions = counter ? suggestWith(next.data?.next ?? undefined) : withoutNumber
  // Without a convention the name is proposed once; the words may change while the slip is open.
  // biome-ignore lint/correctness/useExhaustiveDependencies: proposed once, when the slip opens: the name does not change under who reads it
  const proposal = useMemo(
    () => proposeName(clues.title || clues.text.split('\n')[0] || '', today(), present ?? undefined),
    [],
  )
  const ending = type ? `.${type}` : ''
  const names = useQuery({
    queryKey: keys.names(place?.shareId, folderId),
    enabled: folderId !== undefined && !!place,
    queryFn: async () =>
      (await call('placeNames', { params: { shareId: place!.shareId }, query: { folderId: folderId ?? undefined } }))
        .names,
  })
  const taken = useMemo(
    () => new Set((listing.data?.missing.length ? [] : (names.data ?? [])).map(nameKey)),
    [names.data, listing.data?.missing.length],
  )
  const { values, stem, name, dropped, missing } = settleName(ready, parts, entered, {
    next: next.data?.next ?? null,
    proposal,
    ending,
    taken: beginning.apart && names.data ? taken : null,
  })
  const share = shares.data?.find(({ id }) => id === place?.shareId)
  const ownName = beginning.keep && present !== null ? present + ending : undefined
  const isTaken =
    taken.has(nameKey(name)) &&
    !(ownName !== undefined && nameKey(ownName) === nameKey(name) && sameFolder(beginning.place, place, folderId))
  const there = useQuery({
    queryKey: keys.place(place?.shareId, folderId, 'named', nameKey(name)),
    enabled: isTaken && folderId !== undefined,
    queryFn: async () => {
      const found = await call('place', {
        params: { shareId: place!.shareId },
        query: { folderId: folderId ?? undefined, find: name.slice(0, 200), limit: 20 },
      })
      return found.entries.find((entry) => nameKey(entry.name) === nameKey(name)) ?? null
    },
  })
  const near = useNeighbours(names.data, `${place?.shareId} ${folderId} ${names.dataUpdatedAt}`, name, ownName)
  const path = listing.data
    ? [listing.data.share.name, ...listing.data.trail.map((one) => one.name), ...listing.data.missing]
    : []
  const advice: Advice[] = stem
    ? [...adviseName(name, { path, convention: ready }), ...near]
    : [{ about: 'refused', reason: t('slip.enter-a-name'), correction: null, refused: true }]

  return {
    convention,
    ready,
    /** Every value of the parts, proposed, chosen or read from the typed name. */
    values,
    suggestions,
    reading,
    stem,
    /** The stem as the field shows it: what was typed to the letter, or what the parts make. */
    shownStem: typed ?? stem,
    name,
    ending,
    place,
    /** What its share says of the kind. */
    share: share && { name: share.name, only: kind === 'other' ? undefined : share.defaults[kind]?.only },
    base,
    listing,
    path,
    taken,
    advice,
    free: freeUnder(ready, values, name, taken).name,
    /** The ending of another type that was typed, and left out. */
    dropped,
    /** Without these the filing rule cannot say where it goes. */
    neededByPlace: byRule ? parts.needed : [],
    there: isTaken ? (there.data ?? null) : null,
    isTaken,
    missing,
    /** The filing rule's place, when another one was chosen. */
    ruleElsewhere:
      complete &&
      rulePath &&
      !byRule &&
      place &&
      !endsAsRuled(rulePath, path, convention?.folderId ? depthIn(trail, convention.folderId) : 0)
        ? rulePath
        : null,
    follows: byRule && complete && !!rulePath,
    setPart(id: string, value: string) {
      setOwn({ ...(reading ? reading.values : own), [id]: value })
      setTyped(null)
    },
    setName: (text: string) => setTyped(text),
    choose(next: ChosenPlace | null) {
      setChosen(next)
      // Whoever chooses the place that a rule begins from leaves the rest to the rule.
      setByRule(
        (!!next &&
          naming.data?.conventions.some(
            ({ shareId, folderId }) => shareId === next.shareId && folderId === next.folderId,
          )) ||
          next?.folderId === null,
      )
    },
    useRule: () => setByRule(true),
    point(file: Entry) {
      setPointed(splitExtension(file.name)[0])
      setOwn({})
      if (ready) setTyped(null)
      else setTyped(splitExtension(file.name)[0])
    },
    correction: (advised: Advice) => (advised.correction ? correctName(advised.correction) : null),
    target(finalName = name): SlipTarget | null {
      if (!place) return null
      const composition =
        convention && ready && finalName === name && (!reading || reading.follows)
          ? { conventionId: convention.id, values: reading ? reading.values : values }
          : undefined
      // A number that somebody typed is meant as it stands.
      const typedNumber = counter && (typed !== null || own[counter.part.id])
      return {
        shareId: place.shareId,
        folderId: place.folderId,
        path: [...place.path],
        name: finalName,
        ...(composition && !typedNumber && { composition }),
        ...(isOtherwise(as, beginning.type) && { as }),
      }
    },
  }
}
export type Slip = ReturnType<typeof useSlip>

const sameFolder = (from: ChosenPlace | null, to: ChosenPlace | null, folderId: string | null | undefined) =>
  from?.shareId === to?.shareId && (from?.folderId ?? null) === folderId

/** How far below its share a folder is. */
const depthIn = (trail: readonly { id: string }[] | undefined, folderId: string): number =>
  (trail?.findIndex(({ id }) => id === folderId) ?? -1) + 1

/** What the worker finds beside the name; the same name is told apart by its entry. */
function useNeighbours(names: string[] | undefined, key: string, name: string, except: string | undefined): Advice[] {
  const [kept, setKept] = useState('')
  const [near, setNear] = useState<{ name: string; advice: Advice[] }>({ name: '', advice: [] })
  useEffect(() => {
    if (names)
      void namingWork()
        .keepNames(key, names)
        .then(() => setKept(key))
  }, [names, key])
  useEffect(() => {
    let gone = false
    if (kept === key)
      void namingWork()
        .neighbours(key, name, except)
        .then((found) => {
          if (!gone) setNear({ name, advice: found.filter(({ how }) => how !== 'same').map(sayNeighbour) })
        })
    return () => {
      gone = true
    }
  }, [kept, key, name, except])
  return near.name === name ? near.advice : []
}

export const kindOf = (type: string): SlipBeginning['kind'] => fileType(type).kind
