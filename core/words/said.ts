import type { Code } from './en'

/** What a sentence is about: names, numbers, whether something is so, moments, or further sentences. */
export type Fact = string | number | boolean | null | undefined | Said | readonly Said[]
export type Facts = Readonly<Record<string, Fact>>

/**
 * A sentence as its code and its facts, in no language yet: what the core finds out and the server refuses. Whoever shows
 * it says it in the language of who reads (web/words). Plain data: it goes through JSON and between workers.
 */
export interface Said {
  readonly say: Code
  readonly facts?: Facts
}

export const say = (code: Code, facts?: Facts): Said => (facts ? { say: code, facts } : { say: code })
