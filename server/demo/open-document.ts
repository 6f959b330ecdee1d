// Small OpenDocument files for the demo data (ISO/IEC 26300, parts 1 and 3): Jaula keeps these
// types byte for byte and does not edit them yet.
import { escapeText, xmlHead } from '../../core/formats/opc/xml'
import { writeZip } from '../../core/formats/opc/zip'

const namespaces =
  'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" office:version="1.3"'

function container(mediaType: string, body: string): Uint8Array {
  return writeZip([
    ['mimetype', mediaType],
    [
      'content.xml',
      `${xmlHead}<office:document-content ${namespaces}><office:body>${body}</office:body></office:document-content>`,
    ],
    [
      'META-INF/manifest.xml',
      `${xmlHead}<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:media-type="${mediaType}"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`,
    ],
  ])
}

export const odt = (paragraphs: string[]): Uint8Array =>
  container(
    'application/vnd.oasis.opendocument.text',
    `<office:text>${paragraphs.map((text) => `<text:p>${escapeText(text)}</text:p>`).join('')}</office:text>`,
  )

export const ods = (rows: (string | number)[][]): Uint8Array =>
  container(
    'application/vnd.oasis.opendocument.spreadsheet',
    `<office:spreadsheet><table:table table:name="Levels">${rows
      .map(
        (row) =>
          `<table:table-row>${row
            .map((cell) =>
              typeof cell === 'number'
                ? `<table:table-cell office:value-type="float" office:value="${cell}"><text:p>${cell}</text:p></table:table-cell>`
                : `<table:table-cell office:value-type="string"><text:p>${escapeText(cell)}</text:p></table:table-cell>`,
            )
            .join('')}</table:table-row>`,
      )
      .join('')}</table:table></office:spreadsheet>`,
  )
