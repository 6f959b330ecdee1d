import fc from 'fast-check'
import { EditorState, NodeSelection, TextSelection } from 'prosemirror-state'
import { CellSelection } from 'prosemirror-tables'
import { expect, test } from 'vitest'
import { documentSchema } from '../../core/content/document'
import { insertSign } from './document/insert-sign'
import { type Sign, signGroups, signsLike } from './signs'

const all = signGroups.flatMap(({ signs }) => signs)
const found = (typed: string): string =>
  signsLike(typed)
    .flatMap(({ signs }) => signs.map(({ sign }) => sign))
    .join('')

test('each sign is there once, and what says nothing itself has a name', () => {
  expect(new Set(all.map(({ sign }) => sign)).size).toBe(all.length)
  for (const { sign, name } of all) {
    expect([...sign]).toHaveLength(1)
    if (!/\p{L}/u.test(sign)) expect(name).toMatch(/\p{L}/u)
  }
})
test('each is found by the sign, its number, its name, and the beginnings of its words in any order', () => {
  const anySign = fc.constantFrom(...all)
  fc.assert(
    fc.property(anySign, fc.infiniteStream(fc.integer({ min: 1, max: 12 })), (one: Sign, lengths) => {
      const number = one.sign.codePointAt(0)!.toString(16).padStart(4, '0')
      expect(found(`U+${number}`)).toBe(one.sign)
      expect(found(one.sign)).toContain(one.sign.trim())
      if (!one.name) return
      expect(found(one.name.toUpperCase())).toContain(one.sign)
      const words = one.name.split(/[\s,()]+/).filter(Boolean)
      const begun = words.map((word) => word.slice(0, lengths.next().value!)).reverse()
      expect(found(begun.join('  '))).toContain(one.sign)
    }),
  )
})
test('letters are found by the letter that they are made of; nothing typed finds all, nonsense none', () => {
  expect(found('e')).toContain('éèêë'.at(0))
  expect(found('e')).not.toContain('ä')
  expect(found('short dash')).toBe('–')
  expect(found(' ')).toBe(all.map(({ sign }) => sign).join(''))
  expect(found('sluice')).toBe('')
})

test('one comes in place of selected text; behind a picture, and at the end of the cell that was selected last', () => {
  const { nodes } = documentSchema
  const line = (text: string) => nodes.paragraph.create(null, documentSchema.text(text))
  const cell = (text: string) => nodes.table_cell.create(null, line(text))
  const picture = nodes.image.create({ src: 'data:image/png;base64,AA==', alt: 'Weir', width: 4, height: 3 })
  const table = nodes.table.create(null, nodes.table_row.create(null, [cell('one'), cell('two')]))
  const doc = nodes.doc.create(null, [line('gates'), nodes.paragraph.create(null, picture), table])
  const after = (selection: (whole: typeof doc) => EditorState['selection']) => {
    let state = EditorState.create({ doc, selection: selection(doc) })
    insertSign('€')(state, (transaction) => {
      state = state.apply(transaction)
    })
    return state.doc
  }
  const texts = (whole: typeof doc) => whole.children.map(({ textContent }) => textContent)
  expect(texts(after((whole) => TextSelection.create(whole, 2, 4)))).toEqual(['g€es', '', 'onetwo'])
  const kept = after((whole) => NodeSelection.create(whole, 8))
  expect(texts(kept)).toEqual(['gates', '€', 'onetwo'])
  expect(kept.child(1).firstChild?.type.name).toBe('image')
  const cells = after((whole) => CellSelection.create(whole, 12, 17 + 2) as never)
  expect(texts(cells)[2]).toBe('onetwo€')
})
