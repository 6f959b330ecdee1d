// Which of its family a package is: with macros, a template or neither is said by its main part's type (ECMA-376
// part 2, §10.1.2.4).
import { type OpcPackage, openPackage } from './package'
import { elements } from './xml'

/** The content type of a package's main part; undefined where none is said. */
export function mainTypeOf(bytes: Uint8Array): string | undefined {
  const opened = openPackage(bytes)
  return contentTypeOf(opened, opened.mainPart())
}

/** The content type of a part; undefined where none is said. */
export function contentTypeOf(opened: OpcPackage, part: string): string | undefined {
  const name = `/${part}`.toLowerCase()
  const types = opened.xml('[Content_Types].xml')
  for (const { attributes } of elements(types, 'Override'))
    if (attributes.PartName?.toLowerCase() === name) return attributes.ContentType
  const ending = name.slice(name.lastIndexOf('.') + 1)
  for (const { attributes } of elements(types, 'Default'))
    if (attributes.Extension?.toLowerCase() === ending) return attributes.ContentType
  return undefined
}
