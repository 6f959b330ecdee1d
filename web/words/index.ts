// What people read, in their language. Whoever imports this waits for the sentences, so that a constant may have some.
import { createElement, Fragment, type ReactNode } from 'react'
import type { Problem } from '../../core/contract'
import type { Code, Messages } from '../../core/words/en'
import { isSaid, type Sentence } from '../../core/words/said'
import { speaker } from '../../core/words/speak'
import { fetchFirst, language, locale } from './language'

const messages: Partial<Messages> = { ...(await fetchFirst()).first }
const words = speaker(locale, messages)
/** Sentences that came later (all.ts). */
export const learn = (more: Partial<Messages>): void => void Object.assign(messages, more)
if (globalThis.document) document.documentElement.lang = language

type Value = string | number | boolean | null | undefined | Sentence
/** A sentence of the catalogue. @param values what stands in it, by name */
export const t = (code: Code, values?: Record<string, Value>): string => String(words.format(code, spoken(values)))

/** What the core or the server found, in words; a refusal by the server in this page's language where it knows it. */
export const told = (what: Sentence | { title: string; says?: Sentence | undefined }): string =>
  typeof what === 'object' && 'title' in what ? words.text(what.says ?? what.title) : words.text(what)

const spoken = <V>(values: Record<string, V | Sentence> = {}) =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, isSaid(value) ? words.text(value) : value]))

type Dress = (part: ReactNode) => ReactNode
/** A sentence with elements in it: `v` has what stands in it, and how to dress what stands between tags. */
export function T({ k, v }: { k: Code; v: Record<string, ReactNode | Dress | Sentence> }) {
  const parts = words.format(k, spoken(v))
  return createElement(Fragment, null, ...(Array.isArray(parts) ? parts : [parts]))
}

/** What is wrong with each input, by its name. */
export const toldFields = ({ fields, ...problem }: Problem): Record<string, string> =>
  fields
    ? Object.fromEntries(Object.entries(fields).map(([name, sentence]) => [name, told(sentence)]))
    : { password: told(problem) }
