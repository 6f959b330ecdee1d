// Writes the document model as WordprocessingML (ECMA-376 part 1, §17). Shapes that two
// neighbours could blur in the flat body (adjacent quotes, lists, tables) are kept apart with
// what the standard offers for it, so that reading gives the same model back.
import type { Mark, Node } from 'prosemirror-model'
import { hasMark, type Look, type Page } from '../../content/document'
import { edgesOf, type PageEdge, storyOf } from '../../content/edges'
import type { Kept } from '../../content/kept'
import type { ListNumber } from '../../content/list-number'
import { contentTypesXml, relationshipsXml } from '../opc/package'
import { escapeAttribute, escapeText, xmlHead } from '../opc/xml'
import { writeZip } from '../opc/zip'
import { isField } from './fields'
import { formatNames } from './numbering'
import { lookXmlWhole } from './paragraph-look'
import { stylesXml } from './styles'
import { layTable } from './table'

const namespaces =
  'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" ' +
  'xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" ' +
  'xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"'

/** English Metric Units in a pixel of 1/96 inch, and twips in one. */
export const emuPerPixel = 9525
export const twipsPerPixel = 15
/** Twips between the margins of an A4 page. */
const textWidth = 9026

/** Endings of the parts of pictures. */
export const extensionOf: Record<string, string> = {
  'image/png': 'png',
  'image/jpeg': 'jpg',
  'image/gif': 'gif',
  'image/bmp': 'bmp',
  'image/svg+xml': 'svg',
  'image/webp': 'webp',
}

/** The type of a picture by the name of its part; null for one that browsers do not show. */
export function typeOfPicture(name: string): string | null {
  const ending = /\.([a-z]+)$/i.exec(name)?.[1]?.toLowerCase().replace('jpeg', 'jpg')
  return Object.entries(extensionOf).find(([, one]) => one === ending)?.[0] ?? null
}

const documentType = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml'

/**
 * @param mainType what it is of its family: with macros, a template
 * @returns the bytes of a .docx; the same model always gives the same bytes
 */
export function writeDocx(doc: Node, mainType = documentType): Uint8Array {
  return new Writer().file(doc, mainType)
}

type RelationshipRow = [id: string, kind: string, target: string, external?: boolean]
/** What a story leads to; each is a part of its own. */
interface Led {
  relationships: RelationshipRow[]
  links: Map<string, string>
  images: Map<string, string>
}
const ledFrom = (relationships: RelationshipRow[]): Led => ({ relationships, links: new Map(), images: new Map() })

interface ListDefinition {
  ordered: boolean
  start: number
  level: number
  number: ListNumber | null
  /** The numbers of the items that it stands in. */
  within: readonly number[]
}

class Writer {
  private readonly main = ledFrom([
    ['rId1', 'styles', 'styles.xml'],
    ['rId2', 'numbering', 'numbering.xml'],
    ['rId3', 'settings', 'settings.xml'],
  ])
  private led = this.main
  private readonly images = new Map<string, { part: string; bytes: Uint8Array }>()
  private readonly lists: ListDefinition[] = []
  private drawings = 0

  file(doc: Node, mainType: string): Uint8Array {
    const blocks = this.blocks(doc)
    const edges = edgesOf(doc).map((edge, at) => this.edge(edge, at + 1))
    const first = edgesOf(doc).some(({ on }) => on === 'first')
    const body = blocks + sectionXml(doc.attrs.page, edges.map(({ reference }) => reference).join(''), first)
    const media = [...this.images.values()]
    const extensions = new Map(media.map(({ part }) => [part.split('.').pop()!, '']))
    for (const [type, extension] of Object.entries(extensionOf))
      if (extensions.has(extension)) extensions.set(extension, type)
    const main = 'application/vnd.openxmlformats-officedocument.wordprocessingml'
    return writeZip([
      [
        '[Content_Types].xml',
        contentTypesXml(
          [
            ['/word/document.xml', mainType],
            ['/word/styles.xml', `${main}.styles+xml`],
            ['/word/numbering.xml', `${main}.numbering+xml`],
            ['/word/settings.xml', `${main}.settings+xml`],
            ...edges.map(({ part, kind }): [string, string] => [`/word/${part}`, `${main}.${kind}+xml`]),
          ],
          [...extensions],
        ),
      ],
      ['_rels/.rels', relationshipsXml([['rId1', 'officeDocument', 'word/document.xml']])],
      ['word/document.xml', `${xmlHead}<w:document ${namespaces}><w:body>${body}</w:body></w:document>`],
      ['word/_rels/document.xml.rels', relationshipsXml(this.main.relationships)],
      ['word/styles.xml', stylesXml()],
      ['word/numbering.xml', this.numberingXml()],
      ['word/settings.xml', `${xmlHead}<w:settings ${namespaces}><w:defaultTabStop w:val="720"/></w:settings>`],
      ...edges.flatMap(({ part, xml, relationships }): [string, string][] => [
        [`word/${part}`, xml],
        ...(relationships.length
          ? [[`word/_rels/${part}.rels`, relationshipsXml(relationships)] as [string, string]]
          : []),
      ]),
      ...media.map(({ part, bytes }) => [`word/${part}`, bytes] as const),
    ])
  }

