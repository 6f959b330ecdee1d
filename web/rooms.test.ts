// The house's rooms, as ARCHITECTURE has them: what depends on what, and that it never goes in a circle.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { describe, expect, test } from 'vitest'

const root = join(__dirname, '..')
const sources = ['core', 'server', 'web'].flatMap((part) =>
  readdirSync(join(root, part), { recursive: true, encoding: 'utf8' })
    .filter(
      (file) => /\.tsx?$/.test(file) && !/\.(test|arbitrary|d)\.|^testing\b|\btesting\.ts$|\.world\.ts$/.test(file),
    )
    .map((file) => join(part, file)),
)
/** The files that one imports for their values; types depend on nothing when it runs. */
function importsOf(file: string): string[] {
  const text = readFileSync(join(root, file), 'utf8')
  const found: string[] = []
  for (const [said, names, from] of text.matchAll(/^(?:import|export)\s+(?!type\b)([^'"]*?)\s*from\s*'(\.[^']+)'/gms)) {
    const onlyTypes =
      /^\{/.test(names!) &&
      names!
        .replace(/[{}\s]/g, ' ')
        .split(',')
        .every((one) => !one.trim() || /^\s*type\s/.test(one))
    if (said && !onlyTypes) found.push(from!)
  }
  for (const [, from] of text.matchAll(/^import\s+'(\.[^']+)'/gm)) found.push(from!)
  return found.flatMap((from) => {
    const base = join(dirname(file), from)
    const there = [base, `${base}.ts`, `${base}.tsx`, join(base, 'index.ts')].find(
      (one) => /\.tsx?$/.test(one) && existsSync(join(root, one)),
    )
    return there ? [there] : []
  })
}
const imports = new Map(sources.map((file) => [file, importsOf(file)]))
const roomOf = (file: string): string => {
  const [floor, room, ...more] = file.split('/')
  return more.length ? `${floor}/${room}` : `${floor}`
}
/**
 * Of the server, what a subject does depends in one direction. Its doors (routes.ts) are opened by the application
 * alone and may ask any subject; its tables (entity.ts) hold no behaviour and are known to whoever joins them.
 */
const subjectOf = (file: string): string =>
  /\/(routes|entity)\.ts$/.test(file) || file.split('/').length === 2 ? file : roomOf(file)

/** Circles, each as the nodes in it (Tarjan, Depth-first search and linear graph algorithms, 1972). */
function circles(edges: ReadonlyMap<string, Iterable<string>>): string[][] {
  const index = new Map<string, number>()
  const low = new Map<string, number>()
  const open: string[] = []
  const found: string[][] = []
  const visit = (node: string): void => {
    index.set(node, index.size)
    low.set(node, index.get(node)!)
    open.push(node)
    for (const next of edges.get(node) ?? []) {
      if (!index.has(next)) visit(next)
      if (open.includes(next)) low.set(node, Math.min(low.get(node)!, low.get(next)!))
    }
    if (low.get(node) !== index.get(node)) return
    const circle = open.splice(open.indexOf(node))
    if (circle.length > 1) found.push(circle.toSorted())
  }
  for (const node of edges.keys()) if (!index.has(node)) visit(node)
  return found
}
function rooms(floor: string, roomOf: (file: string) => string): Map<string, Set<string>> {
  const edges = new Map<string, Set<string>>()
  for (const [file, those] of imports) {
    if (!file.startsWith(`${floor}/`)) continue
    const from = roomOf(file)
    if (!edges.has(from)) edges.set(from, new Set())
    for (const to of those) if (to.startsWith(`${floor}/`) && roomOf(to) !== from) edges.get(from)!.add(roomOf(to))
  }
  return edges
}

test('circles are found where they are, and only there', () => {
  const edges = (...pairs: string[]) => {
    const map = new Map<string, string[]>()
    for (const pair of pairs) map.set(pair[0]!, [...(map.get(pair[0]!) ?? []), pair[1]!])
    return map
  }
  expect(circles(edges('ab', 'bc', 'cd'))).toEqual([])
  expect(circles(edges('ab', 'bc', 'ca', 'cd', 'de', 'ed'))).toEqual([
    ['d', 'e'],
    ['a', 'b', 'c'],
  ])
})

describe('what depends on what', () => {
  test('is read from the sources', () => {
    expect(imports.size).toBeGreaterThan(400)
    expect(imports.get('web/app/office.tsx')).toContain('web/app/shell.tsx')
    expect(imports.get('core/history/retention.ts')).toEqual(['core/words/said.ts'])
    expect([...rooms('web', roomOf).keys()]).toEqual(expect.arrayContaining(['web/views', 'web/work', 'web/editor']))
  })
  test('no file depends on itself by way of others', () => {
    expect(circles(imports)).toEqual([])
  })
  test.each(['core', 'web'])('no room of %s depends on itself by way of others', (floor) => {
    expect(circles(rooms(floor, roomOf))).toEqual([])
  })
  test('no subject of the server depends on itself by way of others, and its doors and tables on no door', () => {
    const subjects = rooms('server', subjectOf)
    expect(subjects.size).toBeGreaterThan(30)
    expect(circles(subjects)).toEqual([])
    const doors = [...subjects].flatMap(([subject, those]) =>
      [...those].filter((to) => to.endsWith('/routes.ts')).map((to) => `${subject} knows ${to}`),
    )
    expect(doors.filter((one) => !one.startsWith('server/app.ts '))).toEqual([])
  })
  test('the core knows neither pages nor server, and pages and server know each other by the contract alone', () => {
    const astray = [...imports].flatMap(([file, those]) =>
      those
        .filter((to) =>
          file.startsWith('core/')
            ? !to.startsWith('core/')
            : file.startsWith('web/')
              ? to.startsWith('server/')
              : to.startsWith('web/'),
        )
        .map((to) => `${file} knows ${to}`),
    )
    expect(astray).toEqual([])
  })
  test('every screen is known by the application alone, which fetches it when it is gone to', () => {
    const screens = ['desk', 'settings', 'names', 'retention']
    const known = [...imports].flatMap(([file, those]) =>
      those
        .filter((to) => screens.some((screen) => roomOf(to) === `web/${screen}`) && roomOf(file) !== roomOf(to))
        .map((to) => `${file} knows ${to}`),
    )
    expect(known).toEqual([])
  })
  test('the core needs nothing of a browser or of Node.js where it runs in both', () => {
    const node = sources.filter(
      (file) =>
        file.startsWith('core/') &&
        /from 'node:|from 'react|from 'typeorm|from 'express/.test(readFileSync(join(root, file), 'utf8')),
    )
    expect(node.map((file) => relative('core', file))).toEqual([])
  })
})
