// Styles that a file is to have and has not (ECMA-376 part 1, §17.7.4.17): of a kind of paragraph that comes new into it,
// or of the signs of notes.
import { append, type Changes, relate, typeOfPart } from '../opc/add-part'
import { type OpcPackage, relationshipKind } from '../opc/package'
import { xmlHead } from '../opc/xml'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const type = 'application/vnd.openxmlformats-officedocument.wordprocessingml.styles+xml'

/**
 * @param name as the standard has it, in small letters
 * @param id the one that it gets if nothing else has it
 * @param kind `paragraph` or `character`
 * @param inside its elements after its name, with the prefix `w`
 * @returns the id of the file's style of that name, which it gets if it has none
 */
export function styleOf(
  opened: OpcPackage,
  changes: Changes,
  main: string,
  { name, id, kind, inside }: { name: string; id: string; kind: 'paragraph' | 'character'; inside: string },
): string {
  const folder = main.slice(0, main.lastIndexOf('/') + 1)
  let part = [...opened.relationships(main).values()].find(
    (one) => relationshipKind(one) === 'styles' && !one.external,
  )?.target
  if (!part) {
    part = `${folder}styles.xml`
    if (!changes.has(part)) {
      typeOfPart(opened, changes, part, type)
      relate(opened, changes, main, 'styles', 'styles.xml')
    }
  }
  const bytes = changes.get(part) ?? opened.bytes(part)
  const xml = bytes ? new TextDecoder().decode(bytes) : ''
  const ids = new Set<string>()
  let usual: string | undefined
  for (const [style] of xml.matchAll(/<(?:\w+:)?style\s[^>]*>[\s\S]*?<\/(?:\w+:)?style>/g)) {
    const tag = style.slice(0, style.indexOf('>'))
    const own = /styleId="([^"]*)"/.exec(tag)?.[1]
    if (own === undefined) continue
    ids.add(own)
    const called = /<(?:\w+:)?name\s[^>]*?val="([^"]*)"/.exec(style)?.[1]
    if (called?.toLowerCase() === name && tag.includes(`type="${kind}"`)) return own
    if (/\bdefault="(?:1|true|on)"/.test(tag) && tag.includes('type="paragraph"')) usual = own
  }
  let free = id
  for (let number = 2; ids.has(free); number++) free = `${id}${number}`
  const based =
    kind === 'paragraph' && usual !== undefined ? `<w:basedOn w:val="${usual}"/><w:next w:val="${usual}"/>` : ''
  append(
    opened,
    changes,
    part,
    `${xmlHead}<w:styles xmlns:w="${w}"></w:styles>`,
    () =>
      `<w:style xmlns:w="${w}" w:type="${kind}" w:styleId="${free}"><w:name w:val="${name}"/>${based}${inside}</w:style>`,
  )
  return free
}
