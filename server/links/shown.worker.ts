// Makes pages of files in a thread of its own, so that a large one holds up nobody.
import { showHere } from './shown'

export default showHere
