/** A file that cannot be opened, with a sentence that tells why. It is kept as it is. */
export class DamagedFile extends Error {
  override readonly name = 'DamagedFile'
}

/** Something in a file that the editor cannot keep. */
export interface Limit {
  /** What it is, in the plural: "footnotes". */
  feature: string
  count: number
  /** Where it occurs, by heading, first words or sheet; the first few. */
  where: string[]
}

/** A feature in the singular, for the one that was found: "footnotes" becomes "footnote". */
export function singular(feature: string): string {
  const [, things = feature, rest = ''] = /^(.+?)( (?:of|in|with|to) .+)?$/.exec(feature) ?? []
  const one = things.endsWith('ies')
    ? `${things.slice(0, -3)}y`
    : /(?:x|ch|sh|ss)es$/.test(things)
      ? things.slice(0, -2)
      : things.replace(/([^s])s$/, '$1')
  return one + rest
}

/** Collects limits while a file is read. */
export class Limits {
  private readonly found = new Map<string, { count: number; where: Set<string> }>()

  add(feature: string, where: string, count = 1): void {
    const entry = this.found.get(feature) ?? { count: 0, where: new Set() }
    entry.count += count
    if (where && entry.where.size < 5) entry.where.add(where)
    this.found.set(feature, entry)
  }

  /** Takes over what another collection found. */
  include(other: Limits): void {
    for (const [feature, { count, where }] of other.found) {
      this.add(feature, '', count)
      const entry = this.found.get(feature)!
      for (const one of where) if (entry.where.size < 5) entry.where.add(one)
    }
  }

  list(): Limit[] {
    return [...this.found].map(([feature, { count, where }]) => ({ feature, count, where: [...where] }))
  }
}
