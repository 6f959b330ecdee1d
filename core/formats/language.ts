// The language that a document is written in, as its file says it, for whatever looks after its spelling and for who reads
// it aloud: the one that most of its letters have.
import { openOdf } from './odf/package'
import { openPackage, relationshipKind } from './opc/package'
import { child, elements, textOf, type XmlElement } from './opc/xml'
import { familyOf } from './types'

/** BCP 47: a language, and what of it. */
const isTag = (tag: string | undefined): tag is string => !!tag && /^[a-z]{2,3}(?:-[A-Za-z0-9]{2,8})*$/.test(tag)

/** Counts letters by the language that they are in; of those without one nothing is known. */
class Letters {
  private readonly byTag = new Map<string, number>()
  add(tag: string | undefined, count: number): void {
    if (isTag(tag) && count) this.byTag.set(tag, (this.byTag.get(tag) ?? 0) + count)
  }
  get most(): string | null {
    let best: string | null = null
    for (const [tag, count] of this.byTag) if (best === null || count > this.byTag.get(best)!) best = tag
    return best
  }
}

/** WordprocessingML: ECMA-376 part 1, §17.3.2.20 lang; of a run, its style, its paragraph's style, or the document. */
function ofDocx(bytes: Uint8Array): string | null {
  const opened = openPackage(bytes)
  const main = opened.mainPart()
  const related = [...opened.relationships(main).values()].find((one) => relationshipKind(one) === 'styles')
  const styles = related && !related.external ? opened.xml(related.target) : undefined
  const langOf = (properties: XmlElement | undefined) => properties && child(properties, 'w:lang')?.attributes['w:val']
  const inside = (parent: XmlElement | undefined, ...names: string[]) =>
    names.reduce<XmlElement | undefined>((at, name) => at && child(at, name), parent)
  const usual = langOf(inside(styles, 'w:docDefaults', 'w:rPrDefault', 'w:rPr'))
  const byStyle = new Map<string, { lang: string | undefined; from: string | undefined }>()
  let plain = ''
  for (const style of styles ? elements(styles, 'w:style') : []) {
    const id = style.attributes['w:styleId'] ?? ''
    if (style.attributes['w:type'] === 'paragraph' && /^(?:1|true|on)$/.test(style.attributes['w:default'] ?? ''))
      plain = id
    byStyle.set(id, { lang: langOf(child(style, 'w:rPr')), from: child(style, 'w:basedOn')?.attributes['w:val'] })
  }
  const ofStyle = (id: string | undefined): string | undefined => {
    for (let depth = 0, at = id; at !== undefined && depth < 20; depth++) {
      const style = byStyle.get(at)
      if (style?.lang) return style.lang
      at = style?.from
    }
    return undefined
  }
  const letters = new Letters()
  const visit = (element: XmlElement, paragraph: string | undefined) => {
    for (const one of elements(element)) {
      if (one.name === 'w:p')
        visit(one, ofStyle(inside(one, 'w:pPr', 'w:pStyle')?.attributes['w:val'] ?? plain) ?? usual)
      else if (one.name === 'w:r') {
        const properties = child(one, 'w:rPr')
        const count = Array.from(elements(one, 'w:t'), textOf).join('').length
        letters.add(
          langOf(properties) ?? ofStyle(inside(properties, 'w:rStyle')?.attributes['w:val']) ?? paragraph,
          count,
        )
      } else visit(one, paragraph)
    }
  }
  const body = opened.xml(main)
  if (body) visit(body, usual)
  return letters.most ?? (isTag(usual) ? usual : null)
}

/** OpenDocument 1.3 part 3, §20.195 fo:language and §20.184 fo:country: of the usual paragraph. */
function ofOdt(bytes: Uint8Array): string | null {
  const said = (text: XmlElement | undefined): string | undefined => {
    const { 'fo:language': language, 'fo:country': country } = text?.attributes ?? {}
    if (!language || language === 'none' || language === 'zxx') return undefined
    return country && country !== 'none' ? `${language}-${country}` : language
  }
  const { styles } = openOdf(bytes)
  let usual: string | undefined
  let standard: string | undefined
  const visit = (element: XmlElement) => {
    for (const one of elements(element)) {
      const text = child(one, 'style:text-properties')
      if (one.name === 'style:default-style' && one.attributes['style:family'] === 'paragraph') usual = said(text)
      else if (one.name === 'style:style' && one.attributes['style:name'] === 'Standard') standard = said(text)
      else if (one.name === 'office:styles') visit(one)
    }
  }
  if (styles) visit(styles.root)
  const tag = standard ?? usual
  return isTag(tag) ? tag : null
}

/** HTML: the lang attribute of its root. */
function ofHtml(bytes: Uint8Array): string | null {
  const head = new TextDecoder().decode(bytes.subarray(0, 4096))
  const tag = /<html\b[^>]*?\slang\s*=\s*["']?([A-Za-z0-9-]+)/i.exec(head)?.[1]
  return isTag(tag) ? tag : null
}

/** @returns a language tag (BCP 47); null where the file says none, or cannot be read */
export function languageOf(bytes: Uint8Array, type: string): string | null {
  try {
    switch (familyOf(type)) {
      case 'docx':
        return ofDocx(bytes)
      case 'odt':
        return ofOdt(bytes)
      case 'html':
        return ofHtml(bytes)
    }
  } catch {
    // Whether it can be opened is said by who opens it.
  }
  return null
}
