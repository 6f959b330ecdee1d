// Sets documents on pages in a process of its own, so that a large one holds up nobody.
import { breaksHere, type TypesetTask, typesetHere } from './typeset'

export default (task: TypesetTask) => ('pages' in task ? typesetHere(task.pages) : breaksHere(task.breaks))
