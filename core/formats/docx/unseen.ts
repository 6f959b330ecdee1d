// Elements that the model does not hold: what is said of each.

/** Elements that say nothing the model would lose. */
export const silent = new Set([
  'w:pPr',
  'w:rPr',
  'w:proofErr',
  'w:bookmarkStart',
  'w:bookmarkEnd',
  'w:lastRenderedPageBreak',
  'w:sectPr',
  'w:permStart',
  'w:permEnd',
  'w:commentRangeStart',
  'w:commentRangeEnd',
  'w:annotationRef',
  'w:footnoteRef',
  'w:endnoteRef',
  'w:separator',
  'w:continuationSeparator',
  'w:moveFromRangeStart',
  'w:moveFromRangeEnd',
  'w:moveToRangeStart',
  'w:moveToRangeEnd',
  'w:sdtPr',
  'w:sdtEndPr',
  'w:tblPr',
  'w:tblGrid',
  'w:trPr',
  'w:tcPr',
  'w:fldData',
])

export const namedStyles = 'named styles (their text stays, in Jaula’s look)'
export const trackedInsertions = 'tracked insertions (their text stays)'
/** Features that the model has nothing of, and a page shows all the same (style-looks.ts, passages.ts). */
export const pageShows: ReadonlySet<string> = new Set([namedStyles, trackedInsertions])

/** What is told of an element that is left out. */
export const limitOf: Record<string, string> = {
  'w:footnoteReference': 'footnotes',
  'w:endnoteReference': 'endnotes',
  'w:commentReference': 'comments',
  'w:pict': 'drawn shapes',
  'w:object': 'embedded objects',
  'm:oMath': 'formulas',
  'm:oMathPara': 'formulas',
  'w:sym': 'symbols of a special font',
  'w:ruby': 'ruby text',
  'w:altChunk': 'embedded files',
  'w:ptab': 'positioned tabs',
  'w:pgNum': 'page number fields',
  'w:subDoc': 'linked files',
}
