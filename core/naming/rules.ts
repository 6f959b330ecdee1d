// A convention is checked when it is built, so that every name it gives can be read back.
import type { ControlledList, ListValue, PartValues, Rules } from '../contract/naming'
import { findAmbiguity } from './ambiguity'
import { checkName } from './check'
import { labelText, type ReadyConvention, readyConvention } from './convention'

export interface RuleFault {
  /** The part it is about; null for the convention as a whole or its folders. */
  partId: string | null
  reason: string
  /** For ambiguity: a name that can be read in two ways. */
  example?: { name: string; readings: [PartValues, PartValues] }
}

const forbidden = /[\p{C}\\/:*?"<>|]/u
/** Letters that would join the one before them and so change the text. */
const joining = /^[\p{M}\u1160-\u11ff]/u

function textFault(text: string, what: string): string | null {
  const bad = forbidden.exec(text)?.[0]
  if (bad) return `${what} has ${bad.trim() ? `the symbol ${bad}` : 'an invisible symbol'}, which names may not hold.`
  if (joining.test(text)) return `${what} begins with a mark that joins the letter before it.`
  if (text !== text.normalize('NFC')) return `${what} has letters in a form that other computers read otherwise.`
  return null
}

/** Everything that is wrong with a convention; empty for a good one. */
export function checkRules(rules: Rules, lists: readonly ControlledList[]): RuleFault[] {
  const faults: RuleFault[] = []
  const add = (partId: string | null, reason: string | null) => {
    if (reason) faults.push({ partId, reason })
  }
  const ids = new Set<string>()
  for (const part of rules.parts) {
    if (ids.has(part.id)) add(part.id, `Two parts have the id ${part.id}.`)
    ids.add(part.id)
    add(part.id, part.separator ? textFault(part.separator, 'The separator') : null)
    if (part.kind === 'text') {
      add(part.id, textFault(part.text, 'The text'))
      if (part.optional) add(part.id, 'Fixed text cannot be optional: nobody would know when it belongs.')
    }
    if (part.kind === 'list') {
      const list = lists.find(({ id }) => id === part.listId)
      if (!list) add(part.id, 'Choose a controlled list for this part.')
      else if (list.values.length === 0) add(part.id, `The list ‹${list.name}› has no values yet.`)
      else if (part.shows === 'label') {
        const texts = new Map<string, string>()
        for (const value of list.values) {
          const text = labelText(value)
          const other = texts.get(text)
          if (other) add(part.id, `${other} and ${value.code} would both be written ${text}. Use codes here.`)
          texts.set(text, value.code)
        }
      }
    }
    if (part.kind === 'counter') {
      if (part.optional) add(part.id, 'A counter cannot be optional: it would leave gaps.')
      if (part.per !== 'folder')
        for (const other of part.per)
          if (
            other === part.id ||
            !rules.parts.some(({ id, kind }) => id === other && kind !== 'counter' && kind !== 'text')
          )
            add(part.id, 'A counter can be counted by the values of other parts only.')
    }
    if (part.kind === 'file kind') {
      const words = Object.values(part.words)
      for (const word of words) add(part.id, textFault(word, `The word ${word}`))
      if (new Set(words).size < words.length) add(part.id, 'The words for the kinds of file must differ.')
    }
  }
  if (rules.parts.every((part) => part.optional))
    add(null, 'Every part is optional, so a name could be empty. Make at least one required.')
  if (rules.parts.filter(({ kind }) => kind === 'counter').length > 1) add(null, 'A convention can have one counter.')
  for (const [index, level] of rules.folders.entries())
    for (const piece of level)
      if ('text' in piece) {
        const fault = checkName(piece.text.trim() || piece.text)
        if (fault && fault.fault !== 'ends') add(null, `Folder ${index + 1}: ${fault.reason}`)
      } else {
        const part = rules.parts.find(({ id }) => id === piece.part)
        if (!part) add(null, `Folder ${index + 1} uses a part that is not there any more.`)
        else if ((piece.as === 'year' || piece.as === 'month') && part.kind !== 'date')
          add(null, `Folder ${index + 1} takes the ${piece.as} of ${part.label}, which is no date.`)
        else if (piece.as === 'month' && part.kind === 'date' && /^YYYY(-Www|-Qq)?$/.test(part.form))
          add(null, `Folder ${index + 1} takes the month of ${part.label}, which holds none.`)
      }
  if (faults.length) return faults
  const ready = readyConvention(rules, lists)
  const ambiguity = findAmbiguity(ready)
  if (ambiguity === 'too intricate')
    add(null, 'This convention is too intricate to be sure that every name reads back. Use a separator between parts.')
  else if (ambiguity) {
    const words = ambiguity.readings.map((reading) => sayValues(ready, reading))
    faults.push({
      partId: null,
      reason: `The name ${ambiguity.name} could be read as ${words[0]}, or as ${words[1]}. Use another separator, or make a part required.`,
      example: ambiguity,
    })
  }
  return faults
}

/** Values with their labels, for people: "Kind Notice, Subject Gate". */
export function sayValues(convention: ReadyConvention, values: PartValues): string {
  const words = convention.parts.flatMap(({ part }) => {
    const value = values[part.id]
    return value === undefined ? [] : [`${part.label} ‹${value}›`]
  })
  return words.join(', ') || 'fixed text alone'
}

/** What is wrong with a list's values, each with the row it is in, from 0. */
export function checkListValues(values: readonly ListValue[]): { row: number; reason: string }[] {
  const faults: { row: number; reason: string }[] = []
  const seen = new Map<string, number>()
  for (const [row, value] of values.entries()) {
    const code = value.code.normalize('NFC')
    const fault = code.trim() === '' ? 'A value needs a code.' : textFault(value.code, `The code ${value.code}`)
    if (fault) faults.push({ row, reason: fault })
    else if (/^[\s.]|[\s.]$/.test(code))
      faults.push({ row, reason: `The code ${code} begins or ends with a space or a dot.` })
    const earlier = seen.get(code.toLowerCase())
    if (earlier !== undefined) faults.push({ row, reason: `The code ${code} is in line ${earlier + 1} already.` })
    else seen.set(code.toLowerCase(), row)
  }
  return faults
}
