// Writes one story of a document (its body, a header) into the part that it came from: a paragraph that did not change is
// the file's own XML, and one that did keeps its properties and the runs that did not (ECMA-376 part 1, §17). Where things
// stand is found by the reader's own walk; the model carries nothing of it.
import type { Node } from 'prosemirror-model'
import { matchUp } from '../../content/sequence'
import { Splices } from '../opc/spans'
import { NotPatched } from '../refusals'
import { layItems, type Step } from './patch-diff'
import {
  type Item,
  isWordKey,
  itemsOf,
  type SourceBlocks,
  type SourceParagraph,
  saidBy,
  sourceBlocks,
  type Unit,
  unitsOf,
} from './patch-items'
import { KeptWriter } from './patch-kept'
import { StoryOffers } from './patch-offers'
import { holdsUnseen, RegionWriter } from './patch-region'
import { TablePatcher } from './patch-rows'
import { newTableXml } from './patch-table'
import type { Story } from './story'

/** Blocks of both that are laid beside each other one by one. */
const largestPairing = 100_000_000
/** More runs of a difference than this are not told apart. */
const largestRegion = 60_000

export class StoryPatcher {
  private readonly splices = new Splices()
  private readonly kept: KeptWriter
  private readonly offers: StoryOffers
  private readonly tables: TablePatcher
  private readonly newTables = new Set<Unit>()

  constructor(private readonly story: Story) {
    this.kept = new KeptWriter(story)
    this.offers = new StoryOffers(story, this.kept)
    this.tables = new TablePatcher(story, this.splices, this.offers, (source, units) => this.blocks(source, units))
  }

  /**
   * @param doc the story as it was read
   * @returns the part's XML with the target in it @throws NotPatched, CannotPatch
   */
  written(doc: Node, target: Node): string {
    const { xml, source } = this.story
    const blocks = sourceBlocks(xml, doc, source.pieces, source)
    if (!blocks) throw new NotPatched('source')
    this.offers.everything.push(...new Set(blocks.paragraphs.filter((one) => one !== undefined)))
    this.blocks(blocks, unitsOf(target))
    return this.splices.any ? this.kept.placed(this.splices.apply(xml)) : xml
  }

  /** The blocks of a parent that are other ones now. */
  private blocks(source: SourceBlocks, units: readonly Unit[]): void {
    const olderKeys = source.units.map(({ key }) => key)
    const newerKeys = units.map(({ key }) => key)
    const newerOf = new Map(pairedBlocks(olderKeys, newerKeys))
    // A paragraph of the file that is several blocks stays as one, or none of it does.
    for (const paragraph of new Set(source.paragraphs)) {
      if (!paragraph || paragraph.count === 1) continue
      const own = Array.from({ length: paragraph.count }, (_, offset) => paragraph.first + offset)
      const first = newerOf.get(paragraph.first)
      if (first === undefined || own.some((one, offset) => newerOf.get(one) !== first + offset))
        for (const one of own) newerOf.delete(one)
    }
    if (this.story.way.keepsUnseen) this.besideUnseen(source, newerOf, units.length)
    const moved = this.movedBlocks(source, units, newerOf)
    let [older, newer] = [0, 0]
    const pairs = [...newerOf].toSorted((a, b) => a[0] - b[0])
    for (const [a, b] of [...pairs, [source.units.length, units.length] as const]) {
      if (a > older || b > newer) this.gap(source, older, a, units, newer, b, moved)
      ;[older, newer] = [a + 1, b + 1]
    }
  }

  /** An empty line that goes, and holds something unseen, is written together with the paragraph behind or before it. */
  private besideUnseen(source: SourceBlocks, newerOf: Map<number, number>, newer: number): void {
    for (const [index, paragraph] of source.paragraphs.entries()) {
      if (!paragraph || newerOf.has(index) || !holdsUnseen(this.story.xml, paragraph)) continue
      // Where something new stands in its place it goes on in that.
      const matched = (way: 1 | -1) => {
        let at = index + way
        while (at >= 0 && at < source.units.length && !newerOf.has(at)) at += way
        return newerOf.get(at)
      }
      if ((matched(1) ?? newer) - (matched(-1) ?? -1) > 1) continue
      const beside = [index + 1, index - 1].find((one) => source.paragraphs[one]?.count === 1 && newerOf.has(one))
      if (beside !== undefined) newerOf.delete(beside)
    }
  }

