// The catalogue: every sentence is there in every language with the same facts, is said with all of them, and is used.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse, TYPE } from '@formatjs/icu-messageformat-parser'
import fc from 'fast-check'
import { parseAst } from 'vite'
import { expect, test } from 'vitest'
import { messages as german } from './de'
import { type Code, messages as english } from './en'
import { asKept, fromKept, SaidError, type Sentence, saidBy, sameSentence, say } from './said'
import { speaker } from './speak'

const codes = Object.keys(english) as Code[]
type Parsed = ReturnType<typeof parse>
/** Names of everything that has to be given, and of those that are plain numbers or choices. */
function needs(message: string): Set<string> {
  const names = new Set<string>()
  const walk = (elements: Parsed) => {
    for (const element of elements) {
      if (element.type === TYPE.literal || element.type === TYPE.pound) continue
      names.add(element.value)
      if ('options' in element) for (const { value } of Object.values(element.options)) walk(value)
      if ('children' in element) walk(element.children)
    }
  }
  walk(parse(message))
  return names
}

test('no sentence says a sign in place of a number', () => {
  // Where a choice is between a number and its sign, the sign is one of the text.
  const loose = (message: string): boolean => {
    const walk = (elements: Parsed): boolean =>
      elements.some((element) =>
        element.type === TYPE.literal
          ? element.value.includes('#')
          : ('options' in element && Object.values(element.options).some(({ value }) => walk(value))) ||
            ('children' in element && walk(element.children)),
      )
    return walk(parse(message))
  }
  for (const messages of [english, german]) {
    const said = codes.filter((code) => loose(messages[code]))
    // Of a place in a document, which its sign begins.
    expect(said).toEqual(['document.use-a-web-address-a-mail-address'])
  }
  expect(loose('{n, plural, other {{all, select, true {all} other {#}} of them}}')).toBe(true)
})

test('German has every sentence that English has, with the same facts', () => {
  expect(Object.keys(german).sort()).toEqual([...codes].sort())
  for (const code of codes) {
    const [here, there] = [needs(english[code]), needs(german[code])]
    expect([code, ...[...there].filter((name) => !here.has(name))]).toEqual([code])
  }
})

const root = join(import.meta.dirname, '../..')
const sources = ['core', 'server', 'web'].flatMap((part) =>
  readdirSync(join(root, part), { recursive: true, encoding: 'utf8' })
    .filter((name) => /\.tsx?$/.test(name) && !/words\/(en|de)\/|\.test\./.test(`${part}/${name}`))
    .map((name) => join(root, part, name)),
)

interface AstNode {
  type: string
  [key: string]: unknown
}
/** Each place where a sentence is said: its code, and the names of what it is given; null where that is not written out. */
function* saidIn(file: string): Generator<{ code: string; given: Set<string> | null }> {
  const ast = parseAst(readFileSync(file, 'utf8'), { lang: file.endsWith('x') ? 'tsx' : 'ts' }) as unknown as AstNode
  const namesOf = (node: AstNode | undefined): Set<string> | null => {
    if (!node) return new Set()
    if (node.type !== 'ObjectExpression') return null
    const names = new Set<string>()
    for (const property of node.properties as AstNode[]) {
      if (property.type !== 'Property') return null
      const key = property.key as AstNode
      names.add(String(key.name ?? key.value))
    }
    return names
  }
  const stack: unknown[] = [ast]
  while (stack.length) {
    const node = stack.pop()
    if (Array.isArray(node)) stack.push(...node)
    else if (typeof node === 'object' && node !== null && 'type' in node) {
      const one = node as AstNode
      if (one.type === 'CallExpression') {
        const [first, second] = one.arguments as AstNode[]
        const callee = (one.callee as AstNode).name
        if ((callee === 't' || callee === 'say' || callee === 'sentence') && first?.type === 'Literal')
          yield { code: String(first.value), given: namesOf(second) }
      }
      if (one.type === 'JSXOpeningElement' && (one.name as AstNode).name === 'T') {
        const attribute = (name: string) =>
          (one.attributes as AstNode[]).find((given) => (given.name as AstNode | undefined)?.name === name)?.value as
            | AstNode
            | undefined
        const code = attribute('k')
        if (code?.type === 'Literal')
          yield { code: String(code.value), given: namesOf(attribute('v')?.expression as AstNode | undefined) }
      }
      stack.push(...Object.values(one))
    }
  }
}

