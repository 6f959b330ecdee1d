// What a file offers for paragraphs and runs that are new in one of its stories: properties of what is like them there,
// styles, lists, pictures and links (ECMA-376 part 1, §17.3).
import type { Node } from 'prosemirror-model'
import { freePart, relate, typeOfEnding } from '../opc/add-part'
import { elements, escapeAttribute, escapeText } from '../opc/xml'
import { styleOf } from './add-style'
import type { Item, SourceParagraph, Unit } from './patch-items'
import type { KeptWriter } from './patch-kept'
import {
  type Context,
  contextKey,
  copiedProperties,
  listKey,
  numberingIn,
  paragraphPropertiesFor,
  runPropertiesFor,
} from './patch-look'
import { addList } from './patch-numbering'
import { knownDrawing } from './patch-picture'
import { CannotPatch, type FileOffers, type RunLike } from './patch-region'
import type { Story } from './story'
import { foreignGap, gapLook, headingLook, quoteLook } from './styles'
import { alignOf } from './values'
import { dataUrlBytes, drawingXml, extensionOf } from './write'

const relationshipsNamespace = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'

export class StoryOffers {
  /** The paragraphs of the story, as far as they are known. */
  readonly everything: SourceParagraph[] = []
  private drawings = 0
  private readonly lists = new Map<Node | undefined, number>()

  constructor(
    private readonly story: Story,
    private readonly kept: KeptWriter,
  ) {}

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
  private newNumbering({ ordered, depth, number: written, of, own }: NonNullable<Context['list']>): string {
    // Lists of several kinds, and two beside each other, in one list are each one of their own, as a file begins them.
    const apart = this.story.way.ownLists || written !== null
    const list = apart ? own : of
    let number = this.lists.get(list)
    if (number === undefined) {
      const start = list?.attrs.start ?? 1
      const { opened, changes, lead } = this.story
      number = addList(opened, changes, lead, ordered, start, apart ? depth : 0, written)
      this.lists.set(list, number)
    }
    const { prefix } = this.story
    return `<${prefix}numPr><${prefix}ilvl ${prefix}val="${depth}"/><${prefix}numId ${prefix}val="${number}"/></${prefix}numPr>`
  }

  /** What a paragraph without properties of its own is in this file. */
  private usual(): Context {
    const { heading, role, align } = this.story.source.styles!.paragraph('')
    const kind = heading > 0 ? 'heading' : role === 'quote' ? 'quote' : 'plain'
    return { kind, level: heading, align: alignOf(align), style: null, look: null, list: null }
  }
  offers(near: SourceParagraph | null): FileOffers {
    const { prefix, xml, source } = this.story
    const raw = ({ properties }: SourceParagraph) => xml.slice(...properties)
    const same = (context: Context) => (one: SourceParagraph) =>
      one.count === 1 && !!one.context && contextKey(one.context) === contextKey(context)
    const styleFor = (kind: Context['kind'], level: number): string | undefined => {
      const styles = source.styles!
      if (kind === 'plain') return styles.paragraph('').heading === 0 ? '' : undefined
      const own = styles.ids.find((id) => {
        const style = styles.paragraph(id)
        // A named one of that kind is another look.
        if (style.named !== null) return false
        return kind === 'quote'
          ? style.role === 'quote'
          : style.heading === level && style.role === 'plain' && !/^title$/i.test(style.name)
      })
      if (own !== undefined) return own
      return styleOf(
        this.story.opened,
        this.story.changes,
        this.story.lead,
        kind === 'quote'
          ? { name: 'quote', id: 'Quote', kind: 'paragraph', inside: quoteLook }
          : { name: `heading ${level}`, id: `Heading${level}`, kind: 'paragraph', inside: headingLook(level) },
      )
    }
    const alignGiven = (style: string) => alignOf(source.styles!.paragraph(style).align)
    const numberingFor = (list: NonNullable<Context['list']>) => {
      const one =
        !this.story.way.ownLists &&
        this.like(
          near,
          ({ context, ...paragraph }) =>
            !!context?.list &&
            listKey(context.list) === listKey(list) &&
            !!numberingIn(prefix, xml.slice(...paragraph.properties)),
        )
      return one ? numberingIn(prefix, raw(one)) : this.newNumbering(list)
    }
    const changed = (text: string, from: Context, to: Context) => {
      const made = paragraphPropertiesFor(prefix, text, from, to, styleFor, numberingFor, alignGiven)
      if (made === null) throw new CannotPatch(`no ${contextKey(to)}`)
      return made
    }
    const likeRun = (context: Context): RunLike => {
      const letters = (one: SourceParagraph) => one.items.filter(({ kind }) => kind === 'letter')
      const one = this.like(near, (paragraph) => same(context)(paragraph) && letters(paragraph).length > 0)
      const [first] = one ? letters(one) : []
      if (!first?.run) {
        // What its style gives a run.
        const { marks } = source.styles!.paragraph(context.style ?? '')
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
        const one = context.list && this.story.way.ownLists ? undefined : this.like(near, same(context))
        return one ? copiedProperties(prefix, raw(one), false) : changed('', this.usual(), context)
      },
      changedProperties: changed,
      likeRun,
      atom: (item, properties) => this.atom(item, properties),
      link: (href) => this.link(href),
    }
  }