  /** Blocks that went as they were from where nothing else changed to where nothing else did. */
  private movedBlocks(
    source: SourceBlocks,
    units: readonly Unit[],
    newerOf: ReadonlyMap<number, number>,
  ): Map<number, SourceParagraph> {
    const taken = new Set(newerOf.values())
    const left = new Map<string, number[]>()
    for (const [index, unit] of source.units.entries())
      if (
        !newerOf.has(index) &&
        unit.is === 'paragraph' &&
        unit.node.content.size &&
        source.paragraphs[index]?.count === 1
      )
        left.set(unit.key, [...(left.get(unit.key) ?? []), index])
    const moved = new Map<number, SourceParagraph>()
    for (const [index, unit] of units.entries()) {
      if (taken.has(index)) continue
      const from = left.get(unit.key)?.shift()
      if (from !== undefined) moved.set(index, source.paragraphs[from]!)
    }
    return moved
  }

  private gap(
    source: SourceBlocks,
    from: number,
    to: number,
    units: readonly Unit[],
    start: number,
    end: number,
    moved: ReadonlyMap<number, SourceParagraph>,
  ): void {
    // Tables are laid beside each other by how many columns they have.
    const tables = (all: readonly Unit[], first: number, past: number) =>
      all
        .slice(first, past)
        .flatMap((unit, offset) => (unit.is === 'table' ? [{ at: first + offset, width: widthOf(unit.node) }] : []))
    const [olders, newers] = [tables(source.units, from, to), tables(units, start, end)]
    const pairs = layItems(
      olders.map(({ width }) => String(width)),
      newers.map(({ width }) => String(width)),
      () => false,
    )
    let [i, j] = [from, start]
    for (const [step, [a, b]] of pairs.entries()) {
      if (b < 0) {
        // A table that goes, with what is between it and its neighbours as it was.
        const at = olders[a]!.at
        this.paragraphs(source, i, at, units, j, j, moved)
        const element = source.tables[at]!
        this.splices.replace(element.at!.start, element.at!.end, '')
        i = at + 1
        continue
      }
      if (a < 0) {
        const at = newers[b]!.at
        const next = pairs.find(([older], index) => older >= 0 && index > step)
        const own = Math.min((next ? olders[next[0]]!.at : to) - i, at - j)
        this.paragraphs(source, i, i + own, units, j, at, moved)
        this.newTable(source, i + own, units, at)
        ;[i, j] = [i + own, at + 1]
        continue
      }
      this.paragraphs(source, i, olders[a]!.at, units, j, newers[b]!.at, moved)
      const [before, now] = [source.units[olders[a]!.at]!, units[newers[b]!.at]!]
      if (before.is === 'table' && now.is === 'table')
        this.tables.table(source.tables[olders[a]!.at]!, before.node, now.node)
      ;[i, j] = [olders[a]!.at + 1, newers[b]!.at + 1]
    }
    this.paragraphs(source, i, to, units, j, end, moved)
  }

  /** Paragraphs beside each other that are other ones now. */
  private paragraphs(
    source: SourceBlocks,
    from: number,
    to: number,
    units: readonly Unit[],
    start: number,
    end: number,
    moved: ReadonlyMap<number, SourceParagraph>,
  ): void {
    const own = [...new Set(source.paragraphs.slice(from, to))].filter((one) => one !== undefined)
    const wanted = units.slice(start, end) as Exclude<Unit, { is: 'table' }>[]
    if (!own.length && !wanted.length) return
    const here = new Set(own)
    const went = new Set([...moved.values()].filter((one) => here.has(one)))
    const came = wanted.filter((_, offset) => moved.has(start + offset))
    // All of a gap went elsewhere: its paragraphs go as they are, halves of ranges with them.
    const betweenTables = units[start - 1]?.is === 'table'
    if (own.length && own.every((one) => went.has(one)) && !wanted.length && !betweenTables) {
      for (const { element } of own) this.splices.replace(element.at!.start, element.at!.end, '')
      return
    }
    if (!own.length) {
      const before = source.paragraphs[from - 1]?.element ?? source.tables[from - 1]
      const after = source.paragraphs[to]?.element ?? source.tables[to]
      const place = before ? before.at!.end : after?.at?.start
      if (place === undefined) throw new NotPatched('nowhere')
      const near = source.paragraphs[from - 1] ?? source.paragraphs[to] ?? null
      const made = wanted.map((unit, offset) => {
        const raw = came.length ? moved.get(start + offset) : undefined
        return raw
          ? this.story.xml.slice(raw.element.at!.start, raw.element.at!.end)
          : this.offers.freshParagraph(unit, near)
      })
      this.splices.insert(place, made.join(''))
      return
    }
    const olders = own.flatMap(({ items }) => items)
    const items = wanted.flatMap(itemsOf)
    if (olders.length + items.length > largestRegion) throw new NotPatched('too much at once')
    const steps = laidBeside(olders, items)
    if (this.story.way.keepsUnseen) this.endLast(own, steps)
    const text = new RegionWriter(
      this.story.xml,
      own,
      items,
      steps,
      this.offers.offers(own[0]!),
      this.story.way.keepsUnseen,
    ).write()
    // A table must not come to stand beside another one, or at the end.
    const beside = (unit: Unit | undefined) => unit?.is === 'table'
    const parts = !wanted.length && beside(units[start - 1]) && (end === units.length || beside(units[end]))
    const gap = parts ? this.offers.gap() : ''
    this.splices.replace(own[0]!.element.at!.start, own.at(-1)!.element.at!.end, text + gap)
  }

