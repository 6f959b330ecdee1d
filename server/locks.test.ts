import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { locks } from './sql/locks'

test('every advisory lock has a number of its own, and every number stands in this one file', () => {
  const numbers = Object.values(locks)
  expect(new Set(numbers).size).toBe(numbers.length)
  const elsewhere = readdirSync(import.meta.dirname, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.ts') && !/^(sql\/locks|migrations)/.test(name))
    .filter((name) => /\b4170_?0\d\b/.test(readFileSync(join(import.meta.dirname, name), 'utf8')))
  expect(elsewhere).toEqual([])
})
