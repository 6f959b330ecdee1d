// The order of what stands in a sheet's part (ECMA-376 part 1, §18.3.1.99).
import { childrenIn, rootOf, type Spanned } from '../opc/spans'

/**
 * Where an element stands that comes behind the rows of a sheet (§18.3.1.99).
 * @param before what may stand between the rows and it
 */
export function placeBehindRows(
  xml: string,
  prefix: string,
  name: string,
  before: { has(name: string): boolean },
): { own: Spanned | undefined; at: number } {
  const root = rootOf(xml)
  let at = root.inner[1]
  let own: Spanned | undefined
  let past = false
  for (const element of childrenIn(xml, root.inner)) {
    const one = element.name.slice(prefix.length)
    if (one === name) own = element
    if (one === 'sheetData' || (past && before.has(one))) {
      past = true
      at = element.end
    } else if (past) break
  }
  return { own, at }
}