  /** Of two ends of which one goes, the one behind something unseen stays, so that it has a paragraph to be in. */
  private endLast(own: readonly SourceParagraph[], steps: Step[]): void {
    let first = 0
    const ends = own.map(({ items }) => {
      first += items.length
      return steps.findIndex(([older]) => older === first - 1)
    })
    for (let index = own.length - 1; index > 0; index--) {
      const [before, end] = [ends[index - 1]!, ends[index]!]
      if (steps[before]![1] < 0 || steps[end]![1] >= 0) continue
      if (!holdsUnseen(this.story.xml, own[index]!) || end !== before + 1) continue
      const newer = steps[before]![1]
      steps[before] = [steps[before]![0], -1]
      steps[end] = [steps[end]![0], newer]
    }
  }

  /** A table that comes between two of the file's paragraphs. @param from the unit of the file that comes after it */
  private newTable(source: SourceBlocks, from: number, units: readonly Unit[], at: number): void {
    const [before, after] = [source.paragraphs[from - 1], source.paragraphs[from]]
    if (before && before === after) throw new NotPatched('page break')
    const unit = units[at]!
    if (unit.is !== 'table') return
    const near = before ?? after ?? null
    const xml = newTableXml(this.story.prefix, unit.node, (cell) =>
      unitsOf(cell)
        .map((inside) => {
          if (inside.is === 'table') throw new NotPatched('table in a cell')
          return this.offers.freshParagraph(inside, near)
        })
        .join(''),
    )
    const place =
      (before?.element ?? source.tables[from - 1])?.at?.end ?? (after?.element ?? source.tables[from])?.at?.start
    if (place === undefined) throw new NotPatched('nowhere')
    // Two tables in a row would be one, and a paragraph must follow the last one (§17.4.37, §17.2.2).
    const behind = units[at - 1]?.is === 'table' && !this.newTables.has(units[at - 1]!) ? this.offers.gap() : ''
    const ahead = units[at + 1]?.is === 'table' || at === units.length - 1 ? this.offers.gap() : ''
    this.newTables.add(unit)
    this.splices.insert(place, behind + xml + ahead)
  }
}

/** How the items of a region are laid beside those that are to stand there. */
function laidBeside(olders: readonly Item[], items: readonly Item[]): Step[] {
  const keys = (all: readonly Item[]) => all.map(({ key }) => key)
  const said = olders.length === items.length && olders.every((older, at) => saidBy(older) === saidBy(items[at]!))
  if (!said) return layItems(keys(olders), keys(items), isWordKey)
  // Only looks are others: each letter is the one in its place, however many of that look stand elsewhere.
  const steps: Step[] = []
  for (let at = 0; at < items.length; ) {
    const first = at
    while (at < items.length && olders[at]!.key !== items[at]!.key) at++
    for (let goes = first; goes < at; goes++) steps.push([goes, -1])
    for (let comes = first; comes < at; comes++) steps.push([-1, comes])
    for (; at < items.length && olders[at]!.key === items[at]!.key; at++) steps.push([at, at])
  }
  return steps
}

/** Blocks that are the same, in order: as many as there are, and in documents of thousands of changes those that are sure. */
function pairedBlocks(older: readonly string[], newer: readonly string[]): [number, number][] {
  const pairs =
    older.length * newer.length < largestPairing
      ? layItems(older, newer, () => false)
      : matchUp(older, newer, () => 0).pairs
  return pairs.filter(([a, b]) => a >= 0 && b >= 0 && older[a] === newer[b]) as [number, number][]
}

function widthOf(table: Node): number {
  let width = 0
  table.firstChild?.forEach((cell) => {
    width += cell.attrs.colspan
  })
  return width
}
