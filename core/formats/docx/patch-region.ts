// Some neighbouring paragraphs of a file written as other paragraphs: what is between the letters (bookmarks, notes,
// fields, comments, tracked changes) is emitted in its order and never looked at, and runs that did not change stay.
import type { Mark } from 'prosemirror-model'
import { childrenIn } from '../opc/spans'
import { elements, escapeText, type XmlElement } from '../opc/xml'
import { fieldElement, lookRunOf } from './fields'
import { layItems, type Step } from './patch-diff'
import { type Item, isWordKey, type SourceItem, type SourceParagraph, saidBy } from './patch-items'
import { type Context, contextKey, copiedProperties, endsSection, runPropertiesFor } from './patch-look'

/** What a new run is made of. */
export interface RunLike {
  properties: string
  marks: readonly Mark[]
  inherited: readonly Mark[]
}
/** What the file offers for paragraphs and runs that are new in it. */
export interface FileOffers {
  prefix: string
  /** The properties of a paragraph of a context that there is nothing to make of. */
  freshProperties(context: Context): string
  /** A paragraph's properties for another context. */
  changedProperties(raw: string, from: Context, to: Context): string
  /** A run of a paragraph like the new one, to begin from. */
  likeRun(context: Context): RunLike
  /**
   * A picture, or another thing in a line, that is new in the file or comes to another place in it.
   * @param properties of the run that it stands in
   */
  atom(item: Item, properties: string): string
  /** The tag that opens a link. */
  link(href: string): string
}

/** The region cannot be written so. */
export class CannotPatch extends Error {}

const hrefOf = (marks: readonly Mark[]): string | null =>
  marks.find(({ type }) => type.name === 'link')?.attrs.href ?? null
const sameMarks = (a: readonly Mark[], b: readonly Mark[]) =>
  a.length === b.length && a.every((mark, index) => mark.eq(b[index]!))
/** What may be closed and opened again in the middle of a paragraph. */
const parted = new Set(['w:hyperlink', 'w:ins', 'w:smartTag', 'w:customXml'])