  /** A header or a footer (§17.10). */
  private edge({ edge, on, json }: PageEdge, number: number) {
    this.led = ledFrom([])
    const [kind, root] = edge === 'head' ? ['header', 'hdr'] : ['footer', 'ftr']
    const part = `${kind}${number}.xml`
    const xml = `${xmlHead}<w:${root} ${namespaces}>${this.blocks(storyOf({ edge, on, json }))}</w:${root}>`
    const { relationships } = this.led
    this.led = this.main
    const reference = `<w:${kind}Reference w:type="${on === 'all' ? 'default' : on}" r:id="${this.relate(kind!, part)}"/>`
    return { part, kind, xml, relationships, reference }
  }

  private blocks(parent: Node): string {
    let xml = ''
    parent.forEach((node, _offset, index) => {
      const before = index > 0 ? parent.child(index - 1).type.name : ''
      xml += this.block(node, before)
      const last = index === parent.childCount - 1
      const after = last ? '' : parent.child(index + 1).type.name
      // A table must be followed by a paragraph, and two tables in a row would become one.
      if (node.type.name === 'table' && (last || after === 'table'))
        xml += '<w:p><w:pPr><w:pStyle w:val="TableGap"/></w:pPr></w:p>'
    })
    // §17.4.66: a cell ends with a paragraph, which every block but a table does anyway.
    return xml
  }

  private block(node: Node, before: string): string {
    switch (node.type.name) {
      case 'paragraph':
        return this.paragraph(node, '')
      case 'heading':
        return this.paragraph(node, `<w:pStyle w:val="Heading${node.attrs.level}"/>`)
      case 'page_break':
        return '<w:p><w:r><w:br w:type="page"/></w:r></w:p>'
      case 'blockquote': {
        let xml = ''
        node.forEach((paragraph, _offset, index) => {
          const style = index === 0 && before === 'blockquote' ? 'QuoteAnew' : 'Quote'
          xml += this.paragraph(paragraph, `<w:pStyle w:val="${style}"/>`)
        })
        return xml
      }
      case 'bullet_list':
      case 'ordered_list':
        return this.list(node, [])
      case 'table':
        return this.table(node)
      default:
        throw new Error(`No way to write a ${node.type.name}.`)
    }
  }

  private list(node: Node, within: readonly number[]): string {
    const level = within.length
    const { start = 1, number: written = null } = node.attrs
    this.lists.push({ ordered: node.type.name === 'ordered_list', start, level, number: written, within })
    const number = this.lists.length
    let xml = ''
    node.forEach((item, _offset, index) => {
      item.forEach((part) => {
        if (part.type.name === 'paragraph')
          xml += this.paragraph(
            part,
            `<w:pStyle w:val="ListParagraph"/><w:numPr><w:ilvl w:val="${level}"/><w:numId w:val="${number}"/></w:numPr>`,
          )
        else xml += this.list(part, [...within, start + index])
      })
    })
    return xml
  }

  private paragraph(node: Node, style: string): string {
    const { align, look } = node.attrs
    const properties =
      style + lookXmlWhole('w:', look) + (align ? `<w:jc w:val="${align === 'justify' ? 'both' : align}"/>` : '')
    return `<w:p>${properties && `<w:pPr>${properties}</w:pPr>`}${this.inline(node)}</w:p>`
  }

  private inline(parent: Node): string {
    let xml = ''
    let link: string | null = null
    parent.forEach((node) => {
      // What is kept comes in afterwards, with all that it leads to (whole.ts).
      const field = node.type.name === 'kept' && this.led !== this.main && isField(node.attrs as Kept)
      if (node.type.name === 'kept' && !field) return
      const href = hasMark(node.marks, 'link')?.attrs.href ?? null
      if (href !== link) {
        if (link !== null) xml += '</w:hyperlink>'
        if (href !== null) xml += this.linkStart(href)
        link = href
      }
      const properties = runProperties(node.marks)
      xml += field
        ? (node.attrs as Kept).xml.replace(/ xmlns:w="[^"]*"/, '').replace('<w:r>', () => `<w:r>${properties}`)
        : `<w:r>${properties}${this.run(node)}</w:r>`
    })
    return link === null ? xml : `${xml}</w:hyperlink>`
  }

