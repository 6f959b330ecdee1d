import type { ControlledList, PartValues, Rules } from '../../core/contract'
import { compose, placeOf } from '../../core/naming/compose'
import { readyConvention } from '../../core/naming/convention'
import { t } from '../words/all'

const subjects = [t('names.gate-paddles'), t('names.balance-beam'), t('names.tail-silt')]
const days = ['2026-10-14', '2026-11-03', '2026-09-21']
const people = ['IT', 'BM', 'PN']
const kinds = ['document', 'spreadsheet', 'document']

/** Three names that a convention gives, with the places that its rule sends them to. */
export function examplesOf(rules: Rules, lists: readonly ControlledList[]): { name: string; place: string[] }[] {
  try {
    const ready = readyConvention(rules, lists)
    return [0, 1, 2].map((index) => {
      const values: PartValues = {}
      for (const { part, values: listed } of ready.parts) {
        const offered = listed.filter(({ retired }) => !retired)
        // The last example leaves out what can be left out.
        if (part.optional && index === 2) continue
        if (part.kind === 'date') values[part.id] = days[index]!
        if (part.kind === 'list' && offered.length) values[part.id] = offered[(index * 6) % offered.length]!.code
        if (part.kind === 'words') values[part.id] = subjects[index]!
        if (part.kind === 'counter') values[part.id] = String(part.start + index * 11)
        if (part.kind === 'initials') values[part.id] = people[index]!
        if (part.kind === 'file kind') values[part.id] = kinds[index]!
      }
      const { stem, values: fitted } = compose(ready, values)
      return { name: stem, place: placeOf(ready, fitted) ?? [] }
    })
  } catch {
    return []
  }
}
