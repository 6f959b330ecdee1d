// Where words stand on a page, by the pieces of text that its PDF has.

/** A piece as it lies: its left end on the line that it stands on, from the left bottom of the page; points. */
export interface TextPiece {
  text: string
  x: number
  y: number
  width: number
  height: number
  /** A line ends with it. */
  ends: boolean
}
export interface TextBox {
  x: number
  y: number
  width: number
  height: number
}

/** Each place where the words stand, as boxes of what of each piece they take; also over the end of a line. */
export function findText(pieces: readonly TextPiece[], words: string): TextBox[][] {
  const wanted = words.trim().toLowerCase().replace(/\s+/g, ' ')
  if (!wanted) return []
  let all = ''
  /** Of each letter, the piece that it is of and its place in it; null for a blank between two. */
  const from: ({ piece: number; at: number } | null)[] = []
  const add = (letter: string, place: (typeof from)[number]) => {
    // Blanks count as one.
    if (letter === ' ' && (all === '' || all.endsWith(' '))) return
    all += letter
    from.push(place)
  }
  for (const [piece, { text, ends }] of pieces.entries()) {
    for (let at = 0; at < text.length; at++) {
      const letter = text[at]!
      const small = letter.toLowerCase()
      add(/\s/.test(letter) ? ' ' : small.length === 1 ? small : letter, { piece, at })
    }
    if (ends) add(' ', null)
  }
  const hits: TextBox[][] = []
  for (let at = all.indexOf(wanted); at >= 0; at = all.indexOf(wanted, at + wanted.length)) {
    const taken = new Map<number, [number, number]>()
    for (const place of from.slice(at, at + wanted.length)) {
      if (!place) continue
      const span = taken.get(place.piece)
      taken.set(place.piece, span ? [span[0], place.at + 1] : [place.at, place.at + 1])
    }
    hits.push(
      [...taken].map(([piece, [first, last]]) => {
        const { text, x, y, width, height } = pieces[piece]!
        // Letters are about as wide as each other.
        return { x: x + (width * first) / text.length, y, width: (width * (last - first)) / text.length, height }
      }),
    )
  }
  return hits
}
