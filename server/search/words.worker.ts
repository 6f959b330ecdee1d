// Reads the words of files in a thread of its own, so that a large file holds up nobody.
import { parentPort } from 'node:worker_threads'
import { wordsOfFile } from '../../core/formats/words'

parentPort?.on('message', ({ id, bytes, type }: { id: number; bytes: Uint8Array; type: string }) => {
  parentPort!.postMessage({ id, words: wordsOfFile(bytes, type) })
})
