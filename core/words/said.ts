import type { Code } from './en'

/** What a sentence is about: names, numbers, whether something is so, moments, or further sentences. */
export type Fact = string | number | boolean | null | undefined | Said | readonly Sentence[] | Either
/** One of several. */
export interface Either {
  readonly or: readonly string[]
}
export type Facts = Readonly<Record<string, Fact>>

/**
 * A sentence as its code and its facts, in no language yet: what the core finds out and the server refuses. Whoever shows
 * it says it in the language of who reads (web/words). Plain data: it goes through JSON and between workers.
 */
export interface Said {
  readonly say: Code
  readonly facts?: Facts
}

/** What is in words already, or kept from a time when it was, goes as it is. */
export type Sentence = Said | string

export const say = (code: Code, facts?: Facts): Said => (facts ? { say: code, facts } : { say: code })

export const isSaid = (fact: unknown): fact is Said => typeof fact === 'object' && fact !== null && 'say' in fact

/** Whether two say the same. */
export const sameSentence = (a: Sentence, b: Sentence): boolean => a === b || JSON.stringify(a) === JSON.stringify(b)

/** A message of a schema as a sentence: those of our own are codes, the others are for programs. */
export const sentenceOf = (message: string): Sentence =>
  /^contract\.[a-z-]+$/.test(message) ? say(message as Code) : message

/** A sentence as a text, for where only texts are kept, and back: what was kept in words stays as it is. */
export const asKept = (sentence: Sentence): string => (isSaid(sentence) ? JSON.stringify(sentence) : sentence)
export function fromKept(text: string): Sentence {
  if (!text.startsWith('{"say":')) return text
  return JSON.parse(text) as Said
}

/**
 * An error that is a sentence. Its message is the sentence as it is kept, because of an error no more than the message
 * gets from one worker to another: `saidBy` has it back.
 */
export class SaidError extends Error {
  constructor(sentence: Sentence) {
    super(asKept(sentence))
  }
}
export const saidBy = (error: unknown): Sentence => fromKept(String((error as Error)?.message ?? error))
