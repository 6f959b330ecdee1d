// Writes files as another type in a thread of its own, so that a large one holds up nobody.
import { convertTask } from './convert'

export default convertTask
