// Reads the words of files in a thread of its own, so that a large file holds up nobody.
import type { FileWords } from '../../core/content/words'
import { wordsOfFile } from '../../core/formats/words'

export default ({ bytes, type }: { bytes: Uint8Array; type: string }): FileWords => wordsOfFile(bytes, type)