/** Half of a field, whose other half stands in another paragraph (§17.16.18). */
const hasHalfField = (raw: string): boolean => {
  const count = (pattern: RegExp) => raw.match(pattern)?.length ?? 0
  return count(/fldCharType=["']begin/g) !== count(/fldCharType=["']end/g)
}
/**
 * An empty line to whoever edits, with something in it all the same, or half of a field that goes on elsewhere: it is not
 * what anybody meant to remove.
 */
export const holdsUnseen = (xml: string, { items, content, element }: SourceParagraph): boolean => {
  const raw = xml.slice(content, element.at!.inner[1])
  if (items.length > 1) return hasHalfField(raw)
  return /<\w+:(?:\w+Reference|fldChar|fldSimple|object|pict|drawing|oMath|sdt|del|ins|sym|ruby)\b/.test(raw)
}

/** A paragraph that is being written. */
interface Opened {
  /** Where its properties are put once it is known which they are. */
  slot: number
  /** The paragraph of the file that it began as; null for one that is new. */
  of: SourceParagraph | null
  contributors: Set<SourceParagraph>
}

export class RegionWriter {
  private readonly flat: { item: SourceItem; paragraph: SourceParagraph }[]
  private readonly kept: ReadonlySet<number>
  /** Of new items the text that takes them in. */
  private readonly into = new Map<number, SourceItem>()
  private readonly touched = new Set<XmlElement>()
  private readonly goneRuns = new Set<XmlElement>()
  private readonly goneParts = new Set<XmlElement>()
  private readonly gone = new Set<SourceParagraph>()
  private readonly out: string[] = []
  private readonly spaced = new Map<XmlElement, { slot: number; text: string[] }>()
  private at: number
  /** The item of the file that comes next. */
  private next = 0
  private opened: Opened | null = null
  private current: SourceParagraph | null = null
  private last: SourceItem | null = null
  /** Halves of fields on their way to the next paragraph that stays. */
  private carried = ''
  /** What opens again what was closed at this place, before the file goes on. */
  private pending = ''

  /**
   * @param sources the paragraphs of the file, in their order and beside each other
   * @param items what is to stand there, each paragraph with its end
   * @param steps how the items of both are laid beside each other
   * @param keepsUnseen what an empty line holds unseen goes on beside it when it goes
   */
  constructor(
    private readonly xml: string,
    private readonly sources: readonly SourceParagraph[],
    private readonly items: readonly Item[],
    private steps: readonly Step[],
    private readonly offers: FileOffers,
    private readonly keepsUnseen: boolean,
  ) {
    this.flat = sources.flatMap((paragraph) => paragraph.items.map((item) => ({ item, paragraph })))
    this.kept = new Set(steps.filter(([older, newer]) => older >= 0 && newer >= 0).map(([older]) => older))
    this.at = sources[0]!.element.at!.start
    this.plan()
  }

  /** @returns the XML from the beginning of the first source to the end of the last one @throws CannotPatch */
  write(): string {
    const { steps, items } = this
    for (let index = 0; index < steps.length; index++) {
      const [older, newer] = steps[index]!
      if (older >= 0) {
        this.goOn(older, newer)
        continue
      }
      // Letters of one look that come one after the other share a run.
      const group = [newer]
      const first = items[newer]!
      while (first.kind === 'letter') {
        const [was, then] = steps[index + 1] ?? [0, 0]
        const other = items[then]
        if (was >= 0 || other?.kind !== 'letter' || !sameMarks(other.marks, first.marks)) break
        if (this.into.get(then) !== this.into.get(newer)) break
        group.push(then)
        index++
      }
      this.insert(group)
    }
    if (this.opened) throw new CannotPatch('open paragraph')
    this.copy(this.sources.at(-1)!.element.at!.end)
    if (this.carried) throw new CannotPatch('half a field')
    for (const { slot, text } of this.spaced.values())
      if (/^\s|\s$/.test(text.join(''))) this.out[slot] = ' xml:space="preserve"'
    return this.out.join('')
  }

  private plan(): void {
    const { flat, kept, steps, items } = this
    for (const [index, [older, newer]] of steps.entries()) {
      if (older >= 0 || items[newer]!.kind !== 'letter' || items[newer]!.text === '\t') continue
      const into = this.textFor(items[newer]!, index)
      if (into) this.into.set(newer, into)
    }
    this.steps = this.arranged()
    const taking = new Set(this.into.values())
    for (const [index, { item }] of flat.entries()) {
      if (kept.has(index)) continue
      if (item.part?.name === 'w:t') this.touched.add(item.part)
      if (item.run) this.goneRuns.add(item.run)
      if (item.part) this.goneParts.add(item.part)
    }
    for (const { part } of taking) if (part) this.touched.add(part)
    for (const [index, { item }] of flat.entries())
      if (kept.has(index) || taking.has(item)) {
        if (item.run) this.goneRuns.delete(item.run)
        if (item.part) this.goneParts.delete(item.part)
      }
    // A run of which nothing stays goes with its properties, unless something else is in it.
    for (const run of [...this.goneRuns])
      for (const part of elements(run))
        if (part.name !== 'w:rPr' && part.name !== 'w:lastRenderedPageBreak' && !this.goneParts.has(part))
          this.goneRuns.delete(run)
    let index = 0
    for (const paragraph of this.sources) {
      const first = index
      index += paragraph.items.length
      const stays = paragraph.items.some((item, offset) => kept.has(first + offset) || taking.has(item))
      const unseen = paragraph.items.length === 1 && holdsUnseen(this.xml, paragraph)
      if (!stays && !(this.keepsUnseen && unseen)) this.gone.add(paragraph)
    }
  }

  /**
   * Of what comes in a place and says the same as something that goes there, in another look: behind how many that go it
   * stands, so that what is between their runs (the ends of fields, of comments) stays where it is among the words.
   */
  private counterparts(goes: readonly Step[], comes: readonly Step[]): Map<number, { past: number; run: XmlElement }> {
    const { flat, items } = this
    const places = new Map<number, { past: number; run: XmlElement }>()
    const olds = goes.map(([older]) => flat[older]!.item)
    const news = comes.map(([, newer]) => items[newer]!)
    // Where paragraphs end otherwise, words may belong to another one now.
    if ([...olds, ...news].some(({ kind }) => kind === 'end' || kind === 'break')) return places
    for (const [older, newer] of layItems(olds.map(saidBy), news.map(saidBy), isWordKey)) {
      const run = olds[older]?.run
      if (newer < 0 || !run) continue
      let past = older + 1
      while (olds[past]?.run === run) past++
      places.set(comes[newer]![1], { past, run })
    }
    return places
  }
  /** Whether something stands between two runs. */
  private parted(one: XmlElement, other: XmlElement): boolean {
    if (one === other) return false
    const [first, second] = one.at!.start < other.at!.start ? [one, other] : [other, one]
    return this.xml.slice(first.at!.end, second.at!.start).replace(/<\w+:proofErr\b[^>]*>|\s+/g, '') !== ''
  }

  /** The steps with each new letter right beside the one whose text takes it in, among what goes at the same place. */
  private arranged(): Step[] {
    const { steps, flat } = this
    const all: Step[] = []
    for (let index = 0; index < steps.length; ) {
      if (steps[index]![0] >= 0 && steps[index]![1] >= 0) {
        all.push(steps[index++]!)
        continue
      }
      let past = index
      while (past < steps.length && !(steps[past]![0] >= 0 && steps[past]![1] >= 0)) past++
      const hole = steps.slice(index, past)
      // An end that comes or goes parts the place.
      const goes = hole.filter(([older]) => older >= 0)
      const comes = hole.filter(([older]) => older < 0)
      const counterparts = this.counterparts(goes, comes)
      let passed = 0
      const lastWith = comes.findLastIndex(([, newer]) => counterparts.has(newer))
      for (const [index, [, newer]] of comes.entries()) {
        const counterpart = counterparts.get(newer)
        let into = this.into.get(newer)
        if (into?.run && counterpart && this.parted(counterpart.run, into.run)) {
          this.into.delete(newer)
          into = undefined
        }
        const at = into ? goes.findIndex(([older]) => flat[older]!.item === into) : -1
        const before = into && at < 0 && flat.findIndex(({ item }) => item === into) < (goes[0]?.[0] ?? -1)
        const elsewhere = index < lastWith ? passed : goes.length
        let wanted = at >= 0 ? at + 1 : before ? 0 : into ? goes.length : (counterpart?.past ?? elsewhere)
        // Beside words that came before it, as long as nothing of its own stands further on.
        if (!into && wanted < passed) wanted = passed
        if (wanted < passed) {
          this.into.delete(newer)
          wanted = goes.length
        }
        for (; passed < wanted; passed++) all.push(goes[passed]!)
        all.push([-1, newer])
      }
      all.push(...goes.slice(passed))
      index = past
    }
    return all
  }

  /** The text that a new letter goes into: of the same look, right before it or right after. */
  private textFor(item: Item, index: number): SourceItem | null {
    const fits = (one: SourceItem) =>
      one.kind === 'letter' && one.part?.name === 'w:t' && sameMarks(one.marks, item.marks)
    for (const way of [-1, 1])
      for (let step = index + way; step >= 0 && step < this.steps.length; step += way) {
        const [older, newer] = this.steps[step]!
        if (older < 0) {
          // What gets a run of its own stands between.
          const one = this.items[newer]!
          if (one.kind !== 'letter' || one.text === '\t' || !sameMarks(one.marks, item.marks)) break
          continue
        }
        const beside = this.flat[older]!.item
        if (beside.kind === 'end' || beside.kind === 'break') break
        if (fits(beside)) return beside
        if (this.kept.has(older)) break
      }
    return null
  }

  private copy(to: number): void {
    if (to <= this.at) return
    const { xml, out } = this
    this.flush()
    // A text that has spaces at its ends by now has to say that they count (XML 1.0 §2.10).
    const inside = [...this.touched]
      .filter((part) => part.at!.start >= this.at && part.at!.start < to && !this.spaced.has(part))
      .filter((part) => part.attributes['xml:space'] === undefined)
      .toSorted((a, b) => a.at!.start - b.at!.start)
    for (const part of inside) {
      const name = part.at!.start + 1 + part.at!.name.length
      out.push(xml.slice(this.at, name))
      this.spaced.set(part, { slot: out.push('') - 1, text: [] })
      this.at = name
    }
    out.push(xml.slice(this.at, to))
    this.at = to
  }
  private flush(): void {
    if (this.pending) this.out.push(this.pending)
    this.pending = ''
  }
  private skip(to: number): void {
    this.at = Math.max(this.at, to)
  }

  /** The next item of the file stays or goes. */
  private goOn(older: number, newer: number): void {
    const { item, paragraph } = this.flat[older]!
    const stays = newer >= 0
    const { element } = paragraph
    this.next = older + 1
    if (this.gone.has(paragraph)) return this.leaveOut(paragraph)
    if (this.current !== paragraph) this.enter(paragraph)
    if (item.kind === 'end' && item.inner) {
      if (!stays) throw new CannotPatch('page break')
      this.resume()
      this.copy(item.from)
    } else if (item.kind === 'end') {
      if (stays) {
        this.resume()
        this.copy(item.from)
        this.flush()
        this.close(this.items[newer]!.context ?? null, true)
        if (element.at!.kind === 'empty') this.out.push(`</${element.at!.name}>`)
        this.copy(element.at!.end)
      } else {
        this.copy(item.from)
        this.skip(element.at!.end)
      }
      this.current = null
    } else if (item.kind === 'break') {
      if (!stays && (item.asked || paragraph.count > 1)) throw new CannotPatch('page break')
      this.resume()
      this.copy(item.from)
      if (stays) this.copy(item.to)
      else this.skip(item.to)
      if (paragraph.items.at(-1) === item) {
        this.copy(element.at!.inner[1])
        this.close(paragraph.context, true)
        this.copy(element.at!.end)
        this.current = null
      }
    } else if (stays) {
      this.resume()
      this.copy(item.to)
      this.spaced.get(item.part!)?.text.push(item.text ?? '')
    } else {
      const whole = this.goneRuns.has(item.run!) ? item.run! : this.goneParts.has(item.part!) ? item.part! : null
      if (whole && this.at >= whole.at!.end) return
      if (!this.opened && !this.pending) this.resume()
      this.copy(whole ? whole.at!.start : item.from)
      this.skip(whole ? whole.at!.end : item.to)
    }
    this.last = this.current ? item : null
  }
  /** A paragraph of which nothing stays leaves what is a half of something else. */
  private leaveOut(paragraph: SourceParagraph): void {
    const { start, end } = paragraph.element.at!
    if (this.at > start) return
    this.copy(start)
    this.out.push(this.halvesIn(paragraph))
    this.skip(end)
  }
  private enter(paragraph: SourceParagraph): void {
    const { xml } = this
    const { element, properties, content } = paragraph
    for (const one of this.sources) {
      if (one === paragraph) break
      if (this.gone.has(one)) this.leaveOut(one)
    }
    this.copy(element.at!.start)
    this.current = paragraph
    this.last = null
    if (this.opened) {
      // What was a paragraph of its own goes on in the one that is open.
      if (endsSection(this.offers.prefix, xml.slice(...properties))) throw new CannotPatch('section')
      this.skip(content)
      this.opened.contributors.add(paragraph)
      this.takeOn()
      return
    }
    if (element.at!.kind === 'empty') {
      this.out.push(`${xml.slice(element.at!.start, element.at!.end).replace(/\s*\/>$/, '')}>`)
      this.skip(element.at!.end)
    } else this.copy(element.at!.inner[0])
    this.open(paragraph)
    this.skip(content)
    this.takeOn()
  }
  /** The halves of fields from paragraphs that went go on in this one. */
  private takeOn(): void {
    if (!this.carried) return
    this.flush()
    this.out.push(this.carried)
    this.carried = ''
  }
  private open(of: SourceParagraph | null): void {
    this.opened = { slot: this.out.push('') - 1, of, contributors: new Set(of ? [of] : []) }
  }
  /** The rest of a paragraph that was parted is a paragraph. */
  private resume(): void {
    if (this.opened || !this.current) return
    this.out.push(`<${this.offers.prefix}p>`)
    this.open(this.current)
  }
  private close(context: Context | null, section: boolean): void {
    const { of, contributors, slot } = this.opened!
    this.opened = null
    const { prefix } = this.offers
    const raw = (paragraph: SourceParagraph) => this.xml.slice(...paragraph.properties)
    const same = ({ context: own }: SourceParagraph) => !!context && !!own && contextKey(own) === contextKey(context)
    if (!of) {
      this.out[slot] = context ? this.offers.freshProperties(context) : ''
      return
    }
    const from = same(of) ? of : ([...contributors].find(same) ?? of)
    const whole = section && from === of ? raw(from) : copiedProperties(prefix, raw(from), section)
    this.out[slot] =
      context && from.context && !same(from) ? this.offers.changedProperties(whole, from.context, context) : whole
  }

  /** New items of one look come at this place. */
  private insert(group: readonly number[]): void {
    const first = group[0]!
    const item = this.items[first]!
    const { prefix } = this.offers
    if (!this.opened) {
      const ahead = this.flat.slice(this.next).find(({ paragraph }) => !this.gone.has(paragraph))?.paragraph
      if (!this.isFresh(first)) {
        if (this.current) this.resume()
        else if (ahead) this.enter(ahead)
        else throw new CannotPatch('nothing ahead')
      } else {
        if (!this.current) {
          for (const one of this.sources) {
            if (one === ahead) break
            if (this.gone.has(one) && one.element.at!.end <= (this.flat[this.next]?.paragraph.element.at?.start ?? 0))
              this.leaveOut(one)
          }
          const beside = this.flat[this.next]?.paragraph
          if (beside && !this.gone.has(beside)) this.copy(beside.element.at!.start)
        }
        if (item.kind === 'break') {
          this.out.push(`<${prefix}p><${prefix}r><${prefix}br ${prefix}type="page"/></${prefix}r></${prefix}p>`)
          return
        }
        this.out.push(`<${prefix}p>`)
        this.open(null)
      }
    }
    if (item.kind === 'break') throw new CannotPatch('page break in a paragraph')
    if (item.kind === 'end') {
      if (this.opened!.of === null && !this.opened!.contributors.size) {
        this.close(item.context!, false)
        this.out.push(`</${prefix}p>`)
      } else this.split(item.context!)
      return
    }
    const text = group.map((one) => this.items[one]!.text ?? '').join('')
    const into = this.into.get(first)
    if (into) {
      // Up to the letter before, or to the one after, whose text takes it in.
      const ahead = this.flat.findIndex((one) => one.item === into) >= this.next
      if (ahead) this.copy(into.from)
      // Nothing may be between here and there but what opens again.
      this.flush()
      this.spaced.get(into.part!)?.text.push(text)
      this.out.push(escapeText(text))
      return
    }
    this.freshRun(item, text)
  }

  /** Whether nothing of the paragraph that a new item is in is in the file. */
  private isFresh(newer: number): boolean {
    const ends = (index: number) => this.items[index]!.kind === 'end' || this.items[index]!.kind === 'break'
    let from = newer
    while (from > 0 && !ends(from - 1)) from--
    let to = newer
    while (to < this.items.length - 1 && !ends(to)) to++
    if (this.steps.some(([older, one]) => older >= 0 && one >= from && one <= to)) return false
    for (let one = from; one <= to; one++) if (this.into.has(one)) return false
    return true
  }
  private contextFrom(item: Item): Context | null {
    for (let index = this.items.indexOf(item); index < this.items.length; index++)
      if (this.items[index]!.context) return this.items[index]!.context!
    return null
  }

  /**
   * Goes to between two runs at this place; a run in the middle of which it is ends here, and goes on behind.
   * @param item what comes there: before a link that it is no part of, it is outside of that
   * @returns the containers that the place is in, the outermost first
   */
  private apart(item?: Item): readonly XmlElement[] {
    const { last } = this
    const ahead = this.flat[this.next]
    const after = ahead && ahead.paragraph === this.current ? ahead.item : undefined
    if (this.pending) return (last ?? after)?.path ?? []
    if (last?.run && after?.run === last.run && !this.goneRuns.has(last.run)) {
      const run = last.run.at!.name
      const again = `<${run}>${this.propertiesOf(last.run)}`
      if (after.part === last.part && last.part?.name === 'w:t') {
        const text = last.part.at!.name
        this.out.push(`</${text}></${run}>`)
        this.pending = `${again}<${text} xml:space="preserve">`
      } else {
        this.copy(last.part!.at!.end)
        this.out.push(`</${run}>`)
        this.pending = again
      }
      return last.path ?? []
    }
    if (last?.run) {
      if (!this.goneRuns.has(last.run)) this.copy(last.run.at!.end)
      return last.path ?? []
    }
    if (after?.run) {
      const path = after.path ?? []
      const linked = path.findIndex(({ name }) => name === 'w:hyperlink')
      if (item && linked >= 0 && hrefOf(item.marks) !== hrefOf(after.marks)) {
        this.copy(path[linked]!.at!.start)
        return path.slice(0, linked)
      }
      this.copy(after.run.at!.start)
      return path
    }
    if (this.current && this.current.element.at!.kind !== 'empty') this.copy(this.current.element.at!.inner[1])
    return []
  }
  private propertiesOf(of: XmlElement): string {
    const run = of.name === fieldElement ? lookRunOf(of) : of
    const [properties] = run ? elements(run, 'w:rPr') : []
    return properties ? this.xml.slice(properties.at!.start, properties.at!.end) : ''
  }

  private freshRun(item: Item, text: string): void {
    const { prefix } = this.offers
    const isNew = this.opened!.of === null && !this.opened!.contributors.size
    const ahead = this.flat[this.next]
    const beside = this.last?.run ? this.last : ahead?.paragraph === this.current ? ahead?.item : undefined
    const context = this.contextFrom(item)
    const like: RunLike =
      !isNew && beside?.run
        ? { properties: this.propertiesOf(beside.run), marks: beside.marks, inherited: beside.inherited ?? [] }
        : context
          ? this.offers.likeRun(context)
          : { properties: '', marks: [], inherited: [] }
    const path = isNew ? [] : this.apart(item)
    const linked = path.find(({ name }) => name === 'w:hyperlink')
    const properties = runPropertiesFor(prefix, like.properties, like.marks, item.marks, like.inherited)
    const pieces = text
      .split('\t')
      .map((piece) =>
        piece
          ? `<${prefix}t${/^\s|\s$/.test(piece) ? ' xml:space="preserve"' : ''}>${escapeText(piece)}</${prefix}t>`
          : '',
      )
    let run =
      item.kind === 'atom'
        ? this.offers.atom(item, properties)
        : `<${prefix}r>${properties}${pieces.join(`<${prefix}tab/>`)}</${prefix}r>`
    const [wanted, around] = [hrefOf(item.marks), linked && beside ? hrefOf(beside.marks) : null]
    if (wanted !== around) {
      if (linked) {
        if (this.pending || linked !== path.at(-1)) throw new CannotPatch('inside a link')
        if (this.last?.path?.includes(linked)) this.copy(linked.at!.end)
        else throw new CannotPatch('before a link')
      }
      if (wanted !== null) run = `${this.offers.link(wanted)}${run}</${prefix}hyperlink>`
    }
    this.out.push(run)
  }

  /** The paragraph ends here, and what follows of it is another one. */
  private split(context: Context): void {
    const { prefix } = this.offers
    const path = this.apart()
    const ahead = this.flat[this.next]
    const after = ahead && ahead.paragraph === this.current ? ahead.item : undefined
    const shared = path.filter((one) => after?.path?.includes(one))
    if (shared.some(({ name }) => !parted.has(name))) throw new CannotPatch('inside a content control')
    // What stands only around the run before is closed where it ends.
    for (const one of path.toReversed())
      if (!shared.includes(one) && this.last?.path?.includes(one)) this.copy(one.at!.end)
    this.out.push(
      shared
        .toReversed()
        .map((one) => `</${one.at!.name}>`)
        .join(''),
    )
    this.close(context, false)
    this.out.push(`</${prefix}p>`)
    const again = shared.map((one) => this.xml.slice(one.at!.start, one.at!.inner[0])).join('')
    this.pending = again + this.pending
  }

  /** The runs of a paragraph that begin or end a field whose other end stands elsewhere. */
  private halfFields({ element }: SourceParagraph): string {
    const runs: { raw: string; begins: number; part: boolean }[] = []
    const visit = (parent: XmlElement) => {
      for (const one of elements(parent)) {
        if (one.name !== 'w:r') {
          visit(one)
          continue
        }
        let begins = 0
        let part = false
        for (const inside of elements(one)) {
          if (inside.name === 'w:instrText') part = true
          if (inside.name !== 'w:fldChar') continue
          part = true
          const type = Object.entries(inside.attributes).find(([key]) => key.endsWith('fldCharType'))?.[1]
          begins += type === 'begin' ? 1 : type === 'end' ? -1 : 0
        }
        runs.push({ raw: this.xml.slice(one.at!.start, one.at!.end), begins, part })
      }
    }
    visit(element)
    // What begins and ends in it goes with it.
    const open: number[] = []
    const whole = new Set<number>()
    for (const [index, { begins }] of runs.entries()) {
      if (begins > 0) open.push(index)
      const from = begins < 0 ? open.pop() : undefined
      if (from !== undefined) for (let at = from; at <= index; at++) whole.add(at)
    }
    return runs.map(({ raw, part }, index) => (part && !whole.has(index) ? raw : '')).join('')
  }

  /** What a paragraph that goes holds a half of: the other half stands elsewhere. */
  private halvesIn(paragraph: SourceParagraph): string {
    const { xml } = this
    const { inner } = paragraph.element.at!
    if (endsSection(this.offers.prefix, xml.slice(...paragraph.properties))) throw new CannotPatch('section')
    const raw = xml.slice(paragraph.content, inner[1])
    if (hasHalfField(raw)) this.carried += this.halfFields(paragraph)
    const starts = new Map<string, string>()
    const ends = new Map<string, string>()
    const visit = (span: readonly [number, number]) => {
      for (const one of childrenIn(xml, span)) {
        const found = /^(?:\w+:)?(\w+?)(Start|End)$/.exec(one.name)
        const id = /\s(?:\w+:)?id="([^"]*)"/.exec(xml.slice(one.start, one.end))?.[1]
        if (found && id !== undefined)
          (found[2] === 'Start' ? starts : ends).set(`${found[1]} ${id}`, xml.slice(one.start, one.end))
        else if (one.kind === 'open') visit(one.inner)
      }
    }
    if (inner[1] > paragraph.content) visit([paragraph.content, inner[1]])
    // Of an empty line its marks stay whole: nobody saw them.
    const empty = paragraph.items.length === 1
    const halves = [
      ...[...ends].filter(([key]) => !starts.has(key)),
      ...[...starts].filter(([key]) => empty || !ends.has(key)),
      ...[...ends].filter(([key]) => empty && starts.has(key)),
    ]
    return halves.map(([, one]) => one).join('')
  }
}
