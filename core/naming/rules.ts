// A convention is checked when it is built, so that every name it gives can be read back.
import type { ControlledList, ListValue, PartValues, Rules } from '../contract/naming'
import { type Said, type Sentence, say } from '../words/said'
import { findAmbiguity } from './ambiguity'
import { checkName } from './check'
import { labelText, type ReadyConvention, readyConvention } from './convention'

export interface RuleFault {
  /** The part it is about; null for the convention as a whole or its folders. */
  partId: string | null
  reason: Sentence
  /** For ambiguity: a name that can be read in two ways. */
  example?: { name: string; readings: [PartValues, PartValues] }
}

const forbidden = /[\p{C}\\/:*?"<>|]/u
/** Letters that would join the one before them and so change the text. */
const joining = /^[\p{M}\u1160-\u11ff]/u

function textFault(text: string, what: Said): Sentence | null {
  const bad = forbidden.exec(text)?.[0]
  if (bad)
    return say('naming.has-an-invisible-symbol-which-names-cannot', { what, bad: Boolean(bad.trim()), bad2: bad })
  if (joining.test(text)) return say('naming.begins-with-a-mark-that-joins-the', { what })
  if (text !== text.normalize('NFC')) return say('naming.has-letters-in-a-form-that-other', { what })
  return null
}

/** Everything that is wrong with a convention; empty for a good one. */
export function checkRules(rules: Rules, lists: readonly ControlledList[]): RuleFault[] {
  const faults: RuleFault[] = []
  const add = (partId: string | null, reason: Sentence | null) => {
    if (reason) faults.push({ partId, reason })
  }
  const ids = new Set<string>()
  for (const part of rules.parts) {
    if (ids.has(part.id)) add(part.id, say('naming.two-parts-have-the-id', { id: part.id }))
    ids.add(part.id)
    add(part.id, part.separator ? textFault(part.separator, say('naming.the-separator')) : null)
    if (part.kind === 'text') {
      add(part.id, textFault(part.text, say('naming.the-text')))
      if (part.optional) add(part.id, say('naming.fixed-text-cannot-be-optional-nobody-would'))
    }
    if (part.kind === 'list') {
      const list = lists.find(({ id }) => id === part.listId)
      if (!list) add(part.id, say('naming.choose-a-list-for-this-part'))
      else if (list.values.length === 0) add(part.id, say('naming.the-list-has-no-values-yet', { listName: list.name }))
      else if (part.shows === 'label') {
        const texts = new Map<string, string>()
        for (const value of list.values) {
          const text = labelText(value)
          const other = texts.get(text)
          if (other) add(part.id, say('naming.and-would-both-be-written-use-codes', { other, code: value.code, text }))
          texts.set(text, value.code)
        }
      }
    }
    if (part.kind === 'counter') {
      if (part.optional) add(part.id, say('naming.a-counter-cannot-be-optional-it-would'))
      if (part.per !== 'folder')
        for (const other of part.per)
          if (
            other === part.id ||
            !rules.parts.some(({ id, kind }) => id === other && kind !== 'counter' && kind !== 'text')
          )
            add(part.id, say('naming.a-counter-can-be-counted-by-the'))
    }
    if (part.kind === 'file kind') {
      const words = Object.values(part.words)
      for (const word of words) add(part.id, textFault(word, say('naming.the-word', { word })))
      if (new Set(words).size < words.length) add(part.id, say('naming.the-words-for-the-kinds-of-file'))
    }
  }
  if (rules.parts.every((part) => part.optional)) add(null, say('naming.every-part-is-optional-so-a-name'))
  if (rules.parts.filter(({ kind }) => kind === 'counter').length > 1)
    add(null, say('naming.a-convention-can-have-one-counter'))
  for (const [index, level] of rules.folders.entries())
    for (const piece of level)
      if ('text' in piece) {
        const fault = checkName(piece.text.trim() || piece.text)
        if (fault && fault.fault !== 'ends') add(null, say('naming.folder', { it: index + 1, reason: fault.reason }))
      } else {
        const part = rules.parts.find(({ id }) => id === piece.part)
        if (!part) add(null, say('naming.folder-uses-a-part-that-does-not', { it: index + 1 }))
        else if ((piece.as === 'year' || piece.as === 'month') && part.kind !== 'date')
          add(
            null,
            say('naming.folder-takes-the-of-which-is-no', { it: index + 1, as: piece.as, partLabel: part.label }),
          )
        else if (piece.as === 'month' && part.kind === 'date' && /^YYYY(-Www|-Qq)?$/.test(part.form))
          add(null, say('naming.folder-takes-the-month-of-which-has', { it: index + 1, partLabel: part.label }))
      }
  if (faults.length) return faults
  const ready = readyConvention(rules, lists)
  const ambiguity = findAmbiguity(ready)
  if (ambiguity === 'too intricate') add(null, say('naming.this-convention-is-too-intricate-to-be'))
  else if (ambiguity) {
    const words = ambiguity.readings.map((reading) => sayValues(ready, reading))
    faults.push({
      partId: null,
      reason: say('naming.the-name-could-be-read-as-or', {
        ambiguityName: ambiguity.name,
        it: words[0],
        it2: words[1],
      }),
      example: ambiguity,
    })
  }
  return faults
}

/** Values with their labels, for people: "Kind Notice, Subject Gate". */
export function sayValues(convention: ReadyConvention, values: PartValues): Sentence {
  const words = convention.parts.flatMap(({ part }) => {
    const value = values[part.id]
    return value === undefined ? [] : [say('naming.part-value', { label: part.label, value })]
  })
  return words.length
    ? words.reduce((first, then) => say('changes.comma', { first, then }))
    : say('naming.fixed-text-alone')
}

/**
 * What is wrong with a list's values, each with the row it is in, from 0.
 * @param before lines that stand before the first row, where they are counted
 */
export function checkListValues(values: readonly ListValue[], before = 0): { row: number; reason: Sentence }[] {
  const faults: { row: number; reason: Sentence }[] = []
  const seen = new Map<string, number>()
  for (const [row, value] of values.entries()) {
    const code = value.code.normalize('NFC')
    const fault =
      code.trim() === ''
        ? say('naming.a-value-needs-a-code')
        : textFault(value.code, say('naming.the-code', { code: value.code }))
    if (fault) faults.push({ row, reason: fault })
    else if (/^[\s.]|[\s.]$/.test(code))
      faults.push({ row, reason: say('naming.the-code-begins-or-ends-with-a', { code }) })
    const earlier = seen.get(code.toLowerCase())
    if (earlier !== undefined)
      faults.push({ row, reason: say('naming.the-code-is-in-line-already', { code, it: earlier + 1 + before }) })
    else seen.set(code.toLowerCase(), row)
  }
  return faults
}
