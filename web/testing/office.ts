// A real server with a database of its own, for tests that run in the browser; they reach it as the pages do.
import type { TestProject } from 'vitest/node'

declare module 'vitest' {
  interface ProvidedContext {
    shareId: string
  }
}

export default async function setup(project: TestProject) {
  // The pages of these tests are as much quicker as their pace says (vitest.config.ts): silence comes sooner, too.
  process.env.JAULA_SILENCE_SECONDS ??= '3'
  const { openTestOffice } = await import('../../server/testing')
  const office = await openTestOffice()
  process.env.TEST_OFFICE_URL = office.url
  project.provide('shareId', office.share)
  return () => office.close()
}
