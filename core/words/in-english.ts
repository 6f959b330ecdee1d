import { messages } from './en'
import type { Sentence } from './said'
import { type Speaker, speaker } from './speak'

let english: Speaker | undefined
/** A sentence in English: for logs, for programs that ask the server, and where no reader's language is known. */
export const inEnglish = (sentence: Sentence): string => {
  english ??= speaker('en-GB', messages)
  return english.text(sentence)
}