  private linkStart(href: string): string {
    if (href.startsWith('#')) return `<w:hyperlink w:anchor="${escapeAttribute(href.slice(1))}">`
    let id = this.led.links.get(href)
    if (!id) {
      id = this.relate('hyperlink', href, true)
      this.led.links.set(href, id)
    }
    return `<w:hyperlink r:id="${id}">`
  }

  private relate(kind: string, target: string, external = false): string {
    const { relationships } = this.led
    const id = `rId${relationships.length + 1}`
    relationships.push([id, kind, target, external])
    return id
  }

  private run(node: Node): string {
    if (node.isText)
      return node
        .text!.split('\t')
        .map((text) => (text ? `<w:t xml:space="preserve">${escapeText(text)}</w:t>` : ''))
        .join('<w:tab/>')
    if (node.type.name === 'hard_break') return '<w:br/>'
    return this.image(node)
  }

  private image(node: Node): string {
    const { src } = node.attrs as { src: string }
    let image = this.images.get(src)
    if (!image) {
      const [type, bytes] = dataUrlBytes(src)
      const part = `media/image${this.images.size + 1}.${extensionOf[type] ?? 'png'}`
      image = { part, bytes }
      this.images.set(src, image)
    }
    let id = this.led.images.get(src)
    if (!id) this.led.images.set(src, (id = this.relate('image', image.part)))
    return drawingXml(node, id, ++this.drawings)
  }

  private table(node: Node): string {
    const { width, rows, columnWidths } = layTable(node)
    // Widths that somebody set hold; otherwise the columns share the usual text width and fit themselves.
    const fixed = columnWidths.some((pixels) => pixels > 0)
    let xml = `<w:tbl><w:tblPr><w:tblStyle w:val="TableGrid"/><w:tblW w:w="0" w:type="auto"/>${fixed ? '<w:tblLayout w:type="fixed"/>' : ''}</w:tblPr><w:tblGrid>`
    for (const pixels of columnWidths)
      xml += `<w:gridCol w:w="${fixed ? pixels * twipsPerPixel : Math.floor(textWidth / width)}"/>`
    xml += '</w:tblGrid>'
    rows.forEach((slots, rowIndex) => {
      xml += `<w:tr>${node.child(rowIndex).attrs.header ? '<w:trPr><w:tblHeader/></w:trPr>' : ''}`
      for (let column = 0; column < width; ) {
        const slot = slots[column]!
        const { colspan, rowspan } = slot.cell.attrs
        const merge = rowspan > 1 ? (slot.row === rowIndex ? '<w:vMerge w:val="restart"/>' : '<w:vMerge/>') : ''
        const properties = `<w:tcW w:w="0" w:type="auto"/>${colspan > 1 ? `<w:gridSpan w:val="${colspan}"/>` : ''}${merge}`
        xml += `<w:tc><w:tcPr>${properties}</w:tcPr>${slot.row === rowIndex ? this.blocks(slot.cell) : '<w:p/>'}</w:tc>`
        column += colspan
      }
      xml += '</w:tr>'
    })
    return `${xml}</w:tbl>`
  }

  private numberingXml(): string {
    const abstracts = this.lists.map(({ ordered, level, number }, index) => {
      return `<w:abstractNum w:abstractNumId="${index}"><w:multiLevelType w:val="hybridMultilevel"/>${levelsXml(ordered, 1, number, level)}</w:abstractNum>`
    })
    const numbers = this.lists.map(({ ordered, start, level, number, within }, index) => {
      const begins = (at: number, value: number) =>
        `<w:lvlOverride w:ilvl="${at}"><w:startOverride w:val="${value}"/></w:lvlOverride>`
      // A number that says those before its own finds them where its list would have counted them.
      const before = number?.path ? within.map((value, at) => begins(at, value)).join('') : ''
      const override = ordered ? before + begins(level, start) : ''
      return `<w:num w:numId="${index + 1}"><w:abstractNumId w:val="${index}"/>${override}</w:num>`
    })
    return `${xmlHead}<w:numbering ${namespaces}>${abstracts.join('')}${numbers.join('')}</w:numbering>`
  }
}

/**
 * The levels of a list's definition (§17.9.6).
 * @param number how the numbers of its level `at` are written
 */
