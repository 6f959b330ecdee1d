// The parts of a new package of the open standard (ISO/IEC 26300-3): what it is, what it holds, its styles, its list of parts.
import { namespaces } from './package'

const head = '<?xml version="1.0" encoding="UTF-8"?>\n'
export const declared = `${Object.entries(namespaces)
  .map(([prefix, uri]) => `xmlns:${prefix}="${uri}"`)
  .join(' ')} office:version="1.3"`

export interface BlankParts {
  /** Styles of single places. */
  automatic?: string
  body: string
  /** Common styles. */
  styles?: string
  /** Layouts of pages, and the pages that have them. */
  layout?: string
  masters?: string
  more?: readonly (readonly [name: string, content: string])[]
}

export function blankParts(
  kind: 'text' | 'spreadsheet',
  { automatic = '', body, styles = '', layout = '', masters = '', more = [] }: BlankParts,
): [name: string, content: string][] {
  const type = `application/vnd.oasis.opendocument.${kind}`
  const parts: [string, string][] = [
    [
      'content.xml',
      `${head}<office:document-content ${declared}><office:automatic-styles>${automatic}</office:automatic-styles><office:body>${body}</office:body></office:document-content>`,
    ],
    [
      'styles.xml',
      `${head}<office:document-styles ${declared}><office:styles>${styles}</office:styles><office:automatic-styles>${layout}</office:automatic-styles><office:master-styles>${masters}</office:master-styles></office:document-styles>`,
    ],
    [
      'meta.xml',
      `${head}<office:document-meta xmlns:office="${namespaces.office}" office:version="1.3"><office:meta/></office:document-meta>`,
    ],
    ...more.map(([name, content]): [string, string] => [name, content]),
  ]
  const manifest =
    `${head}<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">\n` +
    ` <manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="${type}"/>\n` +
    parts
      .map(([part]) => ` <manifest:file-entry manifest:full-path="${part}" manifest:media-type="text/xml"/>\n`)
      .join('') +
    '</manifest:manifest>'
  return [['mimetype', type], ...parts, ['META-INF/manifest.xml', manifest]]
}
