// What a comparison of two documents finds, and in which order it is told.
import type { AboutField } from '../content/about'
import type { Sentence } from '../words/said'
import type { Unit } from './text-blocks'

export interface Stretch {
  from: number
  to: number
}
export interface SectionChange {
  /** The heading it stands under; empty before the first one. */
  title: string
  wordsAdded: number
  wordsRemoved: number
}
export type PlaceKind =
  | 'words'
  | 'added'
  | 'removed'
  | 'moved'
  | 'split'
  | 'joined'
  | 'look'
  | 'row added'
  | 'row removed'
  | 'row moved'
  | 'column added'
  | 'column removed'
  | 'table added'
  | 'table removed'
  | 'image added'
  | 'image removed'
  | 'image replaced'
  | 'image resized'
  | 'image described'
  | 'comment added'
  | 'comment removed'
  | 'comment changed'
  | 'comment answered'
  | 'note added'
  | 'note removed'
  | 'note changed'
  | 'head'
  | 'head added'
  | 'head removed'
  | 'foot'
  | 'foot added'
  | 'foot removed'
  | 'page'
  | AboutField
/** One change, as a reader would tell it. */
export interface Place {
  kind: PlaceKind
  /** Where it is in the older and the newer document; nowhere in its text, of the edges of pages. */
  older: Stretch | null
  newer: Stretch | null
  section: string
  /** What stood there and what stands there, as text; of a change of look what it is in words. */
  before: Sentence
  now: Sentence
}
export interface DocumentChanges {
  wordsAdded: number
  wordsRemoved: number
  /** In the order of the newer document; sections without changed words are left out. */
  sections: SectionChange[]
  /** In the order of the newer document. */
  places: Place[]
  /** Positions in the older document of what the newer one does not have. */
  removed: Stretch[]
  /** Positions in the newer document of what the older one does not have. */
  added: Stretch[]
  /** Paragraphs and tables that stand elsewhere now: where they stood, and where they stand. */
  movedFrom: Stretch[]
  moved: Stretch[]
  /** Positions in the newer document of what only looks different. */
  look: Stretch[]
  /** Something differs that none of this tells: blank lines, page breaks. */
  otherwise: boolean
  coarse: boolean
}

/** Collects what is found. */
export class Findings {
  readonly changes: DocumentChanges = {
    wordsAdded: 0,
    wordsRemoved: 0,
    sections: [],
    places: [],
    removed: [],
    added: [],
    movedFrom: [],
    moved: [],
    look: [],
    otherwise: false,
    coarse: false,
  }
  private readonly counts = new Map<string, SectionChange>()

  count(section: string, wordsAdded: number, wordsRemoved: number): void {
    let one = this.counts.get(section)
    if (!one) this.counts.set(section, (one = { title: section, wordsAdded: 0, wordsRemoved: 0 }))
    one.wordsAdded += wordsAdded
    one.wordsRemoved += wordsRemoved
    this.changes.wordsAdded += wordsAdded
    this.changes.wordsRemoved += wordsRemoved
  }
  add(place: Place): void {
    this.changes.places.push(place)
  }
  finish(older: readonly Unit[], newer: readonly Unit[]): DocumentChanges {
    const order = new Map([...older, ...newer].map(({ section }, index) => [section, index]))
    this.changes.sections = [...this.counts.values()]
      .filter(({ wordsAdded, wordsRemoved }) => wordsAdded + wordsRemoved > 0)
      .sort((a, b) => (order.get(a.title) ?? 0) - (order.get(b.title) ?? 0))
    // What is gone stands before what came after it.
    const at = (place: Place) => place.newer?.from ?? -1
    let last = 0
    const keyed = this.changes.places.map((place, index) => ({ place, index, at: at(place) }))
    for (const one of keyed) one.at = one.at < 0 ? last : (last = one.at)
    this.changes.places = keyed.sort((a, b) => a.at - b.at || a.index - b.index).map(({ place }) => place)
    this.changes.otherwise = !this.changes.places.length
    return this.changes
  }
}
