// What people read, in their language. Whoever imports this waits for the sentences, so that a constant may have some.
import { createElement, Fragment, type ReactNode } from 'react'
import type { Code } from '../../core/words/en'
import type { Said } from '../../core/words/said'
import { speaker } from '../../core/words/speak'
import { fetchMessages, language, locale } from './language'

const { messages } = await fetchMessages()
const words = speaker(locale, messages)
if (globalThis.document) document.documentElement.lang = language

type Value = string | number | boolean | null | undefined
/** A sentence of the catalogue. @param values what stands in it, by name */
export const t = (code: Code, values?: Record<string, Value>): string => String(words.format(code, values))

/** What the core or the server found, as a sentence. */
export const told = (said: Said): string => words.text(said)

type Dress = (part: ReactNode) => ReactNode
/** A sentence with elements in it: `v` has what stands in it, and how to dress what stands between tags. */
export function T({ k, v }: { k: Code; v: Record<string, ReactNode | Dress> }) {
  const parts = words.format(k, v)
  return createElement(Fragment, null, ...(Array.isArray(parts) ? parts : [parts]))
}
