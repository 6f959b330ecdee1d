// The sentences of every screen: whoever imports this waits for those that the first screens do without.
import { learn } from '.'
import { fetchLater } from './language'

learn((await fetchLater()).later)

export { T, t, told, toldFields } from '.'
