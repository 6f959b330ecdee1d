// Signs that no key of a usual keyboard has: what they are called, and which of them somebody looks for.
import { t } from '../words/all'

export interface Sign {
  sign: string
  /** What it is called; of a letter nothing, which says itself. */
  name: string
  /** How a sign that cannot be seen is shown. */
  shown?: string
}
export interface SignGroup {
  title: string
  signs: readonly Sign[]
}

const named = (...signs: [sign: string, name: string, shown?: string][]): Sign[] =>
  signs.map(([sign, name, shown]) => ({ sign, name, ...(shown && { shown }) }))
const letters = (all: string): Sign[] => [...all].map((sign) => ({ sign, name: '' }))

export const signGroups: readonly SignGroup[] = [
  {
    title: t('signs.dashes'),
    signs: named(
      ['–', t('signs.short-dash')],
      ['—', t('signs.long-dash')],
      ['…', t('signs.three-dots')],
      ['·', t('signs.middle-dot')],
      ['•', t('signs.list-dot')],
      ['\u00a0', t('signs.firm-space'), '␣'],
      ['\u202f', t('signs.narrow-space'), '⎵'],
      ['\u2011', t('signs.firm-hyphen'), '‑'],
      ['\u00ad', t('signs.soft-hyphen'), '¬'],
    ),
  },
  {
    title: t('signs.quotes'),
    signs: named(
      ['“', t('signs.opening-double')],
      ['”', t('signs.closing-double')],
      ['‘', t('signs.opening-single')],
      ['’', t('signs.closing-single')],
      ['„', t('signs.low-double')],
      ['‚', t('signs.low-single')],
      ['«', t('signs.angled-left')],
      ['»', t('signs.angled-right')],
      ['‹', t('signs.single-angled-left')],
      ['›', t('signs.single-angled-right')],
      ['′', t('signs.minute')],
      ['″', t('signs.second')],
    ),
  },
  {
    title: t('signs.office'),
    signs: named(
      ['€', t('signs.euro')],
      ['£', t('signs.pound')],
      ['¥', t('signs.yen')],
      ['¢', t('signs.cent')],
      ['§', t('signs.section')],
      ['¶', t('signs.paragraph')],
      ['№', t('signs.number')],
      ['©', t('signs.copyright')],
      ['®', t('signs.registered')],
      ['™', t('signs.trade-mark')],
      ['†', t('signs.dagger')],
      ['‡', t('signs.double-dagger')],
    ),
  },
  {
    title: t('signs.numbers'),
    signs: named(
      ['×', t('signs.times')],
      ['÷', t('signs.divided')],
      ['−', t('signs.minus')],
      ['±', t('signs.plus-minus')],
      ['≈', t('signs.about')],
      ['≠', t('signs.not-equal')],
      ['≤', t('signs.at-most')],
      ['≥', t('signs.at-least')],
      ['∞', t('signs.infinity')],
      ['√', t('signs.root')],
      ['∑', t('signs.sum')],
      ['Δ', t('signs.difference')],
      ['°', t('signs.degree')],
      ['‰', t('signs.per-mille')],
      ['µ', t('signs.micro')],
      ['Ω', t('signs.ohm')],
      ['π', t('signs.pi')],
      ['⌀', t('signs.diameter')],
      ['¹', t('signs.raised-one')],
      ['²', t('signs.squared')],
      ['³', t('signs.cubed')],
      ['½', t('signs.half')],
      ['⅓', t('signs.third')],
      ['⅔', t('signs.two-thirds')],
      ['¼', t('signs.quarter')],
      ['¾', t('signs.three-quarters')],
    ),
  },
  {
    title: t('signs.arrows'),
    signs: named(
      ['→', t('signs.right-arrow')],
      ['←', t('signs.left-arrow')],
      ['↑', t('signs.up-arrow')],
      ['↓', t('signs.down-arrow')],
      ['↔', t('signs.both-ways')],
      ['⇒', t('signs.follows')],
      ['✓', t('signs.tick')],
      ['✗', t('signs.cross')],
      ['☐', t('signs.empty-box')],
      ['☑', t('signs.ticked-box')],
      ['☒', t('signs.crossed-box')],
      ['●', t('signs.full-circle')],
      ['○', t('signs.empty-circle')],
      ['■', t('signs.full-square')],
      ['□', t('signs.empty-square')],
      ['▲', t('signs.triangle')],
      ['★', t('signs.star')],
      ['☎', t('signs.telephone')],
      ['✉', t('signs.envelope')],
    ),
  },
  {
    title: t('signs.letters'),
    signs: letters('ÄÖÜäöüßÀÁÂÃÅÆÇÈÉÊËÌÍÎÏÑÒÓÔÕØŒÙÚÛàáâãåæçèéêëìíîïñòóôõøœùúûÿŁłŠšŽžČčŐőŰű'),
  },
]

const folded = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase()

const wordsOf = (text: string): string[] =>
  folded(text)
    .split(/[\s,()]+/)
    .filter(Boolean)

/**
 * The signs that somebody looks for: by words of their names, by the letter that one is made of, by the sign itself, or by
 * its number ("U+2013").
 * @returns groups that have some, in their order
 */
export function signsLike(typed: string, groups: readonly SignGroup[] = signGroups): SignGroup[] {
  const wanted = typed.trim()
  if (!wanted) return [...groups]
  const number = /^(?:u\+|0x)([0-9a-f]{2,6})$/i.exec(wanted)?.[1]
  const words = wordsOf(wanted)
  const like = ({ sign, name }: Sign): boolean => {
    if (sign === wanted || (number && sign.codePointAt(0) === Number.parseInt(number, 16))) return true
    if (!name) return folded(sign) === folded(wanted)
    const own = wordsOf(name)
    return words.length > 0 && words.every((word) => own.some((one) => one.startsWith(word)))
  }
  return groups
    .map(({ title, signs }) => ({ title, signs: signs.filter(like) }))
    .filter(({ signs }) => signs.length > 0)
}

const kept = 'jaula.signs'
const mostKept = 9
const known = new Map(signGroups.flatMap(({ signs }) => signs.map((one) => [one.sign, one] as const)))

/** Those that were put in last on this computer, the last one first. */
export function lastSigns(): Sign[] {
  const all = [...(localStorage.getItem(kept) ?? '')]
  return all.flatMap((sign) => known.get(sign) ?? []).slice(0, mostKept)
}
export const noteSign = (sign: string): void =>
  localStorage.setItem(
    kept,
    [sign, ...[...(localStorage.getItem(kept) ?? '')].filter((one) => one !== sign)].slice(0, mostKept).join(''),
  )
