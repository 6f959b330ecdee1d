import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { Handle } from '../contract/people'
import { written } from '../formats/csv/records'
import { inEnglish } from '../words/in-english'
import { handleFor, peopleOfList } from './people-list'

const nobody = () => false
const list = (text: string, taken: (handle: string) => boolean = nobody) => {
  const { people, faults } = peopleOfList(new TextEncoder().encode(text), taken)
  return { people, faults: faults.map(({ line, why }) => `${line}: ${inEnglish(why)}`) }
}

describe('a list of people', () => {
  test('by its head, in any order, with what is not said made from the name', () => {
    expect(
      list(
        'Groups;Name;Sign-in name;Administrator;E-mail\nField|Surveyors;Ida Thornquist;;;ida@merrowdale.example\n;Ben Marlowe;Marlowe;yes\n\n;Ida Holm;;no;\n',
      ),
    ).toEqual({
      people: [
        {
          name: 'Ida Thornquist',
          handle: 'ida',
          administrator: false,
          groups: ['Field', 'Surveyors'],
          mail: 'ida@merrowdale.example',
        },
        { name: 'Ben Marlowe', handle: 'marlowe', administrator: true, groups: [], mail: null },
        { name: 'Ida Holm', handle: 'ida.holm', administrator: false, groups: [], mail: null },
      ],
      faults: [],
    })
  })
  test('each of them is known by their line, so that whoever is refused later is found in the list', () => {
    const bytes = new TextEncoder().encode('Name\nIda Thornquist\n\nBen Marlowe\n')
    expect(peopleOfList(bytes, nobody).lines).toEqual([2, 4])
  })
  test('without a head: the name, then what is signed in with', () => {
    expect(list('Tomas Wether,tomas\n"Marlowe, Ben",ben\n').people).toEqual([
      { name: 'Tomas Wether', handle: 'tomas', administrator: false, groups: [], mail: null },
      { name: 'Marlowe, Ben', handle: 'ben', administrator: false, groups: [], mail: null },
    ])
  })
  test('what is wrong is told by its line', () => {
    expect(
      list(
        'Name,Sign-in name,Administrator\n,nobody,\nBen Marlowe,b,\nIda Thornquist,ida,perhaps\nIda Holm,ida,\nPriya Nandakumar,priya,\n',
        (handle) => handle === 'priya',
      ).faults,
    ).toEqual([
      '2: There is no name.',
      '3: b cannot be signed in with: use 2 to 40 small letters, digits, dots, dashes.',
      '4: “perhaps” says neither yes nor no.',
      '5: ida is also in line 4.',
      '6: Somebody signs in with priya already.',
    ])
    expect(list('Name,E-mail\nIda Holm,ida at merrowdale\n').faults).toEqual([
      '2: ida at merrowdale is no mail address.',
    ])
    expect(list('').faults).toEqual(['1: There is nobody in this list.'])
    expect(list('Name,Sign-in name\n').faults).toEqual(['1: There is nobody in this list.'])
    expect(list(`Name\n${'Ida Holm\n'.repeat(2001)}`).faults).toEqual(['2002: At most 2,000 people are added at once.'])
  })
  test('a name that has nothing of the alphabet still gets something to sign in with', () => {
    expect([handleFor('Søren Ågård', nobody), handleFor('李明', nobody), handleFor('Ø', nobody)]).toEqual([
      'soren',
      'person',
      'person',
    ])
    expect(handleFor('Ida Thornquist', (one) => ['ida', 'ida.thornquist'].includes(one))).toBe('ida.thornquist2')
  })
  test('whatever names an office has, each gets another that can be signed in with', () => {
    const names = fc.array(
      fc
        .string({ unit: 'grapheme', minLength: 1, maxLength: 30 })
        .filter((one) => /[^\s\0\ufeff]/.test(one) && !/[\r\n]/.test(one)),
      { minLength: 1, maxLength: 20 },
    )
    fc.assert(
      fc.property(names, fc.array(fc.constantFrom('ida', 'person', 'a2', 'person2')), (those, taken) => {
        const text = `Name,Sign-in name,Administrator,Groups\n${those.map((name) => `${written(name.trim() || 'x', ',', true)},,,`).join('\n')}\n`
        const { people, faults } = peopleOfList(new TextEncoder().encode(text), (one) => taken.includes(one as 'ida'))
        expect(faults).toEqual([])
        const handles = people.map(({ handle }) => handle)
        expect(new Set(handles).size).toBe(those.length)
        for (const handle of handles) {
          expect(Handle.safeParse(handle).success).toBe(true)
          expect(taken).not.toContain(handle)
        }
      }),
    )
  })
})
