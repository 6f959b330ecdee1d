// Fields at the edges of pages, each as one thing of its line: the number of a page, a date, the file's name (ECMA-376
// part 1, §17.16).
import { storableText } from '../../content/document'
import { fieldOf } from '../../content/fields'
import { type Kept, mostKeptWords } from '../../content/kept'
import { elements, escapeAttribute, escapeText, textOf, type XmlElement } from '../opc/xml'

const namespace = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
export const fieldElement = 'w:fldSimple'
export const isField = ({ kind, xml }: Kept): boolean => kind === 'field' && xml.startsWith(`<${fieldElement}`)

/**
 * @param result what its file says that it came to last
 * @param told of what the page tells by itself nothing of that is kept: at its edges
 */
export function keptField(instruction: string, result: string, told = true): Kept {
  const code = instruction.trim().replace(/\s+/g, ' ')
  const words = told && fieldOf(code) ? '' : result
  return {
    kind: 'field',
    words,
    xml: `<${fieldElement} xmlns:w="${namespace}" w:instr="${escapeAttribute(code)}"><w:r><w:t xml:space="preserve">${escapeText(words || '1')}</w:t></w:r></${fieldElement}>`,
    parts: [],
  }
}

/** Fields whose result is text that people write in: links, tables of contents, forms (§17.16.5). */
const written =
  /^\s*(?:HYPERLINK|TOC|TOA|INDEX|RD|BIBLIOGRAPHY|FORMTEXT|FORMCHECKBOX|FORMDROPDOWN|INCLUDETEXT|AUTOTEXT|GLOSSARY|QUOTE|ADDIN)\b/i
/** Whether a field in the text itself is one thing of its line, there too. */
export const isThing = ({ instruction, result }: Pick<FoundField, 'instruction' | 'result'>): boolean =>
  /^\s*[A-Za-z=]/.test(instruction) && !written.test(instruction) && result.trim() !== ''

export interface FoundField {
  /** All of it: the field's own element, or one that stands for the runs that it is written with. */
  element: XmlElement
  instruction: string
  result: string
  /** So many elements of the line, from the first one on. */
  length: number
}

/** What is in a run, and what in runs may be of a field whose result is plain words. */
const wordsOf = (run: XmlElement): string | null => {
  let words = ''
  for (const part of elements(run)) {
    if (part.name === 'w:t') words += textOf(part)
    else if (part.name !== 'w:rPr' && part.name !== 'w:lastRenderedPageBreak') return null
  }
  return words
}

/**
 * The field that begins with an element of a line, when it ends in that line and came to plain words.
 * @param line the elements of a paragraph or of a link @param at the place of the one it begins with
 */
export function fieldAt(line: readonly XmlElement[], at: number): FoundField | null {
  const first = line[at]!
  const found = first.name === fieldElement ? simple(first) : first.name === 'w:r' ? complex(line, at) : null
  return found && storableText(found.result).length <= mostKeptWords ? found : null
}

function simple(element: XmlElement): FoundField | null {
  let result = ''
  for (const run of elements(element)) {
    const words = run.name === 'w:r' ? wordsOf(run) : run.name === 'w:fldData' ? '' : null
    if (words === null) return null
    result += words
  }
  return { element, instruction: element.attributes['w:instr'] ?? '', result: storableText(result), length: 1 }
}

/** A field written with marks of where it begins, where its result begins and where it ends (§17.16.18). */
function complex(line: readonly XmlElement[], at: number): FoundField | null {
  let [state, instruction, result]: ['', string, string] | ['code' | 'result' | 'end', string, string] = ['', '', '']
  for (let index = at; index < line.length; index++) {
    const run = line[index]!
    if (run.name === 'w:proofErr') continue
    if (run.name !== 'w:r') return null
    for (const part of elements(run)) {
      if (part.name === 'w:rPr' || part.name === 'w:lastRenderedPageBreak') continue
      // Something of the line stands before it or behind it in a run that it shares.
      if (state === 'end') return null
      const type = part.name === 'w:fldChar' ? part.attributes['w:fldCharType'] : ''
      if (type === 'begin' && state === '') state = 'code'
      else if (type === 'separate' && state === 'code') state = 'result'
      else if (type === 'end' && (state === 'code' || state === 'result')) state = 'end'
      else if (part.name === 'w:instrText' && state === 'code') instruction += textOf(part)
      else if (part.name === 'w:t' && state === 'result') result += textOf(part)
      else return null
    }
    if (state === '') return null
    if (state !== 'end') continue
    const runs = line.slice(at, index + 1)
    const [from, to] = [runs[0]!.at, run.at]
    const element: XmlElement = { name: fieldElement, attributes: { 'w:instr': instruction }, children: runs }
    if (from && to)
      element.at = {
        name: from.name,
        kind: 'open',
        start: from.start,
        end: to.end,
        inner: [from.start, to.end],
      }
    return { element, instruction, result: storableText(result), length: runs.length }
  }
  return null
}

/** The run whose look a field's result has. */
export function lookRunOf(field: XmlElement): XmlElement | undefined {
  const runs = [...elements(field, 'w:r')]
  return runs.find((run) => (wordsOf(run) ?? '') !== '') ?? runs[0]
}
