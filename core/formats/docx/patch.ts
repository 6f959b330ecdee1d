// Writes a document into the file that it came from: a paragraph that did not change is the file's own XML, and one
// that did keeps its properties and the runs that did not (ECMA-376 part 1, §17). Where things stand is found in the
// base's bytes by the reader's own walk; the model carries nothing of it.
import type { Node } from 'prosemirror-model'
import { matchUp } from '../../content/sequence'
import { type Changes, freePart, relate, typeOfEnding } from '../opc/add-part'
import { type OpcPackage, openPackage } from '../opc/package'
import { spannedTree } from '../opc/spanned-xml'
import { Splices, textOfPart } from '../opc/spans'
import { elements, escapeAttribute, escapeText, type XmlElement } from '../opc/xml'
import { DamagedFile, type Limit, NotPatched, type Written } from '../refusals'
import { styleOf } from './add-style'
import { withoutLooksBesideRuns } from './kept'
import { layItems, type Step } from './patch-diff'
import {
  type Item,
  isWordKey,
  itemsOf,
  type SourceBlocks,
  type SourceParagraph,
  sourceBlocks,
  type Unit,
  unitsOf,
} from './patch-items'
import { KeptWriter } from './patch-kept'
import {
  type Context,
  contextKey,
  copiedProperties,
  numberingIn,
  paragraphPropertiesFor,
  runPropertiesFor,
} from './patch-look'
import { addList } from './patch-numbering'
import { CannotPatch, type FileOffers, holdsUnseen, RegionWriter, type RunLike } from './patch-region'
import { newTableXml } from './patch-table'
import { readDocx, readDocxSource } from './read'
import type { DocumentSource } from './source'
import { headingLook, quoteLook } from './styles'
import { alignOf } from './values'
import { dataUrlBytes, drawingXml, extensionOf } from './write'

const relationshipsNamespace = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
/** Blocks of both that are laid beside each other one by one. */
const largestPairing = 100_000_000
/** More runs of a difference than this are not told apart. */
const largestRegion = 60_000

/**
 * @returns the base's own bytes where nothing changed; and what the model does not show of the file and went with
 *   what was removed
 * @throws NotPatched where an edit cannot be written so, or does not read back as it was meant
 */
export function patchDocx(base: Uint8Array, wanted: Node): Written {
  const target = withoutLooksBesideRuns(wanted)
  let why = ''
  // What reads back as it was meant is right. A list goes on with the numbers of one that is there, or else begins one
  // of its own; what an empty line holds unseen goes on beside it, or else goes with it and is told.
  for (const way of [
    { ownLists: false, keepsUnseen: true },
    { ownLists: true, keepsUnseen: true },
    { ownLists: false, keepsUnseen: false },
    { ownLists: true, keepsUnseen: false },
  ])
    try {
      return new Patcher(base, target, way).patched()
    } catch (error) {
      const known =
        error instanceof NotPatched ||
        error instanceof DamagedFile ||
        error instanceof RangeError ||
        error instanceof CannotPatch
      if (!known) throw error
      why ||= error.message
    }
  throw new NotPatched(why)
}

class Patcher {
  private readonly opened: OpcPackage
  private readonly main: string
  private readonly xml: string
  private readonly encode: (xml: string) => Uint8Array
  private readonly root: XmlElement
  private readonly doc: Node
  private readonly limits: readonly Limit[]
  private readonly source: DocumentSource
  private readonly prefix: string
  private readonly changes: Changes = new Map()
  private readonly splices = new Splices()
  private readonly kept: KeptWriter
  private everything: SourceParagraph[] = []
  private drawings = 0
  private readonly lists = new Map<Node | undefined, number>()

  constructor(
    private readonly base: Uint8Array,
    private readonly target: Node,
    private readonly way: { ownLists: boolean; keepsUnseen: boolean },
  ) {
    this.opened = openPackage(base)
    this.main = this.opened.mainPart()
    const text = textOfPart(this.opened.bytes(this.main)!)
    if (!text) throw new NotPatched('main part')
    this.xml = text.xml
    this.encode = text.encode
    this.root = spannedTree(text.xml)
    const read = readDocxSource(this.opened, this.main, this.root)
    this.doc = read.doc
    this.limits = read.limits
    this.source = read.source
    const written = this.root.at!.name
    this.prefix = written.includes(':') ? written.slice(0, written.indexOf(':') + 1) : ''
    this.kept = new KeptWriter(this.opened, this.changes, this.main, this.xml, this.prefix, this.source)
  }

