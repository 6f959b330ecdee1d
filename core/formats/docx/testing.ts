// Small files of other programs, written by hand for tests.
import { strToU8, zipSync } from 'fflate'

export const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const packageSpace = 'http://schemas.openxmlformats.org/package/2006'

const relations = (all: readonly (readonly [id: string, kind: string, target: string])[]) =>
  `<Relationships xmlns="${packageSpace}/relationships">${all
    .map(([id, kind, target]) => `<Relationship Id="${id}" Type="${office}/${kind}" Target="${target}"/>`)
    .join('')}</Relationships>`

/**
 * @param body what is in the document's body
 * @param parts other parts of it by what they are (`styles`), which is also their file's name: their whole XML
 */
export const fileOf = (body: string, parts: Readonly<Record<string, string>> = {}): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries({
        '[Content_Types].xml': `<Types xmlns="${packageSpace}/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`,
        '_rels/.rels': relations([['rId1', 'officeDocument', 'word/document.xml']]),
        'word/_rels/document.xml.rels': relations(Object.keys(parts).map((kind) => [kind, kind, `${kind}.xml`])),
        ...Object.fromEntries(Object.entries(parts).map(([kind, xml]) => [`word/${kind}.xml`, xml])),
        'word/document.xml': `<w:document xmlns:w="${w}"><w:body>${body}<w:sectPr/></w:body></w:document>`,
      }).map(([name, xml]) => [name, strToU8(xml)]),
    ),
  )