export function levelsXml(ordered: boolean, start = 1, number: ListNumber | null = null, at = 0): string {
  return Array.from({ length: 9 }, (_, level) => {
    const indent = `<w:pPr><w:ind w:left="${(level + 1) * 720}" w:hanging="360"/></w:pPr>`
    const begin = `<w:lvl w:ilvl="${level}"><w:start w:val="${level === 0 ? start : 1}"/>`
    if (ordered && number && level === at) {
      const format = Object.keys(formatNames).find((name) => formatNames[name] === number.format)
      const own = number.path ? Array.from({ length: level + 1 }, (_, of) => `%${of + 1}`).join('.') : `%${level + 1}`
      const text = escapeAttribute(number.before + own + number.after)
      return `${begin}<w:numFmt w:val="${format}"/><w:lvlText w:val="${text}"/><w:lvlJc w:val="left"/>${indent}</w:lvl>`
    }
    return ordered
      ? `${begin}<w:numFmt w:val="decimal"/><w:lvlText w:val="%${level + 1}."/><w:lvlJc w:val="left"/>${indent}</w:lvl>`
      : `${begin}<w:numFmt w:val="bullet"/><w:lvlText w:val="${'•◦▪'[level % 3]}"/><w:lvlJc w:val="left"/>${indent}</w:lvl>`
  }).join('')
}

/** A picture in a line (§20.4.2.8). @param relationship to its part @param number its own among the drawings */
export function drawingXml(node: Node, relationship: string, number: number): string {
  const { alt, width, height } = node.attrs as { alt: string; width: number; height: number }
  const extent = `cx="${width * emuPerPixel}" cy="${height * emuPerPixel}"`
  return (
    `<w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0"><wp:extent ${extent}/><wp:docPr id="${number}" name="Image ${number}" descr="${escapeAttribute(alt)}"/>` +
    '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:pic><pic:nvPicPr>' +
    `<pic:cNvPr id="${number}" name="Image ${number}"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="${relationship}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>` +
    `<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext ${extent}/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing>`
  )
}

/** rPr in the order of §17.3.2.28. */
function runProperties(marks: readonly Mark[]): string {
  if (marks.length === 0) return ''
  const has = (name: string) => hasMark(marks, name)
  const look = has('look')?.attrs as Look | undefined
  const properties =
    (has('link') ? '<w:rStyle w:val="Hyperlink"/>' : '') +
    (look?.font ? `<w:rFonts w:ascii="${escapeAttribute(look.font)}" w:hAnsi="${escapeAttribute(look.font)}"/>` : '') +
    (has('strong') ? '<w:b/>' : '') +
    (has('em') ? '<w:i/>' : '') +
    (has('strike') ? '<w:strike/>' : '') +
    (look?.color ? `<w:color w:val="${look.color.slice(1).toUpperCase()}"/>` : '') +
    (look?.size ? `<w:sz w:val="${Math.round(look.size * 2)}"/>` : '') +
    (has('underline') ? '<w:u w:val="single"/>' : '') +
    (look?.fill ? `<w:shd w:val="clear" w:color="auto" w:fill="${look.fill.slice(1).toUpperCase()}"/>` : '') +
    (has('raised') ? '<w:vertAlign w:val="superscript"/>' : has('lowered') ? '<w:vertAlign w:val="subscript"/>' : '')
  return properties && `<w:rPr>${properties}</w:rPr>`
}

function sectionXml(page: Page, references: string, ownFirst: boolean): string {
  const landscape = page.width > page.height ? ' w:orient="landscape"' : ''
  return (
    `<w:sectPr>${references}<w:pgSz w:w="${page.width}" w:h="${page.height}"${landscape}/>` +
    `<w:pgMar w:top="${page.top}" w:right="${page.right}" w:bottom="${page.bottom}" w:left="${page.left}" w:header="708" w:footer="708" w:gutter="0"/>${ownFirst ? '<w:titlePg/>' : ''}</w:sectPr>`
  )
}

/** The media type and the bytes of a base64 data URL (RFC 2397). */
export function dataUrlBytes(url: string): [type: string, bytes: Uint8Array] {
  const match = /^data:([^;,]+);base64,(.*)$/s.exec(url)
  if (!match) throw new Error('An image must be a base64 data URL.')
  return [match[1]!, Uint8Array.from(atob(match[2]!), (symbol) => symbol.charCodeAt(0))]
}

/** The data URL of bytes. */
export function dataUrl(type: string, bytes: Uint8Array): string {
  let binary = ''
  for (let i = 0; i < bytes.length; i += 8192) binary += String.fromCharCode(...bytes.subarray(i, i + 8192))
  return `data:${type};base64,${btoa(binary)}`
}
