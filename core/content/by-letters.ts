// Texts in the order in which people look for them: without regard to capitals and accents, numbers in them as numbers.
// That is the order of the Unicode collation algorithm (UTS #10) with numeric ordering. A text of plain letters, digits and
// spaces has a key that is in that order letter by letter, so that a column of hundreds of thousands of them is in order at once.

const collator = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' })
const longestNumber = 16

/** A key whose letters are in the order of the texts; null for a text that only the collation can place. */
function keyOf(text: string): string | null {
  if (!/^[A-Za-z0-9 ]*$/.test(text)) return null
  let long = false
  // How many digits a number has says more than what they are; between the space and the letters there is a sign for each.
  const key = text.toUpperCase().replace(/[0-9]+/g, (digits) => {
    const number = digits.replace(/^0+/, '')
    if (number.length > longestNumber) long = true
    return String.fromCharCode(48 + number.length) + number
  })
  return long ? null : key
}

interface Keyed {
  text: string
  key: string | null
}
const compare = (a: Keyed, b: Keyed): number =>
  a.key !== null && b.key !== null ? (a.key < b.key ? -1 : a.key > b.key ? 1 : 0) : collator.compare(a.text, b.text)

/** The order of two texts; 0 for those that differ in capitals, accents and zeros before numbers alone. */
export const byLetters = (a: string, b: string): number =>
  compare({ text: a, key: keyOf(a) }, { text: b, key: keyOf(b) })

/** Each text's place among them, in order; texts that are the same to `byLetters` have the same one. */
export function placesOf(texts: Iterable<string>): Map<string, number> {
  const all = Array.from(new Set(texts), (text): Keyed => ({ text, key: keyOf(text) }))
  if (all.every(({ key }) => key !== null)) {
    // In the order of their letters, which the engine has the quickest way for.
    const places = new Map([...new Set(all.map(({ key }) => key!))].sort().map((key, place) => [key, place]))
    return new Map(all.map(({ text, key }) => [text, places.get(key!)!]))
  }
  all.sort(compare)
  const places = new Map<string, number>()
  let place = 0
  for (const [at, one] of all.entries()) {
    if (at > 0 && compare(all[at - 1]!, one) !== 0) place++
    places.set(one.text, place)
  }
  return places
}
