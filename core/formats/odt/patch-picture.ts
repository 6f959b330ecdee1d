// A picture that a text has already, shown in another size or described otherwise: its frame stays with all that the model
// does not know of it, its style, place, crop and link (OpenDocument 1.3 part 3, §10.4.2).
import type { Node } from 'prosemirror-model'
import { fromPixels, pixelsOf } from '../odf/lengths'
import { child, elements, escapeText, type XmlElement } from '../opc/xml'
import { altOf } from './line'

interface Frame {
  raw: string
  href: string
  alt: string
  width: number | undefined
  height: number | undefined
}

const inTag = `(?:[^>"']|"[^"]*"|'[^']*')*`

/** The frames below an element that hold a picture and nothing else. */
export function framesIn(root: XmlElement, xml: string): Frame[] {
  const frames: Frame[] = []
  const visit = (element: XmlElement) => {
    for (const one of elements(element)) {
      const href = one.name === 'draw:frame' && child(one, 'draw:image')?.attributes['xlink:href']
      if (!href || child(one, 'draw:object') || child(one, 'draw:object-ole')) visit(one)
      else
        frames.push({
          raw: xml.slice(one.at!.start, one.at!.end),
          href,
          alt: altOf(one),
          width: pixelsOf(one.attributes['svg:width']),
          height: pixelsOf(one.attributes['svg:height']),
        })
    }
  }
  visit(root)
  return frames
}

/** @param href where the picture is in the package @returns null where no frame has it */
export function knownFrame(frames: readonly Frame[], href: string, { attrs }: Node): string | null {
  let best: Frame | null = null
  let like = -1
  for (const frame of frames) {
    if (frame.href !== href) continue
    const score =
      (frame.alt === attrs.alt ? 2 : 0) +
      (frame.width === attrs.width ? 1 : 0) +
      (frame.height === attrs.height ? 1 : 0)
    if (score > like) [best, like] = [frame, score]
  }
  if (!best) return null
  let { raw } = best
  if (best.width !== attrs.width || best.height !== attrs.height) {
    // A share of the text's width would count for more than the size.
    const open = new RegExp(`^<draw:frame\\b${inTag}>`).exec(raw)![0]
    const bare = open.replace(/\s(?:svg:width|svg:height|style:rel-width|style:rel-height)=(?:"[^"]*"|'[^']*')/g, '')
    const size = ` svg:width="${fromPixels(attrs.width)}" svg:height="${fromPixels(attrs.height)}"`
    raw = bare.replace(/^<draw:frame/, `<draw:frame${size}`) + raw.slice(open.length)
  }
  if (best.alt === attrs.alt) return raw
  const described = attrs.alt ? `<svg:desc>${escapeText(attrs.alt)}</svg:desc>` : ''
  raw = raw.replace(new RegExp(`<svg:desc\\b${inTag}(?:/>|>[\\s\\S]*?</svg:desc>)`), '')
  // Without a description its title would be taken for one.
  if (!described) return raw.replace(new RegExp(`<svg:title\\b${inTag}(?:/>|>[\\s\\S]*?</svg:title>)`), '')
  const behind = /<\/svg:title>|<svg:title\b[^>]*\/>/.exec(raw)
  const before = /<draw:contour-(?:polygon|path)\b|<\/draw:frame>$/.exec(raw)!
  const at = behind ? behind.index + behind[0].length : before.index
  return raw.slice(0, at) + described + raw.slice(at)
}
