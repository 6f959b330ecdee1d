// How a style looks in formats that say all of it, as declarations of CSS made from numbers, colours and names that were
// checked.
import { lookCss } from '../../content/paragraph-look'
import { cssFamily, type StyleLook } from '../docx/style-looks'
import { type FlatChar, type FlatPara, lookBeside } from './looks'

/** @param plain a paragraph that nothing is said of */
export function flatStyleLook(
  style: Pick<StyleLook, 'id' | 'name' | 'heading' | 'quote' | 'named' | 'usual'>,
  para: FlatPara,
  char: FlatChar,
  plain: FlatPara,
): StyleLook {
  const css: Record<string, string> = {
    'margin-top': '0pt',
    'margin-bottom': '0pt',
    'line-height': '1.2',
    ...lookCss(lookBeside(para, plain) ?? {}),
    'font-size': `${char.size / 2}pt`,
    'font-weight': char.bold ? '700' : '400',
    'font-style': char.italic ? 'italic' : 'normal',
  }
  if (para.align) css['text-align'] = para.align
  // Black is the colour of text, whichever that is where it is shown.
  if (char.color && char.color !== '#000000') css.color = char.color
  if (char.font) css['font-family'] = cssFamily(char.font)
  // What a style gives its letters is no mark of theirs.
  return { ...style, heading: style.named ? 0 : style.heading, css, marks: [], offered: style.named }
}
