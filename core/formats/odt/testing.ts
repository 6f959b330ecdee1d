// Small texts of other programs, written by hand for tests.
import { Fragment, type Node } from 'prosemirror-model'
import { namespaces } from '../odf/package'
import { openZip, writeZip } from '../opc/zip'

const declared = Object.entries(namespaces)
  .map(([prefix, uri]) => `xmlns:${prefix}="${uri}"`)
  .join(' ')

/**
 * @param body what is in the text
 * @param automatic the looks of single places @param styles common styles @param masters what pages have
 */
export const odtOf = (
  body: string,
  { automatic = '', styles = '', layout = '', masters = '', parts = [] as [string, string | Uint8Array][] } = {},
): Uint8Array =>
  writeZip([
    ['mimetype', 'application/vnd.oasis.opendocument.text'],
    [
      'content.xml',
      `<office:document-content ${declared}><office:automatic-styles>${automatic}</office:automatic-styles><office:body><office:text>${body}</office:text></office:body></office:document-content>`,
    ],
    [
      'styles.xml',
      `<office:document-styles ${declared}><office:styles>${styles}</office:styles><office:automatic-styles>${layout}</office:automatic-styles><office:master-styles>${masters}</office:master-styles></office:document-styles>`,
    ],
    [
      'META-INF/manifest.xml',
      `<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0">${['/', 'content.xml', 'styles.xml'].map((path) => `<manifest:file-entry manifest:full-path="${path}" manifest:media-type="${path === '/' ? 'application/vnd.oasis.opendocument.text' : 'text/xml'}"/>`).join('')}</manifest:manifest>`,
    ],
    ...parts,
  ])
const partOf = (bytes: Uint8Array, name: string) => new TextDecoder().decode(openZip(bytes).read(name))
/** What is in the text of a file. */
export const bodyXml = (bytes: Uint8Array): string =>
  /<office:text>([\s\S]*)<\/office:text>/.exec(partOf(bytes, 'content.xml'))![1]!
/** What an automatic style of a file says. */
export const styleXml = (bytes: Uint8Array, name: string): string =>
  new RegExp(`<(style:style|text:list-style) style:name="${name}"[\\s\\S]*?</\\1>`).exec(
    partOf(bytes, 'content.xml'),
  )![0]
export const pageXml = (bytes: Uint8Array): string => partOf(bytes, 'styles.xml')

/** Whether two documents differ in empty lines at most. */
export function sameButLines(a: Node, b: Node): boolean {
  const lines = (of: Node) => Fragment.from(of.children.filter((one) => !one.isTextblock || one.content.size))
  return lines(a).eq(lines(b)) && JSON.stringify(a.attrs) === JSON.stringify(b.attrs)
}
