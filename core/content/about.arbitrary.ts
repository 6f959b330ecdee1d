import fc from 'fast-check'
import { type About, aboutFields, tidyAbout } from './about'

const anyField = fc.oneof(
  fc.constantFrom(
    'Sluice 7 & weir <north>',
    'Schleusen „Nord“, Wehre; Kähne',
    'levels, gates, levels',
    '{\\b bold} \\par',
    '水門 🛶',
    ' a\tb\n',
  ),
  fc.string({ unit: 'binary', maxLength: 40 }),
  fc.string({ maxLength: 400 }),
)
/** What a file says of itself, as it comes out of a form that somebody wrote anything into. */
export const anyAbout: fc.Arbitrary<About | null> = fc
  .record(Object.fromEntries(aboutFields.map((field) => [field, anyField])), { requiredKeys: [] })
  .map(tidyAbout)
