// The styles of a file as rules of CSS for one page of it.
import type { StyleLook } from '../../../core/formats/docx/style-looks'

/** What is the text's own, and goes from the page to what is in it. */
const ofText = /^(?:font|color|letter|text-transform)/

const rule = (selector: string, css: Record<string, string>): string => {
  const inside = Object.entries(css).map(([name, value]) => `${name}:${value}`)
  if (!inside.length) return ''
  // On a dark sheet a colour that was chosen for white paper is brought nearer to that of text.
  const near = [
    css.color && `color:color-mix(in oklab, ${css.color} 40%, var(--ink))`,
    css['background-color'] && `background-color:color-mix(in oklab, ${css['background-color']} 22%, var(--sheet))`,
  ].filter(Boolean)
  const dark = near.length ? `.dark ${selector}{${near.join(';')}}\n` : ''
  return `${selector}{${inside.join(';')}}\n${dark}`
}
const some = (css: Record<string, string>, keep: (name: string) => boolean): Record<string, string> =>
  Object.fromEntries(Object.entries(css).filter(([name]) => keep(name)))

/** @param scope selects the page */
export function styleCss(scope: string, looks: readonly StyleLook[]): string {
  let css = ''
  for (const look of looks) {
    // What a style gives its words is marks of theirs.
    const own = some(
      look.css,
      (name) =>
        !(look.marks.includes('strong') && name === 'font-weight') &&
        !(look.marks.includes('em') && name === 'font-style'),
    )
    if (look.named) {
      if (!/^[\w .-]+$/.test(look.id)) continue
      const selector = `${scope} [data-style="${look.id}"]`
      css += rule(selector, own)
      // A list has its own indents.
      css += rule(`${scope} li > [data-style="${look.id}"]`, { 'margin-left': '0', 'text-indent': '0' })
    } else if (look.heading) css += rule(`${scope} h${look.heading}:not([data-style])`, own)
    else if (look.quote)
      css += rule(
        `${scope} blockquote > p:not([data-style])`,
        some(own, (name) => !/^(?:margin|text-indent)/.test(name)),
      )
    else if (look.usual) {
      css += rule(
        `${scope} .page-text`,
        some(own, (name) => ofText.test(name) || name === 'line-height'),
      )
      css += rule(
        `${scope} p:not([data-style])`,
        some(own, (name) => !ofText.test(name)),
      )
    }
  }
  return css
}
