// Letters that look like Latin ones and are not: a part of Unicode Technical Standard 39's
// confusables, for the Greek and Cyrillic letters that turn up in Latin words.

const pairs =
  'АA ВB ЕE ЅS ІI ЈJ КK МM НH ОO РP СC ТT ХX УY аa еe оo рp сc уy хx ѕs іi јj һh ԁd ԛq ԝw ΑA ΒB ΕE ΖZ ΗH ΙI ΚK ΜM ΝN ΟO ΡP ΤT ΥY ΧX οo νv ιi κk ρp ɡg'
const latin = new Map(pairs.split(' ').map((pair) => [pair[0]!, pair[1]!]))
const lookalike = new RegExp(`[${[...latin.keys()].join('')}]`, 'u')

/** The first word that mixes Latin letters with letters that only look like them, and it in Latin; null when there is none. */
export function mixedWord(name: string): { word: string; latin: string } | null {
  if (!lookalike.test(name)) return null
  for (const [word] of name.matchAll(/[\p{L}\p{M}]+/gu)) {
    if (!lookalike.test(word) || !/\p{Script=Latin}/u.test(word)) continue
    const plain = Array.from(word, (letter) => latin.get(letter) ?? letter).join('')
    if (/^[\p{Script=Latin}\p{M}]+$/u.test(plain)) return { word, latin: plain }
  }
  return null
}

const plainAscii = /^[\x20-\x7e]*$/

/**
 * A name as the eye takes it: without case, accents, look-alikes, widths and the difference between
 * kinds of space and dash. Names with one skeleton are taken for each other.
 */
export function skeleton(name: string): string {
  if (plainAscii.test(name)) return name.toLowerCase().replace(/ {2,}/g, ' ')
  return Array.from(name.normalize('NFKD').replace(/\p{M}/gu, ''), (letter) => latin.get(letter) ?? letter)
    .join('')
    .toLowerCase()
    .replace(/\p{Pd}/gu, '-')
    .replace(/\s+/gu, ' ')
}
