// Sets documents on pages in a process of its own, so that a large one holds up nobody.
import { typesetHere } from './typeset'

export default typesetHere
