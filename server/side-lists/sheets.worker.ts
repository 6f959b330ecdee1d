// Reads spreadsheets for their lists in a thread of its own, so that a large one holds up nobody.
import { sheetsHere } from './read-sheets'

export default sheetsHere
