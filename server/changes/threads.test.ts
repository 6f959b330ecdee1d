import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { expect, test } from 'vitest'
import { compareInThread } from './threads'

test('two versions that take for ever to compare are given up, and others compared after them', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'jaula-compare-'))
  const script = join(folder, 'worker.mjs')
  writeFileSync(
    script,
    `export default ({ newer }) => {
       if (newer?.type === 'endless') for (;;);
       return { summary: 'compared', weight: 1 }
     }`,
  )
  const comparing = compareInThread(pathToFileURL(script), 15_000)
  const told = (type: string) => comparing.describe(null, { bytes: new Uint8Array(1), type })
  try {
    expect(await told('docx')).toEqual({ summary: 'compared', weight: 1 })
    await expect(told('endless')).rejects.toThrow(RangeError)
    expect(await told('docx')).toEqual({ summary: 'compared', weight: 1 })
  } finally {
    await comparing.close()
    rmSync(folder, { recursive: true })
  }
})
