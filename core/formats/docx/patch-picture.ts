// A picture that a story has already, shown in another size or described otherwise: its drawing stays with all that the
// model does not know of it, its crop, frame, effects, link and place (ECMA-376 part 1, §20.4.2).
import type { Node } from 'prosemirror-model'
import { escapeAttribute } from '../opc/xml'
import type { Story } from './story'
import { emuPerPixel } from './write'

const inTag = `(?:[^>"']|"[^"]*"|'[^']*')*`
const tagNamed = (name: string, with_ = '') => new RegExp(`<\\w+:${name}\\b${with_}${inTag}>`)

/** A start tag with an attribute set; null takes it away. */
function withAttribute(tag: string, name: string, value: string | null): string {
  const without = tag.replace(new RegExp(`\\s${name}=(?:"[^"]*"|'[^']*')`), '')
  return value === null
    ? without
    : without.replace(/^<[^\s/>]+/, (begin) => `${begin} ${name}="${escapeAttribute(value)}"`)
}
const onTag = (xml: string, tag: RegExp, change: (tag: string) => string): string => xml.replace(tag, change)

/** Whether all prefixes of a piece are known to its root, so that it may stand anywhere in the part. */
function standsAnywhere(piece: string, part: string): boolean {
  const root = new RegExp(`<[A-Za-z_]${inTag}>`).exec(part)?.[0] ?? ''
  const used = new Set(
    Array.from(piece.matchAll(/[<\s/]([A-Za-z_][\w.-]*):[\w.-]+(?=[\s=/>])/g), ([, prefix]) => prefix!),
  )
  return [...used].every(
    (prefix) => /^xml(ns)?$/.test(prefix) || root.includes(`xmlns:${prefix}=`) || piece.includes(`xmlns:${prefix}=`),
  )
}

/**
 * The drawing of a picture that is in the story as another size or with other words of what it shows.
 * @param number an id that no drawing of the story has @returns null where it has none like it
 */
export function knownDrawing(story: Story, image: Node, number: () => number): string | null {
  let best: { was: Node; raw: string } | null = null
  let like = -1
  for (const [was, element] of story.source.parts) {
    if (was.type.name !== 'image' || was.attrs.src !== image.attrs.src || element.name !== 'w:drawing') continue
    const same = (name: string) => (was.attrs[name] === image.attrs[name] ? 1 : 0)
    const score = 2 * same('alt') + same('width') + same('height')
    if (score <= like) continue
    const raw = story.xml.slice(element.at!.start, element.at!.end)
    if (!standsAnywhere(raw, story.xml)) continue
    ;[best, like] = [{ was, raw }, score]
  }
  if (!best) return null
  const { was } = best
  let xml = onTag(best.raw, tagNamed('docPr'), (tag) => {
    const numbered = withAttribute(tag, 'id', String(number()))
    return was.attrs.alt === image.attrs.alt ? numbered : withAttribute(numbered, 'descr', image.attrs.alt || null)
  })
  const { width, height } = image.attrs
  if (was.attrs.width === width && was.attrs.height === height) return xml
  const sized = (tag: string) =>
    withAttribute(withAttribute(tag, 'cy', String(height * emuPerPixel)), 'cx', String(width * emuPerPixel))
  xml = onTag(onTag(xml, tagNamed('extent'), sized), tagNamed('ext', `(?=${inTag}\\bcx=)`), sized)
  // A share of the page or of the margins would count for more than the size.
  return xml.replace(/<(\w+:sizeRel[HV])\b[\s\S]*?<\/\1>/g, '')
}