  patched(): Written {
    const { doc, target } = this
    if (doc.eq(target)) return { bytes: this.base, lost: [] }
    if (JSON.stringify(doc.attrs) !== JSON.stringify(target.attrs)) throw new NotPatched('page')
    const blocks = sourceBlocks(this.xml, doc, this.source.pieces, this.source)
    if (!blocks) throw new NotPatched('source')
    this.everything = [...new Set(blocks.paragraphs.filter((one) => one !== undefined))]
    this.blocks(blocks, unitsOf(target))
    if (this.splices.any) this.changes.set(this.main, this.encode(this.kept.placed(this.splices.apply(this.xml))))
    const result = this.opened.container.patched(this.changes)
    if (!result) throw new NotPatched('container')
    const read = readDocx(result)
    if (!read.doc.eq(target)) throw new NotPatched('reads otherwise')
    return { bytes: result, lost: fewer(this.limits, read.limits) }
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
    if (this.way.keepsUnseen) this.besideUnseen(source, newerOf, units.length)
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
      if (!paragraph || newerOf.has(index) || !holdsUnseen(this.xml, paragraph)) continue
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
      if (before.is === 'table' && now.is === 'table') this.table(source.tables[olders[a]!.at]!, before.node, now.node)
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
    if (own.length && own.every((one) => went.has(one)) && !wanted.length) {
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
        return raw ? this.xml.slice(raw.element.at!.start, raw.element.at!.end) : this.freshParagraph(unit, near)
      })
      this.splices.insert(place, made.join(''))
      return
    }
    const olders = own.flatMap(({ items }) => items)
    const items = wanted.flatMap(itemsOf)
    if (olders.length + items.length > largestRegion) throw new NotPatched('too much at once')
    const steps = layItems(
      olders.map(({ key }) => key),
      items.map(({ key }) => key),
      isWordKey,
    )
    if (this.way.keepsUnseen) this.endLast(own, steps)
    const text = new RegionWriter(this.xml, own, items, steps, this.offers(own[0]!), this.way.keepsUnseen).write()
    this.splices.replace(own[0]!.element.at!.start, own.at(-1)!.element.at!.end, text)
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
      if (!holdsUnseen(this.xml, own[index]!) || end !== before + 1) continue
      const newer = steps[before]![1]
      steps[before] = [steps[before]![0], -1]
      steps[end] = [steps[end]![0], newer]
    }
  }

  /** A table that comes between two of the file's paragraphs. @param from the unit of the file that comes after it */
  private newTable(source: SourceBlocks, from: number, units: readonly Unit[], at: number): void {
    // Two tables in a row would be one, and a paragraph must follow the last one (§17.4.37, §17.2.2).
    if (units[at - 1]?.is === 'table' || units[at + 1]?.is === 'table' || at === units.length - 1)
      throw new NotPatched('tables beside each other')
    const [before, after] = [source.paragraphs[from - 1], source.paragraphs[from]]
    if (before && before === after) throw new NotPatched('page break')
    const unit = units[at]!
    if (unit.is !== 'table') return
    const near = before ?? after ?? null
    const xml = newTableXml(this.prefix, unit.node, (cell) =>
      unitsOf(cell)
        .map((inside) => {
          if (inside.is === 'table') throw new NotPatched('table in a cell')
          return this.freshParagraph(inside, near)
        })
        .join(''),
    )
    const place =
      (before?.element ?? source.tables[from - 1])?.at?.end ?? (after?.element ?? source.tables[from])?.at?.start
    if (place === undefined) throw new NotPatched('nowhere')
    this.splices.insert(place, xml)
  }

  /** A table whose cells hold something else, or that has other rows. */
  private table(element: XmlElement, before: Node, now: Node): void {
    const rows = this.source.tables.get(element)
    if (!rows || rows.length !== before.childCount) throw new NotPatched('table')
    const keys = (table: Node) => {
      const all: string[] = []
      table.forEach((row) => void all.push(JSON.stringify(row.toJSON())))
      return all
    }
    const shape = (row: Node) => {
      const all: unknown[] = [row.attrs.header]
      row.forEach(({ attrs }) => void all.push(attrs.colspan, attrs.rowspan, attrs.colwidth))
      return JSON.stringify(all)
    }
    const steps = layItems(keys(before), keys(now), () => false)
    // What goes and what comes at one place are one row that changed, in their order, where they have one shape.
    let pendingRows: number[] = []
    const settle = (fresh: number[]) => {
      const gone = pendingRows
      pendingRows = []
      while (gone.length && fresh.length && shape(before.child(gone[0]!)) === shape(now.child(fresh[0]!))) {
        const [a, b] = [gone.shift()!, fresh.shift()!]
        this.row(rows[a]!, before.child(a), now.child(b))
      }
      for (const a of gone) {
        if (spansRows(before)) throw new NotPatched('merged rows')
        const { at } = rows[a]!.from
        this.splices.replace(at!.start, at!.end, '')
      }
      for (const b of fresh) {
        if (spansRows(before) || spansRows(now)) throw new NotPatched('merged rows')
        const like = Math.max(lastKept, 0)
        const text = this.freshRow(rows[like]!, before.child(like), now.child(b))
        this.splices.insert(lastKept >= 0 ? rows[lastKept]!.from.at!.end : rows[0]!.from.at!.start, text)
      }
    }
    let lastKept = -1
    let fresh: number[] = []
    for (const [a, b] of steps) {
      if (a >= 0 && b >= 0) {
        settle(fresh)
        fresh = []
        lastKept = a
      } else if (a >= 0) pendingRows.push(a)
      else fresh.push(b)
    }
    settle(fresh)
  }
  private row(
    source: { cells: { from: XmlElement | undefined; pieces: Parameters<typeof sourceBlocks>[2] }[] },
    before: Node,
    now: Node,
  ): void {
    if (source.cells.length !== before.childCount) throw new NotPatched('row')
    before.forEach((cell, _offset, index) => {
      const other = now.child(index)
      if (cell.eq(other)) return
      if (JSON.stringify(cell.attrs) !== JSON.stringify(other.attrs)) throw new NotPatched('cell')
      const { from, pieces } = source.cells[index]!
      const blocks = from && sourceBlocks(this.xml, cell, pieces, this.source)
      if (!blocks) throw new NotPatched('cell')
      this.everything.push(...new Set(blocks.paragraphs.filter((one) => one !== undefined)))
      this.blocks(blocks, unitsOf(other))
    })
  }
  /** A row made like another one. */
  private freshRow(
    like: { from: XmlElement; cells: { from: XmlElement | undefined; pieces: Parameters<typeof sourceBlocks>[2] }[] },
    before: Node,
    row: Node,
  ): string {
    if (row.childCount !== before.childCount || like.cells.some(({ from }) => !from)) throw new NotPatched('row')
    const { xml, prefix } = this
    const raw = (element: XmlElement | undefined) => (element ? xml.slice(element.at!.start, element.at!.end) : '')
    const [properties] = elements(like.from, 'w:trPr')
    const header = raw(properties).replace(/<(?:\w+:)?tblHeader(?:\s[^>]*)?\/>/, '')
    if (row.attrs.header && !before.attrs.header) throw new NotPatched('heading row')
    const cells = like.cells.map(({ from, pieces }, index) => {
      const cell = row.child(index)
      const old = before.child(index)
      if (cell.attrs.colspan !== old.attrs.colspan) throw new NotPatched('row')
      const blocks = sourceBlocks(xml, old, pieces, this.source)
      const near = blocks?.paragraphs.find((one) => one !== undefined) ?? null
      if (near) this.everything.push(near)
      const [own] = elements(from!, 'w:tcPr')
      const inside = unitsOf(cell)
        .map((unit) => {
          if (unit.is === 'table') throw new NotPatched('table in a cell')
          return this.freshParagraph(unit, near)
        })
        .join('')
      return `<${prefix}tc>${raw(own)}${inside}</${prefix}tc>`
    })
    return `<${prefix}tr>${row.attrs.header ? raw(properties) : header}${cells.join('')}</${prefix}tr>`
  }

  /** What of the file is like a context, the nearest first. */
  private like(
    near: SourceParagraph | null,
    fits: (paragraph: SourceParagraph) => boolean,
  ): SourceParagraph | undefined {
    const place = near?.element.at?.start ?? 0
    let best: SourceParagraph | undefined
    for (const one of this.everything) {
      if (!fits(one)) continue
      const far = (paragraph: SourceParagraph) => Math.abs(paragraph.element.at!.start - place)
      if (!best || far(one) < far(best)) best = one
    }
    return best
  }
  private newNumbering({ ordered, depth, of }: NonNullable<Context['list']>): string {
    let number = this.lists.get(of)
    if (number === undefined) {
      number = addList(this.opened, this.changes, this.main, ordered, of?.attrs.start ?? 1)
      this.lists.set(of, number)
    }
    const { prefix } = this
    return `<${prefix}numPr><${prefix}ilvl ${prefix}val="${depth}"/><${prefix}numId ${prefix}val="${number}"/></${prefix}numPr>`
  }

  /** What a paragraph without properties of its own is in this file. */
  private usual(): Context {
    const { heading, role, align } = this.source.styles!.paragraph('')
    const kind = heading > 0 ? 'heading' : role === 'quote' ? 'quote' : 'plain'
    return { kind, level: heading, align: alignOf(align), list: null }
  }
  private offers(near: SourceParagraph | null): FileOffers {
    const { prefix, xml, source } = this
    const raw = ({ properties }: SourceParagraph) => xml.slice(...properties)
    const same = (context: Context) => (one: SourceParagraph) =>
      one.count === 1 && !!one.context && contextKey(one.context) === contextKey(context)
    const styleFor = (kind: Context['kind'], level: number): string | undefined => {
      const styles = source.styles!
      if (kind === 'plain') return styles.paragraph('').heading === 0 ? '' : undefined
      const own = styles.ids.find((id) => {
        const style = styles.paragraph(id)
        return kind === 'quote'
          ? style.role === 'quote'
          : style.heading === level && style.role === 'plain' && !/^title$/i.test(style.name)
      })
      if (own !== undefined) return own
      return styleOf(
        this.opened,
        this.changes,
        this.main,
        kind === 'quote'
          ? { name: 'quote', id: 'Quote', kind: 'paragraph', inside: quoteLook }
          : { name: `heading ${level}`, id: `Heading${level}`, kind: 'paragraph', inside: headingLook(level) },
      )
    }
    const numberingFor = (list: NonNullable<Context['list']>) => {
      const one =
        !this.way.ownLists &&
        this.like(
          near,
          ({ context, ...paragraph }) =>
            context?.list?.ordered === list.ordered &&
            context.list.depth === list.depth &&
            !!numberingIn(prefix, xml.slice(...paragraph.properties)),
        )
      return one ? numberingIn(prefix, raw(one)) : this.newNumbering(list)
    }
    const changed = (text: string, from: Context, to: Context) => {
      const made = paragraphPropertiesFor(prefix, text, from, to, styleFor, numberingFor)
      if (made === null) throw new CannotPatch(`no ${contextKey(to)}`)
      return made
    }
    const likeRun = (context: Context): RunLike => {
      const letters = (one: SourceParagraph) => one.items.filter(({ kind }) => kind === 'letter')
      const one = this.like(near, (paragraph) => same(context)(paragraph) && letters(paragraph).length > 0)
      const [first] = one ? letters(one) : []
      if (!first?.run) {
        // What the file's usual style gives a run.
        const { marks } = source.styles!.paragraph('')
        return { properties: '', marks, inherited: marks }
      }
      const [properties] = elements(first.run, 'w:rPr')
      return {
        properties: properties ? xml.slice(properties.at!.start, properties.at!.end) : '',
        marks: first.marks,
        inherited: first.inherited ?? [],
      }
    }
    return {
      prefix,
      freshProperties: (context) => {
        const one = context.list && this.way.ownLists ? undefined : this.like(near, same(context))
        return one ? copiedProperties(prefix, raw(one), false) : changed('', this.usual(), context)
      },
      changedProperties: changed,
      likeRun,
      atom: (item, properties) => this.atom(item, properties),
      link: (href) => this.link(href),
    }
  }

  private freshParagraph(unit: Exclude<Unit, { is: 'table' }>, near: SourceParagraph | null): string {
    const { prefix } = this
    if (unit.is === 'break')
      return `<${prefix}p><${prefix}r><${prefix}br ${prefix}type="page"/></${prefix}r></${prefix}p>`
    const offers = this.offers(near)
    const like = offers.likeRun(unit.context)
    let runs = ''
    unit.node.forEach((node) => {
      const properties = runPropertiesFor(prefix, like.properties, like.marks, node.marks, like.inherited)
      const text = () =>
        node
          .text!.split('\t')
          .map((piece) => (piece ? `<${prefix}t xml:space="preserve">${escapeText(piece)}</${prefix}t>` : ''))
          .join(`<${prefix}tab/>`)
      const run = node.isText
        ? `<${prefix}r>${properties}${text()}</${prefix}r>`
        : this.atom({ key: '', kind: 'atom', node, marks: node.marks }, properties)
      const href = node.marks.find(({ type }) => type.name === 'link')?.attrs.href
      runs += href === undefined ? run : `${this.link(href)}${run}</${prefix}hyperlink>`
    })
    return `<${prefix}p>${offers.freshProperties(unit.context)}${runs}</${prefix}p>`
  }

  /** A run with something that is no text. */
  private atom({ node }: Item, properties: string): string {
    const { prefix } = this
    const run = (content: string) => `<${prefix}r>${properties}${content}</${prefix}r>`
    if (node?.type.name === 'kept') return this.kept.placeFor(node, properties)
    if (node?.type.name === 'hard_break') return run(`<${prefix}br/>`)
    if (node?.type.name !== 'image') throw new CannotPatch(node?.type.name ?? '')
    const [type, bytes] = dataUrlBytes(node.attrs.src)
    const ending = extensionOf[type] ?? 'png'
    const folder = this.main.slice(0, this.main.lastIndexOf('/') + 1)
    const part = freePart(this.opened, this.changes, `${folder}media/image`, ending)
    this.changes.set(part, bytes)
    typeOfEnding(this.opened, this.changes, ending, type)
    const id = relate(this.opened, this.changes, this.main, 'image', part.slice(folder.length))
    this.drawings ||= Math.max(
      0,
      ...[...this.xml.matchAll(/docPr [^>]*?\bid="(\d+)"/g)].map(([, number]) => Number(number)),
    )
    const spaces =
      `xmlns:r="${relationshipsNamespace}" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" ` +
      'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"'
    return run(
      drawingXml(node, id, ++this.drawings)
        .replace('<w:drawing>', `<${prefix}drawing ${spaces}>`)
        .replace('</w:drawing>', `</${prefix}drawing>`),
    )
  }
  private link(href: string): string {
    if (href.startsWith('#'))
      return `<${this.prefix}hyperlink ${this.prefix}anchor="${escapeAttribute(href.slice(1))}">`
    const id = relate(this.opened, this.changes, this.main, 'hyperlink', href, true)
    return `<${this.prefix}hyperlink xmlns:r="${relationshipsNamespace}" r:id="${id}">`
  }
}

/** Blocks that are the same, in order: as many as there are, and in documents of thousands of changes those that are sure. */
function pairedBlocks(older: readonly string[], newer: readonly string[]): [number, number][] {
  const pairs =
    older.length * newer.length < largestPairing
      ? layItems(older, newer, () => false)
      : matchUp(older, newer, () => 0).pairs
  return pairs.filter(([a, b]) => a >= 0 && b >= 0 && older[a] === newer[b]) as [number, number][]
}

/** What there is less of now. */
const fewer = (before: readonly Limit[], now: readonly Limit[]): Limit[] =>
  before.flatMap(({ feature, count, where }) => {
    const left = now.find((one) => one.feature === feature)
    const gone = count - (left?.count ?? 0)
    return gone > 0 ? [{ feature, count: gone, where: where.filter((one) => !left?.where.includes(one)) }] : []
  })

function widthOf(table: Node): number {
  let width = 0
  table.firstChild?.forEach((cell) => {
    width += cell.attrs.colspan
  })
  return width
}
function spansRows(table: Node): boolean {
  let spans = false
  table.forEach((row) => {
    row.forEach((cell) => {
      if (cell.attrs.rowspan > 1) spans = true
    })
  })
  return spans
}