test('every sentence is said with all that stands in it, and none is there for nothing', () => {
  const text = sources.map((file) => readFileSync(file, 'utf8')).join('\n')
  for (const file of sources)
    for (const { code, given } of saidIn(file)) {
      const needed = needs(english[code as Code] ?? '')
      if (given) expect([file, code, ...[...needed].filter((name) => !given.has(name))]).toEqual([file, code])
    }
  expect(codes.filter((code) => !text.includes(`'${code}'`) && !text.includes(`"${code}"`))).toEqual([])
})

test('no sentence speaks the dialect that docs/words.md has put away', () => {
  const dialect =
    /\blet (it )?go\b|\bset aside\b|\btaken in\b|shared storage|this device|not now|\btold\b|\bstands?\b|\bgone on with\b|\bdraft\b|\bjournal\b|\bsnapshot\b|\bcommit/i
  expect(codes.filter((code) => dialect.test(english[code]) && !allowed.has(code))).toEqual([])
})
/** Words of the contract that only programs read. */
const allowed = new Set<Code>(['problem.the-address-and-the-draft-in-the'])

test('a moment is said as a day, and what is none as it came', () => {
  const [inBritish, inGerman] = [speaker('en-GB', english), speaker('de-DE', german)]
  const over = (day: unknown) => ({ say: 'links.day-over', facts: { day, by: 'Priya' } }) as Sentence
  expect(inBritish.text(over(Date.UTC(2026, 2, 1, 12)))).toBe('This link ended on 1 March 2026. Ask Priya for another.')
  expect(inGerman.text(over(Date.UTC(2026, 2, 1, 12)))).toContain('1. März 2026')
  for (const none of ['soon', 9e15, null, true]) expect(typeof inBritish.text(over(none))).toBe('string')
  expect(inBritish.text(over('soon'))).toBe('This link ended on soon. Ask Priya for another.')
})

test('whatever the facts are, a sentence is said, in either language, and what is kept comes back', () => {
  // What has tags in it is dressed by whoever shows it.
  const plain = codes.filter((code) => !english[code].includes('</'))
  const speakers = [speaker('en-GB', english), speaker('de-DE', german)]
  const leaf = fc.oneof(
    fc.string(),
    fc.integer(),
    fc.boolean(),
    fc.constant(null),
    fc.record({ or: fc.array(fc.string()) }),
  )
  const fact = fc.letrec<{ fact: unknown }>((tie) => ({
    fact: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      leaf,
      fc.constantFrom(...plain).chain((code) => sentenceOf(code, tie('fact'))),
    ),
  })).fact
  fc.assert(
    fc.property(
      fc.constantFrom(...plain).chain((code) => sentenceOf(code, fact)),
      (said) => {
        for (const one of speakers) expect(typeof one.text(said as Sentence)).toBe('string')
        const kept = fromKept(asKept(said as Sentence))
        expect(sameSentence(kept, JSON.parse(JSON.stringify(said)))).toBe(true)
      },
    ),
    { numRuns: 500 },
  )
})
const sentenceOf = (code: Code, fact: fc.Arbitrary<unknown>): fc.Arbitrary<unknown> =>
  fc
    .record(Object.fromEntries([...needs(english[code])].map((name) => [name, fact])))
    .map((facts) => ({ say: code, facts }))

test('plurals, lists and numbers are those of the language', () => {
  const [en, de] = [speaker('en-GB', english), speaker('de-DE', german)]
  const said = say('changes.words-both', { added: 1, removed: 1200 })
  expect(en.text(said)).toBe('1 word added, 1,200 removed')
  expect(de.text(said)).toBe('1 Wort hinzugefügt, 1.200 entfernt')
  const either = say('naming.can-be', { stem: 'LK', rivals: { or: ['LK07', 'LK17'] } })
  expect(en.text(either)).toBe('‹LK› can be LK07 or LK17.')
  expect(de.text(either)).toBe('‹LK› kann LK07 oder LK17 sein.')
})

test('an error that is a sentence gives it back, and one in words goes as it is', () => {
  const said = say('history.days', { n: 3 })
  expect(saidBy(structuredClone(new SaidError(said)))).toEqual(said)
  expect(saidBy(new Error('a disk is full'))).toBe('a disk is full')
})
