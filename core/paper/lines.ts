// Text in lines of a width: broken where words end and, where a word is wider than the line, between its letters.

/** How wide text is in one look; points. */
export type Measure = (text: string) => number

/** Where a line may end: after blanks, and after a hyphen between letters. */
const pieces = /\S*?[^\s-]-(?=[^\s-])|\S+\s*|\s+/gu
const letters = new Intl.Segmenter(undefined, { granularity: 'grapheme' })

/** @param width of a line, above 0 @returns at least one line; joined they are the text but for blanks at their ends */
export function linesOf(text: string, width: number, measure: Measure): string[] {
  const lines: string[] = []
  for (const part of text.split(/\r\n|\r|\n/)) {
    if (measure(part) <= width) {
      lines.push(part)
      continue
    }
    let line = ''
    const end = () => {
      if (line.trim()) lines.push(line.trimEnd())
      line = ''
    }
    for (const [piece] of part.matchAll(pieces)) {
      if (measure((line + piece).trimEnd()) <= width) {
        line += piece
        continue
      }
      end()
      if (measure(piece.trimEnd()) <= width) {
        line = piece.trimStart()
        continue
      }
      for (const { segment } of letters.segment(piece)) {
        if (line && measure(line + segment) > width) end()
        line += segment
      }
    }
    end()
  }
  return lines.length ? lines : ['']
}
