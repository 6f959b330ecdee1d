// Values proposed for the parts of a name, ranked, each with where it is from.
import type { NamePart, PartValues } from '../contract/naming'
import { type Sentence, say } from '../words/said'
import { type FileKind, initialsOf, type ReadyConvention } from './convention'
import { readName, valuesIn } from './reading'

/** What the work itself says, as the editor knows it. */
export interface ContentClues {
  title: string
  headings: readonly string[]
  /** Names of sheets. */
  sheets: readonly string[]
  /** Its first some thousand letters. */
  text: string
}
export const noClues: ContentClues = { title: '', headings: [], sheets: [], text: '' }

export interface SuggestContext {
  content: ContentClues
  /** Folders of the chosen place, from the share down. */
  folders: readonly string[]
  /** The stem of a file that was pointed at. */
  pointed?: string
  /** Values this person used last under this convention, newest first. */
  lastUsed: readonly PartValues[]
  /** ISO 8601. */
  today: string
  person: string
  /** As they write them themselves; nothing: by their name. */
  initials?: string
  kind: FileKind
  /** The counter's next number. */
  next?: number
  /** From a template. */
  presets?: PartValues
}

export type SuggestionSource =
  | 'template'
  | 'file pointed at'
  | 'content'
  | 'folder'
  | 'today'
  | 'last used'
  | 'you'
  | 'type'
  | 'counter'
export interface Suggestion {
  value: string
  source: SuggestionSource
  /** In words. */
  why: Sentence
  /** Higher is better; the first of a part is proposed when it has at least `proposed`. */
  score: number
}
/** A value below this score is offered and not filled in by itself. */
export const proposed = 50

const filler =
  /^(?:(?:a|an|and|at|by|for|from|in|of|on|the|to|with)\s+)+|(?:\s+(?:a|an|and|at|by|for|from|in|of|on|the|to|with))+$/giu
const genericSheet = /^(?:sheet|table|blank)\s*\d*$/i

/** What a title or a heading says beside the values of the other parts: the subject; undefined when nothing is left. */
export function subjectIn(
  convention: ReadyConvention,
  part: NamePart & { kind: 'words' },
  text: string,
): string | undefined {
  return readName(convention, text)
    .values[part.id]?.replaceAll(part.spaces || ' ', ' ')
    .replace(filler, '')
    .trim()
}

/** Suggestions by part id, each list best first and without repetitions. */
export function suggest(convention: ReadyConvention, context: SuggestContext): Map<string, Suggestion[]> {
  const all = new Map<string, Suggestion[]>(convention.parts.map(({ part }) => [part.id, []]))
  const add = (partId: string, value: string | undefined, source: SuggestionSource, why: Sentence, score: number) => {
    const ready = convention.byId.get(partId)
    if (!ready || value === undefined || ready.part.kind === 'text') return
    const fitted = ready.fit(value)
    if (fitted === null || ready.values.find(({ code }) => code === fitted)?.retired) return
    const those = all.get(partId)!
    const there = those.find((one) => one.value === fitted)
    if (!there) those.push({ value: fitted, source, why, score })
    else if (there.score < score) Object.assign(there, { source, why, score })
  }
  const { content } = context
  const parts = convention.parts.map(({ part }) => part)
  for (const [id, value] of Object.entries(context.presets ?? {}))
    add(id, value, 'template', say('naming.from-the-template'), 100)

  if (context.pointed) {
    const { values } = readName(convention, context.pointed)
    for (const [id, value] of Object.entries(values))
      add(id, value, 'file pointed at', say('naming.as-in-the-file-you-pointed-at'), 95)
  }

  const opening = content.title || content.headings[0] || ''
  const places = [
    { text: opening, why: say('naming.in-the-title'), score: 90 },
    ...content.headings
      .slice(0, 8)
      .map((text) => ({ text, why: say('naming.in-the-heading', { shortened: shortened(text) }), score: 78 })),
    ...content.sheets.map((text) => ({
      text,
      why: say('naming.in-the-name-of-the-sheet', { shortened: shortened(text) }),
      score: 76,
    })),
    { text: content.text.slice(0, 20_000), why: say('naming.in-the-text'), score: 66 },
  ]
  for (const { text, why, score } of places)
    if (text)
      for (const [rank, found] of valuesIn(convention, text).entries()) {
        const part = convention.byId.get(found.partId)!.part
        // A date that the convention does not ask the content for is only offered.
        const weight = part.kind === 'date' && part.source === 'today' ? Math.min(score, 60) - 12 : score
        add(
          found.partId,
          found.value,
          'content',
          why,
          weight - Math.min(rank, 8) * 0.5 + Math.min(found.count, 5) * 0.3,
        )
      }
  for (const [depth, folder] of context.folders.entries())
    for (const found of valuesIn(convention, folder)) {
      const isDate = convention.byId.get(found.partId)!.part.kind === 'date'
      add(
        found.partId,
        found.value,
        'folder',
        say('naming.from-the-folder', { folder }),
        isDate ? 30 : 84 + depth * 0.5,
      )
    }

  for (const part of parts) {
    if (part.kind === 'date') {
      add(part.id, context.today, 'today', 'today', part.source === 'today' ? 88 : part.source === 'content' ? 55 : 40)
    } else if (part.kind === 'words') {
      const subject = (text: string) => subjectIn(convention, part, text)
      if (opening)
        add(
          part.id,
          subject(opening),
          'content',
          content.title ? say('naming.from-the-title') : say('naming.from-the-first-heading'),
          86,
        )
      for (const heading of content.headings.slice(0, 4))
        add(part.id, subject(heading), 'content', say('naming.from-a-heading'), 60)
      for (const sheet of content.sheets)
        if (!genericSheet.test(sheet))
          add(part.id, subject(sheet), 'content', say('naming.from-the-name-of-a-sheet'), 58)
      const line = content.text.split('\n').find((one) => one.trim())
      if (!opening && line) add(part.id, subject(line.slice(0, 60)), 'content', say('naming.from-the-first-words'), 56)
    } else if (part.kind === 'initials')
      add(part.id, context.initials || initialsOf(context.person), 'you', say('naming.your-initials'), 90)
    else if (part.kind === 'file kind') add(part.id, context.kind, 'type', say('naming.from-its-type'), 100)
    else if (part.kind === 'counter' && context.next !== undefined)
      add(part.id, String(context.next), 'counter', say('naming.the-next-number'), 90)
  }
  for (const [age, values] of context.lastUsed.slice(0, 12).entries())
    for (const part of parts)
      if (part.kind === 'list' || part.kind === 'words' || part.kind === 'initials')
        add(part.id, values[part.id], 'last used', say('naming.you-used-it-last'), 40 - age)
  for (const those of all.values()) those.sort((a, b) => b.score - a.score)
  return all
}

/** The proposals: the best suggestion of each part, where it is good enough. */
export function propose(convention: ReadyConvention, suggestions: ReadonlyMap<string, Suggestion[]>): PartValues {
  const values: PartValues = {}
  for (const { part } of convention.parts) {
    const best = suggestions.get(part.id)?.[0]
    if (best && best.score >= proposed) values[part.id] = best.value
  }
  return values
}

const shortened = (text: string) => (text.length > 28 ? `${text.slice(0, 27)}…` : text)