  /** What parts two tables. */
  gap(): string {
    const { prefix, opened, changes, lead, source } = this.story
    const known = source.styles!.ids.find((id) => source.styles!.paragraph(id).role === 'gap')
    const style =
      known ?? styleOf(opened, changes, lead, { name: foreignGap, id: 'TableGap', kind: 'paragraph', inside: gapLook })
    return `<${prefix}p><${prefix}pPr><${prefix}pStyle ${prefix}val="${escapeAttribute(style)}"/></${prefix}pPr></${prefix}p>`
  }

  freshParagraph(unit: Exclude<Unit, { is: 'table' }>, near: SourceParagraph | null): string {
    const { prefix } = this.story
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
    const { prefix } = this.story
    const run = (content: string) => `<${prefix}r>${properties}${content}</${prefix}r>`
    if (node?.type.name === 'kept') return this.kept.placeFor(node, properties)
    if (node?.type.name === 'hard_break') return run(`<${prefix}br/>`)
    if (node?.type.name !== 'image') throw new CannotPatch(node?.type.name ?? '')
    const known = knownDrawing(this.story, node, () => this.nextDrawing())
    if (known) return run(known)
    const [type, bytes] = dataUrlBytes(node.attrs.src)
    const ending = extensionOf[type] ?? 'png'
    const { part: own } = this.story
    const folder = own.slice(0, own.lastIndexOf('/') + 1)
    const part = freePart(this.story.opened, this.story.changes, `${folder}media/image`, ending)
    this.story.changes.set(part, bytes)
    typeOfEnding(this.story.opened, this.story.changes, ending, type)
    const id = relate(this.story.opened, this.story.changes, own, 'image', part.slice(folder.length))
    const spaces =
      `xmlns:r="${relationshipsNamespace}" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" ` +
      'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"'
    return run(
      drawingXml(node, id, this.nextDrawing())
        .replace('<w:drawing>', `<${prefix}drawing ${spaces}>`)
        .replace('</w:drawing>', `</${prefix}drawing>`),
    )
  }
  /** A number that no drawing of the story has. */
  private nextDrawing(): number {
    this.drawings ||= [...this.story.xml.matchAll(/docPr [^>]*?\bid="(\d+)"/g)].reduce(
      (most, [, number]) => Math.max(most, Number(number)),
      0,
    )
    return ++this.drawings
  }

  private link(href: string): string {
    if (href.startsWith('#'))
      return `<${this.story.prefix}hyperlink ${this.story.prefix}anchor="${escapeAttribute(href.slice(1))}">`
    const id = relate(this.story.opened, this.story.changes, this.story.part, 'hyperlink', href, true)
    return `<${this.story.prefix}hyperlink xmlns:r="${relationshipsNamespace}" r:id="${id}">`
  }
}
