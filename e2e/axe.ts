// What axe-core finds against WCAG 2.2 AA and its own good practice.
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from '@playwright/test'
import type { AxeResults } from 'axe-core'

const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

export interface Finding {
  rule: string
  /** The element, as it is written. */
  html: string
  why: string
}

/** Every element of the page that breaks a rule. */
export async function findings(page: Page): Promise<Finding[]> {
  await page.evaluate(source)
  const results: AxeResults = await page.evaluate(() =>
    (globalThis as unknown as { axe: { run(options: object): Promise<AxeResults> } }).axe.run({
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
      resultTypes: ['violations'],
    }),
  )
  return results.violations.flatMap(({ id, nodes }) =>
    nodes.map(({ html, failureSummary }) => ({ rule: id, html: html.slice(0, 300), why: failureSummary ?? '' })),
  )
}
