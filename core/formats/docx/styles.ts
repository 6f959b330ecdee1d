import { xmlHead } from '../opc/xml'

/** The styles of a .docx that Jaula wrote are known by this name of its table style's neighbour. */
export const ownStylesMark = 'Jaula table gap'

/** What stands between two tables, and behind one that nothing follows, in a file of another program. */
export const foreignGap = 'table gap'
export const gapLook = '<w:pPr><w:spacing w:before="0" w:after="0" w:line="120" w:lineRule="exact"/></w:pPr>'

const headingSizes = [36, 30, 26, 24, 22, 22]
/** What a style of headings says after its name. @param level 1 to 6 */
export const headingLook = (level: number): string =>
  `<w:qFormat/><w:pPr><w:keepNext/><w:spacing w:before="${level < 3 ? 320 : 240}" w:after="100"/><w:outlineLvl w:val="${level - 1}"/></w:pPr><w:rPr><w:b/><w:sz w:val="${headingSizes[level - 1]}"/></w:rPr>`
export const quoteLook = '<w:qFormat/><w:pPr><w:ind w:left="567" w:right="567"/></w:pPr><w:rPr><w:i/></w:rPr>'

const heading = (level: number) =>
  `<w:style w:type="paragraph" w:styleId="Heading${level}"><w:name w:val="heading ${level}"/><w:basedOn w:val="Normal"/><w:next w:val="Normal"/>${headingLook(level)}</w:style>`

const quote = (id: string, name: string) =>
  `<w:style w:type="paragraph" w:styleId="${id}"><w:name w:val="${name}"/><w:basedOn w:val="Normal"/>${quoteLook}</w:style>`

/** styles.xml of every .docx that Jaula writes (ECMA-376 part 1, §17.7). */
export function stylesXml(): string {
  return (
    `${xmlHead}<w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">` +
    '<w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Source Serif 4" w:hAnsi="Source Serif 4" w:cs="Times New Roman" w:eastAsia="Noto Serif CJK SC"/><w:sz w:val="22"/><w:szCs w:val="22"/></w:rPr></w:rPrDefault>' +
    '<w:pPrDefault><w:pPr><w:spacing w:after="140" w:line="288" w:lineRule="auto"/></w:pPr></w:pPrDefault></w:docDefaults>' +
    '<w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/><w:qFormat/></w:style>' +
    headingSizes.map((_, index) => heading(index + 1)).join('') +
    quote('Quote', 'Quote') +
    quote('QuoteAnew', 'Quote anew') +
    '<w:style w:type="paragraph" w:styleId="ListParagraph"><w:name w:val="List Paragraph"/><w:basedOn w:val="Normal"/><w:qFormat/><w:pPr><w:ind w:left="720"/><w:contextualSpacing/></w:pPr></w:style>' +
    `<w:style w:type="paragraph" w:styleId="TableGap"><w:name w:val="${ownStylesMark}"/><w:basedOn w:val="Normal"/>${gapLook}</w:style>` +
    '<w:style w:type="character" w:styleId="Hyperlink"><w:name w:val="Hyperlink"/><w:rPr><w:color w:val="0F6A5F"/><w:u w:val="single"/></w:rPr></w:style>' +
    '<w:style w:type="table" w:default="1" w:styleId="TableNormal"><w:name w:val="Normal Table"/><w:tblPr><w:tblInd w:w="0" w:type="dxa"/><w:tblCellMar><w:top w:w="60" w:type="dxa"/><w:left w:w="108" w:type="dxa"/><w:bottom w:w="60" w:type="dxa"/><w:right w:w="108" w:type="dxa"/></w:tblCellMar></w:tblPr></w:style>' +
    `<w:style w:type="table" w:styleId="TableGrid"><w:name w:val="Table Grid"/><w:basedOn w:val="TableNormal"/><w:tblPr><w:tblBorders>${['top', 'left', 'bottom', 'right', 'insideH', 'insideV'].map((side) => `<w:${side} w:val="single" w:sz="4" w:space="0" w:color="8A8577"/>`).join('')}</w:tblBorders></w:tblPr></w:style>` +
    '</w:styles>'
  )
}
