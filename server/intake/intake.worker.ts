// Reads the files of a drive, and plans what becomes of it, in a thread of its own.
import { doTask } from './tasks'

export default doTask
