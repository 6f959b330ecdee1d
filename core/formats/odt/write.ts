// A document as a text of the OpenDocument format (ISO/IEC 26300): a new one is written into one that is blank.
import type { Node } from 'prosemirror-model'
import { a4 } from '../../content/document'
import { fromTwips } from '../odf/lengths'
import { namespaces } from '../odf/package'
import { writeZip } from '../opc/zip'
import { allOf, Limits, NotPatched, type Written } from '../refusals'
import { missingStyles } from './common-styles'
import { patchOdt } from './patch'
import { type ReadOdt, readOdt } from './read'

const mediaType = 'application/vnd.oasis.opendocument.text'
const head = '<?xml version="1.0" encoding="UTF-8"?>\n'
const declared = `${Object.entries(namespaces)
  .map(([prefix, uri]) => `xmlns:${prefix}="${uri}"`)
  .join(' ')} office:version="1.3"`

function blank(): Uint8Array {
  const { width, height, top, right, bottom, left } = a4
  const page =
    `fo:page-width="${fromTwips(width)}" fo:page-height="${fromTwips(height)}" style:print-orientation="portrait"` +
    ` fo:margin-top="${fromTwips(top)}" fo:margin-right="${fromTwips(right)}" fo:margin-bottom="${fromTwips(bottom)}" fo:margin-left="${fromTwips(left)}"`
  const styles =
    `${head}<office:document-styles ${declared}><office:styles>` +
    '<style:default-style style:family="paragraph"><style:paragraph-properties fo:margin-top="0pt" fo:margin-bottom="8pt" fo:line-height="115%" style:tab-stop-distance="36pt"/><style:text-properties fo:font-family="Carlito, Calibri, sans-serif" fo:font-size="11pt"/></style:default-style>' +
    `${Object.values(missingStyles).join('')}</office:styles>` +
    `<office:automatic-styles><style:page-layout style:name="Page"><style:page-layout-properties ${page}/></style:page-layout></office:automatic-styles>` +
    '<office:master-styles><style:master-page style:name="Standard" style:page-layout-name="Page"/></office:master-styles></office:document-styles>'
  const content = `${head}<office:document-content ${declared}><office:automatic-styles></office:automatic-styles><office:body><office:text></office:text></office:body></office:document-content>`
  const parts = ['content.xml', 'styles.xml', 'meta.xml']
  const manifest =
    `${head}<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">\n` +
    ` <manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="${mediaType}"/>\n` +
    parts
      .map((part) => ` <manifest:file-entry manifest:full-path="${part}" manifest:media-type="text/xml"/>\n`)
      .join('') +
    '</manifest:manifest>'
  const meta = `${head}<office:document-meta xmlns:office="${namespaces.office}" office:version="1.3"><office:meta/></office:document-meta>`
  return writeZip([
    ['mimetype', mediaType],
    ['content.xml', content],
    ['styles.xml', styles],
    ['meta.xml', meta],
    ['META-INF/manifest.xml', manifest],
  ])
}

/** @param from the text that it was read from; null for one that is new */
export function writeOdt(doc: Node, from: Uint8Array | null): Written {
  const read = readOdt(from ?? blank())
  // As long as nothing in it is another, it is the file.
  if (from && read.doc.eq(doc)) return { bytes: from, lost: [] }
  try {
    return readAgain(read, doc)
  } catch (error) {
    if (!(error instanceof NotPatched) || !from) throw error
    const { bytes, lost } = readAgain(readOdt(blank()), doc)
    return { bytes, lost: allOf(lost, read.limits) }
  }
}

/** What was written is read again: what is not in it is told. */
function readAgain({ source }: ReadOdt, doc: Node): Written {
  for (const numbered of [false, true]) {
    const { bytes, lost, expected } = patchOdt(source, doc, numbered)
    const again = readOdt(bytes).doc
    if (again.eq(expected)) return { bytes, lost }
    // Lists that go on from one that has other items now say their own numbers.
    if (!numbered) continue
    const limits = new Limits()
    const from = again.content.findDiffStart(expected.content)
    const near = expected.resolve(Math.min(from ?? 0, expected.content.size)).parent
    if (from === null) limits.add('page set-up', '')
    else limits.add('things that such a text says in another way', near.textContent.slice(0, 40), 1, [from])
    return { bytes, lost: allOf(lost, limits.list()) }
  }
  throw new NotPatched()
}
